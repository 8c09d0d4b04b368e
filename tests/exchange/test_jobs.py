"""`grimcoil-job/1` in, `grimcoil-assessment/1` out, through the models and the command line."""

import io
import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.cli.__main__ import main
from grimcoil.core.assessment import KINDS, assess
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.insulation.judge import phase_multiple
from grimcoil.exchange.assessments import to_document
from grimcoil.exchange.jobs import read_job
from grimcoil.exchange.schemas import schema_texts

FORMATS = Path(__file__).parents[2] / "docs" / "formats"
EXAMPLE = json.loads((FORMATS / "example-job.json").read_text(encoding="utf-8"))


def changed(*path, to):
    document = json.loads(json.dumps(EXAMPLE))
    place = document
    for part in path[:-1]:
        place = place[part]
    place[path[-1]] = to
    return json.dumps(document)


def test_the_example_is_judged_whole():
    document = to_document(assess(read_job(json.dumps(EXAMPLE))))
    assert document["format"] == "grimcoil-assessment/1"
    assert document["winding_resistance"][0]["at_reference_ohm"]["1-2"] == pytest.approx(0.82 * 259.5 / 256.5)
    assert document["insulation"][0]["r_1min_mohm"] == {"value": 520.0, "bound": "exact"}
    assert document["insulation"][0]["pi"]["value"] == pytest.approx(1450 / 520)
    assert document["insulation"][0]["discharge_s"] == 2400
    assert document["supply_voltage"][0]["verdict"] == "watch"
    assert document["line_current"][0]["load_percent"] == pytest.approx(100 * 18.2333333 / 21)
    assert document["contact_drop"][0]["watts"] == pytest.approx(2.16)
    assert set(document["contact_drop"][0]["drops_v"]) == {"L1", "L2", "L3"}
    assert document["accessory"][0]["verdict"] == "sound"
    for kind in ("winding_resistance", "insulation", "supply_voltage", "line_current"):
        for finding in document[kind][0]["findings"]:
            assert set(finding) == {"code", "text", "source", "severity"}


EVERY = json.loads((FORMATS / "example-every-kind.json").read_text(encoding="utf-8"))


def test_every_kind_of_test_is_read_and_judged():
    whole = assess(read_job(json.dumps(EVERY)))
    document = to_document(whole)
    assert {test["kind"] for test in EVERY["tests"]} == {kind.name for kind in KINDS}
    for kind in KINDS:
        assert document[kind.name], kind.name
        for result in document[kind.name]:
            # What was seen is never sound: it suggests the next check.
            assert result["verdict"] == ("watch" if kind.name == "observation" else "sound")
            assert result["findings"]
    assert {f["code"] for f in document["together"]} == {"speeds-fit", "winding-rise"}
    assert [f["code"] for f in document["plate"]] == ["plate-rewound-differs"]
    assert document["decision"]["action"] == "return-retest"  # for what was seen
    assert document["decision"]["missing"] == []


def test_a_pair_given_twice_in_one_object_is_a_finding_not_lost():
    text = json.dumps(EXAMPLE).replace('"1-2": "0.84"', '"1-2": "0.84", "1-2": "0.97"', 1)
    assert text != json.dumps(EXAMPLE)
    (result,) = to_document(assess(read_job(text)))["winding_resistance"]
    assert "reading-twice" in [f["code"] for f in result["findings"]]


def test_bounds_leave_as_bounds():
    text = changed("tests", 1, "series", to=[{"t_s": 60, "reading": ">550M"}])
    document = to_document(assess(read_job(text)))
    assert document["insulation"][0]["r_1min_40c_mohm"]["bound"] == "above"
    band = changed("tests", 1, "series", to=[{"t_s": 60, "reading": "10-100M"}])
    assert to_document(assess(read_job(band)))["insulation"][0]["r_1min_mohm"] == {
        "value": 10,
        "bound": "above",
        "upper": 100,
    }


