"""Gates and order of the routine job."""

from datetime import timedelta

import pytest

from grimcoil.core.choices import LeadScheme, Occasion
from grimcoil.core.decision.needs import Stopped
from grimcoil.core.decision.standing import OPEN_STOPS, Standing
from grimcoil.core.errors import GateClosed, Unknown
from grimcoil.core.insulation.judge import judge_insulation
from grimcoil.core.measured import InsulationTest
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.entries import BEGIN_AGAIN
from grimcoil.core.plan.progress import (
    StepState,
    check_begin_again,
    check_place,
    check_skip,
)
from grimcoil.core.plan.recipes import RECIPES, build
from grimcoil.core.plan.record import made_of
from grimcoil.core.plan.steps import MOVED, Act
from grimcoil.core.plate import Plate
from grimcoil.core.subject import UNKNOWN, Subject
from tests.core.plan.given import HELD, KEYS, TO_JOIN, closed, fold, state
from tests.support import (
    EVEN,
    LIFTED,
    MADE_SAFE,
    NOW,
    PLAN,
    PROVED_DEAD,
    TO_HOLD,
    TO_RESISTANCE,
    entries,
    entry,
)


def changed(script, place, text):
    return [(p, text if p == place else t) for p, t in script]


def test_a_new_job_begins_with_isolation():
    new = state(())
    assert (new.step.key, new.slot.key) == ("isolate", "tag")


def test_proved_dead_opens_the_box():
    at = state((*MADE_SAFE, *PROVED_DEAD))
    assert at.safety.proved_at == entries((*MADE_SAFE, *PROVED_DEAD))[-1].at
    assert check_place(at, "as_found.lead-1")[0].key == "as_found"


@pytest.mark.parametrize("text", ["0.2", "12", "49"])
def test_a_tester_that_shows_nothing_on_a_live_source_goes_no_further(text):
    script = (*MADE_SAFE, ("prove_dead.before", text))
    at = state(script)
    assert (at.step.key, at.slot.key) == ("prove_dead", "before")
    assert "it is not proved" in closed(at, "prove_dead.L1-L2").found
    again = state((*script, *PROVED_DEAD))
    assert again.safety.proved_at is not None


def test_readings_count_only_between_two_proofs_of_the_tester():
    points = [p for p in PROVED_DEAD if p[0] not in ("prove_dead.before", "prove_dead.after")]
    for order in ([*points, PROVED_DEAD[0], PROVED_DEAD[-1]], [PROVED_DEAD[0], PROVED_DEAD[-1], *points]):
        assert state((*MADE_SAFE, *order)).safety.proved_at is None


def test_nothing_counts_before_the_lock():
    assert state((*PROVED_DEAD, *MADE_SAFE)).safety.proved_at is None


def test_one_point_read_again_needs_both_proofs_of_the_tester_again():
    made = entries((*MADE_SAFE, *PROVED_DEAD))
    made = [entry(e.seq, e.place, e.text, e.at, e.place == "prove_dead.L2-L3") for e in made]
    at = fold(made)
    assert (at.step.key, at.slot.key, at.safety.proved_at) == ("prove_dead", "before", None)
    closed(at, "prove_dead.L2-L3")
    for place, text in (("prove_dead.before", "480"), ("prove_dead.L2-L3", "0.1"), ("prove_dead.after", "480")):
        at = fold(made)
        check_place(at, place)
        made.append(entry(len(made) + 1, place, text, made[-1].at + timedelta(seconds=9)))
    assert fold(made).safety.proved_at is not None


@pytest.mark.parametrize(
    ("text", "words"), [("277", "LIVE 277 V on L2–L3"), ("12", "Not dead: 12 V on L2–L3"), (">6", "LIVE")]
)
def test_a_live_reading_stops_the_work_and_voids_the_whole_proof(text, words):
    made = entries(changed((*MADE_SAFE, *PROVED_DEAD), "prove_dead.L2-L3", text)[: len(MADE_SAFE) + 3])
    at = fold(made)
    for place in (
        "prove_dead.L3-L1",
        "prove_dead.before",
        "isolate.lock-main",
        "as_found.lead-1",
        "restore.restored",
    ):
        refused = closed(at, place)
        assert words in refused.found
        assert not refused.can_overrule
    with pytest.raises(GateClosed):
        check_skip(at, "as_found")
    check_begin_again(at)


