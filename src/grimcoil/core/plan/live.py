"""What a reading does the moment it is typed or kept: its verdict, one sentence, and the scale it stands on.

It asks the modules that judge; no limit is known here.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from grimcoil.core.assessment import Assessment
from grimcoil.core.criteria import Criteria, for_winding
from grimcoil.core.decision.needs import compared_with
from grimcoil.core.errors import RecordRefusal, Refusal
from grimcoil.core.findings import Finding, Verdict, by_weight
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.insulation.correction import HIGHEST_C, LOWEST_C, correction_factor
from grimcoil.core.insulation.judge import InsulationResult, machine_of, minimum_of, rated_v, system_of
from grimcoil.core.insulation.minimum import stands_as_read
from grimcoil.core.insulation.ratios import index_wanted
from grimcoil.core.insulation.voltage import advice, advised, voltage_findings
from grimcoil.core.limits import reaches, within
from grimcoil.core.plan.entries import Entry, Kept
from grimcoil.core.plan.parts.check import passes_check
from grimcoil.core.plan.parts.dead import CONTINUITY, WARM
from grimcoil.core.plan.record import Made, is_late, on_of, part_of, result_of, true_second
from grimcoil.core.plan.scale import (
    Scale,
    balance_scale,
    dead_scale,
    insulation_scale,
    level_scale,
    live_scale,
    load_scale,
    plain_scale,
)
from grimcoil.core.plan.steps import Act, Plan, Slot, Step
from grimcoil.core.readings import Reading, Shown, three_digits
from grimcoil.core.resistance.balance import MEASURES
from grimcoil.core.side.single_phase import OPEN_ABOVE_OHM
from grimcoil.core.subject import Subject


@dataclass(frozen=True, slots=True)
class Said:
    """A verdict and its sentence; `working` opens to the figures and the source."""

    verdict: Verdict
    text: str
    working: str = ""
    source: str = ""


def said(finding: Finding, working: str = "") -> Said:
    """A finding as it is said."""
    return Said(finding.severity, finding.text, working, finding.source)


@dataclass(frozen=True, slots=True)
class Typed:
    """A reading in its place, with all that judges it; `whole` has it included. made: its tests, in their order;
    meters: that read it.
    """

    plan: Plan
    kept: Kept
    subject: Subject
    whole: Assessment
    made: Sequence[Made] = ()
    meters: Sequence[InstrumentRange] = ()

    def result(self, step: Step, about: str = "") -> Any:
        """What was judged of the test that a step makes; None where it makes none yet."""
        return result_of(self.whole, self.made, step, about)


def say_reading(at: Typed, entry: Entry, reading: Reading) -> Said | None:
    """What this reading does to the verdict; None where the echo says it all."""
    step, slot = at.plan.at(entry.place)
    if slot.act is Act.POINT_DEAD:
        return _dead(slot.label, reading, at.subject.criteria)
    if slot.act is Act.PROVE_TESTER:
        return _tester(reading, at.subject.criteria)
    if slot.act is Act.RESIDUAL:
        return _dead("the winding to frame", reading, at.subject.criteria)
    if slot.act is Act.MARK:
        return _mark(at, entry, step, slot)
    if slot.field == "low_ohm" and (said_of_check := _check(slot, reading)) is not None:
        return said_of_check
    if slot.part == "volts":
        return _volts(reading, at.subject)
    if step.kind == "winding_resistance" or step.name == CONTINUITY:
        return _winding(at, step, slot, reading)
    if step.kind in LISTED and slot.part:
        return _lines(at, step)
    if step.kind in ABOUT and slot.part:
        return _weightiest(at.result(step, ABOUT[step.kind](slot.part)))
    return None


# Steps that make several tests: which of them a part is of.
ABOUT: Mapping[str, Callable[[str], str]] = {
    "accessory": lambda part: part.split("/")[1],
    "ohmmeter": lambda part: part,
}
LISTED = frozenset(
    ["supply_voltage", "line_current", "uncoupled_run", "lead_roll", "cable", "contact_drop", "frame_temperature"]
)


def _tester(reading: Reading, criteria: Criteria) -> Said:
    limit = criteria.live_above_v.value
    if reading.amount.surely_at_least(limit):
        return Said(Verdict.SOUND, "The tester shows a live source: it works.")
    text = f"Less than {limit:g} V on a live source proves nothing: another tester, or another source."
    return Said(Verdict.ACT, text)


def _dead(what: str, reading: Reading, criteria: Criteria) -> Said:
    volts = reading.amount.high
    if within(volts, criteria.dead_below_v.value):
        return Said(Verdict.SOUND, f"About 0 V on {what}.")
    if reaches(volts, criteria.live_above_v.value):
        return Said(Verdict.ACT, f"LIVE {three_digits(volts)} V on {what}. Step back.")
    return Said(
        Verdict.ACT,
        f"Not dead: {three_digits(volts)} V on {what}. Do not touch. Find the source, switch it off and lock it.",
    )


CHECKED = frozenset({"leads-shorted", "leads-apart", "insulation-shorted"})


def _check(slot: Slot, reading: Reading) -> Said | None:
    if slot.key not in CHECKED:
        return None
    if not passes_check(slot, reading):
        must = "over range" if slot.key.endswith("apart") else "about zero"
        text = f"{slot.label} must read {must}: this tester proves nothing. Leads, jacks, battery; then check it again."
        return Said(Verdict.ACT, text)
    if slot.key.endswith("apart"):
        return Said(Verdict.SOUND, "Apart reads over range.")
    if reading.shown is Shown.VALUE:
        tail = " It is taken off every winding reading." if slot.part and reading.amount.value else ""
        return Said(Verdict.SOUND, f"Shorted reads about zero.{tail}")
    return None


def _through(slot: Slot, reading: Reading, meters: Sequence[InstrumentRange]) -> Said:
    """Whether a winding reads through; by a beep below what its meter's limit says. (common practice without source)"""
    pair = slot.label
    if reading.shown is Shown.BEEP:
        below = next(
            (one.beep_below_ohm for one in meters if one.beep_below_ohm and one.function in slot.functions), None
        )
        limit = f": below {below:g} Ω, where this meter beeps" if below else ""
        return Said(Verdict.SOUND, f"{pair} reads through{limit}. A beep is no resistance value; its ohms follow.")
    if reading.shown in (Shown.NO_BEEP, Shown.OVER_RANGE) or reaches(reading.amount.low, OPEN_ABOVE_OHM):
        return Said(Verdict.ACT, f"{pair} is open: {reading.text}. Clean the ends and read it again. Its ohms decide.")
    return Said(Verdict.SOUND, f"{pair} reads through.")


