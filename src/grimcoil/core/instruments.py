"""Instruments: what a range can resolve, and the interval a reading leaves."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from itertools import pairwise

from grimcoil.core.days import day_told
from grimcoil.core.findings import Finding, Verdict
from grimcoil.core.readings import Reading

# What an insulation tester shows: its resistance, or the current its volts drive.
MEGOHMS, MICROAMPS = "megohms", "microamps"


@dataclass(frozen=True, slots=True)
class InstrumentRange:
    """One range of one function of an instrument. All in SI; None where the maker's sheet isn't at hand.

    function: ohm, low-ohm, insulation, volt-ac, volt-dc, amp-clamp, temperature, humidity, capacitance. lamps: where
    each lights, on an instrument that has lamps instead of digits. corrects_to_40c: an insulation tester that corrects
    by itself. shows: `megohms` or `microamps` of one. beep_below_ohm: below how many ohms it beeps.
    """

    name: str
    function: str
    top: float | None = None
    resolution: float | None = None
    accuracy_percent: float = 0.0
    counts: float = 0.0
    test_voltage_v: float | None = None
    calibration_due: date | None = None
    lamps: tuple[float, ...] = ()
    corrects_to_40c: bool = False
    shows: str = MEGOHMS
    beep_below_ohm: float | None = None


def lamp_bands(lamps: Sequence[float]) -> tuple[str, ...]:
    """What lamps can show, as it is typed: below the first, between two, above the last. lamps: where each lights, Ω,
    rising (common practice without source).

    >>> lamp_bands((0.5e6, 10e6))
    ('<0.5 MΩ', '0.5–10 MΩ', '>10 MΩ')
    """
    if not lamps:
        return ()
    mohm = [f"{one / 1e6:g}" for one in lamps]
    return (f"<{mohm[0]} MΩ", *(f"{low}–{high} MΩ" for low, high in pairwise(mohm)), f">{mohm[-1]} MΩ")


def half_width(reading: Reading, meter: InstrumentRange | None) -> float:
    """Half-width of the digit uncertainty, SI: counts x resolution, never tighter than half a count.

    Gain error (accuracy percent) is left out: it is common to readings compared with one another (computed).
    """
    resolution = meter.resolution if meter and meter.resolution else reading.count or 0.0
    counts = meter.counts if meter else 0.0
    return max(counts, 0.5) * max(resolution, reading.count or 0.0)


def interval(reading: Reading, meter: InstrumentRange | None) -> tuple[float, float]:
    """What the true value can be: value ± (accuracy % of reading + digit uncertainty), SI (computed).

    >>> from grimcoil.core.amount import Amount
    >>> from grimcoil.core.readings import Shown
    >>> interval(Reading("2.00", Shown.VALUE, Amount.exact(2.0), 0.01), None)
    (1.995, 2.005)
    """
    gain = (meter.accuracy_percent if meter else 0.0) / 100
    width = half_width(reading, meter)
    return reading.amount.low * (1 - gain) - width, reading.amount.high * (1 + gain) + width


def calibration_finding(meter: InstrumentRange, on: date) -> Finding | None:
    """Overdue calibration doesn't block: it is a finding on the record."""
    if meter.calibration_due is None or meter.calibration_due >= on:
        return None
    text = f"{meter.name} was due for calibration on {day_told(meter.calibration_due)}."
    return Finding("calibration-overdue", Verdict.WATCH, text)
