"""Windings that idle while the other runs."""

import math

import pytest

from tests.core.stator.given import codes, judged


def test_the_idle_winding_of_two_speeds_may_be_idle_but_not_joined():
    assert codes(judged("two-speed-two-winding", "460", 460, "1 2 3", speed="low")) == ["right"]
    assert "over-voltage" in codes(judged("two-speed-two-winding", "460", 460, "1-11 2-12 3-13", speed="low"))


def test_an_open_idle_winding_shows_its_induced_volts_and_is_right():
    result = judged("two-speed-two-winding", "460", 460, "1 2 3", speed="low")
    assert codes(result) == ["right"]
    assert [c.volts for c in result.coils[3:]] == pytest.approx([460 / math.sqrt(3)] * 3)
    assert [c.fed for c in result.coils] == [True] * 3 + [False] * 3
    assert [c.off_axis_deg for c in result.coils[3:]] == [None] * 3
