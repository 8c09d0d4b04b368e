"""Entries of a job to the tests they make up, by the parts its plan names."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from datetime import UTC, tzinfo
from typing import NamedTuple

from grimcoil.core.assessment import Assessment, kind_of
from grimcoil.core.choices import Occasion, Spot
from grimcoil.core.findings import Result
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.measured import (
    ANYWHERE,
    CableTest,
    ContactTest,
    CurrentTest,
    FrameTemperatureTest,
    Hookup,
    InsulationTest,
    JobRecord,
    LeadRollTest,
    ResistanceTest,
    Roll,
    SupplyTest,
    Test,
    Timed,
    WindingToWindingTest,
)
from grimcoil.core.plan.beside import BESIDE
from grimcoil.core.plan.entries import Entry, Given, Kept
from grimcoil.core.plan.gates import FAILED
from grimcoil.core.plan.parts.alone import BLOCK, LOOPS
from grimcoil.core.plan.parts.check import passes_check
from grimcoil.core.plan.parts.dead import AIR, HUMID, WARM
from grimcoil.core.plan.parts.live import BRAKE, FIRST, ROLLS, SPEED
from grimcoil.core.plan.steps import AS_RUNNING, HELD_AGAIN, Act, Plan, Slot, Step
from grimcoil.core.points import LINES
from grimcoil.core.readings import Reading
from grimcoil.core.subject import Conditions, Subject

# A figure is read at its mark and typed after it; what comes later than this was read later. Common practice.
TYPED_WITHIN_S = 10.0
LATE = 1 / 12
AGAIN = "#2"


class Made(NamedTuple):
    """A test that the entries of a step make. about: which accessory of several."""

    step: Step
    about: str
    test: Test


Tests = Iterable[tuple[str, Test]]


def _hookup(step: Step, links: str | None = None) -> Hookup:
    spots = [spot.value for spot in Spot]
    at = Spot(step.where) if step.where in spots else Spot.MOTOR_BOX  # plans of the first versions say it in words
    return Hookup(at, step.winding or None, links)


def _ohms(given: Given, step: Step) -> Tests:
    if ohms := given.readings(step):
        zero = part_of(given.plan, given.kept, "lead_resistance") or 0.0
        meter = given.meter("low-ohm", "ohm")
        failed = failed_check(given.plan, given.kept, OHMMETER)
        yield "", ResistanceTest(
            ohms, given.conditions, meter, zero, _hookup(step, "opened"), failed_check=failed
        )  # fmt: skip


def _held(given: Given, step: Step) -> Tests:
    series = timed(given.plan, given.kept, step)
    if not series:
        return
    made = InsulationTest if step.kind == "insulation" else WindingToWindingTest
    near, far = next(slot.ends for slot in step.slots if slot.act is Act.MARK)
    volts = part_of(given.plan, given.kept, "volts")
    meter, hookup = given.meter("insulation"), _hookup(step)
    yield "", made(
        series, volts, given.conditions, meter, hookup, tuple(near.split("+")), tuple(far.split("+")),
        failed_check=failed_check(given.plan, given.kept, TESTER),
    )  # fmt: skip


# An ohmmeter nobody has on record, and the second its figure stands: it shows what it shows at once.
ORDINARY = InstrumentRange("ordinary ohmmeter", "ohm")
AT_ONCE_S = 1.0


def _by_ohmmeter(given: Given, step: Step) -> Tests:
    for part, reading in given.readings(step).items():
        near, far = (tuple(side.split("+")) for side in part.split("/"))
        made = InsulationTest if far == ("frame",) else WindingToWindingTest
        meter = given.meter("ohm", "low-ohm") or ORDINARY
        series = (Timed(AT_ONCE_S, reading),)
        failed = failed_check(given.plan, given.kept, OHMMETER)
        yield part, made(series, None, given.conditions, meter, _hookup(step), near, far, failed_check=failed)


def _supply(given: Given, step: Step) -> Tests:
    if volts := given.readings(step):
        earth = {line: volts.pop(line) for line in LINES if line in volts}
        yield "", SupplyTest(volts, earth, hookup=_at_speed(step))


def _current(given: Given, step: Step) -> Tests:
    amps = given.readings(step)
    turns = amps.pop(SPEED, None)
    brake = {
        line: reading.amount.value
        for part in [one for one in amps if one.startswith(f"{BRAKE}/")]
        for reading in [amps.pop(part)]
        for line in part.partition("/")[2].split("-")
    }
    if amps:
        loaded = False if step.kind == "uncoupled_run" else None
        rpm = None if turns is None else turns.amount.value
        yield "", CurrentTest(amps, brake, loaded, _at_speed(step), rpm)


def _by_line(given: Given, step: Step) -> dict[str, Reading]:
    """The amps of the three lines alone."""
    return {part: reading for part, reading in given.readings(step).items() if part in LINES}


def _at_speed(step: Step) -> Hookup:
    """Where a motor of two speeds was read at one of them."""
    return Hookup(part=step.winding) if step.winding else ANYWHERE


def _rolls(given: Given, step: Step) -> Tests:
    """All rolls so far, at the last one that was read: the first is the motor's line currents as it was joined."""
    rolled = [s for s in given.plan.steps if s.kind == "lead_roll" and given.readings(s)]
    first = next((s for s in given.plan.steps if s.kind == "line_current" and s.name != AS_RUNNING), None)
    if not rolled or rolled[-1] is not step or first is None:
        return
    read = [(FIRST, _by_line(given, first)), *((ROLLS[s.suffix], given.readings(s)) for s in rolled)]
    yield "", LeadRollTest(tuple(Roll(lines, amps) for lines, amps in read), "motor-box")


