"""Windings that idle while the other runs."""

import math

import pytest

from grimcoil.core.stator.connect import Duty, Supply, Wiring, judge_connection
from grimcoil.core.stator.connections import groups
from grimcoil.core.stator.rating import parse_rated


def judged(scheme, rated, supply, lines, joined="", **more):
    duty = Duty(more.pop("speed", None), more.pop("mode", "run"), more.pop("duty", None))
    volts = supply if isinstance(supply, tuple) else (supply,) * 3
    return judge_connection(
        scheme, parse_rated(rated), Supply(volts, **more), Wiring(groups(lines), groups(joined)), duty
    )


def codes(result):
    return [finding.code for finding in result.findings]


def test_the_idle_winding_of_two_speeds_may_be_idle_but_not_joined():
    assert codes(judged("two-speed-two-winding", "460", 460, "1 2 3", speed="low")) == ["right"]
    assert "over-voltage" in codes(judged("two-speed-two-winding", "460", 460, "1-11 2-12 3-13", speed="low"))


def test_an_open_idle_winding_shows_its_induced_volts_and_is_right():
    result = judged("two-speed-two-winding", "460", 460, "1 2 3", speed="low")
    assert codes(result) == ["right"]
    assert [c.volts for c in result.coils[3:]] == pytest.approx([460 / math.sqrt(3)] * 3)
    assert [c.fed for c in result.coils] == [True] * 3 + [False] * 3
    assert [c.off_axis_deg for c in result.coils[3:]] == [None] * 3
