"""A drying kept as it happens: gates, late times, a clock set back, taken back, ended; and what forbids its heat."""

from datetime import timedelta

import pytest
from sqlalchemy import text

from grimcoil.core.drying.cycle import Act, Stage
from grimcoil.core.errors import FormRefused, GateClosed, RecordRefusal, Unknown
from grimcoil.service import drying_figures
from grimcoil.service.dryings import Kept, begin, beginning, end, going_on, keep, look, take_back
from grimcoil.service.lives import life
from grimcoil.service.today import discharging
from grimcoil.store import dryings as rows

FORM = {"hookup": "one-and-two", "cold_ohm": "0.412", "cold_c": "18"}
FRAME = "1-2-3~frame"
OHM_AT_50 = 0.412 * (234.5 + 50) / (234.5 + 18)


@pytest.fixture
def drying(store, electrician, clock, motor):
    return begin(store, electrician, "BW-1", FORM, "begin-0001", clock())


@pytest.fixture
def act(store, electrician, clock, drying):
    tokens = iter(range(1000))

    def one(minutes, kept):
        clock.pass_(60 * minutes)
        return keep(store, electrician, drying, kept, f"entry-{next(tokens):04}", clock())

    return one


def read(act, mohm, minutes=1.0):
    act(minutes, Kept(Act.READ, insulation=f"{mohm / 1.4:.4g}M", t_s=30.0, ends=FRAME))
    act(0.5, Kept(Act.READ, insulation=f"{mohm:.4g}M", t_s=60.0, ends=FRAME))
    act(0.1, Kept(Act.SHORTED))
    return act(4.1, Kept(Act.FREED))


def heat(act, celsius=50.0):
    act(0.5, Kept(Act.HEAT_ON))
    ohm = 0.412 * (234.5 + celsius) / (234.5 + 18)
    act(10, Kept(Act.HEAT, amps="6.2", volts=f"{6.2 * ohm:.4f}"))
    act(14, Kept(Act.HEAT_OFF))
    act(0.5, Kept(Act.SHORTED))
    return act(1.2, Kept(Act.FREED))


def test_from_wet_to_dry_over_three_cycles_and_into_the_life(store, electrician, clock, drying, act):
    read(act, 2.0)
    for mohm in (300.0, 310.0, 312.0, 315.0, 316.0, 317.0):
        heat(act)
        read(act, mohm)
    view = look(store, drying, clock())
    assert (view.state.done, view.stands.cycles) == (True, 6)
    end(store, electrician, drying, "", clock())
    end(store, electrician, drying, "", clock())
    assert [event.note for event in life(store, "BW-1").events if event.kind == "dried"] == [
        "dry after 6 cycles of heat"
    ]
    assert (going_on(store), discharging(store)) == ([], [])
    with pytest.raises(GateClosed, match="ended"):
        act(1, Kept(Act.HEAT_ON))


def test_what_runs_is_followed_on_every_page(store, clock, drying, act):
    act(1, Kept(Act.HEAT_ON))
    (running,) = discharging(store)
    assert (running.number, running.tag, running.words, running.drying) == (drying, "BW-1", "drying, heat", True)
    assert running.due == clock() + timedelta(minutes=25)
    act(1, Kept(Act.HEAT_OFF))
    assert discharging(store) == []
    act(1, Kept(Act.SHORTED))
    assert discharging(store)[0].words == "drying, shorted to frame"


def test_gates_hold_and_nothing_is_half_kept(store, electrician, clock, drying, act):
    act(1, Kept(Act.HEAT_ON))
    for wrong in (Kept(Act.READ, insulation="5M", t_s=60.0, ends=FRAME), Kept(Act.HEAT_ON), Kept(Act.FREED)):
        with pytest.raises(GateClosed):
            act(1, wrong)
    for wrong, where in (
        (Kept(Act.HEAT, amps="6.2"), "volts"),
        (Kept(Act.HEAT, amps="0", volts="2"), "amps"),
        (Kept(Act.HEAT, amps="6.2", volts="x"), "volts"),
        (Kept(Act.HEAT, amps="6.2", volts="0.0001"), "amps"),
    ):
        with pytest.raises(RecordRefusal) as refused:
            act(1, wrong)
        assert refused.value.where == where
    with pytest.raises(GateClosed, match="isn't free"):
        end(store, electrician, drying, "it smokes", clock())
    assert len(look(store, drying, clock()).entries) == 1


def test_a_token_twice_is_once_and_the_last_is_taken_back(store, electrician, clock, drying, act):
    for _ in range(2):
        keep(store, electrician, drying, Kept(Act.HEAT_ON), "twice-0001", clock())
    (entry,) = look(store, drying, clock()).entries
    take_back(store, electrician, drying, entry.id, clock())
    take_back(store, electrician, drying, entry.id, clock())
    view = look(store, drying, clock())
    assert (view.stands.stage, view.entries[0].taken_back_by) == (Stage.FREE, "A. Tester")
    assert begin(store, electrician, "BW-1", FORM, "begin-0001", clock()) == drying
    with pytest.raises(GateClosed, match="goes on already"):
        begin(store, electrician, "BW-1", FORM, "begin-0002", clock())


