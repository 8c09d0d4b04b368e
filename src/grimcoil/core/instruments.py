"""Instruments: what a range can resolve, and the interval a reading leaves."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from grimcoil.core.findings import Finding, Verdict
from grimcoil.core.readings import Reading


@dataclass(frozen=True, slots=True)
class InstrumentRange:
    """One range of one function of an instrument. All in SI; None where the maker's sheet isn't at hand.

    function: ohm, low-ohm, insulation, volt-ac, volt-dc, amp-clamp, temperature, humidity, capacitance.
    """

    name: str
    function: str
    top: float | None = None
    resolution: float | None = None
    accuracy_percent: float = 0.0
    counts: float = 0.0
    test_voltage_v: float | None = None
    calibration_due: date | None = None


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
    text = f"{meter.name} was due for calibration on {meter.calibration_due.isoformat()}."
    return Finding("calibration-overdue", Verdict.WATCH, text)
