"""A figure of a round against the motor's own earlier ones: the same task, under load or not as now."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

from grimcoil.core.findings import Finding, sound, unproven, watch
from grimcoil.core.rounds.tasks import Task

HOTTER_K, HALVING_K = 10.0, 10.0
SHIFTED = 0.10  # of its usual amps or volts; common practice without source
LOOKED_BACK = 12


@dataclass(frozen=True, slots=True)
class Figure:
    """A figure of an earlier round. loaded: None where it wasn't said."""

    value: float
    loaded: bool | None


def usual(earlier: Sequence[Figure], loaded: bool | None) -> float | None:
    """The median of the last dozen under the same load, None with fewer than two.

    In the unit of its values (computed).
    """
    like = [one.value for one in earlier if one.loaded is loaded or None in (one.loaded, loaded)][-LOOKED_BACK:]
    return median(like) if len(like) >= 2 else None


def judge_figure(task: Task, value: float, loaded: bool | None, earlier: Sequence[Figure]) -> Finding:
    """A sentence with what it costs and what it opens. value: °C, A or V. The finding names its source."""
    before = usual(earlier, loaded)
    if before is None:
        return unproven(
            "round-no-past", f"{value:g}: kept. From the third reading at this spot it is judged by its own past."
        )
    if task is Task.FRAME:
        return _warmth(value, before)
    unit = "V" if task is Task.VOLTS else "A"
    if abs(value - before) > SHIFTED * before:  # not by their ratio: at exactly a tenth that is past it by a rounding
        share = f"{abs(value / before - 1):.0%} " if before > 0 else ""
        more = "more" if value > before else "less"
        opens = "load, volts and the other lines" if task is Task.AMPS else "the supply, tap and the other lines"
        return watch("round-shifted", f"{value:g} {unit} is {share}{more} than its usual {before:g}. Look at {opens}.")
    return sound("round-usual", f"{value:g} {unit}: as usual, {before:g}.")


def _warmth(value: float, before: float) -> Finding:
    hotter = value - before
    if hotter > HOTTER_K:
        times = 2 ** (hotter / HALVING_K)
        text = (
            f"{value:g} °C is {hotter:.0f} K over its usual {before:g}: the insulation ages {times:.1f} times as fast."
        )
        return watch("round-hotter", f"{text} Vents and fan, load, then amps.")
    if hotter < -HOTTER_K:
        return watch(
            "round-cooler", f"{value:g} °C is {-hotter:.0f} K under its usual {before:g}: same spot, same load?"
        )
    return sound("round-usual", f"{value:g} °C: as usual, {before:g}.")