def _cable(given: Given, step: Step) -> Tests:
    if read := given.readings(step):
        to_earth = {name.removesuffix("-E"): read.pop(name) for name in list(read) if name.endswith("-E")}
        end = "joined" if step.name == LOOPS else "open"
        meter = given.meter("insulation") if end == "open" else None
        yield "", CableTest(read, to_earth, end, meter, "terminal-block" if step.name == BLOCK else "cable")


def _contacts(given: Given, step: Step) -> Tests:
    if drops := given.readings(step):
        before = step.name == AS_RUNNING  # a drop belongs to the amps of its own time
        amped = (s for s in given.plan.steps if s.kind == "line_current" and (s.name == AS_RUNNING) == before)
        read = (_by_line(given, s) for s in amped)
        amps = [one.amount.value for one in next((some for some in read if some), {}).values()
                if one.amount.is_exact]  # fmt: skip
        yield "", ContactTest(drops, sum(amps) / len(amps) if amps else None)


def _frame(given: Given, step: Step) -> Tests:
    if read := given.readings(step):
        spots = [given.kept.standing.get(step.place(slot)) for slot in step.slots if slot.key == "spot"]
        spot = next(iter(spots), None)
        air = given.conditions.ambient_temperature_c
        yield "", FrameTemperatureTest(read["frame"], air, "" if spot is None else spot.text)


OHMMETER, TESTER = "ohm", "insulation"


def failed_check(plan: Plan, kept: Kept, which: str) -> str:
    """What the ohmmeter or the insulation tester showed where its check of this job failed; empty where it passed."""
    for step in plan.steps:
        if step.name != "instrument_check":
            continue
        for slot, place in zip(step.slots, step.places, strict=True):
            reading = kept.reading(place)
            if reading is not None and which in slot.functions and not passes_check(slot, reading):
                return f"{reading.text} at “{slot.label}”"
    return ""


# A kind of step -> the tests its entries make: the one way from entries to a record.
BUILDERS: dict[str, Callable[[Given, Step], Tests]] = {
    "winding_resistance": _ohms,
    "insulation": _held,
    "winding_to_winding": _held,
    "ohmmeter": _by_ohmmeter,
    "supply_voltage": _supply,
    "line_current": _current,
    "uncoupled_run": _current,
    "lead_roll": _rolls,
    **BESIDE,
    "cable": _cable,
    "contact_drop": _contacts,
    "frame_temperature": _frame,
}


def made_of(
    plan: Plan, kept: Kept, meters: Sequence[InstrumentRange], conditions: Conditions, only: Step | None = None
) -> tuple[Made, ...]:
    """The tests of the standing entries, with the steps that made them. A test that wasn't begun is left out; a begun
    one may be incomplete. One read again after cooling or drying stands for the first, which stays among the entries.
    only: the one step whose tests are asked for.
    """
    by_function = {meter.function: meter for meter in meters}
    out: list[Made] = []
    now = conditions
    for step in plan.steps:
        if step.name == "cool_down" and (cooled := kept.figure(f"{step.key}.winding")) is not None:
            now = replace(conditions, winding_temperature_c=cooled)
        wanted = step.kind in BUILDERS and only in (None, step)
        if wanted and not kept.standing.keys().isdisjoint(step.places):
            given = Given(plan, kept, by_function, now)
            out += [Made(step, about, test) for about, test in BUILDERS[step.kind](given, step)]
    after = (made.step for made in out if made.step.suffix == AGAIN and made.step.rule != HELD_AGAIN)
    again = {step.key.removesuffix(AGAIN) for step in after}
    again |= _before_it_was_isolated(out)
    return tuple(made for made in out if made.step.key not in again)


