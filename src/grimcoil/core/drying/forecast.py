"""How long a drying still takes: R40 fitted as it bends, carried on reading by reading until all of *done* holds.

log R40 rises towards its dry value like L - A exp(-u / tau), u the time on one of two clocks: the hours gone, or those
hours weighed by how warm the winding was. Every tau of a grid and both clocks are weighed by how well they fit; from
each, what L and A and the scatter can be is drawn and the coming readings with it, and each draw is asked when *done*
first holds. (computed; Bayes by grid, its ends set by trial on simulated dryings)
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
TAUS = np.geomspace(0.4, 60.0, 22)
DRAWS = 900
HORIZON_H = 72.0
# Scatter of one reading, decades: never less than a meter's last digit and a breath of air leave.
LEAST_SCATTER = 0.004
# A clock that runs with the winding's warmth: twice as fast every so many kelvin; common practice without source.
DOUBLING_K = 15.0
# Where the ends stand among the draws: one bend tells the late end too early, so it is taken further out.
EARLY, LATE = 0.06, 0.97
SCATTER_FROM = 12
MOST_FOLDS = 12.0  # what bends so fast has long ended
BENDS = (0.9, 1.0, 1.15)
HEAD_H = 0.5  # of the clock before the first reading
MEMORY, LEAST_MEMORY_H, TEMPER = 0.2, 2.0, 1.0
# What dry windings read at 40 °C, decades of MΩ, and how far that spreads; common practice without source.
DRY, DRY_SPREAD, RISE_SPREAD = 2.6, 0.8, 3.0
CARRIED = 0.7  # of that spread may be left where readings carry a forecast; by trial on simulated dryings
MOST_RISE = 4.0  # decades still to come, at the most
WIDEST = 12.0  # the late end over the early one; beyond that a band says nothing


@dataclass(frozen=True, slots=True)
class Rising:
    """Readings of a minute between one pair of ends, oldest first. hours: since the first; log_r40: decades of MΩ;
    warm_c: of the winding then.
    """

    hours: Array
    log_r40: Array
    warm_c: Array


@dataclass(frozen=True, slots=True)
class Done:
    """What has to hold. minimum: decades of MΩ; steady_h, within, at_least: the window; index_from: the decades from
    which index or ratio hold, None where they do already.
    """

    minimum: float
    steady_h: float
    within: float
    at_least: int
    index_from: tuple[float, float] | None = None


def column(values: Iterable[float]) -> Array:
    """Figures of any unit as an array (computed)."""
    return np.array(list(values), dtype=float)


def hours_left(rising: Rising, done: Done) -> tuple[float, float] | None:
    """Hours from the newest reading to the end, as a 90 % band; None where the readings don't carry one.

    In h (computed).
    """
    every = float(np.median(np.diff(rising.hours)[-6:]))
    if every <= 0:
        return None
    steps = int(HORIZON_H / every) + 1
    if steps > 2000:
        return None
    dice = np.random.Generator(np.random.PCG64(20261201))
    clocks = [rising.hours, _warm_clock(rising)]
    fits = [fit for clock in clocks for fit in _fits(clock, rising.log_r40)]
    if not fits:
        return None
    weight = np.exp(np.array([fit.weight for fit in fits]) - max(fit.weight for fit in fits))
    if _dry_spread(fits, weight / weight.sum()) > CARRIED * DRY_SPREAD:
        return None
    chosen = dice.choice(len(fits), size=DRAWS, p=weight / weight.sum())
    ends = np.concatenate(
        [
            _ends(fits[n], int(count), rising, done, every, steps, dice)
            for n, count in zip(*np.unique(chosen, return_counts=True), strict=True)
        ]
    )
    ends.sort()
    low, high = ends[int(EARLY * len(ends))], ends[int(LATE * len(ends))]
    if not math.isfinite(high) or high > HORIZON_H or high > max(WIDEST * low, low + 6.0):
        return None
    return max(0.0, float(low) - every), float(high)


def _dry_spread(fits: Sequence[_Fit], weight: Array) -> float:
    """How far the dry value is left open: where hardly less than before any reading, these haven't bent yet."""
    middle, own = np.array([fit.best[0] for fit in fits]), np.array([fit.covariance[0, 0] for fit in fits])
    mean = float(weight @ middle)
    return math.sqrt(float(weight @ (own + (middle - mean) ** 2)))


@dataclass(frozen=True, slots=True)
class _Fit:
    """One tau on one clock: log weight, least squares of L and A with their covariance, scatter, and the clock."""

    weight: float
    tau: float
    bend: float
    best: Array
    covariance: Array
    scatter: float
    freedom: float
    clock: Array


