"""The verbs of a job on a real database: what is kept, what is refused, what a double tap does."""

import json
from concurrent.futures import ThreadPoolExecutor

import pytest
from sqlalchemy import select

from grimcoil.core.errors import AlreadyKept, GateClosed, ReadingRefusal, RecordRefusal, Refusal, Unknown
from grimcoil.core.measured import InsulationTest
from grimcoil.core.people import Role
from grimcoil.core.plan.entries import BEGIN_AGAIN, NOT_RECONNECTED
from grimcoil.core.plan.live import Absurd
from grimcoil.core.plan.steps import Slot
from grimcoil.exchange.jobs import validated
from grimcoil.exchange.plans import read_plan_text
from grimcoil.service.closing import Cause, decide, sign
from grimcoil.service.job_files import export_job
from grimcoil.service.jobs import How, Start, keep, new_entry, open_bench, overrule, start_job, take_back
from grimcoil.service.several import keep_line
from grimcoil.store.tables import EntryRow, Job, MotorState
from tests.support import (
    EVEN,
    MADE_SAFE,
    PROVED_DEAD,
    SECRET,
    TO_HOLD,
    TO_RESISTANCE,
    WHOLE_JOB,
    add_person,
    at_box,
    walk,
)


def rows(store, job):
    with store() as session:
        return session.scalars(select(EntryRow).where(EntryRow.job_id == job).order_by(EntryRow.seq)).all()


DAMP = Cause(("damp",), "drain opened, heater mended")


def put_all(put, clock, script):
    walk(put, clock, [(place, text, 5) for place, text in script])


def test_a_whole_job_from_start_to_signature(store, job, put, clock, electrician):
    walk(put, clock, WHOLE_JOB)
    bench = open_bench(store, job, clock())
    assert bench.state.step.key == "decision"
    assert bench.whole.decision.action == "return"
    decide(store, job, "return", "", electrician, clock())
    signed = sign(store, job, electrician, SECRET, clock())
    assert signed.state.signed
    with store() as session:
        row = session.get(Job, job)
        state = session.get(MotorState, row.motor_id)
        assert row.assessment["decision"]["action"] == "return"
        assert row.core_version
        assert row.r40_low_mohm == row.r40_high_mohm == pytest.approx(520 * 0.7622, rel=1e-3)
        assert state.verdict == "sound"
        assert state.r_reference_ohm == pytest.approx(0.5347 * 259.5 / 254.5, rel=1e-3)
        assert json.loads(state.spark) == [[str(row.tested_on), row.r40_low_mohm, row.r40_high_mohm, row.winding_id]]


def test_readings_are_stored_as_typed(store, job, put, clock):
    put_all(put, clock, TO_RESISTANCE)
    put("winding_resistance.1-2", " 534,4 mΩ ")
    last = rows(store, job)[-1]
    assert (last.text, last.unit, last.shown, last.bound, last.who) == ("534,4 mΩ", "Ω", "value", "exact", "A. Tester")
    assert last.low == last.high == 0.5344
    assert last.digit == 0.0001
    assert last.at == clock()


def test_a_bound_is_stored_as_a_bound(store, job, put, clock):
    put_all(put, clock, TO_HOLD)
    clock.pass_(30)
    put("insulation.1-2-3.30", ">550M")
    last = rows(store, job)[-1]
    assert (last.low, last.high, last.bound) == (550e6, None, "above")


@pytest.mark.parametrize(
    ("text", "refusal"),
    [
        ("abc", ReadingRefusal),
        ("4..2", ReadingRefusal),
        ("OLL", ReadingRefusal),
        ("-1", ReadingRefusal),
        ("410M", ReadingRefusal),
    ],
)
def test_unreadable_readings_keep_nothing(store, job, put, clock, text, refusal):
    put_all(put, clock, TO_RESISTANCE)
    before = len(rows(store, job))
    with pytest.raises(refusal):
        put("winding_resistance.1-2", text)
    assert len(rows(store, job)) == before


@pytest.mark.at_box
def test_zero_to_frame_is_asked(store, job, put, clock):
    put_all(put, clock, at_box(TO_HOLD))
    clock.pass_(60)
    with pytest.raises(Refusal, match="short"):
        put("insulation.1-2-3.60", "0")
    assert put("insulation.1-2-3.60", "short").whole.decision.action == "rewind-or-replace"


def test_a_double_tap_keeps_once(store, job, put):
    put("isolate.tag", "BW-1", token="same-token")
    put("isolate.tag", "BW-1", token="same-token")
    assert len(rows(store, job)) == 1


