"""What test voltage did to the winding: how long it was on, and when what it charged may be let go."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from grimcoil.core.criteria import Criteria
from grimcoil.core.insulation.hold import DISCHARGE_TIMES
from grimcoil.core.limits import within
from grimcoil.core.plan.entries import Entry, EntryKind
from grimcoil.core.plan.steps import Act, Plan

# A hold whose clock tells nothing counts as the longest a plan has, or this; common practice without source.
LONGEST_HOLD_S = 600.0


@dataclass(frozen=True, slots=True)
class Hold:
    """A test voltage on the winding. Times UTC; until: when a winding shorted to frame may be let go."""

    name: str
    on_at: datetime
    off_at: datetime | None
    short_at: datetime | None
    applied_s: float
    until: datetime | None
    left_v: float | None
    discharged: bool


def holds_of(
    plan: Plan, ordered: Sequence[Entry], standing: Mapping[str, Entry], criteria: Criteria
) -> dict[str, Hold]:
    """Every hold that was started, by its name; seconds and V, times UTC. One whose start was taken back was started:
    the winding doesn't know. ordered: by sequence; standing: place -> the entry that stands there. Discharge: four
    times the hold, of IEEE 43 (read second-hand).
    """
    out: dict[str, Hold] = {}
    firsts = {entry.place: entry for entry in reversed(ordered) if entry.kind is not EntryKind.OVERRULE}
    for place, step, _ in plan.doing(Act.APPLY):
        if (on := firsts.get(place)) is not None:
            out[step.hold] = _hold(plan, step.hold, on, ordered, standing, criteria)
    return out


def _hold(
    plan: Plan, name: str, on: Entry, ordered: Sequence[Entry], standing: Mapping[str, Entry], criteria: Criteria
) -> Hold:
    def kept(*acts: Act) -> Entry | None:
        return next((standing[p] for p, _, slot in plan.holding[name] if slot.act in acts and p in standing), None)

    off, short = kept(Act.REMOVE, Act.REMOVE_AND_SHORT), kept(Act.SHORT, Act.REMOVE_AND_SHORT)
    short = short if off is not None else None
    applied = _applied_s(plan, name, on, off, standing)
    until = None
    if short is not None:
        # The countdown rests on the greatest time seen: a clock set back must not have begun it in the past.
        begun = max([short.at, *(entry.at for entry in ordered if entry.seq < short.seq)])
        begun = max([begun, *_still_charged(plan, name, ordered, criteria)])
        until = begun + timedelta(seconds=DISCHARGE_TIMES * applied)
    residual = kept(Act.RESIDUAL) if short is not None else None
    left = residual.reading.amount.high if residual is not None and residual.reading is not None else None
    discharged = until is not None and left is not None and within(left, criteria.dead_below_v.value)
    return Hold(
        name, on.at, off.at if off else None, short.at if short else None, applied, until,
        None if discharged else left, discharged,
    )  # fmt: skip


def _still_charged(plan: Plan, name: str, ordered: Sequence[Entry], criteria: Criteria) -> list[datetime]:
    """When volts were found on it after the wait, taken back or not: from there the wait begins anew."""
    places = {place for place, _, slot in plan.holding[name] if slot.act is Act.RESIDUAL}
    return [
        entry.at
        for entry in ordered
        if entry.place in places
        and entry.reading is not None
        and not within(entry.reading.amount.high, criteria.dead_below_v.value)
    ]


def _applied_s(plan: Plan, name: str, on: Entry, off: Entry | None, standing: Mapping[str, Entry]) -> float:
    """How long voltage was on, s: by the clock, never less than the latest kept mark; a clock that went back tells
    nothing, so it counts as the longest.
    """
    marks = [(place, slot.mark_s) for place, _, slot in plan.holding[name] if slot.act is Act.MARK and slot.mark_s]
    latest = max((mark for place, mark in marks if place in standing), default=0.0)
    if off is None:
        return latest
    by_clock = (off.at - on.at).total_seconds()
    if by_clock < 0:
        return max([LONGEST_HOLD_S, *(mark for _, mark in marks)])
    return max(by_clock, latest)
