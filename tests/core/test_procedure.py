"""Gates and order of the routine job."""

from datetime import timedelta

import pytest

from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.errors import GateClosed, Unknown
from grimcoil.core.procedure.progress import StepState, check_place, check_skip, progress
from grimcoil.core.procedure.steps import ROUTINE, SLOTS, STEPS
from grimcoil.core.procedure.stops import STOPS, check_stops
from tests.support import EVEN, LIFTED, MADE_SAFE, NOW, PROVED_DEAD, TO_HOLD, TO_RESISTANCE, entries, entry


def state(script, later_s=0.0, **more):
    made = entries(script)
    return progress(made, FIELD_GENERAL, (made[-1].at if made else NOW) + timedelta(seconds=later_s), **more)


def after(made, later_s=0.0):
    return progress(made, FIELD_GENERAL, made[-1].at + timedelta(seconds=later_s))


HELD = (*TO_HOLD, ("insulation.30", "390M"), ("insulation.60", "520M"))
DEAD_ONLY = [
    s.key for s in ROUTINE if s.key in ("as_found", "temperature", "winding_resistance", "insulation", "reconnect")
]


def test_a_new_job_begins_with_isolation():
    new = state(())
    assert (new.step.key, new.slot.key) == ("isolate", "tag")


@pytest.mark.parametrize("step", DEAD_ONLY)
@pytest.mark.parametrize("script", [(), MADE_SAFE, (*MADE_SAFE, *PROVED_DEAD[:-1])])
def test_nothing_on_the_winding_before_proved_dead_and_never_overruled(step, script):
    place = f"{step}.{STEPS[step].slots[0].key}"
    with pytest.raises(GateClosed, match="prove it dead") as closed:
        check_place(state(script), place)
    assert not closed.value.can_overrule


@pytest.mark.parametrize(
    ("place", "text", "says"),
    [
        ("prove_dead.L2-L3", "478", "L2 to L3 shows 478"),
        ("prove_dead.before", "12", "proves nothing"),
        ("prove_dead.after", "0", "proves nothing"),
    ],
)
def test_proofs_that_do_not_prove(place, text, says):
    script = [(p, text if p == place else t) for p, t in (*MADE_SAFE, *PROVED_DEAD)]
    found = state(script)
    assert found.gates.proved_dead_at is None
    assert says in found.gates.dead_fault
    assert found.step.key == "prove_dead"
    with pytest.raises(GateClosed):
        check_place(found, "as_found.lead-1")


def test_proved_dead_opens_the_box():
    assert check_place(state((*MADE_SAFE, *PROVED_DEAD)), "as_found.lead-1")[0].key == "as_found"


def test_taking_back_a_proof_closes_the_gate_again():
    made = entries(TO_RESISTANCE)
    place = "prove_dead.L1-L2"
    made = [entry(e.seq, e.place, e.text, e.at, taken_back=True) if e.place == place else e for e in made]
    with pytest.raises(GateClosed):
        check_place(after(made), "winding_resistance.1-2")


@pytest.mark.parametrize("hard", ["prove_dead", "discharge"])
def test_hard_steps_cannot_be_skipped(hard):
    with pytest.raises(GateClosed, match="can't be skipped"):
        check_skip(state(MADE_SAFE), hard)


def test_other_steps_can_be_skipped_in_their_order():
    at = state((*MADE_SAFE, *PROVED_DEAD))
    assert check_skip(at, "as_found").key == "as_found"
    with pytest.raises(GateClosed, match="in their order"):
        check_skip(at, "temperature")
    skipped = state((*MADE_SAFE, *PROVED_DEAD, ("as_found", "spare on the bench")))
    assert skipped.standings["as_found"] is StepState.SKIPPED
    assert skipped.step.key == "instrument_check"


def test_out_of_order_names_the_step_that_is_open():
    with pytest.raises(GateClosed, match="Isolate") as closed:
        check_place(state(()), "prove_dead.before")
    assert closed.value.can_overrule
    with pytest.raises(GateClosed, match="Prove dead"):
        check_place(state(MADE_SAFE), "supply_voltage.restored")


@pytest.mark.parametrize(("mark", "waits"), [("30", 27), ("60", 57)])
def test_marks_wait_for_their_time(mark, waits):
    with pytest.raises(GateClosed, match="due in"):
        check_place(state(TO_HOLD, waits), f"insulation.{mark}")
    assert check_place(state(TO_HOLD, waits + 2), f"insulation.{mark}")


