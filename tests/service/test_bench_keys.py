"""The larger keys of the bench: Now, hold again, voltage off, a correction; a value typed late is asked."""

from datetime import timedelta

import pytest

from grimcoil.core.errors import Forbidden, GateClosed, RecordRefusal, Unknown
from grimcoil.core.measured import InsulationTest
from grimcoil.core.people import Role
from grimcoil.core.plan.live import Late
from grimcoil.service.amendments import Amendment, _put_right
from grimcoil.service.bench_keys import correct, hold_again, stamp, voltage_off
from grimcoil.service.handing_on import hand_on, takers
from grimcoil.service.jobs import How, keep, open_bench
from grimcoil.service.sheets import sheet
from tests.support import TO_HOLD, TO_RESISTANCE, add_person

MINUTE = "insulation.1-2-3.60"
ASKS = How(asks_late=True)


@pytest.fixture
def on_test(put, clock):
    for place, text in TO_HOLD:
        clock.pass_(1)
        put(place, text)


def held_tests(store, job, clock):
    tests = open_bench(store, job, clock()).record.tests
    return [test for test in tests if isinstance(test, InsulationTest)]


@pytest.mark.usefixtures("on_test")
def test_a_value_counts_for_the_second_at_which_now_was_pressed(store, job, put, clock, electrician):
    clock.pass_(61)
    first = stamp(store, job, MINUTE, electrician, "now-token-1", clock())
    assert first.state.kept.stamps[MINUTE].held_s == pytest.approx(61, abs=0.2)
    assert MINUTE not in first.state.kept.standing
    assert len(stamp(store, job, MINUTE, electrician, "now-token-2", clock()).rows) == len(first.rows)
    clock.pass_(200)
    put(MINUTE, "520M")
    (hold,) = held_tests(store, job, clock)
    assert [point.t_s for point in hold.series] == [pytest.approx(61, abs=0.2)]


@pytest.mark.usefixtures("on_test")
def test_a_stamped_value_may_be_typed_after_the_voltage_is_off_and_is_waited_for(store, job, put, clock, electrician):
    clock.pass_(60)
    stamp(store, job, MINUTE, electrician, "now-token-1", clock())
    voltage_off(store, job, electrician, "off-token-1", clock())
    put("discharge.1-2-3.short", "confirmed")
    clock.pass_(300)
    put("discharge.1-2-3.volts", "0")
    assert open_bench(store, job, clock()).state.place == MINUTE
    put(MINUTE, "520M")
    assert open_bench(store, job, clock()).state.step.key == "by_hand"
    with pytest.raises(GateClosed, match="over"):
        put("insulation.1-2-3.30", "400M")


@pytest.mark.usefixtures("on_test")
def test_now_before_its_mark_or_without_voltage_is_refused(store, job, put, clock, electrician):
    clock.pass_(20)
    with pytest.raises(GateClosed, match="due in"):
        stamp(store, job, MINUTE, electrician, "now-token-1", clock())
    with pytest.raises(GateClosed):
        stamp(store, job, "by_hand.shaft", electrician, "now-token-2", clock())
    clock.pass_(50)
    told = stamp(store, job, MINUTE, electrician, "now-token-3", clock(), 60.0)
    assert told.state.kept.stamps[MINUTE].held_s == 60.0  # pressed while the network was away
    with pytest.raises(Forbidden):
        stamp(store, job, MINUTE, add_person(store, Role.READER, "schwaden"), "now-token-4", clock())


@pytest.mark.usefixtures("on_test")
@pytest.mark.parametrize(("read_at", "second"), [("mark", 60), ("now", 81)])
def test_a_value_typed_late_is_asked_back(store, job, put, clock, electrician, read_at, second):
    clock.pass_(80)
    with pytest.raises(Late) as late:
        keep(store, job, MINUTE, "520M", electrician, "late-token-1", clock(), ASKS)
    assert (late.value.mark_s, round(late.value.second)) == (60, 80)
    assert "read at 1:00, or now, at 1:20?" in late.value.sentence()
    clock.pass_(1)
    keep(store, job, MINUTE, "520M", electrician, "late-token-2", clock(), How(asks_late=True, read_at=read_at))
    (hold,) = held_tests(store, job, clock)
    assert hold.series[0].t_s == pytest.approx(second, abs=0.2)


def whole_hold(store, job, put, clock, electrician, value, mark=""):
    put(f"insulation.1-2-3.on{mark}", "confirmed")
    clock.pass_(60)
    put(f"insulation.1-2-3.60{mark}", value)
    voltage_off(store, job, electrician, f"off{mark[1:]}-{value}-token", clock())
    put(f"discharge.1-2-3.short{mark}", "confirmed")
    clock.pass_(300)
    put(f"discharge.1-2-3.volts{mark}", "0")


def to_first_hold(put, clock):
    for place, text in TO_HOLD[:-1]:
        clock.pass_(1)
        put(place, text)


