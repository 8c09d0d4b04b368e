"""The live insulation curve."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.amount import Amount
from grimcoil.draw.curve import Curve, insulation_curve
from tests.drawn import count, numbers, words

POINTS = [(30.0, Amount.exact(390)), (60.0, Amount.exact(520)), (600.0, Amount.above(2000))]


def curve(points=(), target=None, hold=None):
    return Curve(points, 6.6, "minimum 6.6 MΩ here", target, 2.0, hold)


def test_values_are_joined_bounds_are_not():
    drawn = insulation_curve(curve(POINTS, 1040, 700), 872, 420)
    assert count(drawn, "trace") == 1
    assert {"minimum 6.6 MΩ here", "PI 2"} <= set(words(drawn))
    assert count(drawn, "nowl") == count(drawn, "gate") == count(drawn, "min") == 1


def test_before_the_first_value_the_minimum_stands_there():
    drawn = insulation_curve(curve(), 390, 250, small=True)
    assert count(drawn, "trace") == count(drawn, "nowl") == 0
    assert count(drawn, "min") == 1


@pytest.mark.parametrize("small", [False, True])
@given(st.lists(st.tuples(st.floats(0, 3600), st.floats(1e-6, 1e7)), max_size=12), st.floats(0, 1e5))
def test_it_stays_in_its_frame(small, points, hold):
    drawn = insulation_curve(curve([(t, Amount.exact(v)) for t, v in points], 1000, hold), 872, 420, small)
    assert all(-20 <= figure <= 892 for figure in numbers(drawn))


def test_a_band_runs_from_end_to_end_and_a_value_that_would_cover_the_next_is_left_to_the_list():
    marks = [(10.0, Amount(10, 100)), (15.0, Amount.below(0.5)), (30.0, Amount.exact(400)), (45.0, Amount.exact(520))]
    wide = words(insulation_curve(curve(marks), 872, 420))
    assert [word for word in wide if word in ("10–100", "<0.5", "400", "520")] == ["520", "400", "<0.5"]
    narrow = words(insulation_curve(curve(marks), 390, 250, small=True))
    assert "520" in narrow
    assert "400" not in narrow
    assert count(insulation_curve(curve(marks), 390, 250, small=True), "dot") == 2
