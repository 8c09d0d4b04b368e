"""Every recipe can be walked to its end: no step is out of reach, none is asked twice, nothing stays charged."""

from itertools import product

import pytest

from grimcoil.core.choices import LeadScheme, Occasion, School
from grimcoil.core.decision.needs import NeedKind, needs
from grimcoil.core.plan.brief import EXTRAS, OHMMETER, TOGETHER, Brief
from grimcoil.core.plan.parts.holds import MARKS_S
from grimcoil.core.plan.progress import StepState
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.steps import Act
from grimcoil.core.subject import Fitting
from tests.core.plan.given import walked
from tests.core.quick import some

FITTED = (Fitting("thermostat", ("P1", "P2")), Fitting("encoder"), Fitting("heater"))
ENDS_S = (60.0, 600.0)


@pytest.mark.parametrize("scheme", LeadScheme)
@pytest.mark.parametrize("occasion", Occasion)
def test_every_plan_is_walked_to_its_decision(scheme, occasion):
    extras = frozenset(EXTRAS) - {OHMMETER, TOGETHER}
    walks = (
        (None, False, extras, MARKS_S),
        (None, True, {OHMMETER}, ENDS_S),
        (School.STARTER_FIRST, False, {TOGETHER}, ENDS_S),
        (School.BOX_FIRST, False, {OHMMETER}, ENDS_S),
    )
    for school, forbidden, also, marks_s in some(walks, 2):
        plan = build(Brief(scheme, occasion, forbidden, school, fittings=FITTED, brake=True, taking=frozenset(also)))
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