def test_times_typed_late_keep_their_time_and_none_lies_ahead(store, electrician, clock, drying, act):
    act(1, Kept(Act.HEAT_ON))
    on_at = clock()
    clock.pass_(1200)
    late = on_at + timedelta(minutes=9)
    view = keep(store, electrician, drying, Kept(Act.HEAT, amps="6.2", volts="2.8", at=late), "late-0001", clock())
    assert (view.entries[-1].at, view.entries[-1].kept_at) == (late, clock())
    for wrong in (clock() + timedelta(minutes=1), on_at):
        with pytest.raises(RecordRefusal) as refused:
            keep(store, electrician, drying, Kept(Act.HEAT, amps="6.2", volts="2.8", at=wrong), "late-0002", clock())
        assert refused.value.where == "when"


def test_a_clock_set_back_ends_no_discharge(store, electrician, clock, drying, act):
    act(2, Kept(Act.READ, insulation="5M", t_s=60.0, ends=FRAME))
    act(0.1, Kept(Act.SHORTED))
    clock.pass_(-3600)
    with pytest.raises(GateClosed, match="to go"):
        act(0.1, Kept(Act.FREED))
    clock.pass_(3600 + 300)
    assert act(0.1, Kept(Act.FREED)).stands.stage is Stage.FREE


def test_a_second_drying_of_a_motor_is_refused_by_the_database_itself(store, electrician, clock, drying, monkeypatch):
    """Another host looked before this one was kept: no lock holds there."""
    asked = iter((None, drying))
    monkeypatch.setattr(rows, "open_of", lambda *_: next(asked))
    with pytest.raises(GateClosed, match="goes on already"):
        begin(store, electrician, "BW-1", FORM, "begin-0002", clock())
    monkeypatch.undo()
    end(store, electrician, drying, "bearing first", clock())
    assert begin(store, electrician, "BW-1", FORM, "begin-0003", clock()) != drying


def test_ended_before_it_is_dry_asks_why(store, electrician, clock, drying, act):
    read(act, 2.0)
    with pytest.raises(RecordRefusal, match="why it is ended"):
        end(store, electrician, drying, " ", clock())
    end(store, electrician, drying, "sent to the oven", clock())
    assert look(store, drying, clock()).drying.end_why == "sent to the oven"
    assert [event.kind for event in life(store, "BW-1").events] == ["built"]


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"cold_ohm": "OL"}, "cold_ohm"), ({"cold_ohm": ""}, "cold_ohm"), ({"cold_c": "hot"}, "cold_c"),
        ({"cold_c": "200"}, "cold_c"), ({"hookup": "delta-two-three"}, "hookup"), ({"hookup": "series"}, "hookup"),
        ({"cold_c": "nan"}, "cold_c"), ({"cold_c": ""}, "cold_c"), ({"current_limit_a": "inf"}, "current_limit_a"),
        ({"current_limit_a": "many"}, "current_limit_a"), ({"current_limit_a": "-3"}, "current_limit_a"),
    ],
)  # fmt: skip
def test_what_it_can_not_begin_with(store, electrician, clock, motor, change, field):
    with pytest.raises(FormRefused) as refused:
        begin(store, electrician, "BW-1", FORM | change, "begin-0003", clock())
    assert list(refused.value.fields) == [field]


@pytest.mark.parametrize("number", ["999999", "²", "1x", "-1"])
def test_a_job_that_is_not_the_motors_is_refused_and_nothing_begun(store, electrician, clock, motor, number):
    with pytest.raises(RecordRefusal, match="a job on BW-1"):
        begin(store, electrician, "BW-1", FORM | {"job": number}, "begin-0003", clock())
    assert beginning(store, "BW-1").open_id is None


def test_no_heat_into_an_open_winding(store, electrician, clock, motor, job):
    open_winding = '{"winding_resistance": [{"findings": [{"code": "open-phase", "text": "L1 is open."}]}]}'
    with store.begin() as session:
        session.execute(text("UPDATE job SET state = 'signed', assessment = :told"), {"told": open_winding})
    assert beginning(store, "BW-1").forbids == ["L1 is open."]
    with pytest.raises(GateClosed, match="L1 is open"):
        begin(store, electrician, "BW-1", FORM, "begin-0004", clock())
    with pytest.raises(Unknown):
        beginning(store, "XX-9")


@pytest.mark.parametrize(
    "change",
    ["volts = '2.9'", "insulation = '9M'", "at = at + interval 1 second", "taken_back_at = at, taken_back_by = 'A'",
     "who = 'B. Other'", "rotated_to = 'V'"],
)  # fmt: skip
def test_what_is_remembered_of_a_drying_follows_every_figure_of_every_entry(store, clock, drying, act, change):
    heat(act)
    before = look(store, drying, clock())
    assert look(store, drying, clock()).drawn is before.drawn
    with store.begin() as session:
        session.execute(text(f"UPDATE drying_entry SET {change} WHERE act = 'heat' AND drying_id = {drying}"))
    assert look(store, drying, clock()).drawn is not before.drawn


def test_no_more_dryings_are_remembered_than_a_bound(store, clock, drying, act, monkeypatch):
    monkeypatch.setattr(drying_figures, "REMEMBERED", 2)
    for _ in range(4):
        act(1, Kept(Act.READ, insulation="2M", t_s=60.0, ends=FRAME))
    assert len(drying_figures.WORKED) <= 2
