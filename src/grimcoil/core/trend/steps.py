"""The last value against the earlier ones, judged by the series' own scatter."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from functools import cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.findings import Finding, Verdict
from grimcoil.core.limits import within
from grimcoil.core.quantiles import student_t
from grimcoil.core.readings import three_digits
from grimcoil.core.trend.fit import TrendPoint

LEAST_EARLIER = 3
HALVINGS = 3  # falls to half or less running; common practice without source
MOST_EARLIER = 500  # what is usual is told by the latest ones
LEAST_SCATTER_DECADES = 0.05
MAD_BY_FEW = 1.25


@dataclass(frozen=True, slots=True)
class DatedStep:
    """A step somewhere in the series, and what it asks for."""

    on: date
    step: Step
    finding: Finding


@dataclass(frozen=True, slots=True)
class Step:
    """How far the last value fell: its ratio to the usual one, and the fall in units of the scatter. sure: how many
    scatters it takes to be no chance, by the number of values the scatter is known from.
    """

    usual_mohm: float
    ratio: float
    scatters: float
    sure: float = 2.0


Logs = NDArray[np.float64]


def last_step(points: Sequence[TrendPoint]) -> Step | None:
    """The last exact value against the median of those before; None with fewer than three before it.

    Earlier bounds count at the bound, which can only understate the usual value.
    """
    return _fallen(_logs(points[:-1][-MOST_EARLIER:]), points[-1])


def _logs(points: Sequence[TrendPoint]) -> Logs:
    return np.array([math.log10(p.r40_mohm.value) for p in points if p.r40_mohm.value > 0])


def _fallen(logs: Logs, last: TrendPoint) -> Step | None:
    if logs.size < LEAST_EARLIER or last.r40_mohm.bound in ("above", "nothing") or last.r40_mohm.high <= 0:
        return None
    usual = float(np.median(logs))
    scatter = max(1.4826 * float(np.median(np.abs(logs - usual))), LEAST_SCATTER_DECADES)
    fall = usual - math.log10(last.r40_mohm.high)
    return Step(10**usual, 10**-fall, fall / scatter, sure_scatters(logs.size))


@cache
def sure_scatters(earlier: int) -> float:
    """Twice the scatter where many values tell it; more where few do, so that level values with scatter are called a
    step in at most two of a hundred series (no unit; computed, calibrated by simulation: `bin/bench trend`).
    """
    return max(2.0, MAD_BY_FEW * student_t(0.99, earlier - 1))


def _is_fall(step: Step | None) -> bool:
    return step is not None and step.ratio < 0.5 and step.scatters > step.sure


def step_finding(points: Sequence[TrendPoint]) -> Finding | None:
    """Below half the usual and beyond the scatter for sure: watch; below a fifth, or twice running: act soon."""
    if len(points) <= LEAST_EARLIER:
        return None
    step = last_step(points)
    if step is None or not _is_fall(step):
        return None
    again = len(points) > LEAST_EARLIER + 1 and _is_fall(last_step(points[:-1]))
    return _finding(step, again, points[-1])


def halving_finding(points: Sequence[TrendPoint]) -> Finding | None:
    """Each of the last tests surely half or less of the one before: on level values with 0.2 decades of scatter three
    such falls running come in fewer than two of a hundred series. (computed by simulation: `bin/bench trend`)
    """
    last = points[-HALVINGS - 1 :]
    if len(last) <= HALVINGS or not all(_halved(a, b) for a, b in pairwise(last)):
        return None
    shown = ", ".join(three_digits(p.r40_mohm.value) for p in last)
    text = f"{shown} MΩ: half or less of the one before, {HALVINGS} tests running. Find why, test again within a month."
    return Finding("trend-halving", Verdict.WATCH, text)


def _halved(before: TrendPoint, after: TrendPoint) -> bool:
    high = after.r40_mohm.high
    return high < math.inf and before.r40_mohm.low > 0 and within(high, before.r40_mohm.low / 2)


def _finding(step: Step, again: bool, last: TrendPoint) -> Finding:
    value = last.r40_mohm.value
    usual, times = three_digits(step.usual_mohm), three_digits(1 / step.ratio)
    text = f"Insulation {three_digits(value)} MΩ at 40 °C, usual {usual} MΩ, {times} times higher."
    if step.ratio < 0.2 or again:
        reason = " The second fall in a row." if again and step.ratio >= 0.2 else ""
        return Finding("trend-step-act", Verdict.ACT, f"{text}{reason} Act soon: plan drying or a spare.")
    return Finding("trend-step-watch", Verdict.WATCH, f"{text} Test again sooner.")


def all_steps(points: Sequence[TrendPoint]) -> list[DatedStep]:
    """Every step of a series in time order, each judged by what came before it."""
    out = []
    logs, known = np.empty(len(points)), 0
    before = False
    for count, last in enumerate(points):
        step = _fallen(logs[max(0, known - MOST_EARLIER) : known], last) if count >= LEAST_EARLIER else None
        if step is not None and _is_fall(step):
            out.append(DatedStep(last.on, step, _finding(step, before, last)))
        before = _is_fall(step)
        if last.r40_mohm.value > 0:
            logs[known] = math.log10(last.r40_mohm.value)
            known += 1
    return out
