"""Values that can't belong to their series: many robust scatters off the line of the others. Called out, never dropped
in silence: mostly a slip of the decimal point or the unit, now and then a motor that was wet that day.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import combinations
from statistics import median

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.amount import Bound
from grimcoil.core.trend.fit import YEAR_DAYS, TrendPoint

# Common practice without source: a real fall to a tenth between two tests is a step, told by its own rule.
MANY_SCATTERS = 8.0
LEAST_DECADES = 1.0
LEAST_SCATTER_DECADES = 0.05
LEAST_OTHERS = 3
MOST_ONE_BY_ONE = 15
MOST_FOR_SLOPE = 200
_MAD = 1.4826
Array = NDArray[np.float64]


def outliers(points: Sequence[TrendPoint]) -> tuple[int, ...]:
    """Numbers of the points that stand off, of a series in time order. A bound stands off where it says so for sure."""
    if len(points) <= LEAST_OTHERS:
        return ()
    first = points[0].on
    years = np.array([(p.on - first).days / YEAR_DAYS for p in points])
    low, high = np.array([_ends(p) for p in points]).T
    exact = low == high
    if exact.sum() < LEAST_OTHERS:
        return ()
    if len(points) > MOST_ONE_BY_ONE:
        off = _off(years, low, high, *_line(years[exact], low[exact]))
        return tuple(int(i) for i in np.flatnonzero(off))
    found = []
    for i in range(len(points)):
        others = exact.copy()
        others[i] = False
        if others.sum() < LEAST_OTHERS:
            continue
        slope, level, scatter = _short_line(years[others].tolist(), low[others].tolist())
        far, line = max(MANY_SCATTERS * scatter, LEAST_DECADES), level + slope * float(years[i])
        if line - float(high[i]) > far or float(low[i]) - line > far:
            found.append(i)
    return tuple(found) if len(found) <= len(points) // 3 else ()


def _ends(point: TrendPoint) -> tuple[float, float]:
    amount = point.r40_mohm
    if amount.bound is Bound.NOTHING:
        return -np.inf, np.inf
    low = np.log10(amount.low) if amount.low > 0 else -np.inf
    high = np.log10(amount.high) if amount.high > 0 else -3.0
    return float(low), float(high)


def _line(years: Array, logs: Array) -> tuple[float, float, float]:
    """Slope, level and scatter that a third of wrong values doesn't move: medians of slopes and of residuals."""
    thin = slice(None, None, max(1, years.size // MOST_FOR_SLOPE))
    t, y = years[thin], logs[thin]
    i, j = np.triu_indices(t.size, 1)
    apart = t[j] != t[i]
    slope = float(np.median((y[j] - y[i])[apart] / (t[j] - t[i])[apart])) if apart.any() else 0.0
    level = float(np.median(logs - slope * years))
    scatter = _MAD * float(np.median(np.abs(logs - level - slope * years)))
    return slope, level, max(scatter, LEAST_SCATTER_DECADES)


def _short_line(years: list[float], logs: list[float]) -> tuple[float, float, float]:
    """The same of a few points, of which arrays take longer to make than to go through."""
    pairs = list(zip(years, logs, strict=True))
    slopes = [(y2 - y1) / (t2 - t1) for (t1, y1), (t2, y2) in combinations(pairs, 2) if t2 != t1]
    slope = median(slopes) if slopes else 0.0
    level = median([y - slope * t for t, y in pairs])
    scatter = _MAD * median([abs(y - level - slope * t) for t, y in pairs])
    return slope, level, max(scatter, LEAST_SCATTER_DECADES)


def _off(years: Array, low: Array, high: Array, slope: float, level: float, scatter: float) -> NDArray[np.bool_]:
    line = level + slope * years
    far = max(MANY_SCATTERS * scatter, LEAST_DECADES)
    return (line - high > far) | (low - line > far)
