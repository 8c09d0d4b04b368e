"""A plan as a value: places unique, words for each, a hold's steps together."""

from dataclasses import replace

import pytest

from grimcoil.core.choices import LeadScheme, Occasion
from grimcoil.core.errors import Unknown
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.steps import Act, Circuit, Slot, Step


@pytest.mark.parametrize("scheme", list(LeadScheme))
@pytest.mark.parametrize("occasion", list(Occasion))
def test_every_place_has_one_address_and_one_step(scheme, occasion):
    plan = build(Brief(scheme, occasion))
    assert len(plan.places) == sum(len(step.slots) for step in plan.steps)
    assert len(plan.by_key) == len(plan.steps)
    assert all(plan.step_of(place) is step for place, (step, _) in plan.places.items())
    assert all(plan.words(place) for place in plan.places)
    for step in plan.steps:
        if step.does(Act.MARK, Act.REMOVE, Act.SHORT, Act.RESIDUAL):
            begins = plan.hold_of(step)
            assert begins is not None
            assert begins[1].does(Act.APPLY)


def test_what_is_not_in_the_plan_is_unknown():
    plan = build(Brief("three-lead"))
    for ask in (plan.at, plan.step):
        with pytest.raises(Unknown):
            ask("nowhere")
    assert plan.step_of("closed") is None
    assert plan.words("restore!not-proved") == "Restore, not proved"


def test_a_slot_that_may_be_left_out_is_asked_only_where_it_is_read_anyway():
    assert Slot("a", "A", "", optional=True).asked
    live = Slot("a", "A", "", optional=True, field="voltage", act=Act.LIVE_READING)
    assert live.asked
    assert not replace(live, ends=("L1", "E")).asked
    assert Step("cool_down#2", 1, "", "", Circuit.APART, suffix="#2").name == "cool_down"
