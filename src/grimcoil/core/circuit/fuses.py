"""A fuse: out and measured, or in circuit with volts across it."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Finding, Result, act, sound, unproven
from grimcoil.core.measured import FuseTest
from grimcoil.core.readings import Reading, Shown, three_digits


@dataclass(frozen=True, slots=True)
class FuseResult(Result):
    """Which fuse. blown: True, False, or None where the reading doesn't tell."""

    id: str = ""
    blown: bool | None = None


def judge_fuse(test: FuseTest, criteria: Criteria) -> FuseResult:
    """Out: near 0 ohm good, over range or high ohms blown. Live: volts across it prove it open; 0 V across
    proves it whole only while current flows.
    """
    if test.reading is None:
        return FuseResult(id=test.name, findings=(unproven("reading-missing", f"Fuse {test.name} was not read."),))
    if test.state == "out":
        finding, blown = _out(test.name, test.reading, criteria)
    else:
        finding, blown = _live(test, test.reading, criteria)
    return FuseResult(id=test.name, blown=blown, findings=(finding,))


def _out(name: str, reading: Reading, criteria: Criteria) -> tuple[Finding, bool | None]:
    if reading.shown is Shown.OVER_RANGE or reading.amount.low >= criteria.open_above_ohm.value:
        return act("fuse-blown", f"Fuse {name} is open: blown. Find why before it is replaced."), True
    if reading.shown is Shown.VALUE and reading.amount.high <= criteria.near_zero_ohm.value:
        return sound("fuse-sound", f"Fuse {name} reads {three_digits(reading.amount.value)} Ω: whole."), False
    shown = "beeps or not" if reading.shown is not Shown.VALUE else f"reads {three_digits(reading.amount.value)} Ω"
    text = f"Fuse {name} {shown}: neither near 0 nor open. Mind the prefix, clean the caps, read the ohms again."
    return unproven("fuse-unproven", text), None


def _live(test: FuseTest, reading: Reading, criteria: Criteria) -> tuple[Finding, bool | None]:
    amount = reading.amount
    if amount.low >= criteria.live_above_v.value:
        text = f"{three_digits(amount.value)} V across fuse {test.name}: it is open. Find why before it is replaced."
        return act("fuse-blown", text), True
    if amount.high <= criteria.dead_below_v.value and test.state == "live-loaded":
        return sound("fuse-sound", f"About 0 V across fuse {test.name} while current flows: whole."), False
    text = f"{three_digits(amount.value)} V across fuse {test.name}: proves nothing unless current flows through it."
    return unproven("fuse-unproven", text), None