def _before_it_was_isolated(made: Sequence[Made]) -> set[str]:
    """Steps read as it ran whose test was made again with power restored: that one stands, both stay entries."""
    later = {one.step.kind for one in made if one.step.name != AS_RUNNING}
    return {one.step.key for one in made if one.step.name == AS_RUNNING and one.step.kind in later}


def result_of(whole: Assessment, made: Sequence[Made], step: Step, about: str = "") -> Result | None:
    """What was judged of the test that a step makes; None where it makes none yet."""
    found = next((one for one in made if one.step.key == step.key and one.about in (about, "")), None)
    if found is None:
        return None
    kind = kind_of(found.test)
    alike = [one for one in made if kind_of(one.test) == kind]
    results = whole.by_kind.get(kind, ())
    number = next(i for i, one in enumerate(alike) if one is found)
    return results[number] if number < len(results) else None


def failed_holds(whole: Assessment, made: Sequence[Made]) -> dict[str, str]:
    """What was found in each hold that failed, by its step."""
    out = {}
    for one in made:
        if isinstance(one.test, InsulationTest) and (result := result_of(whole, made, one.step)) is not None:
            codes = sorted(FAILED.intersection(finding.code for finding in result.findings))
            if codes:
                out[one.step.key] = ", ".join(codes).replace("-", " ")
    return out


def to_record(
    plan: Plan, kept: Kept, subject: Subject, meters: Sequence[InstrumentRange], conditions: Conditions
) -> JobRecord:
    """The record that the standing entries make."""
    return recorded(plan, made_of(plan, kept, meters, conditions), subject, meters, conditions)


def recorded(
    plan: Plan, made: Sequence[Made], subject: Subject, meters: Sequence[InstrumentRange], conditions: Conditions
) -> JobRecord:
    """The same of tests at hand."""
    tests = tuple(one.test for one in made)
    if ORDINARY in (getattr(test, "meter", None) for test in tests):
        meters = (*meters, ORDINARY)
    return JobRecord(subject, conditions, tests, tuple(meters), Occasion(plan.recipe), plan.wishes)


def timed(plan: Plan, kept: Kept, step: Step) -> tuple[Timed, ...]:
    """The readings of a hold, each at its own second, in order of time."""
    on = on_of(plan, kept, step)
    out = []
    for slot, place in zip(step.slots, step.places, strict=True):
        entry = kept.standing.get(place)
        if slot.mark_s is not None and entry is not None and entry.reading is not None:
            out.append(Timed(true_second(entry, slot, on), entry.reading))
    return tuple(sorted(out, key=lambda point: point.t_s))


def on_of(plan: Plan, kept: Kept, step: Step) -> Entry | None:
    """The entry that put the voltage on, in the hold a step belongs to; taken back or not."""
    begins = plan.hold_of(step)
    return None if begins is None else next((e for e in kept.entries if e.place == begins[0]), None)


def true_second(entry: Entry, slot: Slot, on: Entry | None) -> float:
    """Seconds since voltage on when the figure was read: as the page told, else by the clock; where the clock went
    back, or the figure was typed soon after its mark, the mark.

    Common practice without source.
    """
    mark = slot.mark_s or 0.0
    if entry.held_s is not None:
        return entry.held_s
    if on is None:
        return mark
    by_clock = (entry.at - on.at).total_seconds()
    return mark if by_clock < mark or by_clock - mark <= TYPED_WITHIN_S else by_clock


def is_late(second: float, mark_s: float) -> bool:
    """Too far from its mark to be that mark's value. Both in seconds (common practice without source)."""
    return abs(second - mark_s) > mark_s * LATE


def conditions_of(plan: Plan, kept: Kept, zone: tzinfo = UTC) -> Conditions:
    """Temperatures and humidity of the job; the date is the first entry's, in the works' zone."""
    on = kept.entries[0].at.astimezone(zone).date() if kept.entries else None
    warm, air, humid = (part_of(plan, kept, part) for part in (WARM, AIR, HUMID))
    return Conditions(warm, air, humid, on)


def part_of(plan: Plan, kept: Kept, part: str) -> float | None:
    """The figure a plan's slot gives under the name of its part, SI; None where it isn't kept.

    As read; nothing computed.
    """
    return next((kept.figure(place) for place, (_, slot) in plan.places.items() if slot.part == part), None)