def test_taking_back_the_live_values_and_typing_zeros_turns_nothing_green():
    made = entries(changed((*MADE_SAFE, *PROVED_DEAD), "prove_dead.L2-L3", "277"))
    made = [entry(e.seq, e.place, e.text, e.at, e.text == "277") for e in made]
    made.append(entry(len(made) + 1, "prove_dead.L2-L3", "0.1", made[-1].at))
    at = fold(made)
    assert at.safety.proved_at is None
    assert at.safety.live is not None
    made.append(entry(len(made) + 1, BEGIN_AGAIN, "confirmed", made[-1].at))
    at = fold(made)
    assert (at.safety.live, at.step.key, at.slot.key) == (None, "isolate", "tag") or at.slot.key == "lock-main"
    assert at.safety.proved_at is None
    start = made[-1].at
    for i, (place, text) in enumerate((*MADE_SAFE[1:], *PROVED_DEAD)):
        made.append(entry(len(made) + 1, place, text, start + timedelta(seconds=5 * i)))
    assert fold(made).safety.proved_at is not None


def test_begin_again_is_for_after_a_live_reading_only():
    with pytest.raises(GateClosed):
        check_begin_again(state(MADE_SAFE))


def test_it_moved_is_a_sign_of_life():
    at = state(changed(MADE_SAFE, "isolate.tried", MOVED))
    assert "The motor moved" in closed(at, "prove_dead.before").found


def test_a_proof_falls_with_the_day_of_the_works_with_time_and_with_another_hand():
    made = entries((*MADE_SAFE, *PROVED_DEAD, *LIFTED))
    assert fold(made, 7200).safety.proved_at is not None
    late = fold(made, 7201)
    assert (late.safety.proved_at, late.step.key) == (None, "isolate")
    assert "2 hours" in late.safety.fault
    midnight = NOW.replace(hour=22, minute=59, second=40)
    evening = entries((*MADE_SAFE, *PROVED_DEAD), midnight - timedelta(seconds=55), 1)
    assert fold(evening, now=midnight).safety.proved_at is not None
    assert "another day" in fold(evening, now=midnight + timedelta(seconds=30)).safety.fault
    other = [*made, entry(len(made) + 1, "instrument_check.leads-apart", "OL", made[-1].at, who="B. Other")]
    assert "B. Other" in fold(other).safety.fault
    same = [*made, entry(len(made) + 1, "instrument_check.leads-apart", "OL", made[-1].at)]
    assert fold(same).safety.proved_at is not None


def test_a_signed_job_ages_no_more():
    made = entries((*MADE_SAFE, *PROVED_DEAD, *LIFTED))
    assert fold(made, 10**6, signed=True).safety.proved_at is not None


@pytest.mark.parametrize("step", ["prove_dead", "discharge.1-2-3", "isolate"])
def test_the_act_of_proof_and_the_discharge_cannot_be_skipped(step):
    with pytest.raises(GateClosed, match="can't be skipped"):
        check_skip(state(MADE_SAFE), step)


def test_other_steps_can_be_skipped_in_their_order():
    at = state((*MADE_SAFE, *PROVED_DEAD))
    assert check_skip(at, "as_found").key == "as_found"
    with pytest.raises(GateClosed, match="in their order"):
        check_skip(at, "temperature")
    skipped = state((*MADE_SAFE, *PROVED_DEAD, ("as_found", "spare on the bench")))
    assert skipped.standings["as_found"] is StepState.SKIPPED
    assert skipped.step.key == "separate"


def test_out_of_order_names_the_step_that_is_open():
    at = state((*MADE_SAFE, *PROVED_DEAD))
    refused = closed(at, "temperature.winding")
    assert "As-found" in refused.found
    assert refused.can_overrule


def test_a_skipped_insulation_step_needs_no_discharge():
    at = state((*TO_RESISTANCE, *EVEN, ("insulation.1-2-3", "tester broken")))
    assert at.standings["discharge.1-2-3"] is StepState.SKIPPED
    assert at.step.key == "by_hand"


def test_after_a_failed_minute_the_next_key_is_voltage_off():
    at = state(HELD, failed={"insulation.1-2-3": "insulation low"})
    assert at.place == "discharge.1-2-3.off"
    refused = closed(at, "insulation.1-2-3.600")
    assert refused.can_overrule
    assert state(HELD).place == "discharge.1-2-3.off"


