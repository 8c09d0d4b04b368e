"""Entries of a job to the tests they make up, by the parts its plan names."""

from __future__ import annotations

from collections.abc import Sequence

from grimcoil.core.choices import Occasion, Spot
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.measured import (
    CurrentTest,
    Hookup,
    InsulationTest,
    JobRecord,
    ResistanceTest,
    SupplyTest,
    Test,
    Timed,
)
from grimcoil.core.plan.entries import Entry, Kept
from grimcoil.core.plan.parts import AIR, HUMID, WARM
from grimcoil.core.plan.steps import Act, Plan, Slot, Step
from grimcoil.core.readings import Reading
from grimcoil.core.subject import Conditions, Subject

# A figure is read at its mark and typed after it; what comes later than this was read later. Common practice.
TYPED_WITHIN_S = 10.0
LATE = 1 / 12


def to_record(
    plan: Plan, kept: Kept, subject: Subject, meters: Sequence[InstrumentRange], conditions: Conditions
) -> JobRecord:
    """The tests of the standing entries. A test that wasn't begun is left out; a begun one may be incomplete."""
    by_function = {meter.function: meter for meter in meters}
    tests: list[Test] = []
    for step in plan.steps:
        if step.kind == "winding_resistance" and (ohms := _readings(kept, step)):
            meter = by_function.get("low-ohm") or by_function.get("ohm")
            zero = part_of(plan, kept, "lead_resistance") or 0.0
            tests.append(ResistanceTest(ohms, conditions, meter, zero, Hookup(at=Spot.MOTOR_BOX, links="opened")))
        elif step.kind == "insulation" and (series := timed(plan, kept, step)):
            volts = part_of(plan, kept, "volts")
            ends = next(tuple(slot.ends[0].split("+")) for slot in step.slots if slot.act is Act.MARK)
            hookup = Hookup(at=Spot.MOTOR_BOX)
            tests.append(InsulationTest(series, volts, conditions, by_function.get("insulation"), hookup, ends))
        elif step.kind == "supply_voltage" and (lines := _readings(kept, step)):
            tests.append(SupplyTest(lines))
        elif step.kind == "line_current" and (amps := _readings(kept, step)):
            tests.append(CurrentTest(amps))
    return JobRecord(subject, conditions, tuple(tests), tuple(meters), Occasion(plan.recipe))


def timed(plan: Plan, kept: Kept, step: Step) -> tuple[Timed, ...]:
    """The readings of a hold, each at its own second, in order of time."""
    on = next((e for e in kept.entries if plan.places.get(e.place, (None, None))[1] in _applying(step)), None)
    out = []
    for slot in step.slots:
        entry = kept.standing.get(f"{step.key}.{slot.key}")
        if slot.mark_s is not None and entry is not None and entry.reading is not None:
            out.append(Timed(true_second(entry, slot, on), entry.reading))
    return tuple(sorted(out, key=lambda point: point.t_s))


def _applying(step: Step) -> tuple[Slot, ...]:
    return tuple(slot for slot in step.slots if slot.act is Act.APPLY)


def true_second(entry: Entry, slot: Slot, on: Entry | None) -> float:
    """Seconds since voltage on when the figure was read: as the page told, else by the clock; where the clock went
    back, or the figure was typed soon after its mark, the mark.
    """
    mark = slot.mark_s or 0.0
    if entry.held_s is not None:
        return entry.held_s
    if on is None:
        return mark
    by_clock = (entry.at - on.at).total_seconds()
    return mark if by_clock < mark or by_clock - mark <= TYPED_WITHIN_S else by_clock


def is_late(second: float, mark_s: float) -> bool:
    """Too far from its mark to be that mark's value."""
    return abs(second - mark_s) > mark_s * LATE


def conditions_of(plan: Plan, kept: Kept) -> Conditions:
    """Temperatures and humidity of the job; the date is the first entry's."""
    on = kept.entries[0].at.date() if kept.entries else None
    warm, air, humid = (part_of(plan, kept, part) for part in (WARM, AIR, HUMID))
    return Conditions(warm, air, humid, on)


def part_of(plan: Plan, kept: Kept, part: str) -> float | None:
    """The figure a plan's slot gives under the name of its part, SI; None where it isn't kept."""
    return next((kept.figure(place) for place, (_, slot) in plan.places.items() if slot.part == part), None)


def _readings(kept: Kept, step: Step) -> dict[str, Reading]:
    return {
        slot.part: reading
        for slot in step.slots
        if slot.part and (reading := kept.reading(f"{step.key}.{slot.key}")) is not None
    }
