"""Small coils and capacitors of the circuit: contactor coil, brake coil, capacitor."""

from __future__ import annotations

import math
from dataclasses import dataclass

from grimcoil.core.accessories import to_frame_findings
from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Finding, Result, act, sound, unproven, watch
from grimcoil.core.instruments import half_width
from grimcoil.core.limits import within
from grimcoil.core.measured import BrakeTest, CapacitorTest, ContactorCoilTest
from grimcoil.core.readings import Reading, Shown, three_digits
from grimcoil.core.subject import Fittings

# Common practice without source.
PULL_IN_SHARE = 0.85
COIL_OFF_PERCENT = 10.0
BRAKE_OHM = (1.0, 5000.0)
SHORTED_COIL_OHM = 1.0


@dataclass(frozen=True, slots=True)
class CoilResult(Result):
    """A contactor's coil."""


@dataclass(frozen=True, slots=True)
class BrakeResult(Result):
    """A brake's coil; deviation from its marking, percent."""

    ohm: float | None = None
    deviation_percent: float | None = None


@dataclass(frozen=True, slots=True)
class CapacitorResult(Result):
    """Measured capacitance, and its deviation from the marking."""

    capacitance_uf: float | None = None
    deviation_percent: float | None = None


def judge_contactor_coil(test: ContactorCoilTest) -> CoilResult:
    """Volts while called for, ohms dead: no volts is the control chain, full volts without pull-in the coil."""
    findings = []
    if test.ohms is not None:
        findings.append(_coil_ohms(test.ohms))
    if test.volts is not None and test.volts.amount.bound != "nothing":
        findings += _coil_volts(test.volts.amount.value, test)
    if not findings:
        findings = [unproven("reading-missing", "The coil was not read.")]
    return CoilResult(findings=tuple(findings))


def _coil_ohms(reading: Reading) -> Finding:
    if reading.shown is Shown.OVER_RANGE:
        return act("coil-open-circuit", "The contactor coil is open.")
    if reading.shown is not Shown.VALUE:
        return unproven("beep-only", "A beep shows no coil; read its ohms.")
    ohm = reading.amount.value
    if ohm < SHORTED_COIL_OHM:
        return act("coil-shorted", f"The contactor coil reads {three_digits(ohm)} Ω: shorted.")
    return sound("coil-sound", f"The contactor coil reads {three_digits(ohm)} Ω: not open.")


def _coil_volts(volts: float, test: ContactorCoilTest) -> list[Finding]:
    least = PULL_IN_SHARE * test.rated_v if test.rated_v else 10.0
    shown = f"{three_digits(volts)} V at the coil"
    if volts < least:
        wanted = f" of {test.rated_v:g} V" if test.rated_v else ""
        text = f"{shown}{wanted}: control fuse first, then the control chain by the schematic."
        return [] if test.pulls_in else [act("coil-no-volts", text)]
    if test.pulls_in is False:
        return [act("coil-open-circuit", f"{shown} and it doesn't pull in: the coil, or its armature is stuck.")]
    return [sound("coil-sound", f"{shown}.")]


def judge_brake(test: BrakeTest, fittings: Fittings, criteria: Criteria) -> BrakeResult:
    """The coil against its marking (or what brake coils usually have), then to frame, then whether it lifts."""
    findings: list[Finding] = []
    ohm = deviation = None
    marked = fittings.brake_coil_ohm
    if test.reading is not None:
        reading = test.reading
        if reading.shown is Shown.VALUE:
            ohm = reading.amount.value
            deviation = 100 * (ohm / marked - 1) if marked else None
        findings.append(_brake_ohms(reading, ohm, deviation))
    findings += to_frame_findings("brake's coil", test.to_frame, criteria)
    if test.lifts is False:
        findings.append(act("brake-not-lifting", "The brake doesn't lift: coil volts, rectifier, air gap, lining."))
    if test.holds is False:
        findings.append(
            act("brake-not-holding", "The brake doesn't hold: springs, air gap, lining, oil. Secure the load first.")
        )
    if test.lifts and test.holds:
        findings.append(sound("brake-works", "The brake lifts when it starts and holds when it stops."))
    return BrakeResult(
        ohm=ohm,
        deviation_percent=deviation,
        findings=tuple(findings) or (unproven("reading-missing", "The brake was not read."),),
    )


def _brake_ohms(reading: Reading, ohm: float | None, deviation: float | None) -> Finding:
    if reading.shown is Shown.OVER_RANGE:
        return act("brake-coil-off", "The brake's coil is open.")
    if ohm is None:
        return unproven("beep-only", "A beep shows no coil; read its ohms.")
    if deviation is not None:
        shown = f"The brake's coil reads {three_digits(ohm)} Ω, {deviation:+.0f} % of its marking"
        inside = within(abs(deviation), COIL_OFF_PERCENT)
    else:
        low, high = BRAKE_OHM
        shown = f"The brake's coil reads {three_digits(ohm)} Ω; {low:g} to {high:g} Ω is usual"
        inside = low <= ohm <= high
    return (
        sound("brake-coil-fits", f"{shown}.") if inside else watch("brake-coil-off", f"{shown}: compare with a twin.")
    )


def _band(amps: Reading, volts: Reading) -> tuple[float, float]:
    """Least and most of what the digits leave of amps over volts, in parts of what was read."""
    a, v = (half_width(one, None) / one.amount.value if one.amount.value else 0.0 for one in (amps, volts))
    return (1 - a) / (1 + v), (1 + a) / max(1 - v, 1e-9)


def judge_capacitor(test: CapacitorTest, criteria: Criteria) -> CapacitorResult:
    """C = I / (2 π f U) against the marking, within 10 % by common practice."""
    amps, volts = test.current_a, test.voltage_v
    if amps is None or volts is None or not test.frequency_hz or not amps.amount.is_exact or not volts.amount.is_exact:
        text = "Amps, volts and frequency are needed for a capacitance."
        return CapacitorResult(findings=(unproven("reading-missing", text),))
    if volts.amount.value <= 0:
        return CapacitorResult(findings=(unproven("reading-missing", "0 V across it measures nothing."),))
    farads = amps.amount.value / (2 * math.pi * test.frequency_hz * volts.amount.value)
    microfarads = 1e6 * farads
    if not test.marked_uf:
        text = f"{three_digits(microfarads)} µF; its marking isn't on record."
        return CapacitorResult(capacitance_uf=microfarads, findings=(unproven("reading-missing", text),))
    deviation = 100 * (microfarads / test.marked_uf - 1)
    limit = criteria.capacitor_off.value
    least, most = (100 * (share * microfarads / test.marked_uf - 1) for share in _band(amps, volts))
    nearest = 0.0 if least * most <= 0 else min(abs(least), abs(most))
    if not within(max(abs(least), abs(most)), limit) and within(nearest, limit):
        band = f"{three_digits(microfarads)} µF, {least:+.0f} to {most:+.0f} % of the {test.marked_uf:g} µF marked"
        text = f"{band}, limit {limit:g} %: too few digits. Read amps and volts to a finer one."
        finding = unproven("capacitor-coarse", text)
        return CapacitorResult(capacitance_uf=microfarads, deviation_percent=deviation, findings=(finding,))
    text = f"{three_digits(microfarads)} µF, {deviation:+.1f} % of the {test.marked_uf:g} µF marked, limit {limit:g} %."
    finding = sound("capacitor-fits", text) if within(abs(deviation), limit) else act("capacitor-off", text)
    return CapacitorResult(capacitance_uf=microfarads, deviation_percent=deviation, findings=(finding,))
