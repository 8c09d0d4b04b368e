"""The cable, its cores looped, and the terminal block, each by itself and by choice."""

import pytest

from grimcoil.core.choices import Occasion, School
from grimcoil.core.plan.brief import CABLE, TERMINAL_BLOCK, Brief
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.steps import Act, Input
from grimcoil.core.wishes import AtHand, Wishes
from tests.core.plan.given import assessed

WANTED = frozenset({CABLE, TERMINAL_BLOCK})
ALONE = ["cable", "cable_loops", "terminal_block"]


def steps_of(brief):
    return [step.key for step in build(brief).steps if step.kind == "cable"]


@pytest.mark.parametrize("occasion", [Occasion.ROUTINE, Occasion.ACCEPTANCE, Occasion.AFTER_DRYING])
def test_by_choice_each_is_a_step_of_its_own_at_an_open_box(occasion):
    plan = build(Brief("three-lead", occasion, school=School.STARTER_FIRST, taking=WANTED))
    assert [step.key for step in plan.steps if step.kind == "cable"] == ALONE
    assert plan.school == School.BOX_FIRST
    before = [step.name for step in plan.steps[: [step.key for step in plan.steps].index("cable")]]
    assert {"prove_dead_box", "as_found", "separate"} <= set(before)
    assert steps_of(Brief("three-lead", occasion)) == []


def test_on_the_floor_no_cable_hangs_and_an_ohmmeter_clears_neither():
    assert steps_of(Brief("three-lead", Occasion.DEAD_ONLY, taking=frozenset({CABLE}))) == []
    by_ohms = Wishes(at_hand=(AtHand.OHMMETER,))
    assert steps_of(Brief("three-lead", Occasion.ROUTINE, taking=WANTED, wishes=by_ohms)) == ["cable_loops"]


def test_the_far_ends_come_apart_again_before_anything_is_put_back():
    (looped,) = (step for step in build(Brief("three-lead", taking=WANTED)).steps if step.key == "cable_loops")
    last = looped.slots[-1]
    assert (last.input, last.optional, looped.places[-1]) == (Input.CONFIRM, False, "cable_loops.apart")
    assert not any(slot.act is not Act.NONE for slot in looped.slots)


def test_each_is_judged_by_itself():
    plan = build(Brief("three-lead", Occasion.ROUTINE, taking=WANTED))
    script = [(f"cable.{one}", "OL") for one in ("U-V", "V-W", "W-U", "U-E", "V-E", "W-E")]
    script += [(f"cable_loops.{one}", "0.25") for one in ("U-V", "V-W", "W-U")]
    script += [(f"terminal_block.{one}", "OL") for one in ("1-2", "2-3", "3-1", "1-E", "2-E")]
    script += [("terminal_block.3-E", "0.01")]
    whole, made = assessed(plan, *script)
    assert [(one.test.what, one.test.end) for one in made] == [
        ("cable", "open"), ("cable", "joined"), ("terminal-block", "open"),
    ]  # fmt: skip
    results = whole.by_kind["cable"]
    assert [one.verdict.value for one in results] == ["sound", "sound", "act"]
    assert "Terminal block 3 near zero to earth" in results[2].findings[0].text
