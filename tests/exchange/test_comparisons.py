"""An old assessment beside today's."""

import json

import pytest

from grimcoil.cli.__main__ import main
from tests.exchange.test_jobs import EXAMPLE


def assess(capsys, *words):
    status = main(["assess", *words])
    return status, json.loads(capsys.readouterr().out)


@pytest.fixture
def files(tmp_path, capsys):
    job, old = tmp_path / "job.json", tmp_path / "old.json"
    job.write_text(json.dumps(EXAMPLE), encoding="utf-8")
    old.write_text(json.dumps(assess(capsys, str(job))[1]), encoding="utf-8")
    return job, old, tmp_path / "own.json"


def test_the_same_rules_judge_the_same(files, capsys):
    job, old, _ = files
    status, document = assess(capsys, str(job), "--since", str(old))
    assert (status, document["same_judgement"], document["changes"]) == (0, True, [])


def test_other_criteria_show_what_they_would_judge_differently(files, capsys):
    job, old, own = files
    limits = {"insulation_random_mohm": {"value": 450}, "balance_sound": {"value": 0.1}}
    made = {"format": "grimcoil-criteria/1", "name": "own", "title": "Own", "version": 1, "limits": limits}
    own.write_text(json.dumps(made), encoding="utf-8")
    job.write_text(json.dumps({**EXAMPLE, "criteria": "own"}), encoding="utf-8")
    _, document = assess(capsys, str(job), "--criteria", str(own), "--since", str(old))
    assert document["then"]["criteria"] == "field-general"
    assert document["now"] == {
        "core_version": document["then"]["core_version"],
        "criteria": "own",
        "criteria_version": 1,
    }
    places = {change["where"]: change for change in document["changes"]}
    assert (places["insulation.0.verdict"]["then"], places["insulation.0.verdict"]["now"]) == ("sound", "act")
    assert places["insulation.0.findings"]["now"] == ["insulation-low"]
    assert places["decision.action"]["now"] == "clean-dry"


@pytest.mark.parametrize("text", ["[]", '{"format": "grimcoil-job/1"}', "{"])
def test_only_an_assessment_can_be_compared(files, capsys, text):
    job, old, _ = files
    old.write_text(text, encoding="utf-8")
    assert main(["assess", str(job), "--since", str(old)]) == 2
    said = capsys.readouterr().err
    assert said.count("\n") == 1
    assert str(old) in said
