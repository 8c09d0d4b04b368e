"""What is read before it is switched off: where it stands, what shuts it, what it judges, what takes its place."""

import pytest

from grimcoil.core.choices import Occasion
from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.measured import CurrentTest, SupplyTest
from grimcoil.core.plan.brief import AS_RUNNING, RUNNING_OPEN, Brief
from grimcoil.core.plan.progress import check_place, situation
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.record import made_of
from grimcoil.core.plan.safety import Site
from grimcoil.core.plan.steps import Act, Circuit, Where
from grimcoil.core.subject import UNKNOWN
from grimcoil.core.wishes import AtHand, Wishes
from tests.core.plan.given import closed, fold
from tests.support import NOW, WHOLE_JOB, entry


def early(*taking, **given):
    plan = build(Brief("three-lead", Occasion.ROUTINE, taking=frozenset(taking), **given))
    return [step for step in plan.steps if step.name == "as_running"], plan


def test_it_comes_first_by_choice_and_all_of_it_may_be_left_out():
    assert early()[0] == []
    steps, plan = early(AS_RUNNING)
    assert [step.key for step in steps] == [
        "supply_voltage@running",
        "line_current@running",
        "frame_temperature@running",
    ]
    assert list(plan.steps[:3]) == steps
    assert plan.steps[3].name == "isolate"
    places = [place for step in steps for place in step.places]
    assert "supply_voltage.L1-L2@running" in places
    assert "line_current.L3@running" in places
    assert all(slot.optional and slot.asked for step in steps for slot in step.slots)
    assert {step.circuit for step in steps} == {Circuit.LIVE}
    assert not any(step.does(Act.LIVE_READING) for step in steps)


def test_open_boxes_are_a_choice_of_their_own_with_their_caution():
    steps, _ = early(RUNNING_OPEN)
    assert [(step.key, step.where) for step in steps] == [
        ("contact_drop@running", Where.STARTER),
        ("supply_voltage@running-box", Where.BOX),
    ]
    assert all("its own permit" in step.caution for step in steps)
    assert "L2-L3@running-box" in steps[1].places[1]


def test_without_a_clamp_no_amps_are_asked():
    steps, _ = early(AS_RUNNING, wishes=Wishes(at_hand=(AtHand.OHMMETER,)))
    assert "line_current@running" not in [step.key for step in steps]


@pytest.mark.parametrize("occasion", [one for one in Occasion if one is not Occasion.ROUTINE])
def test_only_a_motor_that_runs_as_it_does_every_day_is_read_so(occasion):
    plan = build(Brief("three-lead", occasion, taking=frozenset({AS_RUNNING, RUNNING_OPEN})))
    assert not any(step.name == "as_running" for step in plan.steps)


def test_its_places_are_no_ones_else():
    _, plan = early(AS_RUNNING, RUNNING_OPEN)
    places = [place for step in plan.steps for place in step.places]
    assert len(places) == len(set(places))


EARLY = (
    *zip(
        (f"supply_voltage.{pair}@running" for pair in ("L1-L2", "L2-L3", "L3-L1")), ("458", "462", "431"), strict=True
    ),
    *zip((f"line_current.L{n}@running" for n in "123"), ("17.2", "17.4", "21.9"), strict=True),
)


def kept(script):
    _, plan = early(AS_RUNNING)
    made = [entry(i, place, text, NOW.replace(minute=i), plan=plan) for i, (place, text) in enumerate(script, 1)]
    return plan, made


def test_it_needs_no_proof_and_is_shut_by_the_first_lock():
    plan, made = kept(EARLY[:1])
    check_place(fold(made, plan=plan), "supply_voltage.L2-L3@running")
    plan, made = kept([*EARLY[:1], ("isolate.tag", "BW-1"), ("isolate.lock-main", "red 7")])
    refused = closed(fold(made, plan=plan), "supply_voltage.L2-L3@running")
    assert refused.found == "it was locked already"
    assert not refused.can_overrule


def made_by(script):
    plan, made = kept(script)
    return made_of(plan, situation(plan, made, Site(FIELD_GENERAL), NOW).kept, (), UNKNOWN)


def test_it_is_judged_until_the_same_is_read_with_power_restored():
    before = made_by(EARLY)
    assert [type(one.test) for one in before] == [SupplyTest, CurrentTest]
    assert before[0].test.line_to_line["L3-L1"].text == "431"
    after = [(place, text) for place, text, _ in WHOLE_JOB if place.startswith("supply_voltage")]
    both = [one for one in made_by([*EARLY, *after]) if isinstance(one.test, SupplyTest)]
    assert len(both) == 1
    assert both[0].step.key == "supply_voltage"
    assert any(one.step.key == "line_current@running" for one in made_by([*EARLY, *after]))