def _warm_clock(rising: Rising) -> Array:
    """Hours weighed by warmth, so that the newest run as hours do."""
    rate = 2.0 ** ((rising.warm_c - rising.warm_c[-1]) / DOUBLING_K)
    step = np.diff(rising.hours) * (rate[1:] + rate[:-1]) / 2
    return np.concatenate([[0.0], np.cumsum(step)])


def _fits(clock: Array, y: Array) -> list[_Fit]:
    """Least squares of L and A for each bend, later readings weighing more, L held to what dry windings read."""
    out = []
    age = clock[-1] - clock
    memory = np.exp2(-age / max(LEAST_MEMORY_H, MEMORY * age[0]))
    freedom = max(1.0, TEMPER * float(memory.sum()) - 1.0)
    for tau in TAUS:
        for bend in BENDS:
            gone = ((clock + HEAD_H) / tau) ** bend
            if gone[-1] - gone[0] > MOST_FOLDS:
                continue
            x = np.column_stack([np.ones(len(y)), -np.exp(gone[-1] - gone)])
            gram = (x * memory[:, None]).T @ x
            moment = (x * memory[:, None]).T @ y
            variance = LEAST_SCATTER**2
            for _ in range(3):
                held = gram + np.diag([variance / DRY_SPREAD**2, variance / RISE_SPREAD**2])
                best = np.linalg.solve(held, moment + np.array([DRY * variance / DRY_SPREAD**2, 0.0]))
                rest = float((memory * (y - x @ best) ** 2).sum())
                variance = (rest + LEAST_SCATTER**2) / (float(memory.sum()) - 1.0 if memory.sum() > 2 else 1.0)
            off = ((best[0] - DRY) / DRY_SPREAD) ** 2 + (best[1] / RISE_SPREAD) ** 2
            weight = -0.5 * freedom * math.log(variance) - 0.5 * off - 0.5 * math.log(np.linalg.det(held) / variance)
            if best[1] <= 0:
                continue
            out.append(
                _Fit(
                    weight,
                    float(tau),
                    bend,
                    best,
                    np.linalg.inv(held) * variance / TEMPER,
                    math.sqrt(variance),
                    freedom,
                    clock,
                )
            )
    return out


def _ends(
    fit: _Fit, count: int, rising: Rising, done: Done, every: float, steps: int, dice: np.random.Generator
) -> Array:
    """When each of so many draws first has all of *done*, h; inf where it doesn't within the horizon."""
    spread = np.sqrt(fit.freedom / dice.chisquare(fit.freedom, size=count))[:, None]
    drawn = fit.best + spread * dice.multivariate_normal(np.zeros(2), fit.covariance, size=count, method="eigh")
    late, rest = drawn[:, :1], drawn[:, 1:]
    rest = np.where((rest > 0) & (rest < MOST_RISE), rest, np.clip(rest, 0.0, MOST_RISE))
    hours = np.arange(1, steps + 1) * every
    pace = _pace(fit.clock, rising.hours)
    noise = _scatter(rising.log_r40) * dice.standard_normal((count, steps))
    now = fit.clock[-1] + HEAD_H
    gone = ((now + hours * pace) / fit.tau) ** fit.bend - (now / fit.tau) ** fit.bend
    seen = late - rest * np.exp(-gone)[None, :] + noise
    back = max(done.at_least, math.ceil(done.steady_h / every - 1e-9) + 1)
    past = np.broadcast_to(rising.log_r40[-(back - 1) :], (count, min(back - 1, len(rising.log_r40))))
    line = np.concatenate([past, seen], axis=1)
    if line.shape[1] < back:
        return np.full(count, np.inf)
    windows = np.lib.stride_tricks.sliding_window_view(line, back, axis=1)
    low, high = windows.min(axis=2), windows.max(axis=2)
    good = (high - low <= done.within) & (low >= done.minimum)
    if done.index_from is not None:
        middle, doubt = done.index_from
        wanted = middle + doubt * dice.standard_normal((count, 1))
        good &= windows[:, :, -1] >= wanted
    first = good.argmax(axis=1)
    at = (first + back - past.shape[1]) * every
    return np.where(good.any(axis=1), at, np.inf)


def _scatter(y: Array) -> float:
    """Of one reading round a smooth curve, by what three in a row depart from a line; the newest count."""
    bent = np.diff(y[-SCATTER_FROM:], 2)
    return max(LEAST_SCATTER, float(np.median(np.abs(bent))) * 1.4826 / math.sqrt(6.0))


def _pace(clock: Array, hours: Array) -> float:
    """How fast the clock will run: as it did so far, rests and all."""
    return float(clock[-1] / hours[-1]) if hours[-1] > 0 else 1.0
