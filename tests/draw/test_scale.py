"""The engraved scale: limits where they lie, the needle at what is typed."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.findings import Verdict
from grimcoil.core.plan.scale import Band, Scale
from grimcoil.draw.scale import reading_scale, time_scale
from tests.drawn import count, numbers, starts, words

BANDS = (Band(0, 2, Verdict.SOUND), Band(2, 5, Verdict.WATCH), Band(5, 10, Verdict.ACT))
PERCENT = Scale(0, 10, BANDS)


def test_bands_from_end_to_end_and_numbers_beneath():
    drawn = reading_scale(PERCENT, 700, None, "s")
    assert [starts(drawn, f"sc-{name}")[0][0] for name in ("sound", "watch", "act")] == [0, 140, 350]
    assert words(drawn) == ["2", "4", "6", "8"]
    assert count(drawn, "sc-needle") == 0


@given(st.floats(0, 10))
def test_the_needle_stands_at_its_value(typed):
    (needle,) = starts(reading_scale(PERCENT, 700, typed, "s"), "sc-needle")
    assert needle[0] == pytest.approx(typed * 70, abs=0.01)


@pytest.mark.parametrize("typed", [float("inf"), float("nan")])
def test_what_has_no_place_has_no_needle(typed):
    assert count(reading_scale(PERCENT, 700, typed, "s"), "sc-needle") == 0


def test_a_logarithmic_scale_numbers_its_decades():
    drawn = reading_scale(Scale(0.1, 1000, logarithmic=True), 700, 10.0, "s")
    assert {"1", "100"} <= set(words(drawn))
    assert starts(drawn, "sc-needle")[0][0] == pytest.approx(350)


@given(st.floats(0, 5000), st.floats(0, 9000), st.floats(60, 2400))
def test_time_stays_on_its_line(hold, discharge, total):
    for left in (None, discharge):
        assert all(-30 <= figure <= 730 for figure in numbers(time_scale(hold, left, total, 600, 700, "s")))
