"""The graduated scale under the reading line: where the limits lie for the reading being taken."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Verdict
from grimcoil.core.resistance.balance import MEASURES


@dataclass(frozen=True, slots=True)
class Band:
    """A stretch of the scale with one verdict, in home units."""

    low: float
    high: float
    verdict: Verdict


@dataclass(frozen=True, slots=True)
class Scale:
    """Ends in home units, bands of verdict, and whether it is logarithmic."""

    low: float
    high: float
    bands: tuple[Band, ...] = ()
    logarithmic: bool = False

    def share(self, value: float) -> float:
        """Where a value stands, 0 to 1 from end to end (clipped)."""
        if self.logarithmic:
            if value <= 0:
                return 0.0
            part = math.log(value / self.low) / math.log(self.high / self.low)
        else:
            part = (value - self.low) / (self.high - self.low)
        return min(1.0, max(0.0, part))


def balance_scale(
    others: tuple[float, ...],
    expected: float | None,
    criteria: Criteria,
    typed: float | None,
) -> Scale:
    """Scale for one of three like readings given those kept; bands are exact to a thousandth of the width.

    With no other reading the expectation from the last job stands in for them; with neither, no bands.
    """
    known = list(others) or ([expected] if expected else [])
    centre = sum(known) / len(known) if known else typed or 1.0
    half = max(centre * 0.08, 1e-6)
    if typed is not None and abs(typed - centre) > half and typed <= 50 * centre:
        half = abs(typed - centre) * 1.15
    low, high = max(0.0, centre - half), centre + half
    if not known:
        return Scale(low, high)
    figure = MEASURES[criteria.balance_measure]

    def judge(value: float) -> Verdict:
        measure = figure([*known, value])
        if measure <= criteria.balance_sound.value:
            return Verdict.SOUND
        return Verdict.WATCH if measure <= criteria.balance_act.value else Verdict.ACT

    return Scale(low, high, _bands(low, high, judge))


def _bands(low: float, high: float, judge: Callable[[float], Verdict], steps: int = 400) -> tuple[Band, ...]:
    """Bands by walking the scale and bisecting each change."""
    width = (high - low) / steps
    out: list[Band] = []
    start, verdict = low, judge(low)
    for i in range(1, steps + 1):
        here = low + i * width
        if judge(here) is not verdict:
            edge = _edge(here - width, here, verdict, judge)
            out.append(Band(start, edge, verdict))
            start, verdict = edge, judge(here)
    return (*out, Band(start, high, verdict))


def _edge(low: float, high: float, verdict: Verdict, judge: Callable[[float], Verdict]) -> float:
    for _ in range(12):
        middle = (low + high) / 2
        low, high = (middle, high) if judge(middle) is verdict else (low, middle)
    return high


def insulation_scale(minimum_here_mohm: float, near_zero_mohm: float) -> Scale:
    """0.01 to 10 000 MΩ, logarithmic, with the minimum as it stands at this temperature."""
    return Scale(
        0.01,
        10000.0,
        (
            Band(0.01, near_zero_mohm, Verdict.ACT),
            Band(near_zero_mohm, minimum_here_mohm, Verdict.ACT),
            Band(minimum_here_mohm, 10000.0, Verdict.SOUND),
        ),
        logarithmic=True,
    )


def level_scale(rated: float, sound_percent: float, act_percent: float) -> Scale:
    """Supply volts round the rated value."""

    def at(percent: float) -> float:
        return rated * (1 + percent / 100)

    return Scale(
        at(-15),
        at(15),
        (
            Band(at(-15), at(-act_percent), Verdict.ACT),
            Band(at(-act_percent), at(-sound_percent), Verdict.WATCH),
            Band(at(-sound_percent), at(sound_percent), Verdict.SOUND),
            Band(at(sound_percent), at(act_percent), Verdict.WATCH),
            Band(at(act_percent), at(15), Verdict.ACT),
        ),
    )


def load_scale(rated: float, service_factor: float) -> Scale:
    """Line amps from nothing to one and a half times full load."""
    top = rated * 1.5
    return Scale(
        0.0,
        top,
        (
            Band(0.0, rated, Verdict.SOUND),
            Band(rated, rated * service_factor, Verdict.WATCH),
            Band(rated * service_factor, top, Verdict.ACT),
        ),
    )


def dead_scale(dead_below_v: float) -> Scale:
    """0 to 50 V: dead or not."""
    return Scale(
        0.0,
        50.0,
        (Band(0.0, dead_below_v, Verdict.SOUND), Band(dead_below_v, 50.0, Verdict.ACT)),
    )


def live_scale(live_above_v: float) -> Scale:
    """0 to 500 V: a live source proves the tester."""
    return Scale(
        0.0,
        600.0,
        (
            Band(0.0, live_above_v, Verdict.ACT),
            Band(live_above_v, 600.0, Verdict.SOUND),
        ),
    )


def plain_scale(low: float, high: float) -> Scale:
    """A range without limits."""
    return Scale(low, high)
