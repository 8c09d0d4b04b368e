"""Proving dead, and turning the shaft."""

import pytest

from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.fields import DEAD_VOLTAGE
from grimcoil.core.hands import POINTS, judge_dead_proof, judge_shaft
from grimcoil.core.measured import DeadProofTest, ShaftTest
from grimcoil.core.readings import parse_reading


def volts(text):
    return parse_reading(text, DEAD_VOLTAGE)


DEAD = {point: volts("0.1") for point in POINTS}


@pytest.mark.parametrize(
    ("before", "points", "after", "code"),
    [
        ("480", DEAD, "481", "dead-proved"),
        ("2", DEAD, "481", "dead-not-proved"),
        (None, DEAD, "481", "dead-not-proved"),
        ("480", DEAD, None, "dead-not-proved"),
        ("480", {k: v for k, v in DEAD.items() if k != "L3-E"}, "481", "dead-not-proved"),
        ("480", DEAD | {"L2-E": volts("118")}, "481", "dead-not-dead"),
        ("480", DEAD | {"L2-E": volts("<20")}, "481", "dead-not-proved"),
    ],
)
def test_live_dead_live(before, points, after, code):
    test = DeadProofTest(before and volts(before), points, after and volts(after))
    result = judge_dead_proof(test, FIELD_GENERAL)
    assert [f.code for f in result.findings] == [code]
    assert result.proved == (code == "dead-proved")


@pytest.mark.parametrize(
    ("turns", "coupled", "code", "words"),
    [
        ("free", None, "shaft-free", ""),
        ("stiff", True, "shaft-stiff", "uncouple"),
        ("jammed", False, "shaft-jammed", "own bearings"),
        (None, None, "reading-missing", ""),
    ],
)
def test_the_shaft_by_hand(turns, coupled, code, words):
    (finding,) = judge_shaft(ShaftTest(turns, coupled)).findings
    assert finding.code == code
    assert words in finding.text