def test_marks_need_voltage_on():
    with pytest.raises(GateClosed, match="Voltage on"):
        check_place(state(TO_HOLD[:-1]), "insulation.60")


def discharged(applied_s, wait_s, volts=None):
    made = entries(HELD)
    on = next(e for e in made if e.place == "insulation.on")
    off = entry(len(made) + 1, "discharge.off", "confirmed", on.at + timedelta(seconds=applied_s))
    made = [*made, off]
    if volts is not None:
        made.append(entry(len(made) + 1, "discharge.volts", volts, off.at + timedelta(seconds=wait_s)))
    return progress(made, FIELD_GENERAL, off.at + timedelta(seconds=wait_s))


@pytest.mark.parametrize("place", ["reconnect.as-found", "supply_voltage.restored", "line_current.L1"])
def test_nothing_past_the_discharge_before_its_time_and_never_overruled(place):
    for at in (state(HELD, 30), discharged(70, 279.0), discharged(70, 281.0), discharged(70, 281.0, "48")):
        with pytest.raises(GateClosed, match="can't be overruled") as closed:
            check_place(at, place)
        assert not closed.value.can_overrule


def test_volts_left_are_taken_only_when_the_time_is_up():
    with pytest.raises(GateClosed, match="0:01 left"):
        check_place(discharged(70, 278.5), "discharge.volts")
    assert check_place(discharged(70, 280.0), "discharge.volts")


def test_about_zero_volts_open_the_way():
    done = discharged(70, 281.0, "0.4")
    assert not done.gates.charged
    assert done.step.key == "reconnect"
    assert check_place(done, "reconnect.as-found")


def test_discharge_is_four_times_the_longer_of_clock_and_marks():
    assert discharged(300, 0.0).discharge_left_s == pytest.approx(1200)
    assert discharged(20, 0.0).discharge_left_s == pytest.approx(240)


def test_a_start_taken_back_still_has_to_be_discharged():
    made = entries(TO_HOLD)
    made[-1] = entry(made[-1].seq, "insulation.on", "confirmed", made[-1].at, taken_back=True)
    at = after(made)
    assert at.gates.charged
    with pytest.raises(GateClosed):
        check_skip(at, "insulation")
    assert check_place(at, "discharge.off")


def test_voltage_off_is_open_at_any_time_of_the_hold():
    assert check_place(state(TO_HOLD, 3), "discharge.off")


def test_a_skipped_insulation_step_needs_no_discharge():
    at = state((*TO_RESISTANCE, *EVEN, ("insulation", "maker forbids it")))
    assert at.standings["discharge"] is StepState.SKIPPED
    assert at.step.key == "reconnect"


def test_power_back_closes_the_dead_tests_and_taking_it_back_voids_the_proof():
    made = entries((*MADE_SAFE, *PROVED_DEAD, *LIFTED))
    restored = entry(90, "supply_voltage.restored", "confirmed", made[-1].at)
    with pytest.raises(GateClosed, match="power was restored"):
        check_place(after([*made, restored]), "winding_resistance.1-2")
    undone = entry(90, "supply_voltage.restored", "confirmed", made[-1].at, taken_back=True)
    at = after([*made, undone])
    assert at.gates.proved_dead_at is None
    assert at.step.key == "isolate"


def test_a_signed_job_takes_nothing():
    with pytest.raises(GateClosed, match="signed"):
        check_place(state(TO_RESISTANCE, signed=True), "winding_resistance.1-2")


def test_unknown_places():
    with pytest.raises(Unknown):
        check_place(state(()), "isolate.nothing")
    with pytest.raises(Unknown):
        check_skip(state(()), "sign")


def test_stops_hold_until_a_reason_stands():
    at = state((*TO_RESISTANCE, *EVEN))
    with pytest.raises(GateClosed) as stopped:
        check_stops("insulation.on", at.kept, {"open-phase"})
    assert stopped.value.can_overrule
    reasoned = state((*TO_RESISTANCE, *EVEN, ("insulation!open-winding", "to find the earth fault")))
    check_stops("insulation.on", reasoned.kept, {"open-phase"})


def test_the_data_of_the_steps_hold_together():
    assert [s.number for s in ROUTINE] == list(range(1, len(ROUTINE) + 1))
    for stop in STOPS:
        assert stop.places <= set(SLOTS)