@pytest.mark.parametrize(
    ("text", "where", "says"),
    [
        (changed("motor", "tga", to="x"), "motor.tga", "no such key"),
        (changed("tests", 0, "kind", to="guess"), "tests.0", "kind"),
        (changed("tests", 0, "readings", "1-2", to="4..2"), "tests.0.readings.1-2", "4..2"),
        (changed("tests", 1, "series", 0, "reading", to="0"), "tests.1.series.0.reading", "short or OL"),
        (changed("motor", "power", to="strong"), "motor.power", "kW"),
        (changed("instruments", 0, "resolution", to="OL"), "instruments.0.resolution", "exact"),
        (changed("tests", 0, "instrument", to="M7"), "tests.0.instrument", "M7"),
        (changed("motor", "service_factor", to=0.5), "motor.service_factor", "0.5"),
        (changed("criteria", to="strict"), "criteria", "service-shop"),
        (changed("tests", 2, "line_to_line", to=[1]), "tests.2.line_to_line", "dictionary"),
        (changed("conditions", "date", to="14.3.2026"), "conditions.date", "2026-03-14"),
        (changed("tests", 1, "series", 0, "t_s", to=-1), "tests.1.series.0.t_s", "greater than"),
        (json.dumps(EXAMPLE)[:-1] + ', "tests": []}', "tests (again)", "given twice"),
        ("[" * 100000, "document", "deep"),
        (b"\xff", "document", "UTF-8"),
        ("{", "document", "not JSON"),
        ("[]", "document", ""),
    ],
)
def test_refusals_name_the_path(text, where, says):
    with pytest.raises(RecordRefusal) as refused:
        read_job(text)
    assert where in refused.value.where
    assert says in refused.value.sentence()


@pytest.mark.parametrize(("ends", "times"), [(["1"], 2), (["1", "2", "3"], 1)])
def test_one_phase_against_the_rest_counts_twice(ends, times):
    text = changed("tests", 1, "from", to=ends)
    document = json.loads(text)
    document["tests"][1]["to"] = ["frame", "2", "3"]
    document["motor"]["lead_scheme"] = "six-lead"
    assert phase_multiple(read_job(json.dumps(document)).tests[1], "six-lead") == times


def test_the_shipped_schemas_are_the_models():
    for name, text in schema_texts().items():
        assert (FORMATS / name).read_text(encoding="utf-8") == text


json_values = st.recursive(
    st.none() | st.booleans() | st.floats(allow_nan=False, allow_infinity=False) | st.text(max_size=8),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=6), inner, max_size=3),
    max_leaves=6,
)


@given(st.sampled_from(["motor", "tests", "conditions", "instruments", "position"]), json_values)
def test_any_json_is_judged_or_refused(key, value):
    try:
        record = read_job(changed(key, to=value))
    except RecordRefusal as refusal:
        assert refusal.where
    else:
        json.dumps(to_document(assess(record)), allow_nan=False)


def test_assess_prints_one_document(tmp_path, capsys):
    file = tmp_path / "job.json"
    file.write_text(json.dumps(EXAMPLE), encoding="utf-8")
    assert main(["assess", str(file)]) == 0
    assert json.loads(capsys.readouterr().out)["decision"]["action"] == "test-more"


@pytest.mark.parametrize("content", ["{", changed("motor", "tga", to=1)])
def test_assess_refuses_in_one_line_with_status_2(tmp_path, capsys, content):
    file = tmp_path / "job.json"
    file.write_text(content, encoding="utf-8")
    assert main(["assess", str(file)]) == 2
    printed = capsys.readouterr()
    assert printed.out == ""
    assert printed.err.count("\n") == 1
    assert str(file) in printed.err


def test_assess_of_a_missing_file(capsys):
    assert main(["assess", "no-such-file.json"]) == 2
    assert "no-such-file.json" in capsys.readouterr().err


def test_lines_go_on_after_a_bad_one(tmp_path, capsys):
    file = tmp_path / "jobs.jsonl"
    good = json.dumps(EXAMPLE)
    file.write_text(f"{good}\nnonsense\n{good}\n", encoding="utf-8")
    assert main(["assess", "--lines", str(file)]) == 2
    out = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert ["error" in document for document in out] == [False, True, False]
    assert set(out[1]["error"]) == {"path", "found", "accepted", "example", "do"}


def test_standard_input(monkeypatch, capsys):
    monkeypatch.setattr("sys.stdin", io.TextIOWrapper(io.BytesIO(json.dumps(EXAMPLE).encode())))
    assert main(["assess", "-"]) == 0
    assert capsys.readouterr().out


def test_schemas_are_written(tmp_path):
    assert main(["schemas", str(tmp_path / "out")]) == 0
    assert list((tmp_path / "out").iterdir())
