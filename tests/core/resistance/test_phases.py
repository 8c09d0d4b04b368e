"""Phases behind three line readings: there and back."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.resistance.phases import delta_lines, delta_phases, wye_phases

OHM = st.floats(0.01, 100)


@given(OHM, OHM, OHM)
def test_a_wye_comes_back(a, b, c):
    assert wye_phases(a + b, b + c, c + a) == pytest.approx((a, b, c), abs=1e-9)


@given(OHM, OHM, OHM)
def test_a_delta_comes_back(a, b, c):
    assert delta_phases(*delta_lines(a, b, c)) == pytest.approx((a, b, c), rel=1e-6)


def test_readings_that_no_three_resistances_give():
    assert min(wye_phases(1.0, 1.0, 3.0)) < 0
    assert math.inf in delta_phases(1.0, 1.0, 3.0)
