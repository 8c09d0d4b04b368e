"""The check of a job's own instruments: leads shorted and apart."""

from __future__ import annotations

from grimcoil.core.plan.steps import Slot
from grimcoil.core.readings import Reading, Shown

# Shorted leads read about zero, Ω: of an ohmmeter, of an insulation tester; apart they read over range, or at least so
# much. Common practice without source.
SHORTED_OHM, SHORTED_TESTER_OHM, APART_OHM = 1.0, 1e4, 1e6


def passes_check(slot: Slot, reading: Reading) -> bool:
    """Whether a meter shows what it must: about zero with its leads shorted, over range with them apart."""
    if slot.key.endswith("apart"):
        return reading.shown is Shown.OVER_RANGE or reading.amount.low >= APART_OHM
    limit = SHORTED_OHM if slot.part == "lead_resistance" else SHORTED_TESTER_OHM
    return reading.shown is Shown.VALUE and reading.amount.high <= limit