def test_hold_again_has_marks_of_its_own_and_the_worst_judges(store, job, put, clock, electrician):
    to_first_hold(put, clock)
    with pytest.raises(GateClosed, match="Hold again"):
        hold_again(store, job, "insulation.1-2-3", electrician, "again-token-0", clock())
    whole_hold(store, job, put, clock, electrician, "520M")
    made = hold_again(store, job, "insulation.1-2-3", electrician, "again-token-1", clock())
    again = hold_again(store, job, "insulation.1-2-3", electrician, "again-token-1", clock())
    assert len(again.rows) == len(made.rows)
    assert made.state.place == "insulation.1-2-3.on#2"
    assert {"insulation.1-2-3.60#2", "discharge.1-2-3.volts#2"} <= set(made.plan.places)
    whole_hold(store, job, put, clock, electrician, "2M", "#2")
    bench = open_bench(store, job, clock())
    assert len(held_tests(store, job, clock)) == 2
    assert "insulation" in bench.whole.stands.failed_words
    hold_again(store, job, "insulation.1-2-3#2", electrician, "again-token-2", clock())
    whole_hold(store, job, put, clock, electrician, "600M", "#3")
    bench = open_bench(store, job, clock())
    assert "insulation" in bench.whole.stands.failed_words  # a good one excuses no bad one
    assert len(held_tests(store, job, clock)) == 3


def test_after_near_zero_no_hold_is_offered(store, job, put, clock, electrician):
    to_first_hold(put, clock)
    whole_hold(store, job, put, clock, electrician, "0.01M")
    with pytest.raises(GateClosed, match="near zero"):
        hold_again(store, job, "insulation.1-2-3", electrician, "again-token-1", clock())
    with pytest.raises(Unknown):
        hold_again(store, job, "insulation.9", electrician, "again-token-2", clock())


def test_voltage_off_where_none_is_on_changes_nothing(store, job, put, clock, electrician):
    before = len(open_bench(store, job, clock()).rows)
    assert len(voltage_off(store, job, electrician, "off-token-1", clock()).rows) == before


def test_a_kept_value_is_corrected_in_one_go(store, job, put, clock, electrician):
    for place, text in (*TO_RESISTANCE, ("winding_resistance.1-2", "0.5344")):
        put(place, text)
    rows = open_bench(store, job, clock()).rows
    seq = rows[-1].seq
    fixed = correct(store, job, seq, "0.5434", electrician, "fix-token-1", clock())
    assert fixed.state.kept.standing["winding_resistance.1-2"].text == "0.5434"
    assert len(correct(store, job, seq, "0.5434", electrician, "fix-token-1", clock()).rows) == len(fixed.rows)
    proof = next(row.seq for row in rows if row.place == "prove_dead.L1-L2")
    with pytest.raises(GateClosed, match="proofs and insulation tests"):
        correct(store, job, proof, "0.2", electrician, "fix-token-2", clock())
    with pytest.raises(Unknown):
        correct(store, job, 999, "0.2", electrician, "fix-token-3", clock())
    with pytest.raises(RecordRefusal, match="terminal"):
        put("as_found.lead-1", "0.15600")


def test_a_lead_is_on_a_terminal_not_on_a_figure(store, job, put, clock, electrician):
    for place, text in TO_RESISTANCE:
        if place == "as_found.lead-1":
            break
        put(place, text)
    for figure in ("0.15600", "1,5", "480"):
        with pytest.raises(RecordRefusal, match="terminal, line or joint"):
            put("as_found.lead-1", figure)
    assert put("as_found.lead-1", "2T1").state.kept.standing["as_found.lead-1"].text == "2T1"


def test_a_job_is_handed_to_who_may_end_it(store, job, put, clock, electrician):
    apprentice = add_person(store, Role.APPRENTICE, "pieper", under=electrician)
    assert (electrician.login, electrician.name) in takers(store, apprentice)
    assert electrician.login not in dict(takers(store, electrician))
    assert hand_on(store, job, electrician.login, apprentice, clock()) == electrician.name
    with pytest.raises(RecordRefusal, match="decide and sign"):
        hand_on(store, job, "pieper", electrician, clock())
    with pytest.raises(RecordRefusal):
        hand_on(store, job, "nobody", electrician, clock() + timedelta(seconds=1))


def test_the_report_calls_the_second_and_the_wish_by_name_and_an_amendment_keeps_the_second(
    store, job, put, clock, electrician
):
    to_first_hold(put, clock)
    put("insulation.1-2-3.on", "confirmed")
    clock.pass_(60)
    stamp(store, job, MINUTE, electrician, "now-token-1", clock())
    clock.pass_(150)
    put(MINUTE, "520M")
    voltage_off(store, job, electrician, "off-token-1", clock())
    put("discharge.1-2-3.short", "confirmed")
    clock.pass_(1000)
    put("discharge.1-2-3.volts", "0")
    hold_again(store, job, "insulation.1-2-3", electrician, "again-token-1", clock())
    steps = dict(sheet(store, job, clock()).steps)
    labels = [label for label, _ in steps["8 Insulation to frame"]]
    assert {"1 min, Now", "1 min", "Wanted"} <= set(labels)
    bench = open_bench(store, job, clock())
    standing = bench.state.kept.standing[MINUTE]
    with store.begin() as session:
        wanted = Amendment("misread the tester", MINUTE, "500M", "amend-token-1")
        after, _ = _put_right(session, bench, electrician, wanted, clock())
    assert after.state.kept.standing[MINUTE].text == "500M"
    assert after.state.kept.standing[MINUTE].held_s == standing.held_s == pytest.approx(60, abs=0.2)
