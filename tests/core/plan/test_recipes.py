"""Every recipe can be walked to its end: no step is out of reach, none is asked twice, nothing stays charged."""

from datetime import timedelta
from itertools import product

import pytest

from grimcoil.core.choices import LeadScheme, Occasion, School
from grimcoil.core.decision.needs import NeedKind, needs
from grimcoil.core.plan.brief import EXTRAS, OHMMETER, Brief
from grimcoil.core.plan.parts.holds import MARKS_S
from grimcoil.core.plan.progress import StepState, check_place, progress, situation
from grimcoil.core.plan.recipes import bring, build
from grimcoil.core.plan.steps import Act, Input
from grimcoil.core.subject import Fitting
from tests.core.plan.given import WORKS
from tests.support import NOW, entry

BY_FIELD = {
    "drop": "0.1",
    "winding": "0.26",
    "insulation": "600M",
    "low_ohm": "0",
    "temperature": "20",
    "humidity": "50",
}
FITTED = (Fitting("thermostat", ("P1", "P2")), Fitting("encoder"), Fitting("heater"))


def text_for(slot):
    if slot.input is Input.CHOICE:
        return slot.choices[0]
    if slot.input is not Input.READING:
        return "confirmed"
    if slot.act is Act.PROVE_TESTER:
        return "480"
    if slot.act in (Act.POINT_DEAD, Act.RESIDUAL):
        return "0"
    return BY_FIELD.get(slot.field, "20")


def walked(plan, marks_s=MARKS_S):
    """Entries of a walk that always takes what comes next, and the state at its end. marks_s: at which it looks."""
    made, now = [], NOW
    for _ in range(4 * len(plan.places)):
        at = progress(situation(plan, made, WORKS, now))
        if at.closing:
            return made, at
        _, slot = check_place(at, at.place)
        made.append(entry(len(made) + 1, at.place, text_for(slot), now, plan=plan))
        marks = [mark - (slot.mark_s or 0.0) for mark in marks_s if mark > (slot.mark_s or 0.0)]
        wait = 4 * 700 if slot.act is Act.SHORT else min(marks, default=31) if slot.act in (Act.APPLY, Act.MARK) else 31
        now += timedelta(seconds=wait)
    raise AssertionError(f"no end: {at.place}")


@pytest.mark.parametrize("scheme", LeadScheme)
@pytest.mark.parametrize("occasion", Occasion)
def test_every_plan_is_walked_to_its_decision(scheme, occasion):
    taking = (frozenset([OHMMETER]), frozenset(EXTRAS) - {OHMMETER})
    for number, (school, forbidden) in enumerate([(None, False), (None, True), *product(School, (False,))]):
        also, marks_s = taking[(number + 1) % 2], MARKS_S if number == 0 else (60.0, 600.0)
        plan = build(Brief(scheme, occasion, forbidden, school, fittings=FITTED, brake=True, taking=also))
        made, end = walked(plan, marks_s)
        assert {s for k, s in end.standings.items() if k not in ("decision", "sign")} <= {StepState.DONE}
        assert len({e.place for e in made}) == len(made)
        assert end.safety.charged is None
        passed = set(MARKS_S) - set(marks_s)
        unasked = {place for place, (_, slot) in plan.places.items() if not slot.asked or slot.mark_s in passed}
        assert {e.place for e in made} >= set(plan.places) - unasked


@pytest.mark.parametrize("scheme", LeadScheme)
def test_the_plan_asks_exactly_the_pairs_and_holds_that_settle_it(scheme):
    plan = build(Brief(scheme))
    keys = {need.place for need in needs(scheme).keys if need.kind is not NeedKind.IDENTIFY}
    asked = {
        step.place(slot)
        for step in plan.steps
        for slot in step.slots
        if step.kind and slot.part and not slot.optional and slot.part != "volts"
    }
    assert asked == keys


def test_the_test_voltage_is_set_once_before_the_first_hold():
    for scheme, occasion in product(LeadScheme, Occasion):
        plan = build(Brief(scheme, occasion))
        set_at = [step.number for step in plan.steps for slot in step.slots if slot.part == "volts"]
        holds = [step.number for step in plan.steps if step.does(Act.APPLY)]
        assert set_at == holds[:1]


def test_a_banned_motor_needs_no_insulation_tester():
    assert not [words for words in bring(Brief("six-lead", insulation_test_forbidden=True)) if "insulation" in words]
    assert "low-ohm meter reading to 18 mΩ" in bring(Brief("six-lead", resolution_ohm=0.0179))
