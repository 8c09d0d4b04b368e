"""The absorption fit."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.insulation.absorption import fit_absorption
from tests.core.insulation.given import TIMES, mohm


def test_the_check_curve():
    """R_leak 2097 MΩ, n 0.684 through 437.6 MΩ at 1 min: 1174.8 at 10 min, PI 2.685, DAR 1.480 (computed)."""
    amplitude = (1 / 437.6 - 1 / 2097) * 60**0.684
    fit = fit_absorption(TIMES, mohm(TIMES, 2097, amplitude, 0.684))
    assert 1 / fit.leak == pytest.approx(2097, rel=1e-3)
    assert fit.exponent == pytest.approx(0.684, abs=1e-3)
    assert fit.mohm_at(600) == pytest.approx(1174.8, abs=0.1)
    assert fit.mohm_at(600) / fit.mohm_at(60) == pytest.approx(2.685, abs=1e-3)
    assert fit.mohm_at(60) / fit.mohm_at(30) == pytest.approx(1.480, abs=1e-3)
    assert fit.misfit < 1e-5


@given(st.floats(50, 5000), st.floats(0.3, 1.5), st.floats(0.2, 5))
def test_it_finds_what_made_the_curve(leak_mohm, n, share):
    """share: absorption at 1 minute against the leak."""
    amplitude = share / leak_mohm * 60**n
    fit = fit_absorption(TIMES, mohm(TIMES, leak_mohm, amplitude, n))
    assert fit.misfit < 1e-3
    assert fit.leak_lowest <= 1 / leak_mohm <= fit.leak_highest
    assert fit.exponent == pytest.approx(n, abs=0.05)


def test_the_band_holds_the_truth_through_a_meters_scatter():
    dice = np.random.default_rng(3)
    true = mohm(TIMES, 800, 0.05, 0.8)
    hits = 0
    for _ in range(200):
        seen = [r * (1 + e) for r, e in zip(true, dice.normal(0, 0.01, len(true)), strict=True)]
        fit = fit_absorption(TIMES, seen)
        hits += fit.leak_lowest <= 1 / 800 <= fit.leak_highest
    assert 0.82 <= hits / 200 <= 0.98


def test_the_capacitive_charge_at_15_seconds_is_left_out_when_it_does_not_belong():
    values = mohm(TIMES, 1500, 0.02, 0.7)
    values[0] *= 0.6
    fit = fit_absorption(TIMES, values)
    assert fit.first_s == 30
    assert 1 / fit.leak == pytest.approx(1500, rel=0.02)
    assert fit_absorption(TIMES, mohm(TIMES, 1500, 0.02, 0.7)).first_s == 15


@pytest.mark.parametrize("times", [[30, 60, 120, 300], [1, 5, 10, 30, 60, 120], []])
def test_fewer_than_five_points_from_15_seconds_fit_nothing(times):
    assert fit_absorption(times, mohm(times, 1000, 0.02, 0.7)) is None