def test_the_same_text_from_a_second_tab_changes_nothing(store, job, put):
    put("isolate.tag", "BW-1")
    put("isolate.tag", "BW-1")
    assert len(rows(store, job)) == 1


def test_another_value_from_a_second_tab_is_told_and_not_lost_silently(store, job, put, clock):
    put_all(put, clock, (*TO_RESISTANCE, EVEN[0]))
    with pytest.raises(AlreadyKept, match="undo that first") as told:
        put("winding_resistance.1-2", "0.6")
    assert "A. Tester" in told.value.found


def test_two_tabs_at_once_keep_one(store, job, clock, electrician):
    def tap(number):
        try:
            keep(store, job, "isolate.tag", "BW-1", electrician, f"tab-token-{number}", clock())
        except Refusal as refusal:
            return refusal
        return None

    with ThreadPoolExecutor(4) as pool:
        list(pool.map(tap, range(8)))
    assert len(rows(store, job)) == 1


def test_the_wrong_motor_is_refused(put):
    with pytest.raises(RecordRefusal, match="this job is for BW-1"):
        put("isolate.tag", "BW-2")


def test_steps_out_of_order_keep_nothing(store, job, put):
    with pytest.raises(GateClosed):
        put("winding_resistance.1-2", "0.5")
    with pytest.raises(Unknown):
        put("no.place", "0.5")
    assert rows(store, job) == []


def test_taking_back_marks_and_never_deletes(store, job, put, clock, electrician):
    put("isolate.tag", "BW-1")
    apprentice = add_person(store, Role.APPRENTICE, "B. Other", electrician)
    take_back(store, job, 1, apprentice, clock())
    take_back(store, job, 1, electrician, clock())
    kept = rows(store, job)
    assert [(r.text, r.taken_back_by) for r in kept] == [("BW-1", "B. Other (apprentice under A. Tester)")]
    put("isolate.tag", "BW-1")
    assert [r.taken_back_at is None for r in rows(store, job)] == [False, True]


def test_a_reason_stays_on_the_record(store, job, put, clock, electrician):
    put_all(put, clock, (*MADE_SAFE, *PROVED_DEAD))
    with pytest.raises(RecordRefusal, match="say why"):
        overrule(store, job, "as_found", " ", electrician, "skip-token-1", clock())
    bench = overrule(store, job, "as_found", "Spare motor on the bench", electrician, "skip-token-2", clock())
    overrule(store, job, "as_found", "Spare motor on the bench", electrician, "skip-token-2", clock())
    assert bench.state.step.key == "separate"
    assert [r.text for r in rows(store, job) if r.kind == "overrule"] == ["Spare motor on the bench"]


@pytest.mark.parametrize("hard", ["prove_dead", "discharge.1-2-3"])
def test_hard_gates_take_no_reason(store, job, put, clock, hard, electrician):
    put_all(put, clock, MADE_SAFE)
    with pytest.raises(GateClosed):
        overrule(store, job, hard, "I am sure", electrician, "skip-token-3", clock())


@pytest.mark.at_box
def test_an_open_winding_stops_the_insulation_test_unless_reasoned(store, job, put, clock, electrician):
    opened = [(p, "OL" if p.endswith(("e.2-3", "e.3-1")) else t) for p, t in at_box(TO_HOLD[:-1])]
    put_all(put, clock, opened)
    with pytest.raises(GateClosed, match="open") as stopped:
        put("insulation.1-2-3.on", "confirmed")
    assert stopped.value.can_overrule
    overrule(store, job, "insulation.1-2-3.on", "Looking for the earth fault", electrician, "stop-token-1", clock())
    assert put("insulation.1-2-3.on", "confirmed").state.safety.on_test


def failed_job(put, clock):
    """A motor whose minute failed, discharged, about to be reconnected."""
    script = [
        (p, "1.2M" if p in ("insulation.1-2-3.30", "insulation.1-2-3.60") else t, s) for p, t, s in at_box(WHOLE_JOB)
    ]
    walk(put, clock, script[: [p for p, _, _ in script].index("connection.checked")])


@pytest.mark.at_box
def test_a_failed_motor_is_neither_joined_nor_run_unless_reasoned(store, job, put, clock, electrician):
    failed_job(put, clock)
    for place in ("connection.checked", "reconnect.lead-1", "reconnect.as-found", "restore.restored"):
        with pytest.raises(GateClosed):
            put(place, "confirmed")
    reason = "Runs till Friday, R. Amsel watches it"
    overrule(store, job, "connection.checked", reason, electrician, "stop-token-2", clock())
    put("connection.checked", "confirmed")
    for n in "123":
        put(f"reconnect.lead-{n}", f"L{n}")
    assert put("reconnect.as-found", "confirmed").state.safety.joined
    put("reconnect.left", "-")
    assert put("restore.restored", "confirmed").state.safety.energised


