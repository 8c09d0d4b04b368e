"""A plan that grows, or goes without."""

from datetime import timedelta
from zoneinfo import ZoneInfo

import pytest

from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.decision.needs import needs
from grimcoil.core.decision.standing import Standing
from grimcoil.core.errors import GateClosed
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.entries import NOT_RECONNECTED
from grimcoil.core.plan.gates import shut
from grimcoil.core.plan.progress import (
    StepState,
    check_not_reconnected,
    progress,
    situation,
)
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.safety import Site
from tests.support import (
    BY_HAND,
    EVEN,
    MADE_SAFE,
    NOW,
    PLAN,
    TO_HOLD,
    TO_RESISTANCE,
    entries,
)

WORKS = Site(FIELD_GENERAL, ZoneInfo("Europe/Berlin"))


def fold(made, later_s=0.0, codes=(), stands=Standing(), signed=False, now=None, plan=PLAN, failed=()):  # noqa: B008
    at = now or (made[-1].at if made else NOW) + timedelta(seconds=later_s)
    here = situation(plan, made, WORKS, at, signed)
    return progress(here, frozenset(codes), stands, signed=signed, failed=dict(failed))


def state(script, later_s=0.0, **more):
    return fold(entries(script), later_s, **more)


KEYS = {need.kind: need for need in needs("three-lead").keys}


BAD = [
    Standing(failed=(KEYS["insulation"],)),
    Standing(missing=(KEYS["winding_resistance"],)),
    Standing(unproven=(KEYS["winding_resistance"],)),
]


TO_JOIN = (*TO_RESISTANCE, *EVEN, ("insulation.1-2-3", "tester broken"), *BY_HAND, ("connection.checked", "confirmed"))


def test_a_motor_that_is_not_reconnected_goes_straight_to_the_decision():
    at = state((*TO_JOIN, (NOT_RECONNECTED, "confirmed")), stands=BAD[0])
    assert at.closing
    assert at.standings["supply_voltage"] is StepState.SKIPPED
    with pytest.raises(GateClosed):
        check_not_reconnected(state(MADE_SAFE))


def test_the_makers_ban_is_a_gate_and_leaves_the_hold_out_of_the_plan():
    plan = build(Brief("three-lead", insulation_test_forbidden=True))
    assert "insulation" not in {step.name for step in plan.steps}
    assert [one.step for one in plan.left_out] == ["insulation"]
    banned = situation(PLAN, entries(TO_HOLD[:-1]), WORKS, NOW)
    object.__setattr__(banned.plan, "left_out", plan.left_out)
    try:
        gate, _ = shut(banned, *PLAN.at("insulation.1-2-3.on"))
        assert (gate.key, gate.overrule.value) == ("banned", "never")
    finally:
        object.__setattr__(banned.plan, "left_out", ())
