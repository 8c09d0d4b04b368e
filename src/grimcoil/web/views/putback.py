"""Leads put back: what each was found on, what differs, and what that does to the motor."""

from __future__ import annotations

from collections.abc import Sequence

from grimcoil.core.findings import Finding
from grimcoil.core.plan.putback import differences, effect, found_on, left_on, place_of
from grimcoil.core.plan.steps import Act, Slot, Step
from grimcoil.service.bench import Bench


def effects(bench: Bench, step: Step) -> Sequence[Finding]:
    """What the leads as they lie now do to the motor, where they lie otherwise than found."""
    if not step.does(Act.PUT_BACK):
        return ()
    return effect(found_on(bench.plan, bench.state.kept, step), left_on(bench.state.kept, step), bench.subject)


def was_on(bench: Bench, step: Step, slot: Slot | None) -> str:
    """What the lead that is put back was found on; empty for anything else."""
    if slot is None or slot.act is not Act.PUT_BACK:
        return ""
    return found_on(bench.plan, bench.state.kept, step).get(slot.ends[0], "")


def other_places(slot: Slot | None, was: str) -> list[str]:
    """What a lead may be on, beside what it was found on."""
    return [word for word in (slot.choices if slot else ()) if place_of(word) != place_of(was)]


def otherwise(bench: Bench, step: Step) -> list[tuple[str, str]]:
    """Place and number of each lead of a step that lies otherwise than found."""
    found, left = found_on(bench.plan, bench.state.kept, step), left_on(bench.state.kept, step)
    changed = {one.lead for one in differences(found, left)}
    backs = (slot for slot in step.slots if slot.act is Act.PUT_BACK)
    return [(step.place(slot), slot.ends[0]) for slot in backs if slot.ends[0] in changed]
