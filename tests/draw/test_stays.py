"""Which motors stood at a position."""

from datetime import date

import pytest

from grimcoil.draw.stays import Bar, stays
from tests.drawn import count, named, words

TODAY = date(2026, 11, 26)


def test_each_motor_with_its_failure_and_who_stands_there_now():
    bars = [
        Bar("BW-1", date(2019, 3, 1), date(2023, 5, 2), date(2023, 5, 2), "winding to earth"),
        Bar("BW-2", date(2023, 5, 4), None),
    ]
    drawn = stays(bars, TODAY, 800)
    assert named(drawn) == ["2 motors in this position, 1 failed."]
    assert {"BW-1, winding to earth", "BW-2"} <= set(words(drawn))
    assert (count(drawn, "stay"), count(drawn, "now"), count(drawn, "failed"), count(drawn, "cut")) == (2, 1, 1, 0)


def test_a_first_stay_much_longer_than_the_rest_is_shown_cut():
    bars = [Bar("OLD", date(1990, 1, 1), date(2024, 1, 1)), Bar("NEW", date(2024, 1, 2), None)]
    drawn = stays(bars, TODAY, 800)
    assert count(drawn, "cut") == 1
    assert "1990" not in words(drawn)


@pytest.mark.parametrize("width", [360, 800])
def test_nobody_yet_and_a_stay_of_one_day(width):
    assert named(stays([], TODAY, width)) == ["0 motors in this position, 0 failed."]
    assert count(stays([Bar("X", TODAY, TODAY)], TODAY, width), "stay") == 1
