"""The table of gates: what is shut, and what opens it."""

from datetime import timedelta

import pytest

from grimcoil.core.choices import Occasion
from grimcoil.core.decision.needs import needs
from grimcoil.core.decision.standing import Standing
from grimcoil.core.findings import Verdict
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.gates import BY_KEY, GATES, Overrule
from grimcoil.core.plan.progress import (
    check_not_reconnected,
    check_place,
    situation,
    stop_at,
)
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.record import made_of
from grimcoil.core.plan.steps import Act, Circuit
from grimcoil.core.side.single_phase import judge_capacitor_ohms
from grimcoil.core.subject import UNKNOWN, Fitting
from tests.core.plan.given import BAD, HELD, KEYS, TO_JOIN, WORKS, closed, discharged, fold, state
from tests.support import (
    MADE_SAFE,
    NOW,
    PLAN,
    PROVED_DEAD,
    TO_HOLD,
    entries,
    entry,
)

DEAD_STEPS = [
    s.key for s in PLAN.steps if s.circuit is not Circuit.LIVE and s not in PLAN.proofs and s.name != "discharge"
]


@pytest.mark.parametrize("step", DEAD_STEPS)
@pytest.mark.parametrize("script", [(), MADE_SAFE, (*MADE_SAFE, *PROVED_DEAD[:-1])])
def test_nothing_on_the_winding_before_proved_dead_and_never_overruled(step, script):
    place = f"{step}.{PLAN.step(step).slots[0].key}"
    refused = closed(state(script), place)
    assert "Prove dead" in refused.accepted
    assert not refused.can_overrule


@pytest.mark.parametrize(("mark", "waits"), [("30", 27), ("60", 57)])
def test_marks_wait_for_their_time(mark, waits):
    assert "due in" in closed(state(TO_HOLD, waits), f"insulation.1-2-3.{mark}").found
    assert check_place(state(TO_HOLD, waits + 2), f"insulation.1-2-3.{mark}")


def test_marks_need_voltage_on():
    assert "Voltage on" in closed(state(TO_HOLD[:-1]), "insulation.1-2-3.60").accepted


OHMS = ["winding_resistance.1-2", "as_found.lead-2", "temperature.winding", "reconnect.as-found", "line_current.L1"]


@pytest.mark.parametrize("place", OHMS)
def test_a_charged_winding_takes_nothing_and_never_overruled(place):
    taken_back = [entry(e.seq, e.place, e.text, e.at, e.place == place) for e in entries(HELD)]
    for at in (state(HELD, 30), fold(taken_back, 30), discharged(70, 279.0), discharged(70, 281.0, "48")):
        refused = closed(at, place)
        assert "cannot be overridden" in refused.accepted
        assert not refused.can_overrule


def test_voltage_off_and_shorted_are_two_acts():
    made = entries(HELD)
    assert "Switch the tester off" in closed(fold(made), "discharge.1-2-3.short").accepted
    made.append(entry(len(made) + 1, "discharge.1-2-3.off", "confirmed", made[-1].at + timedelta(seconds=5)))
    at = fold(made, 9999)
    assert (at.step.key, at.slot.key, at.discharge_left_s) == ("discharge.1-2-3", "short", None)
    assert "not shorted" in closed(at, "discharge.1-2-3.volts").found


def test_volts_left_are_taken_only_when_the_time_is_up():
    assert "0:01 left" in closed(discharged(70, 278.5), "discharge.1-2-3.volts").found
    assert check_place(discharged(70, 280.0), "discharge.1-2-3.volts")


def test_about_zero_volts_open_the_way():
    done = discharged(70, 281.0, "0.4")
    assert done.safety.charged is None
    assert done.step.key == "by_hand"


def test_voltage_off_is_open_at_any_time_of_the_hold():
    assert check_place(state(TO_HOLD, 3), "discharge.1-2-3.off")


@pytest.mark.parametrize("stands", BAD)
@pytest.mark.parametrize("place", ["reconnect.as-found", "restore.restored"])
def test_power_waits_for_the_dead_key_tests(stands, place):
    at = state(TO_JOIN, stands=stands)
    refused = closed(at, place)
    assert refused.can_overrule or place != at.place
    assert stop_at(at, "reconnect.as-found") == "power!dead-tests"
    check_not_reconnected(at)
    over = state((*TO_JOIN, ("power!dead-tests", "it must run until Friday, R. watches it")), stands=stands)
    assert check_place(over, "reconnect.as-found")


