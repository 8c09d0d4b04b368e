"""`grimcoil-leads/1` in, `grimcoil-identification/1` out; `grimcoil connect` by its words."""

import json
from pathlib import Path

import pytest

from grimcoil.cli.__main__ import main
from grimcoil.core.errors import RecordRefusal
from grimcoil.exchange.leads import read_leads

EXAMPLE = json.loads((Path(__file__).parents[2] / "docs/formats/example-leads.json").read_text(encoding="utf-8"))


def asked(capsys, tmp_path, document, *words):
    file = tmp_path / "leads.json"
    file.write_text(json.dumps(document), encoding="utf-8")
    status = main(["identify", *words, str(file)])
    return status, json.loads(capsys.readouterr().out)


def test_the_example_is_solved(capsys, tmp_path):
    status, document = asked(capsys, tmp_path, EXAMPLE)
    assert status == 0
    assert document["format"] == "grimcoil-identification/1"
    (six,) = document["candidates"]
    assert six["scheme"] == "six-lead"
    assert six["misfit"] <= 1
    assert {lead: labels for lead, labels in six["markings"].items() if lead in "AD"} == {"A": ["1"], "D": ["4"]}
    assert document["contradictions"] == []
    assert document["next_test"] is None


def test_part_of_it_asks_for_the_next_reading(capsys, tmp_path):
    _, document = asked(capsys, tmp_path, {**EXAMPLE, "coupling": [], "ohms": EXAMPLE["ohms"][:2]})
    assert document["next_test"]["test"] == "ohms"
    assert len(document["next_test"]["between"]) == 2
    _, document = asked(capsys, tmp_path, {**EXAMPLE, "coupling": []})
    assert document["next_test"]["test"] in ("joined", "kick")


@pytest.mark.parametrize(
    ("reading", "code"),
    [
        ({"between": ["A", "Z"], "reading": "1.9"}, "lead-not-there"),
        ({"between": ["A", "A"], "reading": "0"}, "same-lead"),
        ({"between": ["D", "A"], "reading": "2.6"}, "read-twice"),
    ],
)
def test_readings_that_contradict_as_written_are_told_and_left_aside(capsys, tmp_path, reading, code):
    status, document = asked(capsys, tmp_path, {**EXAMPLE, "ohms": [*EXAMPLE["ohms"], reading]})
    assert status == 0
    assert [c["code"] for c in document["contradictions"]] == [code]
    assert document["candidates"][0]["scheme"] == "six-lead"


@pytest.mark.parametrize(
    ("document", "where"),
    [
        ({**EXAMPLE, "leads": ["A", "A", "B"]}, "leads"),
        ({**EXAMPLE, "ohms": [{"between": ["A", "B"], "reading": "4..2"}]}, "ohms.0.reading"),
        ({**EXAMPLE, "ohms": [{"between": ["A"], "reading": "4"}]}, "ohms.0.between"),
        ({**EXAMPLE, "coupling": [{"test": "guess"}]}, "coupling.0"),
        ({**EXAMPLE, "coupling": [{**EXAMPLE["coupling"][2], "on_break": "left"}]}, "coupling.0.on_break"),
        ({**EXAMPLE, "extra": 1}, "extra"),
    ],
)
def test_refusals_name_the_path(document, where):
    with pytest.raises(RecordRefusal) as refused:
        read_leads(json.dumps(document))
    assert refused.value.where.startswith(where)


def test_a_fault_is_named_with_its_leads(capsys, tmp_path):
    ohms = [{"between": ["A", "B"], "reading": "4.8"}, {"between": ["B", "C"], "reading": "OL"}]
    ohms.append({"between": ["A", "C"], "reading": "OL"})
    _, document = asked(capsys, tmp_path, {"format": "grimcoil-leads/1", "leads": ["A", "B", "C"], "ohms": ohms})
    assert document["candidates"][0]["fault"]["kind"] in ("open-coil", "lead-off")
    assert document["candidates"][0]["fault"]["between"] == ["C"]