@pytest.mark.parametrize(
    ("held", "mark"),
    [(0, "60"), (13, "60"), (59, "60"), (400, "60")],
)
def test_only_the_marks_that_the_plan_asks_are_asked_and_others_are_taken(held, mark):
    """The minute is what every verdict rests on: it is waited for."""
    on = entries(TO_HOLD)
    assert fold(on, held).place == f"insulation.1-2-3.{mark}"
    assert fold([*on, entry(99, "insulation.1-2-3.30", "300M", on[-1].at)], held).slot.mark_s == 60
    if held >= 13:
        assert check_place(fold(on, held), "insulation.1-2-3.10")


def test_a_hold_ended_before_its_minute_is_a_spot_hold():
    spot = (*TO_HOLD, ("insulation.1-2-3.10", "300M"), ("discharge.1-2-3.off", "confirmed"))
    assert state(spot).place == "discharge.1-2-3.short"
    made = made_of(PLAN, state(spot).kept, (), UNKNOWN)
    hold = next(one.test for one in made if isinstance(one.test, InsulationTest))
    assert [f.code for f in judge_insulation(hold, Subject(Plate((460,)))).findings if "spot" in f.code] == [
        "spot-only"
    ]


def test_power_back_ends_the_proof_and_taking_it_back_starts_it_anew():
    made = entries((*MADE_SAFE, *PROVED_DEAD, *LIFTED))
    restored = entry(90, "restore.restored", "confirmed", made[-1].at)
    assert "power was restored" in closed(fold([*made, restored]), "winding_resistance.1-2").found
    undone = entry(90, "restore.restored", "confirmed", made[-1].at, taken_back=True)
    at = fold([*made, undone])
    assert (at.safety.proved_at, at.step.key) == (None, "isolate")


def test_once_reconnected_nothing_floats():
    at = state((*TO_JOIN, ("reconnect.as-found", "confirmed")))
    assert at.safety.lifted
    assert at.safety.joined


def test_a_signed_job_takes_nothing():
    assert "signed" in closed(state(TO_RESISTANCE, signed=True), "winding_resistance.1-2").accepted


def test_unknown_places():
    with pytest.raises(Unknown):
        check_place(state(()), "isolate.nothing")
    with pytest.raises(Unknown):
        check_skip(state(()), "sign")


def test_stops_hold_until_a_reason_stands():
    stopped = Standing(stopped=(Stopped(KEYS["insulation"], OPEN_STOPS),))
    at = state((*TO_RESISTANCE, *EVEN, ("insulation.1-2-3.volts", "500")), codes=["open-phase"], stands=stopped)
    assert closed(at, "insulation.1-2-3.on").can_overrule
    assert at.standings["insulation.1-2-3"] == at.standings["discharge.1-2-3"] == "stopped"
    assert at.step.key == "by_hand"
    reasoned = (
        *TO_RESISTANCE,
        *EVEN,
        ("insulation.1-2-3.volts", "500"),
        ("insulation.1-2-3!open-winding", "to find the fault"),
    )
    open_again = state(reasoned, codes=["open-phase"], stands=stopped)
    assert check_place(open_again, "insulation.1-2-3.on")
    assert open_again.step.key == "insulation.1-2-3"


@pytest.mark.parametrize("scheme", LeadScheme)
@pytest.mark.parametrize("occasion", RECIPES)
@pytest.mark.parametrize("forbidden", [False, True])
def test_every_recipe_builds_for_every_scheme(scheme, occasion, forbidden):
    plan = build(Brief(scheme, occasion, forbidden))
    assert [s.number for s in plan.steps] == list(range(1, len(plan.steps) + 1))
    assert len(plan.places) == sum(len(step.slots) for step in plan.steps)
    assert all(slot.ask and slot.label for _, slot in plan.places.values())
    assert plan.proofs or occasion is Occasion.CALL_OUT
    assert forbidden <= (not list(plan.doing(Act.APPLY)))
    tester = {slot.key for step in plan.steps for slot in step.slots if "insulation" in slot.functions}
    assert not (forbidden and tester)


def test_on_the_floor_there_is_no_lock_no_joining_and_no_power():
    plan = build(Brief("three-lead", Occasion.DEAD_ONLY))
    assert plan.at("prove_dead.locks")[1].act is Act.LOCK
    assert "no supply, brake or heater wire" in plan.at("prove_dead.locks")[1].ask
    assert not list(plan.doing(Act.JOIN, Act.RESTORE, Act.LIVE_READING))