def test_live_key_tests_do_not_hold_the_power_back():
    live = Standing(missing=(KEYS["supply_voltage"], KEYS["line_current"]))
    assert check_place(state(TO_JOIN, stands=live), "reconnect.as-found")


def test_what_a_ban_leaves_out_asks_for_a_sentence():
    left = Standing(left_out=needs("three-lead", "routine", forbidden=True).left_out)
    at = state(TO_JOIN, stands=left)
    assert "stays unproven" in closed(at, "reconnect.as-found").found
    assert stop_at(at, "reconnect.as-found") == "power!left-out"


def test_every_act_has_a_gate():
    as_it_runs = build(Brief("three-lead", taking=frozenset({"as_running"})))
    for act in Act:
        if act not in (Act.NONE, Act.REMOVE_AND_SHORT):  # the last is of plans of the first version only
            asked = [*PLAN.doing(act), *as_it_runs.doing(act)]
            assert any(gate.guards(step, slot) for _, step, slot in asked for gate in GATES)


def test_another_hold_waits_for_the_discharge_of_the_first_and_never_overruled():
    plan = build(Brief("six-lead", Occasion.AFTER_DRYING))
    first, second = (place for place, _, _ in list(plan.doing(Act.APPLY))[:2])
    made = [entry(1, first, "confirmed", NOW, plan=plan)]
    refused = closed(fold(made, 30, plan=plan), second)
    assert "cannot be overridden" in refused.accepted or "Prove dead" in refused.accepted
    assert not refused.can_overrule
    here = situation(plan, made, WORKS, NOW + timedelta(seconds=30))
    charged = next(gate for gate in GATES if gate.key == "charged")
    assert charged.found(here, *plan.at(second)) == "test voltage still on the winding"
    assert charged.found(here, *plan.at(first)) is None


@pytest.mark.parametrize(
    ("volts", "found"), [(None, "not read"), ("12", "12 V still on it"), ("5.1", "5.1 V"), ("5.0", None), ("0", None)]
)
def test_a_capacitor_is_read_only_once_it_shows_about_zero(volts, found):
    plan = build(Brief("three-lead", fittings=(Fitting("capacitor", ("C1", "C2")),)))
    made = [] if volts is None else [entry(1, "accessories.C1-C2.volts", volts, NOW, plan=plan)]
    at = situation(plan, made, WORKS, NOW)
    for side in ("start", "end", "frame"):
        step, slot = plan.at(f"accessories.C1-C2.{side}")
        gate = BY_KEY["capacitor"]
        assert gate.guards(step, slot)
        assert gate.overrule is Overrule.NEVER
        told = gate.found(at, step, slot)
        assert told is None if found is None else found in told
    assert not BY_KEY["capacitor"].guards(*plan.at("accessories.C1-C2.volts"))


def test_a_capacitors_ohms_are_judged_as_its_side_sheet():
    plan = build(Brief("three-lead", fittings=(Fitting("capacitor", ("C1", "C2")),)))
    typed = (("volts", "0.1"), ("start", "5"), ("end", "OL"), ("frame", "OL"))
    made = [entry(i, f"accessories.C1-C2.{side}", text, NOW, plan=plan) for i, (side, text) in enumerate(typed, 1)]
    tests = [one.test for one in made_of(plan, situation(plan, made, WORKS, NOW).kept, (), UNKNOWN)]
    assert judge_capacitor_ohms(tests[0]).verdict is Verdict.SOUND
    assert (tests[1].what, tests[1].reading) == ("capacitor", None)


# Whether a typed reason opens a gate, for the whole table: safety, and what would falsify a reading, never gives way.
OVERRULABLE = {"order", "failed-hold", "open-winding", "dead-tests", "left-out", "put-back"}


def test_only_these_gates_open_with_a_reason():
    for gate in GATES:
        assert (gate.overrule is Overrule.WITH_REASON) == (gate.key in OVERRULABLE), gate.key
        assert ("overruled" in gate.accepted) <= (gate.overrule is Overrule.NEVER)
    assert {"not-proved", "charged", "time-up", "capacitor", "banned", "live-found", "energised"}.isdisjoint(
        OVERRULABLE
    )