def _winding(at: Typed, step: Step, slot: Slot, reading: Reading) -> Said:
    if step.name == CONTINUITY:
        return _through(slot, reading, at.meters)
    places = [step.place(each) for each in step.slots]
    result = at.result(step)
    if all(place in at.kept.standing for place in places) and result is not None:
        findings = by_weight(result.findings)
        main = next((f for f in findings if f.severity is result.verdict), findings[0])
        rest = [f.text for f in findings if f is not main and f.severity is not Verdict.SOUND][:1]
        return Said(result.verdict, " ".join([main.text, *rest]), result.working, main.source)
    if reading.shown is Shown.OVER_RANGE:
        return Said(Verdict.ACT, f"{slot.label} is open. Measure the other pairs before you judge.")
    if reading.shown is not Shown.VALUE:
        return Said(Verdict.UNPROVEN, "Kept as evidence; a beep is no value.")
    others = _others(at, step, slot)
    if not others or not reading.amount.is_exact or reading.amount.value <= 0:
        return Said(Verdict.UNPROVEN, "One pair alone shows no balance yet.")
    return _so_far(list(others.values()), next(iter(others)), reading.amount.value, at.subject)


def _others(at: Typed, step: Step, slot: Slot) -> dict[str, float]:
    """What is kept of the pairs that a sound winding reads alike with this one, by label. Ω as read."""
    alike = compared_with(at.subject.winding.lead_scheme, slot.part)
    return {
        each.label: value
        for each in step.slots
        if each.key != slot.key and each.part in alike and (value := at.kept.figure(step.place(each)))
    }


def _so_far(others: list[float], name: str, value: float, subject: Subject) -> Said:
    """Uneven is told as soon as it shows, by the measure and limits that will judge; even only by the last pair."""
    limits = for_winding(subject.criteria, subject.winding.winding)
    figure = MEASURES[limits.balance_measure]([*others, value])
    unit = " Ω" if limits.balance_measure == "difference" else " %"
    shown = f"So far: resistance {limits.balance_measure} {three_digits(figure)}{unit}, limit"
    if within(figure, limits.balance_sound.value):
        return Said(Verdict.UNPROVEN, f"{shown} {limits.balance_sound.value:g}{unit}.")
    severity = Verdict.WATCH if within(figure, limits.balance_act.value) else Verdict.ACT
    return Said(severity, f"Unbalanced with {name}. {shown} {limits.balance_sound.value:g}{unit}.")


def _volts(reading: Reading, subject: Subject) -> Said | None:
    rated = rated_v(subject)
    if rated is None or not reading.amount.is_exact:
        return None
    school = subject.criteria.test_voltage_school
    findings = voltage_findings(reading.amount.value, rated, school)
    if findings:
        return said(by_weight(findings)[0])
    own = advised(rated, school)
    return Said(Verdict.SOUND, f"Usual for {rated:g} V: {own.words}.", source=own.source)