@pytest.mark.at_box
def test_the_safe_way_needs_no_reason_and_leads_to_the_decision(store, job, put, clock, electrician):
    failed_job(put, clock)
    assert put(NOT_RECONNECTED, "").state.closing
    assert put(NOT_RECONNECTED, "").state.closing
    assert decide(store, job, "clean-dry", "", electrician, clock(), DAMP).job.decided_action == "clean-dry"


def test_after_a_live_reading_only_begin_again_is_taken(store, job, put, clock, electrician):
    put_all(put, clock, (*MADE_SAFE, PROVED_DEAD[0]))
    assert put("prove_dead.L1-L2", "277").state.safety.live
    for place, text in (
        ("prove_dead.L2-L3", "0"),
        ("isolate.lock-main", "again"),
        ("insulation.1-2-3.on", "confirmed"),
    ):
        with pytest.raises(GateClosed, match="LIVE 277 V on L1–L2"):
            put(place, text)
    take_back(store, job, len(MADE_SAFE) + 2, electrician, clock())
    with pytest.raises(GateClosed, match="LIVE 277 V"):
        put("prove_dead.L1-L2", "0")
    at = put(BEGIN_AGAIN, "")
    assert at.state.safety.live is None
    assert at.state.place == "isolate.lock-main"


def test_ten_times_the_expected_is_asked_and_kept_when_meant(store, job, put, clock, electrician):
    put_all(put, clock, TO_RESISTANCE)
    put("winding_resistance.1-2", "0.5344")
    with pytest.raises(Absurd, match="no motor reads so"):
        put("winding_resistance.2-3", "999.9k")
    kept = keep(
        store, job, "winding_resistance.2-3", "999.9k", electrician, "absurd-1", clock(), How(anyway=True)
    )  # fmt: skip
    assert "winding_resistance.2-3" in kept.state.kept.standing


def test_a_reading_keeps_its_true_second(store, job, put, clock, electrician):
    put_all(put, clock, TO_HOLD)
    clock.pass_(85)
    at = keep(store, job, "insulation.1-2-3.30", "390M", electrician, "second-1", clock(), How(held_s=82.0))
    entry = at.state.kept.standing["insulation.1-2-3.30"]
    assert entry.held_s == 82.0
    assert "Read at 82 s, not at 30 s" in at.said_of(entry).text
    clock.pass_(10)
    off = keep(store, job, "insulation.1-2-3.60", "520M", electrician, "second-2", clock(), How(held_s=4.0))
    assert off.state.kept.standing["insulation.1-2-3.60"].held_s is None


def test_the_countdown_shows_on_every_page_and_goes_when_done(store, job, put, clock):
    walk(put, clock, WHOLE_JOB[: [p for p, _, _ in WHOLE_JOB].index("discharge.1-2-3.volts")])
    with store() as session:
        due = session.get(Job, job).discharge_due_at
    assert 0 < (due - clock()).total_seconds() <= 4 * 62 + 1
    clock.pass_(260)
    put("discharge.1-2-3.volts", "0")
    with store() as session:
        assert session.get(Job, job).discharge_due_at is None


def test_deciding_otherwise_needs_a_reason(store, job, put, clock, electrician):
    walk(put, clock, WHOLE_JOB)
    with pytest.raises(RecordRefusal, match="say why"):
        decide(store, job, "replace", "", electrician, clock())
    with pytest.raises(RecordRefusal):
        decide(store, job, "burn", "because", electrician, clock())
    assert decide(store, job, "replace", "No spare for the frame", electrician, clock()).job.decided_action == "replace"


def test_nothing_changes_after_the_signature(store, job, put, clock, electrician):
    walk(put, clock, WHOLE_JOB)
    with pytest.raises(Refusal, match="decide first"):
        sign(store, job, electrician, SECRET, clock())
    decide(store, job, "return", "", electrician, clock())
    sign(store, job, electrician, SECRET, clock())
    with pytest.raises(GateClosed, match="signed"):
        put("line_current.L1", "3")
    with pytest.raises(GateClosed, match="signed"):
        take_back(store, job, 1, electrician, clock())
    with pytest.raises(GateClosed, match="signed"):
        decide(store, job, "return", "", electrician, clock())
    assert sign(store, job, electrician, SECRET, clock()).job.signed_by == "A. Tester"


