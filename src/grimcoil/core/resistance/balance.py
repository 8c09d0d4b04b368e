"""Both balance figures, and the least and most the meter's last digit allows, exact over the box of intervals."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import product

Interval = tuple[float, float]


def unbalance_percent(values: Sequence[float]) -> float:
    """100 x max|R - mean| / mean. Values > 0, any unit.

    >>> round(unbalance_percent([1.86, 2.00, 1.88]), 2)
    4.53
    """
    mean = sum(values) / len(values)
    return 100 * max(abs(value - mean) for value in values) / mean if mean > 0 else math.inf


def spread_percent(values: Sequence[float]) -> float:
    """100 x (max - min) / min."""
    low, high = min(values), max(values)
    if low <= 0:
        return math.inf if high > 0 else 0.0
    return 100 * (high - low) / low


def difference(values: Sequence[float]) -> float:
    """Largest less smallest, in the unit of the values."""
    return max(values) - min(values)


MEASURES: dict[str, Callable[[Sequence[float]], float]] = {
    "unbalance": unbalance_percent,
    "spread": spread_percent,
    "difference": difference,
}


@dataclass(frozen=True, slots=True)
class Balance:
    """A measure of balance as shown, and the ends it can have."""

    shown: float
    lowest: float
    highest: float


def balance(values: Sequence[float], intervals: Sequence[Interval], measure: str = "unbalance") -> Balance:
    """The measure of three readings, with its exact ends over their intervals.

    All three measures are quasi-convex, so the highest lies at a corner of the box. The lowest lies where
    the largest is lowered to L (the greatest lower end), the smallest raised to H (the least upper end) and
    the third put as near their middle as its interval lets it; where all overlap it is 0.
    """
    figure = MEASURES[measure]
    floored = [(max(low, 0.0), high) for low, high in intervals]
    highest = max(figure(corner) for corner in product(*floored))
    top, bottom = max(low for low, _ in floored), min(high for _, high in floored)
    lowest = 0.0 if top <= bottom else figure(_evenest(floored, top, bottom))
    return Balance(figure(values), lowest, highest)


def _evenest(intervals: Sequence[Interval], top: float, bottom: float) -> list[float]:
    middle = (top + bottom) / 2
    return [min(max(middle, low), high) for low, high in _pinned(intervals, top, bottom)]


def _pinned(intervals: Sequence[Interval], top: float, bottom: float) -> list[Interval]:
    """The interval that sets `top` shrinks to it, likewise the one that sets `bottom`."""
    pinned = list(intervals)
    pinned[max(range(len(intervals)), key=lambda i: intervals[i][0])] = (top, top)
    pinned[min(range(len(intervals)), key=lambda i: intervals[i][1])] = (bottom, bottom)
    return pinned


def resolution_needed_ohm(mean_ohm: float, limit_percent: float) -> float:
    """Resolution (twice the half-width) that would show three equal readings within the limit.

    h <= 3 p m / (4 + p), from one corner up, two down.

    >>> round(resolution_needed_ohm(0.6, 2), 4)
    0.0179
    """
    p = limit_percent / 100
    return 2 * 3 * p * mean_ohm / (4 + p)
