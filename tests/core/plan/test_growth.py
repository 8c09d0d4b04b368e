"""A plan that grows, or goes without."""

from dataclasses import replace

import pytest

from grimcoil.core.choices import Occasion
from grimcoil.core.decision.needs import OHM_SETS
from grimcoil.core.errors import GateClosed
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.entries import NOT_RECONNECTED
from grimcoil.core.plan.gates import shut
from grimcoil.core.plan.progress import (
    StepState,
    check_not_reconnected,
    check_place,
    situation,
)
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.steps import Act, Circuit, Where
from tests.core.plan.given import BAD, TO_JOIN, WORKS, state
from tests.core.plan.grown import Grown
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


TWO_SPEEDS = {"lead_scheme": "two-speed-two-winding", "rated_voltage_v": [460]}
UNEVEN = {"winding_resistance.1-2": "0.2611", "winding_resistance.2-3": "0.9", "winding_resistance.3-1": "0.9"}


def test_each_speed_has_its_own_volts_and_amps_and_each_is_a_key_test():
    job = Grown(**TWO_SPEEDS)
    live = [step for step in job.plan.steps if step.kind in ("supply_voltage", "line_current")]
    assert [(step.kind, step.winding) for step in live] == [
        ("supply_voltage", "low"), ("line_current", "low"), ("supply_voltage", "high"), ("line_current", "high")
    ]  # fmt: skip
    wanted = {need.place for need in job.whole.stands.missing if not need.dead}
    assert wanted == {place for step in live for place in step.needed}
    job.until("line_current.L1@high")
    assert {need.place for need in job.whole.stands.missing} == {f"line_current.L{n}@high" for n in "123"}
    assert job.until().state.closing
    assert not job.whole.stands.missing


def test_a_first_speed_that_failed_at_the_starter_does_not_shut_the_second():
    job = Grown(changed=UNEVEN, **TWO_SPEEDS).until("winding_resistance.11-12")
    assert "prove_dead_box" in job.keys
    job.keep("winding_resistance.11-12", "0.2611")
    job.keep("winding_resistance.12-13", "0.2611")
    job.keep("winding_resistance.13-11", "0.2611")
    assert job.state.step.key == "prove_dead_box"
    with pytest.raises(GateClosed, match="dead"):
        check_place(job.state, "winding_resistance.1-2@motor-box")


def test_once_the_box_took_over_every_dead_step_behind_it_is_there():
    job = Grown(changed=UNEVEN | {"as_found.lead-1": "T1"}, lead_scheme="three-lead-wye")
    assert job.plan.step("insulation.1-2-3").where == Where.STARTER
    job.until("prove_dead_box")
    first = job.keys.index("prove_dead_box")
    behind = [s for s in job.plan.steps[first:] if s.circuit is not Circuit.LIVE and not s.does(Act.JOIN)]
    assert {step.where for step in behind if step.key != "connection"} <= {Where.BOX, Where.SHAFT}
    assert "reconnect@motor-box" in job.keys
    for number, entry in enumerate(job.entries):
        if entry.place.startswith("winding_resistance"):
            job.entries[number] = replace(entry, taken_back=True)
    job._fold()
    assert job.plan.step("insulation.1-2-3").where == Where.STARTER
    assert "prove_dead_box" not in job.keys


@pytest.mark.parametrize(
    ("scheme", "opened", "parts"),
    [
        ("three-lead-wye", {"winding_resistance.1-2": "OL", "winding_resistance.3-1": "OL"}, ["1", "2-3"]),
        ("six-lead", {"winding_resistance.1-4": "OL"}, ["1", "4"]),
    ],
)
def test_each_part_of_an_open_winding_is_tested_by_itself_without_a_reason(scheme, opened, parts):
    job = Grown(occasion="dead-only", changed=opened, lead_scheme=scheme).until(f"insulation.{parts[0]}.")
    held = [step.key for step in job.plan.steps if step.rule == "open-parts" and step.does(Act.APPLY)]
    assert held == [f"insulation.{part}" for part in parts]
    assert job.state.step.key == held[0]
    job.until()
    assert {place for place in job.state.kept.standing if place.endswith(".60")} >= {f"{key}.60" for key in held}
    assert job.state.closing
    assert "insulation-failed" not in {f.code for f in job.whole.findings}


def test_a_part_alone_does_not_pass_the_whole():
    opened = {"winding_resistance.1-2": "OL", "winding_resistance.3-1": "OL", "insulation.2-3.60": "0.02"}
    job = Grown(occasion="dead-only", changed=opened, lead_scheme="three-lead-wye").until("insulation.2-3.on")
    frame = {one.need.place for one in job.whole.stands.stopped if one.need.kind == "insulation"}
    assert frame == {"insulation.1-2-3.60"}
    job.until()
    assert {need.kind.value for need in job.whole.stands.failed} == {"winding_resistance", "insulation"}


def test_a_brake_is_tried_and_one_that_slips_is_found():
    job = Grown(changed={"brake.holds": "slips", "accessories.brake-1": "120"}, brake={"feed": "two-lines"})
    assert [slot.key for slot in job.plan.step("isolate").slots] == ["tag", "lock-main", "lock-stored-load", "tried"]
    assert "carry its current too" in job.plan.step("line_current").caution
    job.until()
    assert "brake-not-holding" in {finding.code for finding in job.whole.findings}
    assert job.whole.decision.action == "repair-on-site"


def test_what_is_in_the_plan_is_asked_or_said_why_not():
    for scheme in ("three-lead", "nine-lead-wye"):
        job = Grown(lead_scheme=scheme, brake={"feed": "separate"})
        beside = [s.place(slot) for s in job.plan.steps for slot in s.slots if not slot.asked and slot.mark_s is None]
        assert beside == []
        job.until()
        assert job.state.closing


def test_giving_up_before_the_hold_asks_for_no_discharge():
    job = Grown(changed=UNEVEN, occasion="dead-only").until("insulation.1-2-3.volts")
    job.keep(NOT_RECONNECTED, "confirmed")
    assert job.state.closing


@pytest.mark.parametrize("occasion", sorted(Occasion))
@pytest.mark.parametrize("scheme", sorted(OHM_SETS))
def test_what_is_missing_is_a_place_of_the_plan_that_is_asked(scheme, occasion):
    job = Grown(occasion=occasion, lead_scheme=scheme)
    named = {need.place for need in job.whole.stands.missing} - {"walk"}
    asked = {place for step in job.plan.steps for place in step.asked}
    seconds = {
        place for place in named if place.endswith(".30")
    }  # an index: the plan waits for it, or for the tenth minute
    assert named - asked - seconds == set()
    assert seconds <= set(job.plan.places)


def test_giving_up_asks_for_no_proof_of_a_place_where_nothing_is_done_any_more():
    job = Grown(changed=UNEVEN).until("prove_dead_box")
    job.keep(NOT_RECONNECTED, "confirmed")
    assert job.state.closing
