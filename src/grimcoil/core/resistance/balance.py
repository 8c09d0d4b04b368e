"""Both balance figures, and the least and most the meter's last digit allows, exact over the box of intervals."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import permutations

Interval = tuple[float, float]


def unbalance_percent(values: Sequence[float]) -> float:
    """100 x max|R - mean| / mean. Values > 0, any unit (computed).

    >>> round(unbalance_percent([1.86, 2.00, 1.88]), 2)
    4.53
    """
    mean = sum(values) / len(values)
    return 100 * max(max(values) - mean, mean - min(values)) / mean if mean > 0 else math.inf


def spread_percent(values: Sequence[float]) -> float:
    """100 x (max - min) / min. In % of values > 0 of any unit (computed)."""
    return _spread(min(values), max(values))


def _spread(low: float, high: float) -> float:
    if low <= 0:
        return math.inf if high > 0 else 0.0
    return 100 * (high - low) / low


def difference(values: Sequence[float]) -> float:
    """Largest less smallest, in the unit of the values (computed)."""
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
    """The measure of two or more readings, with its exact ends over their intervals (computed). Ω in; % or Ω out.

    Each measure rises with the largest reading and falls with the smallest, so the highest lies where one
    reading stands at its upper end and others at their lower ones, or the reverse. The lowest lies where the
    largest is lowered to the greatest lower end and the smallest raised to the least upper end; where all
    intervals overlap it is 0.
    """
    floored = [(low if low > 0 else 0.0, high if high > 0 else 0.0) for low, high in intervals]
    return Balance(MEASURES[measure](values), lowest(floored, measure), _HIGHEST[measure](floored))


def lowest(intervals: Sequence[Interval], measure: str) -> float:
    """The least the measure can be over intervals not below zero. % or Ω, as the measure (computed)."""
    top, bottom = max(intervals)[0], min([high for _, high in intervals])
    return 0.0 if top <= bottom else _LOWEST[measure](intervals, top, bottom)


def _highest_unbalance(intervals: Sequence[Interval]) -> float:
    lows, highs = sum(low for low, _ in intervals), sum(high for _, high in intervals)
    if highs == math.inf or lows <= 0:
        return math.inf
    count = len(intervals)
    up = max(count * high / (lows - low + high) - 1 for low, high in intervals)
    down = max(1 - count * low / (highs - high + low) for low, high in intervals)
    return 100 * max(up, down)


def _lowest_unbalance(intervals: Sequence[Interval], top: float, bottom: float) -> float:
    """The free readings move the mean as near the middle of top and bottom as they can."""
    count = len(intervals)
    free = list(intervals)
    free.remove(next(one for one in intervals if one[0] == top))
    free.remove(next(one for one in free if one[1] == bottom))
    pinned = top + bottom
    least = pinned + sum([max(low, bottom) for low, _ in free])
    most = pinned + sum([min(high, top) for _, high in free])
    total = min(max(count * pinned / 2, least), most)
    return 100 * max(count * top / total - 1, 1 - count * bottom / total)


_LOWEST: dict[str, Callable[[Sequence[Interval], float, float], float]] = {
    "unbalance": _lowest_unbalance,
    "spread": lambda _, top, bottom: _spread(bottom, top),
    "difference": lambda _, top, bottom: top - bottom,
}
_HIGHEST: dict[str, Callable[[Sequence[Interval]], float]] = {
    "unbalance": _highest_unbalance,
    "spread": lambda ivs: max(_spread(low, high) for (_, high), (low, _) in permutations(ivs, 2)),
    "difference": lambda ivs: max(high - low for (_, high), (low, _) in permutations(ivs, 2)),
}


def resolution_needed_ohm(values: Sequence[float], limit: float, measure: str = "unbalance") -> float:
    """Resolution (twice the half-width) that would prove these readings within the limit (% or ohm); 0 where
    they already stand on it or beyond.

    For equal readings of m ohm and the unbalance p this is 2 · 3 p m / (4 + p). (computed)

    >>> round(resolution_needed_ohm([0.6, 0.6, 0.6], 2), 4)
    0.0179
    """
    count, total, p = len(values), sum(values), limit / 100
    low, high = min(values), max(values)
    if measure == "difference":
        return max(0.0, limit - (high - low))
    if measure == "spread":
        return max(0.0, 2 * ((1 + p) * low - high) / (2 + p))
    up = ((1 + p) * total - count * high) / (count + (1 + p) * (count - 2))
    down = (count * low - (1 - p) * total) / (count + (1 - p) * (count - 2))
    return max(0.0, 2 * min(up, down))


def resolution_to_show_ohm(values: Sequence[float], limit: float, measure: str = "unbalance") -> float:
    """Resolution that would prove these readings beyond the limit; 0 where they don't exceed it. Ω.

    (computed: the half-width at which the least comes down to the limit, by Illinois' rule)
    """

    def excess(half: float) -> float:
        return lowest([(value - half, value + half) for value in values], measure) - limit

    below, above = 0.0, (max(values) - min(values)) / 2
    at_below, at_above = excess(below), -limit
    if at_below <= 0:
        return 0.0
    for _ in range(30):
        middle = above - at_above * (above - below) / (at_above - at_below)
        at_middle = excess(middle)
        if abs(at_middle) < 1e-9 * limit:
            return 2 * middle
        if at_middle > 0:
            below, at_below, at_above = middle, at_middle, at_above / 2
        else:
            above, at_above, at_below = middle, at_middle, at_below / 2
    return 2 * below
