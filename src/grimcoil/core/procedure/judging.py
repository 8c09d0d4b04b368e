"""What a reading does the moment it is typed or kept: its verdict, one sentence, and the scale it stands on."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.assessment import Assessment
from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Finding, Verdict, by_weight
from grimcoil.core.insulation.correction import HIGHEST_C, LOWEST_C, correction_factor
from grimcoil.core.insulation.hold import usual_test_voltage_v
from grimcoil.core.insulation.judge import InsulationResult, machine_of, system_of
from grimcoil.core.insulation.minimum import minimum_mohm
from grimcoil.core.procedure.entries import Kept
from grimcoil.core.procedure.scale import (
    Scale,
    balance_scale,
    dead_scale,
    insulation_scale,
    level_scale,
    live_scale,
    load_scale,
    plain_scale,
)
from grimcoil.core.procedure.steps import DEAD_SLOTS, STEPS
from grimcoil.core.readings import Reading, Shown
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


def say_reading(place: str, reading: Reading, kept: Kept, subject: Subject, whole: Assessment) -> Said | None:
    """What this reading does to the verdict; None where the echo says it all. `whole` judges it included."""
    step, _, slot = place.partition(".")
    criteria = subject.criteria
    if step == "prove_dead":
        return _proof(slot, reading, criteria)
    if step == "instrument_check":
        return _check(slot, reading)
    if step == "winding_resistance":
        return _winding(slot, reading, kept, whole)
    if step == "insulation" and slot == "volts":
        return _volts(reading, subject)
    if step == "insulation":
        return _insulation(slot, whole)
    if step == "discharge":
        return _dead("the winding to frame", reading, criteria)
    if len([p for p in kept.standing if p.startswith(f"{step}.L")]) < 3:
        return None
    if step == "supply_voltage" and whole.supply_voltage:
        return said(by_weight(whole.supply_voltage[0].findings)[0], whole.supply_voltage[0].working)
    if step == "line_current" and whole.line_current:
        return said(by_weight(whole.line_current[0].findings)[0], whole.line_current[0].working)
    return None


def _proof(slot: str, reading: Reading, criteria: Criteria) -> Said:
    if slot in DEAD_SLOTS:
        return _dead(slot.replace("-", " to ").replace(" E", " earth"), reading, criteria)
    limit = criteria.live_above_v.value
    if reading.amount.surely_at_least(limit):
        return Said(Verdict.SOUND, "The tester shows a live source: it works.")
    return Said(
        Verdict.ACT,
        f"Less than {limit:g} V on a live source proves nothing. Take it back, find a live source.",
    )


def _dead(what: str, reading: Reading, criteria: Criteria) -> Said:
    limit = criteria.dead_below_v.value
    if reading.amount.high <= limit:
        return Said(Verdict.SOUND, f"About 0 V on {what}.")
    return Said(
        Verdict.ACT,
        f"{what} is not dead. Stop, find the source, take this back when it is off.",
    )


def _check(slot: str, reading: Reading) -> Said:
    if slot == "leads-apart":
        good = reading.shown is Shown.OVER_RANGE or reading.amount.low >= 1e6
        return (
            Said(Verdict.SOUND, "Apart reads over range.")
            if good
            else Said(Verdict.WATCH, "Apart should read over range.")
        )
    limit = 1.0 if slot == "leads-shorted" else 1e4
    if reading.shown is Shown.VALUE and reading.amount.high <= limit:
        tail = " It is taken off every winding reading." if slot == "leads-shorted" and reading.amount.value else ""
        return Said(Verdict.SOUND, f"Shorted reads about zero.{tail}")
    return Said(Verdict.WATCH, "Shorted should read about zero: leads, jacks, battery?")


def _winding(slot: str, reading: Reading, kept: Kept, whole: Assessment) -> Said:
    result = whole.winding_resistance[0]
    pairs = [p for p in kept.standing if p.startswith("winding_resistance.")]
    if len(pairs) == 3:
        main, *rest = by_weight(result.findings)
        tail = f" {rest[0].text}" if rest and rest[0].severity is not Verdict.SOUND else ""
        return Said(main.severity, main.text + tail, result.working, main.source)
    if reading.shown is Shown.OVER_RANGE:
        return Said(Verdict.ACT, f"{slot} is open. Read the other pairs before you judge.")
    if reading.shown is not Shown.VALUE:
        return Said(Verdict.UNPROVEN, "Kept as evidence; a beep is no value.")
    others = [(p.partition(".")[2], v) for p in pairs if not p.endswith("." + slot) and (v := kept.figure(p))]
    if not others or not reading.amount.is_exact:
        return Said(Verdict.UNPROVEN, "One pair alone shows no balance yet.")
    name, value = others[0]
    apart = 100 * abs(reading.amount.value - value) / max(reading.amount.value, value)
    word = "Even with" if apart <= 2 else "Uneven with"
    return Said(
        Verdict.SOUND if apart <= 2 else Verdict.WATCH,
        f"{word} {name.replace('-', '–')}, {apart:.1f} % apart.",
    )


def _volts(reading: Reading, subject: Subject) -> Said | None:
    rated = subject.plate.voltage_in_use_v or max(subject.plate.rated_voltage_v, default=0.0)
    low, high = usual_test_voltage_v(rated)
    usual = f"{low} V" if low == high else f"{low} to {high} V"
    if reading.amount.value > high * 1.05:
        return Said(Verdict.WATCH, f"An over-voltage test: {usual} is usual for {rated:g} V.")
    if reading.amount.value < low * 0.95:
        return Said(Verdict.WATCH, f"Low stress: {usual} is usual for {rated:g} V.")
    return Said(Verdict.SOUND, f"Usual for {rated:g} V.")


def _insulation(slot: str, whole: Assessment) -> Said | None:
    if not whole.insulation:
        return None
    result = whole.insulation[0]
    if slot == "30":
        return None
    codes = ("pi-",) if slot == "600" else ("insulation-", "temperature", "correction", "wet", "range")
    chosen = [f for f in result.findings if f.code.startswith(codes)]
    return said(by_weight(chosen)[0], result.working) if chosen else None


def slot_scale(
    place: str,
    kept: Kept,
    subject: Subject,
    typed: float | None,
    expected: float | None,
) -> Scale | None:
    """The scale of a slot in its home unit (`typed` likewise); None where nothing is graduated."""
    step, _, slot = place.partition(".")
    criteria = subject.criteria
    if step == "winding_resistance":
        others = [v for s in STEPS[step].slots if s.key != slot and (v := kept.figure(f"{step}.{s.key}"))]
        return balance_scale(tuple(others), expected, criteria, typed)
    if step == "insulation" and slot != "volts":
        return insulation_scale(_minimum_here(kept, subject), criteria.near_zero_mohm.value)
    if (step == "prove_dead" and slot in DEAD_SLOTS) or (step, slot) == (
        "discharge",
        "volts",
    ):
        return dead_scale(criteria.dead_below_v.value)
    return _other_scale(step, slot, subject)


def _other_scale(step: str, slot: str, subject: Subject) -> Scale | None:
    criteria, plate = subject.criteria, subject.plate
    if step == "prove_dead":
        return live_scale(criteria.live_above_v.value)
    if step == "supply_voltage" and plate.voltage_in_use_v and slot != "restored":
        return level_scale(
            plate.voltage_in_use_v,
            criteria.voltage_level_sound.value,
            criteria.voltage_level_act.value,
        )
    if step == "line_current" and plate.full_load_in_use_a:
        return load_scale(plate.full_load_in_use_a, plate.service_factor)
    if step == "temperature":
        return plain_scale(0.0, 100.0) if slot == "humidity" else plain_scale(-10.0, 90.0)
    return None


def _minimum_here(kept: Kept, subject: Subject) -> float:
    """The minimum at 40 °C turned back to the winding's temperature."""
    least, _ = minimum_mohm(machine_of(subject), subject.criteria)
    warm = kept.figure("temperature.winding")
    if warm is None or not LOWEST_C <= warm <= HIGHEST_C:
        return least
    return least / correction_factor(warm, system_of(subject))


def pi_target_mohm(result: InsulationResult | None, criteria: Criteria) -> float | None:
    """The 10-minute value that would give the least polarization index."""
    if result is None or result.r_1min_mohm is None or not result.r_1min_mohm.is_exact:
        return None
    return result.r_1min_mohm.value * criteria.pi_minimum.value
