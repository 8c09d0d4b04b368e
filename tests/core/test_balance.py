"""Balance figures and what a meter can show (handbook chapter 4)."""

from itertools import permutations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.resistance.balance import MEASURES, balance, resolution_needed_ohm, spread_percent, unbalance_percent

values = st.tuples(*[st.floats(0.01, 100)] * 3)
widths = st.tuples(*[st.floats(0, 0.3)] * 3)


def box(three, shares):
    return [(v * (1 - s), v * (1 + s)) for v, s in zip(three, shares, strict=True)]


@given(values, st.floats(1e-3, 1e3))
def test_scaling_all_readings_leaves_unbalance_unchanged(three, factor):
    assert unbalance_percent([v * factor for v in three]) == pytest.approx(unbalance_percent(three), abs=1e-9)
    assert spread_percent([v * factor for v in three]) == pytest.approx(spread_percent(three), abs=1e-7)


@given(values, widths)
def test_reordering_changes_nothing(three, shares):
    intervals = box(three, shares)
    first = balance(three, intervals)
    for order in permutations(range(3)):
        other = balance([three[i] for i in order], [intervals[i] for i in order])
        assert other.lowest == pytest.approx(first.lowest, abs=1e-9)
        assert other.highest == pytest.approx(first.highest, abs=1e-9)


@given(values, widths, st.floats(1, 3))
def test_wider_intervals_only_widen(three, shares, factor):
    narrow = balance(three, box(three, shares))
    wide = balance(three, box(three, [min(0.95, s * factor) for s in shares]))
    assert wide.lowest <= narrow.lowest + 1e-9
    assert wide.highest >= narrow.highest - 1e-9


@pytest.mark.parametrize("measure", MEASURES)
@pytest.mark.parametrize("seed", range(6))
def test_ends_are_exact_over_the_box(seed, measure):
    """Against a dense walk of the box: nothing lies outside, and the ends are reached."""
    dice = np.random.default_rng(seed)
    three = dice.uniform(1, 1.2, 3)
    half = dice.uniform(0.001, 0.05, 3)
    intervals = [(v - h, v + h) for v, h in zip(three, half, strict=True)]
    ends = balance(list(three), intervals, measure)
    axes = [np.linspace(low, high, 41) for low, high in intervals]
    grid = np.stack(np.meshgrid(*axes), axis=-1).reshape(-1, 3)
    seen = [MEASURES[measure](point) for point in grid]
    assert min(seen) >= ends.lowest - 1e-9
    assert max(seen) <= ends.highest + 1e-9
    assert max(seen) == pytest.approx(ends.highest)
    assert min(seen) == pytest.approx(ends.lowest, abs=0.15)


def test_resolution_needed_just_proves_it():
    needed = resolution_needed_ohm(0.6, 2)
    intervals = [(0.6 - needed / 2, 0.6 + needed / 2)] * 3
    assert balance([0.6] * 3, intervals).highest == pytest.approx(2)
