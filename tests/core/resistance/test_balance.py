"""Balance figures and what a meter can show."""

from itertools import permutations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.resistance.balance import (
    MEASURES,
    balance,
    resolution_needed_ohm,
    resolution_to_show_ohm,
    spread_percent,
    unbalance_percent,
)

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
@pytest.mark.parametrize(
    ("seed", "count", "steps"), [*((s, 3, 41) for s in range(2)), (5, 2, 200), (6, 4, 17), (7, 5, 9)]
)
def test_ends_are_exact_over_the_box(seed, count, steps, measure):
    """Against a dense walk of the box: nothing lies outside, and the ends are reached."""
    dice = np.random.default_rng(seed)
    three = dice.uniform(1, 1.2, count)
    half = dice.uniform(0.001, 0.05, count)
    intervals = [(v - h, v + h) for v, h in zip(three, half, strict=True)]
    ends = balance(list(three), intervals, measure)
    axes = [np.linspace(low, high, steps) for low, high in intervals]
    grid = np.stack(np.meshgrid(*axes), axis=-1).reshape(-1, count)
    seen = [MEASURES[measure](point) for point in grid]
    assert min(seen) >= ends.lowest - 1e-9
    assert max(seen) <= ends.highest + 1e-9
    assert max(seen) == pytest.approx(ends.highest)
    assert min(seen) == pytest.approx(ends.lowest, abs=0.15 if count <= 3 else 1.0)


def test_resolution_needed_just_proves_it():
    """Two equal readings, three, six; and uneven ones below the limit."""
    for values in ([0.6] * 2, [0.6] * 3, [0.6] * 6, [1.0, 1.01, 0.995]):
        for measure, limit in (("unbalance", 2), ("spread", 10), ("difference", 0.2)):
            half = resolution_needed_ohm(values, limit, measure) / 2
            intervals = [(v - half, v + half) for v in values]
            assert half > 0
            assert balance(values, intervals, measure).highest == pytest.approx(limit)


def test_resolution_to_show_just_shows_it():
    for measure, limit in (("unbalance", 2), ("spread", 10), ("difference", 0.2)):
        values = [1.0, 1.0, 1.3]
        half = resolution_to_show_ohm(values, limit, measure) / 2
        assert balance(values, [(v - half, v + half) for v in values], measure).lowest == pytest.approx(limit)
    assert resolution_needed_ohm([1.0, 1.0, 1.3], 2) == 0


def test_an_open_end_leaves_the_most_open():
    ends = balance([20.0, 5.0, 5.0], [(20.0, np.inf), (4.9, 5.1), (4.9, 5.1)])
    assert ends.highest == np.inf
    assert ends.lowest == pytest.approx(unbalance_percent([20.0, 5.1, 5.1]))
