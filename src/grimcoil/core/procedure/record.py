"""Entries of a job to the tests they make up."""

from __future__ import annotations

from collections.abc import Sequence

from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.measured import (
    CurrentTest,
    InsulationTest,
    JobRecord,
    ResistanceTest,
    SupplyTest,
    Test,
    Timed,
)
from grimcoil.core.procedure.entries import Kept
from grimcoil.core.procedure.steps import STEPS
from grimcoil.core.readings import Reading
from grimcoil.core.subject import Conditions, Subject

LINES = ("L1-L2", "L2-L3", "L3-L1")


def to_record(
    kept: Kept,
    subject: Subject,
    meters: Sequence[InstrumentRange],
    conditions: Conditions,
) -> JobRecord:
    """The tests of the standing entries. A test that wasn't begun is left out; a begun one may be incomplete."""
    by_function = {meter.function: meter for meter in meters}
    tests: list[Test] = []
    ohms = _readings(kept, "winding_resistance")
    if ohms:
        meter = by_function.get("low-ohm") or by_function.get("ohm")
        zero = kept.figure("instrument_check.leads-shorted") or 0.0
        tests.append(ResistanceTest(ohms, conditions, meter, zero))
    series = tuple(
        Timed(slot.mark_s, reading)
        for slot in STEPS["insulation"].slots
        if slot.mark_s is not None and (reading := kept.reading(f"insulation.{slot.key}")) is not None
    )
    if series or subject.winding.insulation_test_forbidden:
        volts = kept.figure("insulation.volts")
        tests.append(InsulationTest(series, volts, conditions, by_function.get("insulation")))
    if lines := {k: r for k, r in _readings(kept, "supply_voltage").items() if k in LINES}:
        tests.append(SupplyTest(lines))
    if amps := _readings(kept, "line_current"):
        tests.append(CurrentTest(amps))
    return JobRecord(subject, conditions, tuple(tests), tuple(meters))


def conditions_of(kept: Kept) -> Conditions:
    """Temperatures and humidity of the job; the date is the first entry's."""
    on = kept.entries[0].at.date() if kept.entries else None
    return Conditions(
        kept.figure("temperature.winding"),
        kept.figure("temperature.ambient"),
        kept.figure("temperature.humidity"),
        on,
    )


def _readings(kept: Kept, step: str) -> dict[str, Reading]:
    return {
        slot.key: reading for slot in STEPS[step].slots if (reading := kept.reading(f"{step}.{slot.key}")) is not None
    }
