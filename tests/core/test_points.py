"""Names of points under one spelling, and the groups that continuity joins."""

import pytest

from grimcoil.core.fields import VOLTAGE
from grimcoil.core.points import (
    dead_point_of,
    groups_of,
    groups_touched,
    is_frame,
    lead_of,
    line_of,
    line_pair_of,
    once,
    phases_of,
)
from grimcoil.core.readings import parse_reading


@pytest.mark.parametrize("name", ["earth", "Ground", "PE", " frame", "MASS"])
def test_the_frame_under_its_names(name):
    assert is_frame(name)
    assert lead_of(name, "six-lead") == "frame"


@pytest.mark.parametrize(
    ("name", "pair"),
    [("L1-L3", "L3-L1"), ("L3-L1", "L3-L1"), ("l2 – l1", "L1-L2"), ("L1-L1", None), ("L1", None), ("1-2", None)],
)
def test_pairs_of_lines(name, pair):
    assert line_pair_of(name) == pair


@pytest.mark.parametrize(("name", "line"), [("l1", "L1"), ("L3 ", "L3"), ("L4", None), ("", None), ("U", None)])
def test_lines(name, line):
    assert line_of(name) == line


def test_points_of_the_proof_of_death():
    assert dead_point_of("L2-ground") == "L2-E"
    assert dead_point_of("E-L3") == "L3-E"
    assert dead_point_of("L1") is None


def test_the_same_thing_once_and_said_where_it_differs():
    readings = {name: parse_reading(text, VOLTAGE) for name, text in (("L1-L3", "480"), ("L3-L1", "470"), ("x", "1"))}
    kept, twice = once(readings, line_pair_of)
    assert list(kept) == ["L3-L1"]
    assert [f.code for f in twice] == ["reading-twice"]


def test_groups_and_phases():
    assert groups_of("part-winding") == (("1", "2", "3"), ("7", "8", "9"))
    assert groups_of("unknown") == ()
    assert groups_touched(["W2", "9", "frame"], "nine-lead-delta") == {2, 0}
    assert [len(phase) for phase in phases_of("twelve-lead")] == [2, 2, 2]
    assert phases_of("two-speed-two-winding") == phases_of("three-lead") == ()