def test_signing_needs_a_discharged_winding(store, job, put, clock, electrician):
    put_all(put, clock, TO_HOLD)
    with pytest.raises(GateClosed, match="cannot be overridden"):
        decide(store, job, "return", "", electrician, clock())


def test_starting_twice_starts_one(store, motor, clock, electrician):
    first = start_job(store, electrician, Start(motor, "start-token-9"), clock())
    assert start_job(store, electrician, Start(motor, "start-token-9"), clock()) == first
    other = add_person(store, Role.PLANNER, "B. Other")
    assert start_job(store, other, Start(motor, "start-token-10"), clock()) == first


@pytest.mark.parametrize(
    ("start", "refusal"),
    [
        (Start("NO-1", "start-token-2"), Unknown),
        (Start("BW-1", "start-token-4", criteria="mine"), RecordRefusal),
    ],
)
def test_bad_starts(store, motor, clock, start, refusal, electrician):
    with pytest.raises(refusal):
        start_job(store, electrician, start, clock())


def test_expected_resistance_comes_from_the_last_job(store, motor, put, clock, job, electrician):
    walk(put, clock, WHOLE_JOB)
    decide(store, job, "return", "", electrician, clock())
    sign(store, job, electrician, SECRET, clock())
    again = start_job(store, electrician, Start(motor, "start-token-20"), clock())
    for number, (place, text) in enumerate(TO_RESISTANCE):
        keep(store, again, place, text, electrician, f"again-{number:04}", clock())
    bench = open_bench(store, again, clock())
    expected = {slot.part: bench.expected_ohm(slot) for slot in bench.plan.step("winding_resistance").slots}
    assert expected == {pair: pytest.approx(0.5347, rel=1e-3) for pair in ("1-2", "2-3", "3-1")}
    assert bench.slot_scale("winding_resistance.1-2", None) is not None


def test_a_motor_that_nothing_was_read_of_has_no_scale_and_nothing_expected(store, motor, put, clock, job):
    put_all(put, clock, TO_RESISTANCE)
    bench = open_bench(store, job, clock())
    assert {bench.expected_ohm(slot) for slot in bench.plan.step("winding_resistance").slots} == {None}
    assert bench.slot_scale("winding_resistance.1-2", 0.84) is None


def test_insulation_that_fails_at_the_starter_grows_the_plan_to_the_box_and_clears_the_motor(
    store, job, put, clock, electrician
):
    low = [(p, "0.8M" if p.endswith((".30", ".60")) else t, s) for p, t, s in WHOLE_JOB]
    walk(put, clock, low[: [p for p, _, _ in low].index("by_hand.shaft")])
    bench = open_bench(store, job, clock())
    grown = [step.key for step in bench.plan.steps if step.rule]
    assert grown == [
        "prove_dead_box", "as_found@motor-box", "insulation.1-2-3@motor-box", "discharge.1-2-3@motor-box", "cable",
        "reconnect@motor-box",
    ]  # fmt: skip
    assert bench.state.step.key == "prove_dead_box"
    with pytest.raises(GateClosed, match="not proved dead"):
        put("insulation.1-2-3.on@motor-box", "confirmed")
    at = "@motor-box"
    box = [(p.replace("prove_dead", "prove_dead_box"), t, 5) for p, t in (MADE_SAFE[-1], *PROVED_DEAD)]
    box += [(f"as_found.lead-{n}{at}", f"U{n}", 5) for n in "123"] + [
        (f"as_found.{k}{at}", t, 5) for k, t in (("joint", "studs"), ("state", "sound"), ("links", "-"))
    ]
    box += [
        (f"insulation.1-2-3.{k}{at}", t, s)
        for k, t, s in (("on", "confirmed", 5), ("30", "500M", 30), ("60", "800M", 30))
    ]
    box += [
        (f"discharge.1-2-3.{k}{at}", t, s)
        for k, t, s in (("off", "confirmed", 5), ("short", "confirmed", 5), ("volts", "0", 290))
    ]
    cable = [(f"cable.{p}", "900M" if p != "V-E" else "0.02M", 20) for p in ("U-V", "V-W", "W-U", "U-E", "V-E", "W-E")]
    walk(put, clock, box + cable)
    after = open_bench(store, job, clock())
    held_at = [test.hookup.at for test in after.record.tests if isinstance(test, InsulationTest)]
    assert held_at == ["starter", "motor-box"]
    assert [result.verdict.value for result in after.whole.insulation] == ["act", "sound"]
    assert after.whole.by_kind["cable"][0].verdict.value == "act"
    assert not after.whole.stands.failed


