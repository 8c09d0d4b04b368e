"""Quantiles against scipy, a general-purpose reference library."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.special import fdtr, stdtrit

from grimcoil.core.quantiles import fisher_two, student_t


@pytest.mark.parametrize("freedom", [2, 2.5, 3, 3.5, 4, 5, 8, 12.5, 40, 500])
@pytest.mark.parametrize("probability", [0.9, 0.95, 0.975])
def test_students_t(freedom, probability):
    assert student_t(probability, freedom) == pytest.approx(float(stdtrit(freedom, probability)), rel=2e-3)


@given(st.floats(3, 300))
def test_the_quantile_of_the_bands_from_three_on(freedom):
    assert student_t(0.95, freedom) == pytest.approx(float(stdtrit(freedom, 0.95)), rel=5e-4)


@given(st.floats(0, 50), st.floats(1, 60))
def test_fishers_f_of_two(f, freedom):
    assert fisher_two(f, freedom) == pytest.approx(float(fdtr(2, freedom, f)), abs=1e-9)
