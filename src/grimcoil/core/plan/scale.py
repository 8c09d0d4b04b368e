"""The graduated scale under the reading line: where the limits lie for the reading being taken."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

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
        """Where a value stands, 0 to 1 from end to end (clipped) (computed)."""
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
    """Scale for one of three like readings given those kept; edges are found by bisection. Ω (computed).

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

    def measure(value: float) -> float:
        return figure([*known, value])

    # The measure falls up to the middle of the known readings and rises from there, so each limit has one edge a side.
    middle = min(max((min(known) + max(known)) / 2, low), high)
    sound = _within(measure, criteria.balance_sound.value, low, middle, high)
    act = _within(measure, criteria.balance_act.value, low, middle, high)
    return Scale(low, high, _nested(low, high, sound, act))


Span = tuple[float, float]


def _within(measure: Callable[[float], float], limit: float, low: float, middle: float, high: float) -> Span | None:
    """Where the measure stays within a limit; None where it nowhere does."""
    if measure(middle) > limit:
        return None
    return _edge(measure, limit, middle, low), _edge(measure, limit, middle, high)


def _edge(measure: Callable[[float], float], limit: float, inside: float, outside: float) -> float:
    if measure(outside) <= limit:
        return outside
    for _ in range(20):
        half = (inside + outside) / 2
        inside, outside = (half, outside) if measure(half) <= limit else (inside, half)
    return inside


def _nested(low: float, high: float, sound: Span | None, act: Span | None) -> tuple[Band, ...]:
    """Act, watch, sound, watch, act along the scale; empty ones left out."""
    outer = act or (middle := (low + high) / 2, middle)
    inner = sound or (outer[1], outer[1])
    edges = (low, outer[0], inner[0], inner[1], outer[1], high)
    verdicts = (Verdict.ACT, Verdict.WATCH, Verdict.SOUND, Verdict.WATCH, Verdict.ACT)
    bands = (Band(a, b, verdict) for (a, b), verdict in zip(pairwise(edges), verdicts, strict=True) if a < b)
    return tuple(bands)


def insulation_scale(minimum_here_mohm: float, near_zero_mohm: float) -> Scale:
    """0.01 to 10 000 MΩ, logarithmic, with the minimum as it stands at this temperature (computed)."""
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
    """Supply volts round the rated value. V; the criteria's limits (computed)."""

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
    """Line amps from nothing to one and a half times full load (common practice without source)."""
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
    """0 to 50 V: dead or not. The criteria's limits (computed)."""
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
    """A range without limits. Home units (computed)."""
    return Scale(low, high)
