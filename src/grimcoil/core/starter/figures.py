"""A position's starter on one sheet: its figures judged, its checks in order with what to expect, its upkeep."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from grimcoil.core.choices import Starter
from grimcoil.core.circuit.overload import overload_findings
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.findings import Finding, act, sound, watch
from grimcoil.core.plate import Plate
from grimcoil.core.readings import three_digits
from grimcoil.core.rounds.tasks import MONTH_H
from grimcoil.core.side.starting import (
    AutotransformerTest,
    StarDeltaTest,
    StartsTest,
    judge_autotransformer,
    judge_star_delta,
    judge_starts,
)
from grimcoil.core.subject import Overload

TRADE = "common practice without source"
DIRECT_LEAST, DIRECT_MOST = 5.0, 8.0  # times full-load amps at a direct start; handbook, common practice
PICK_UP, DROP = 0.85, 1.10  # of a coil's rated volts it must work between: IEC 60947-4-1, from memory
NO_RELAY = Overload()
OPERATIONS = 100_000  # between looks at the contacts; common practice without source
MOST_MONTHS = 12
WORN_SOONEST = frozenset({Starter.REVERSING, Starter.TWO_SPEED})
ELECTRONIC = frozenset({Starter.SOFT, Starter.DRIVE})
LIMITS = {
    "coil_v": (1, 1000), "control_primary_v": (1, 1000), "control_va": (1, 100_000), "control_fuse_a": (0.1, 100),
    "fuse_a": (0.1, 5000), "timer_s": (0.1, 600), "run_up_s": (0.1, 600), "tap_percent": (10, 100),
    "line_a_star": (0.1, 20_000), "line_a_delta": (0.1, 20_000), "start_a": (0.1, 20_000),
    "starts_per_hour": (0.01, 1000),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class StarterFigures:
    """What is read off or set in a starter: volts, amps, VA and seconds as named. tap_percent: of full volts;
    undervoltage_release: it doesn't start again by itself when volts come back. Raises RecordRefusal outside `LIMITS`.
    """

    coil_v: float | None = None
    control_primary_v: float | None = None
    control_va: float | None = None
    control_fuse_a: float | None = None
    fuse_a: float | None = None
    timer_s: float | None = None
    run_up_s: float | None = None
    tap_percent: float | None = None
    line_a_star: float | None = None
    line_a_delta: float | None = None
    start_a: float | None = None
    starts_per_hour: float | None = None
    undervoltage_release: bool | None = None

    def __post_init__(self) -> None:
        for name, (least, most) in LIMITS.items():
            value = getattr(self, name)
            if value is not None and not least <= value <= most:
                raise RecordRefusal(f"starter_figures.{name}", f"{value:g}", f"a number from {least:g} to {most:g}")


@dataclass(frozen=True, slots=True)
class StarterPlace:
    """A starter where it stands. plate: of the motor that does; control_v: of the control circuit. None where it isn't
    known.
    """

    starter: Starter
    figures: StarterFigures = StarterFigures()
    plate: Plate | None = None
    overload: Overload = NO_RELAY
    control_v: float | None = None
    fused: bool = False

    @property
    def full_load_a(self) -> float | None:
        """Of the motor as it is joined, A (as read off its plate)."""
        return None if self.plate is None else self.plate.full_load_in_use_a


@dataclass(frozen=True, slots=True)
class Check:
    """A step at the starter. dead: it is isolated, locked and proved dead first. expect: what is right, in words;
    why: what goes wrong otherwise, with its standing.
    """

    key: str
    title: str
    dead: bool
    how: str
    expect: str
    why: str


def judged(place: StarterPlace) -> tuple[Finding, ...]:
    """What its figures say: dial, timer and run-up, star's third, tap, coil volts, starts an hour.

    V, A and s in the findings; each is computed, its limits common practice or as named.
    """
    return tuple(_judged(place))


def _judged(place: StarterPlace) -> Iterator[Finding]:
    has = place.figures
    if place.plate is not None:
        yield from overload_findings(replace(place.overload, run_up_s=None), place.plate)  # run-up: with the starts
    if place.starter is Starter.STAR_DELTA and (has.timer_s or has.line_a_star):
        test = StarDeltaTest(has.timer_s, has.run_up_s, has.line_a_star, has.line_a_delta)
        yield from judge_star_delta(test).findings
    if place.starter is Starter.AUTOTRANSFORMER and has.tap_percent:
        yield from judge_autotransformer(AutotransformerTest(has.tap_percent, has.start_a)).findings
    if place.starter is Starter.DIRECT and has.start_a and place.full_load_a:
        yield _inrush(has.start_a / place.full_load_a)
    if has.coil_v and place.control_v:
        yield _coil(has.coil_v, place.control_v)
    if has.starts_per_hour is not None or (has.run_up_s is not None and place.overload.trip_class is not None):
        yield from judge_starts(StartsTest(has.starts_per_hour, has.run_up_s, place.overload.trip_class)).findings


def _inrush(times: float) -> Finding:
    shown = f"Start at {three_digits(times)} times full load"
    if times > DIRECT_MOST * (1 + 1e-9):
        return watch("starter-inrush-high", f"{shown}: more than 8. Is it joined for its volts, and read at its peak?")
    if times < DIRECT_LEAST * (1 - 1e-9):
        return watch("starter-inrush-low", f"{shown}: less than 5. Volts low while it starts, or a slow clamp?")
    return sound("starter-inrush", f"{shown}: 5 to 8 is usual.")


def _coil(coil_v: float, control_v: float) -> Finding:
    share = control_v / coil_v
    shown = f"Coil {coil_v:g} V on a control circuit of {control_v:g} V, {three_digits(100 * share)} %"
    if share > DROP * (1 + 1e-9):
        return act("starter-coil-over", f"{shown}: it burns out. The coil isn't for this circuit.")
    if share < PICK_UP * (1 - 1e-9):
        return act("starter-coil-under", f"{shown}: it chatters or doesn't pull in. The coil isn't for this circuit.")
    return sound("starter-coil", f"{shown}.")


def inspect_months(starter: Starter, starts_per_hour: float | None) -> int:
    """Months between looks at the contacts: every 100 000 operations and at least yearly; reversing and pole-changing
    contactors twice as often. starts_per_hour: above 0, None where not known. (common practice without source)

    >>> inspect_months(Starter.DIRECT, 20), inspect_months(Starter.REVERSING, 20)
    (6, 3)
    """
    months = float(MOST_MONTHS)
    if starts_per_hour is not None and starts_per_hour > 0:
        months = min(months, OPERATIONS / (starts_per_hour * MONTH_H))
    return max(1, int(months / (2 if starter in WORN_SOONEST else 1)))