def test_steps_that_came_go_when_what_brought_them_is_taken_back_unless_begun(store, job, put, clock, electrician):
    uneven = [(p, "0.9" if p == "winding_resistance.3-1" else t) for p, t in (*TO_RESISTANCE, *EVEN)]
    put_all(put, clock, uneven)
    bench = open_bench(store, job, clock())
    assert [s.key for s in bench.plan.steps if s.rule][-2:] == ["winding_resistance@motor-box", "reconnect@motor-box"]
    back = take_back(store, job, len(uneven), electrician, clock())
    assert not [s.key for s in back.plan.steps if s.because]
    assert put("winding_resistance.3-1", "0.9").state.step.key == "prove_dead_box"
    put("prove_dead_box.source", "a socket")
    after = take_back(store, job, len(uneven) + 1, electrician, clock())
    assert [(s.key, "no longer" in s.because) for s in after.plan.steps if s.because] == [("prove_dead_box", True)]
    with store() as session:
        kept = read_plan_text(session.get(Job, job).plan)
    assert kept == after.plan


def line(store, job, electrician, clock, text, token="line-token-1", place="winding_resistance.1-2"):
    return keep_line(store, job, place, text, electrician, token, clock())


def test_several_readings_fill_the_next_places_each_its_own_entry(store, job, put, clock, electrician):
    put_all(put, clock, TO_RESISTANCE)
    done = line(store, job, electrician, clock, "0.5344 0.5350 0.5347")
    assert done.refusal is None
    kept = done.bench.state.kept
    assert [kept.standing[place].text for place, _ in EVEN] == ["0.5344", "0.5350", "0.5347"]
    again = line(store, job, electrician, clock, "0.5344 0.5350 0.5347")
    assert (again.refusal, len(again.bench.rows)) == (None, len(done.bench.rows))


@pytest.mark.parametrize(("text", "kept"), [("0.5344 9999 0.5347", 1), ("9999 0.5347", 0)])
def test_a_slip_among_several_stops_there(store, job, put, clock, electrician, text, kept):
    put_all(put, clock, TO_RESISTANCE)
    stopped = line(store, job, electrician, clock, text)
    assert "Decimal point" in stopped.refusal.accepted
    assert stopped.rest == " ".join(text.split()[kept:])
    places = [place for place, _ in EVEN]
    assert [p for p in places if p in stopped.bench.state.kept.standing] == places[:kept]


@pytest.mark.parametrize("text", ["0.84 ohm", "1 2 3 4"])
def test_a_unit_is_no_second_reading_and_more_than_the_places_are_refused(store, job, put, clock, electrician, text):
    put_all(put, clock, TO_RESISTANCE)
    if "ohm" in text:
        assert line(store, job, electrician, clock, text).bench.state.place == "winding_resistance.2-3"
    else:
        with pytest.raises(Refusal, match="at most 3"):
            line(store, job, electrician, clock, text)


@pytest.mark.at_box
@pytest.mark.parametrize(
    ("cause", "words"),
    [
        (Cause(), "root cause"),
        (Cause(("damp",), ""), "come back"),
        (Cause(("gremlins",), "prayed"), "gremlins"),
        (Cause(("damp",), "x" * 501), "at most 500"),
    ],
)
def test_a_motor_to_act_on_asks_its_cause_and_what_is_changed(store, job, put, clock, electrician, cause, words):
    failed_job(put, clock)
    put(NOT_RECONNECTED, "")
    with pytest.raises(Refusal, match=words):
        decide(store, job, "clean-dry", "", electrician, clock(), cause)
    assert open_bench(store, job, clock()).job.decided_at is None
    decide(store, job, "clean-dry", "", electrician, clock(), DAMP)
    sign(store, job, electrician, SECRET, clock())
    out = export_job(store, job, clock())
    assert (out["root_causes"], out["changed"]) == (["damp"], "drain opened, heater mended")
    looked = {"joint": "stud", "state": "sound"}
    assert out["as_found"]["leads"] == {n: {"terminal": f"L{n}", **looked} for n in "123"}
    validated(out)


@pytest.mark.parametrize("text", [">14", "<14", "10-14", "OL", "14 cm", "long"])
def test_a_length_is_one_figure(store, job, clock, text):
    slot = Slot("disc", "Brake disc", "Its lining", field="length")
    bench = open_bench(store, job, clock())
    with pytest.raises(Refusal):
        new_entry(bench, slot, "by_hand.disc", text, "A. Tester", clock())
    assert new_entry(bench, slot, "by_hand.disc", "14,2 mm", "A. Tester", clock()).reading.amount.value == 14.2