NINE = ["connect", "--scheme", "nine-lead-wye", "--rated", "230Y/460Y", "--supply", "460"]


def test_connect_solves_a_joining(capsys):
    assert main([*NINE, "--lines", "1 2 3", "--joined", "4-7 5-8 6-9"]) == 0
    document = json.loads(capsys.readouterr().out)
    assert document["verdict"] == "sound"
    assert [f["code"] for f in document["findings"]] == ["right"]
    assert document["coils"][0]["coil"] == "1-4"
    assert document["coils"][0]["volts"] == pytest.approx(132.79, abs=0.01)
    assert main([*NINE, "--lines", "T1-T7 T2-T8 T3-T9", "--joined", "U2-V2-W2"]) == 0
    assert json.loads(capsys.readouterr().out)["coils"][0]["percent_of_design"] == pytest.approx(200)


def test_connect_without_lines_gives_the_right_joinings(capsys):
    assert main(NINE) == 0
    assert json.loads(capsys.readouterr().out)["right"] == [
        {"for": "high voltage", "lines": "1 2 3", "joined": "4-7 5-8 6-9"}
    ]
    assert main(["connect", "--scheme", "twelve-lead"]) == 0
    assert len(json.loads(capsys.readouterr().out)["right"]) == 4


@pytest.mark.parametrize(("lines", "dead"), [("1 2", "3"), ("1 2 -", "3"), ("- 2 3", "1"), ("1 - 3", "2")])
def test_a_line_may_be_missing(lines, dead, capsys):
    assert main([*NINE, "--lines", lines, "--joined", "4-7 5-8 6-9"]) == 0
    told = json.loads(capsys.readouterr().out)
    (lost,) = [f for f in told["findings"] if f["code"] == "open-coil"]
    assert f"Coil {dead}-" in lost["text"]


def test_many_connections_stream_each_answered_in_its_place(tmp_path, capsys):
    asked = {"format": "grimcoil-connect/1", "scheme": "nine-lead-wye", "rated": "230Y/460Y", "supply": "460"}
    asked |= {"lines": "1 2 3", "joined": "4-7 5-8 6-9", "frequency": None, "speed": None, "mode": "run", "duty": None}
    lines = [json.dumps(asked), "{", json.dumps(asked | {"scheme": "ten-lead"}), "", json.dumps(asked | {"joined": ""}),
             json.dumps(asked | {"more": 1}), json.dumps(asked | {"frequency": 50})]  # fmt: skip
    (tmp_path / "many").write_text("\n".join(lines), encoding="utf-8")
    assert main(["connect", "--documents", str(tmp_path / "many")]) == 2
    told = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert told[0]["findings"][0]["code"] == "right"
    assert [one.get("error", {}).get("path") for one in told] == [
        None, "document", "scheme", None, "more", "rated_frequency",
    ]  # fmt: skip
    main([*NINE, "--lines", "1 2 3", "--joined", "4-7 5-8 6-9"])
    assert json.loads(capsys.readouterr().out) == told[0]


@pytest.mark.parametrize(
    "words",
    [
        ["connect", "--scheme", "ten-lead"],
        ["connect", "--rated", "460Y"],
        [*NINE, "--lines", "1 2 3 4"],
        [*NINE, "--lines", "- -"],
        [*NINE, "--lines", "1 2 3", "--frequency", "50"],
        [*NINE, "--lines", "1 2 77"],
        [*NINE, "--lines", "1 2 3", "--joined", "4+7"],
        [*NINE[:-1], "480,200,200", "--lines", "1 2 3"],
        [*NINE[:-1], "high", "--lines", "1 2 3"],
        ["connect", "--scheme", "six-lead", "--supply", "400", "--lines", "1 2 3"],
        [*NINE, "--lines", "1 2 3", "--frequency", "0", "--rated-frequency", "60"],
    ],
)
def test_connect_refuses_in_one_line(words, capsys):
    assert main(words) == 2
    printed = capsys.readouterr()
    assert (printed.out, printed.err.count("\n")) == ("", 1)