def _mark(at: Typed, entry: Entry, step: Step, slot: Slot) -> Said | None:
    result: InsulationResult | None = at.result(step)
    if result is None:
        return None
    second = true_second(entry, slot, on_of(at.plan, at.kept, step))
    late = ""
    if slot.mark_s is not None and is_late(second, slot.mark_s):
        late = f"Read at {second:.0f} s, not at {slot.mark_s:g} s: judged at its own time. "
    chosen = _spoken(result, slot)
    if chosen is None:
        return Said(Verdict.UNPROVEN, late + "No 1-minute value yet.") if late else None
    return Said(chosen.severity, late + chosen.text, result.working, chosen.source)


def _spoken(result: InsulationResult, slot: Slot) -> Finding | None:
    """The finding a mark speaks of: the value at one minute, the index at ten; what asks for action before either."""
    if slot.mark_s is not None and slot.mark_s < 60:
        return next((f for f in result.findings if f.severity is Verdict.ACT), None)
    codes = ("pi-", "curve-") if slot.optional else ("insulation-", "temperature", "correction", "wet", "range", "spot")
    findings = by_weight(f for f in result.findings if f.severity is Verdict.ACT or f.code.startswith(codes))
    unsure = [f for f in findings if f.severity is Verdict.UNPROVEN]
    if result.verdict is Verdict.UNPROVEN and unsure:
        return unsure[0]
    return findings[0] if findings else None


def _lines(at: Typed, step: Step) -> Said | None:
    places = [step.place(slot) for slot in step.slots if slot.part and not slot.optional]
    result = at.result(step)
    return _weightiest(result) if all(place in at.kept.standing for place in places) else None


def _weightiest(result: Any) -> Said | None:
    """The finding that gives a result its verdict."""
    if result is None or not result.findings:
        return None
    findings = by_weight(result.findings)
    main = next((f for f in findings if f.severity is result.verdict), findings[0])
    return said(main, getattr(result, "working", ""))


# --- the scale under the reading line


def slot_scale(at: Typed, place: str, typed: float | None, expected: float | None) -> Scale | None:
    """The scale of a slot in its home unit (`typed` likewise); None where nothing is graduated (computed)."""
    step, slot = at.plan.at(place)
    criteria, plate = at.subject.criteria, at.subject.plate
    if step.kind == "winding_resistance":
        others = tuple(_others(at, step, slot).values())
        if not others and not expected:
            return None
        return balance_scale(others, expected, for_winding(criteria, at.subject.winding.winding), typed)
    if slot.act is Act.MARK:
        return insulation_scale(minimum_here(at), criteria.near_zero_mohm.value)
    if slot.act in (Act.POINT_DEAD, Act.RESIDUAL):
        return dead_scale(criteria.dead_below_v.value)
    if slot.act is Act.PROVE_TESTER:
        return live_scale(criteria.live_above_v.value)
    if step.kind == "supply_voltage" and "-" in slot.part and plate.voltage_in_use_v:
        levels = criteria.voltage_level_sound.value, criteria.voltage_level_act.value
        return level_scale(plate.voltage_in_use_v, *levels)
    if step.kind in ("line_current", "uncoupled_run", "lead_roll") and plate.full_load_in_use_a:
        return load_scale(plate.full_load_in_use_a, plate.service_factor)
    if slot.field == "temperature":
        return plain_scale(-10.0, 90.0)
    return plain_scale(0.0, 100.0) if slot.field == "humidity" else None


def minimum_here(at: Typed) -> float:
    """The minimum at 40 °C turned back to the winding's temperature, MΩ (computed)."""
    least, _ = minimum_of(at.subject)
    warm = part_of(at.plan, at.kept, WARM)
    as_read = stands_as_read(machine_of(at.subject), at.subject.criteria)
    if as_read or warm is None or not LOWEST_C <= warm <= HIGHEST_C:
        return least
    return least / correction_factor(warm, system_of(at.subject))


def pi_target_mohm(result: InsulationResult | None, subject: Subject) -> float | None:
    """The 10-minute value that would give the least polarization index, MΩ; None where the hold failed already.

    Computed.
    """
    if result is None or result.r_1min_mohm is None or not result.r_1min_mohm.is_exact:
        return None
    if result.verdict is Verdict.ACT:
        return None
    return result.r_1min_mohm.value * index_wanted(subject.plate.insulation_class, subject.criteria)


# --- a slip of the decimal point


