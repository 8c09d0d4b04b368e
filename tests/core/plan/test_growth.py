"""A plan that grows, or goes without."""

import pytest

from grimcoil.core.errors import GateClosed
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.entries import NOT_RECONNECTED
from grimcoil.core.plan.gates import shut
from grimcoil.core.plan.progress import (
    StepState,
    check_not_reconnected,
    situation,
)
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.steps import Act
from tests.core.plan.given import BAD, TO_JOIN, WORKS, state
from tests.support import (
    MADE_SAFE,
    NOW,
    PLAN,
    TO_HOLD,
    entries,
)


def test_a_motor_that_is_not_reconnected_goes_straight_to_the_decision():
    at = state((*TO_JOIN, (NOT_RECONNECTED, "confirmed")), stands=BAD[0])
    assert at.closing
    assert at.standings["supply_voltage"] is StepState.SKIPPED
    with pytest.raises(GateClosed):
        check_not_reconnected(state(MADE_SAFE))


def test_the_makers_ban_is_a_gate_and_leaves_the_hold_out_of_the_plan():
    plan = build(Brief("three-lead", insulation_test_forbidden=True))
    assert not list(plan.doing(Act.APPLY))
    assert [place for place in plan.places if place.startswith("insulation")] == ["insulation.1-2-3@ohmmeter"]
    assert [one.step for one in plan.left_out] == ["insulation"]
    banned = situation(PLAN, entries(TO_HOLD[:-1]), WORKS, NOW)
    object.__setattr__(banned.plan, "left_out", plan.left_out)
    try:
        gate, _ = shut(banned, *PLAN.at("insulation.1-2-3.on"))
        assert (gate.key, gate.overrule.value) == ("banned", "never")
    finally:
        object.__setattr__(banned.plan, "left_out", ())
