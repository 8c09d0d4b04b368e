"""What the tests of plans are given: a fold of scripts, and the texts they type."""

from datetime import UTC, timedelta
from zoneinfo import ZoneInfo

import pytest

from grimcoil.core.assessment import assess
from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.decision.needs import needs
from grimcoil.core.decision.standing import Standing
from grimcoil.core.errors import GateClosed
from grimcoil.core.measured import JobRecord
from grimcoil.core.plan.entries import Kept
from grimcoil.core.plan.parts.holds import MARKS_S
from grimcoil.core.plan.progress import (
    check_place,
    progress,
    situation,
)
from grimcoil.core.plan.record import conditions_of, made_of
from grimcoil.core.plan.safety import Site
from grimcoil.core.plan.steps import Act, Input
from grimcoil.core.plate import Plate
from grimcoil.core.subject import Subject
from tests.support import (
    BY_HAND,
    EVEN,
    NOW,
    PLAN,
    TO_HOLD,
    TO_RESISTANCE,
    entries,
    entry,
)

WORKS = Site(FIELD_GENERAL, ZoneInfo("Europe/Berlin"))


HELD = (*TO_HOLD, ("insulation.1-2-3.30", "390M"), ("insulation.1-2-3.60", "520M"))


def fold(made, later_s=0.0, codes=(), stands=Standing(), signed=False, now=None, plan=PLAN, failed=()):  # noqa: B008
    at = now or (made[-1].at if made else NOW) + timedelta(seconds=later_s)
    here = situation(plan, made, WORKS, at, signed)
    return progress(here, frozenset(codes), stands, signed=signed, failed=dict(failed))


def state(script, later_s=0.0, **more):
    return fold(entries(script), later_s, **more)


def closed(at, place):
    with pytest.raises(GateClosed) as refused:
        check_place(at, place)
    return refused.value


def discharged(applied_s, wait_s, volts=None, made=None, off_after=None):
    made = list(made or entries(HELD))
    on = next(e for e in made if e.place == "insulation.1-2-3.on")
    off = on.at + timedelta(seconds=applied_s if off_after is None else off_after)
    made.append(entry(len(made) + 1, "discharge.1-2-3.off", "confirmed", off))
    made.append(entry(len(made) + 1, "discharge.1-2-3.short", "confirmed", off))
    after = off + timedelta(seconds=wait_s)
    if volts is not None:
        made.append(entry(len(made) + 1, "discharge.1-2-3.volts", volts, after))
    return fold(made, now=after)


KEYS = {need.kind: need for need in needs("three-lead").keys}


BAD = [
    Standing(failed=(KEYS["insulation"],)),
    Standing(missing=(KEYS["winding_resistance"],)),
    Standing(unproven=(KEYS["winding_resistance"],)),
]


TO_JOIN = (*TO_RESISTANCE, *EVEN, ("insulation.1-2-3", "tester broken"), *BY_HAND, ("connection.checked", "confirmed"))


BY_FIELD = {
    "drop": "0.1",
    "winding": "0.26",
    "insulation": "600M",
    "low_ohm": "0",
    "temperature": "20",
    "humidity": "50",
    "length": "14.2",
}


def text_for(slot):
    if slot.input is Input.CHOICE:
        return slot.choices[0]
    if slot.input is not Input.READING:
        return "confirmed"
    if slot.act is Act.PROVE_TESTER:
        return "480"
    if slot.act in (Act.POINT_DEAD, Act.RESIDUAL):
        return "0"
    return "500" if slot.part == "volts" else BY_FIELD.get(slot.field, "20")


def wait_after(slot, marks_s=MARKS_S):
    """Seconds until the next slot can be filled; at which marks a reading is given."""
    marks = [mark - (slot.mark_s or 0.0) for mark in marks_s if mark > (slot.mark_s or 0.0)]
    return 4 * 700 if slot.act is Act.SHORT else min(marks, default=31) if slot.act in (Act.APPLY, Act.MARK) else 31


def walked(plan, marks_s=MARKS_S):
    """Entries of a walk that always takes what comes next, and the state at its end. marks_s: at which it looks."""
    made, now = [], NOW
    for _ in range(4 * len(plan.places)):
        at = progress(situation(plan, made, WORKS, now))
        if at.closing:
            return made, at
        step, slot = at.step, at.slot
        if at.safety.on_test is not None:  # marks that aren't asked for are given all the same
            hold = next(one for one in plan.steps if one.hold == at.safety.on_test.name)
            given = [one for one in hold.slots if one.mark_s in marks_s and hold.place(one) not in at.kept.standing]
            ahead = [one for one in given if one.mark_s >= at.hold_s - 2]
            step, slot = (hold, ahead[0]) if ahead else (step, slot)
        check_place(at, step.place(slot))
        made.append(entry(len(made) + 1, step.place(slot), text_for(slot), now, plan=plan))
        now += timedelta(seconds=wait_after(slot, marks_s))
    raise AssertionError(f"no end: {at.place}")


def assessed(plan, *script):
    """What a plan's script comes to by itself, and the tests it made."""
    kept = [entry(i, place, text, NOW + timedelta(seconds=i), plan=plan) for i, (place, text) in enumerate(script)]
    at = Kept(tuple(kept), {one.place: one for one in kept}, {})
    made = made_of(plan, at, (), conditions_of(plan, at, UTC))
    return assess(JobRecord(Subject(Plate((460.0,))), tests=tuple(one.test for one in made))), made