class Absurd(Refusal):
    """A reading ten times or a tenth of what is expected, or beyond what the motor can be: asked, not refused."""


class Late(Refusal):
    """A value of a hold typed long after its mark: asked whether it was read at the mark or now. Seconds."""

    def __init__(self, where: str, found: str, mark_s: float, second: float) -> None:
        self.mark_s, self.second = mark_s, second
        super().__init__(where, found, f"read at {clocked(mark_s)}, or now, at {clocked(second)}?")


def clocked(seconds: float) -> str:
    """Minutes and seconds of so many seconds, s (computed).

    >>> clocked(80)
    '1:20'
    """
    return f"{int(seconds) // 60}:{int(seconds) % 60:02d}"


# Beyond these nothing on a motor of this voltage reads so; common practice without source.
_BEYOND = {"winding": 1000.0, "current": 20000.0, "temperature": 200.0}


def check_absurd(
    slot: Slot, reading: Reading, expected: float | None, criteria: Criteria, top: float | None = None
) -> None:
    """Raise Absurd where a figure looks like a slip of the decimal point. expected: SI, None where nothing is known;
    top: of the insulation tester's range, Ω.

    By the criteria’s own limit, which names its source.
    """
    if reading.shown is not Shown.VALUE or not reading.amount.is_exact:
        return
    value, times = reading.amount.value, criteria.absurd_times.value
    _check_hands(slot, reading)
    if expected and value > 0:
        if reaches(value / expected, times):
            raise Absurd(
                slot.label, reading.text, f"{_times(value / expected)} the expected {_shown(expected)}. Decimal point?"
            )
        if reaches(expected / value, times):
            raise Absurd(
                slot.label, reading.text, f"1/{expected / value:.0f} of the expected {_shown(expected)}. Decimal point?"
            )
    if slot.act is Act.MARK and top is not None and value > top:
        raise Absurd(slot.label, reading.text, f"the tester's top is {top / 1e6:g} MΩ. Over range, or another range?")
    most = _BEYOND.get(slot.field)
    if most is not None and value > most:
        raise Absurd(slot.label, reading.text, f"more than {most:g}: no motor reads so. Decimal point, or unit?")


def check_volts(subject: Subject, reading: Reading, meters: Sequence[InstrumentRange], anyway: bool) -> None:
    """Raise where a test voltage is above what any school sets for this motor or what the tester has; Absurd, which may
    be confirmed, where it is above what the chosen one sets. V (IEEE 43-2013 Table 1 and the schools beside it).
    """
    rated = rated_v(subject)
    if not reading.amount.is_exact:
        return
    volts = reading.amount.value
    own = next((m for m in meters if m.function == "insulation" and m.test_voltage_v), None)
    if own is not None and own.test_voltage_v and not within(volts, own.test_voltage_v):
        says = f"up to the {own.test_voltage_v:g} V of {own.name}"
        raise RecordRefusal("Test voltage", reading.text, says, f"{own.test_voltage_v:g}")
    if rated is None:
        return
    chosen, most = advised(rated, subject.criteria.test_voltage_school), max(a.high_v for a in advice(rated))
    if not within(volts, most):
        says = f"for a {rated:g} V winding {chosen.words} by {chosen.source}; more than {most:g} V by no criteria"
        raise RecordRefusal("Test voltage", reading.text, says, f"{chosen.high_v:g}")
    if not anyway and not within(volts, chosen.high_v):
        raise Absurd("Test voltage", reading.text, f"{chosen.words} is set: {chosen.source}. More stresses it. Sure?")


# What the body reads between two fingers, Ω; common practice without source.
BODY_OHM = (0.5e6, 5e6)


def _check_hands(slot: Slot, reading: Reading) -> None:
    """Raise Absurd where an ordinary ohmmeter to frame shows what a finger or its own over range looks like. Ω."""
    if slot.field != "insulation" or "insulation" in slot.functions or not slot.functions:
        return
    if reading.text.strip() in ("1", "1.", "1 ."):
        raise Absurd(
            slot.label, reading.text, "A 1 alone at the left of the display is over range: then type OL. 1 MΩ?"
        )
    if BODY_OHM[0] <= reading.amount.value <= BODY_OHM[1]:
        says = "The body itself reads so much. Fingers off both tips, bare metal, not the bearing. Read so again?"
        raise Absurd(slot.label, reading.text, says)


def _times(ratio: float) -> str:
    return "Ten times" if ratio < 15 else f"{ratio:.0f} times"


def _shown(expected: float) -> str:
    return f"{expected:.4g}"


def as_known(reading: Reading, top: float | None) -> Reading:
    """Over range on a tester whose top is known is a bound. SI (computed)."""
    return replace(reading) if top is None else reading.with_top(top)
