"""What is done by hand: proving dead, and turning the shaft."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Finding, Result, act, sound, unproven, watch
from grimcoil.core.limits import within
from grimcoil.core.measured import DeadProofTest, ShaftTest
from grimcoil.core.points import LINE_PAIRS, TO_EARTH, dead_point_of, once
from grimcoil.core.readings import Reading, three_digits

POINTS = (*LINE_PAIRS, *TO_EARTH)


@dataclass(frozen=True, slots=True)
class DeadProofResult(Result):
    """Whether it was proved dead: tester proved before, every point about 0 V, tester proved after."""

    proved: bool = False


@dataclass(frozen=True, slots=True)
class ShaftResult(Result):
    """How the shaft turns."""


def judge_dead_proof(test: DeadProofTest, criteria: Criteria) -> DeadProofResult:
    """Live, dead, live. A point that isn't dead stops everything; a gap leaves it unproven."""
    limit = criteria.dead_below_v.value
    readings, _ = once(test.readings, dead_point_of)
    alive = {point: r for point, r in test.readings.items() if not within(r.amount.low, limit)}
    if alive:
        point, reading = next(iter(alive.items()))
        text = f"{point} shows {three_digits(reading.amount.value)} V: not dead. Stop, find the source."
        return DeadProofResult(findings=(act("dead-not-dead", text),))
    gaps = _gaps(test, readings, criteria)
    if gaps:
        return DeadProofResult(findings=(unproven("dead-not-proved", f"Not proved dead: {'; '.join(gaps)}."),))
    text = f"Proved dead: tester proved before and after, {len(test.readings)} points about 0 V."
    return DeadProofResult(proved=True, findings=(sound("dead-proved", text),))


def _gaps(test: DeadProofTest, readings: Mapping[str, Reading], criteria: Criteria) -> list[str]:
    limit = criteria.dead_below_v.value
    missing = [point for point in POINTS if point not in readings]
    unsure = [point for point, r in test.readings.items() if not within(r.amount.high, limit)]
    out = []
    if not _live(test.proved_before, criteria):
        out.append("the tester was not shown to work before")
    if missing:
        out.append(f"not read: {', '.join(missing)}")
    if unsure:
        out.append(f"not surely about 0 V: {', '.join(unsure)}")
    if not _live(test.proved_after, criteria):
        out.append("the tester was not shown to work after")
    elif other := another_source(test.proved_before, test.proved_after, criteria):
        out.append(other)
    return out


def another_source(before: Reading | None, after: Reading | None, criteria: Criteria) -> str:
    """What says that a tester was proved on two sources: figures further apart than the limit, or other lamps. Empty
    where nothing does. V (common practice without source).
    """
    if before is None or after is None or before.amount == after.amount:
        return ""
    most = criteria.proof_same_source_percent.value
    first, second = before.amount, after.amount
    if first.is_exact and second.is_exact and within(100 * abs(second.value - first.value), most * first.value):
        return ""
    return f"{before.text} before and {after.text} after: not the same source, {most:g} % apart at most"


def _live(reading: Reading | None, criteria: Criteria) -> bool:
    return reading is not None and reading.amount.surely_at_least(criteria.live_above_v.value)


def judge_shaft(test: ShaftTest) -> ShaftResult:
    """Free, stiff or jammed; uncoupled it is the motor, coupled it may be the load."""
    return ShaftResult(findings=(_shaft(test),))


def _shaft(test: ShaftTest) -> Finding:
    if test.turns is None:
        return unproven("reading-missing", "The shaft was not turned.")
    if test.turns == "free":
        return sound("shaft-free", "The shaft turns freely by hand.")
    part = "uncouple and turn motor and load each by hand" if test.coupled is not False else "the motor's own bearings"
    if test.turns == "stiff":
        return watch("shaft-stiff", f"The shaft turns stiffly: {part}.")
    if test.coupled is False:
        return act("shaft-jammed", f"The shaft is jammed: {part}.")
    return act("shaft-locked-coupled", f"Locked while coupled: {part}. Nothing is sent away yet.")
