"""One trend and one baseline: page, register and command line say the same of the same tests and events."""

import json
from datetime import date

import pytest
from sqlalchemy import text

from grimcoil.cli.trend import judged
from grimcoil.core.people import Actor, Role
from grimcoil.exchange.histories import read_csv
from grimcoil.service.earlier import compare_earlier
from grimcoil.service.job_files import import_job
from grimcoil.service.jobs import open_bench
from grimcoil.service.motors import motor_view
from grimcoil.service.today import Asked, register
from grimcoil.store.tables import Job, LifeEvent, Motor, MotorState, WindingRow
from grimcoil.web.views.register import register_line

CLERK = Actor(None, "command line", Role.PLANNER, origin="command line")
FALLING = (900, 450, 240, 110, 60, 31)


def document(on, mohm, at="motor-box", volts=500, ohms=("0.5344", "0.5350", "0.5347"), **more):
    conditions = {"winding_temperature_c": 40, "ambient_temperature_c": 30, "date": f"{on}-03-01"}
    pairs = dict(zip(("1-2", "2-3", "3-1"), ohms, strict=True))
    tests = [
        {"kind": "winding_resistance", "readings": pairs},
        {"kind": "insulation", "at": at, "from": ["1", "2", "3"], "to": ["frame"], "test_voltage_v": volts,
         "series": [{"t_s": 60, "reading": f"{mohm}M"}]},
    ]  # fmt: skip
    made = {
        "format": "grimcoil-job/1",
        "motor": {"tag": "BW-1", "rated_voltage_v": 460, "lead_scheme": "three-lead-wye"},
        "conditions": conditions,
        "occasion": "dead-only",
        "tests": tests,
    }
    return json.dumps(made | more)


def put_in(store, clock, years, **more):
    for on, mohm in years.items():
        import_job(store, document(on, mohm, **more), CLERK, clock())


def happened(store, kind, on):
    with store.begin() as session:
        motor = session.query(Motor).filter_by(tag="BW-1").one()
        session.add(LifeEvent(motor_id=motor.id, on_day=on, kind=kind))


def csv_of(years, events=(), at=None):
    lines = [f"{on}-03-01,{mohm}M,500,60,40,motor-box," for on, mohm in years.items()]
    lines += [f"{on},,,,,,{event}" for on, event in events]
    return "\n".join(["date,reading,test_voltage_v,t_s,winding_temperature_c,at,event", *lines]).encode()


@pytest.mark.parametrize(
    ("kind", "event", "kept"),
    [("dried", "drying", 2), ("cleaned", "cleaning", 2), ("moved", "moved", 9), ("cable changed", "cable-changed", 2)],
)
def test_register_page_and_command_line_count_the_same_tests(store, motor, clock, kind, event, kept):
    happened(store, kind, date(2022, 6, 1))
    years = dict(zip(range(2016, 2025), (*FALLING, 28, 800, 790), strict=True))
    put_in(store, clock, years)
    told = judged(read_csv(csv_of(years, [(date(2022, 6, 1), event)])), 5, "routine")
    state = motor_view(store, motor).state
    assert told["n"] == kept
    assert (state.trend["n"], state.trend["left_out"]) == (told["n"], told["left_out"])
    assert state.trend["since"] == told["since"]
    assert [f["text"] for f in state.trend["findings"]] == [f["text"] for f in told["findings"]]
    crossing = state.trend.get("crosses") or {}
    assert crossing.get("earliest") == (told["crosses_minimum"] or {}).get("earliest")


def test_another_test_point_and_voltage_count_as_the_command_line_counts_them(store, motor, clock):
    put_in(store, clock, {2018: 700, 2019: 690}, at="starter")
    put_in(store, clock, {2020: 500, 2021: 490}, volts=1000)
    trend = motor_view(store, motor).state.trend
    assert (trend["n"], trend["left_out"], trend["since"]) == (2, 2, "2020-03-01")
    assert "At starter, 2 tests" in trend["findings"][-1]["text"]
    put_in(store, clock, {2022: 480})
    changed = [f for f in motor_view(store, motor).state.trend["findings"] if f["code"] == "series-changed"]
    assert "test voltage" in changed[0]["text"]


def test_a_reading_without_a_temperature_is_said_to_be_left_out(store, motor, clock):
    put_in(store, clock, {2020: 700})
    import_job(store, document(2021, 650, conditions={"date": "2021-03-01"}), CLERK, clock())
    trend = motor_view(store, motor).state.trend
    assert (trend["n"], trend["left_out"]) == (1, 1)
    assert "temperature-missing" in [f["code"] for f in trend["findings"]]


def test_a_rewind_starts_trend_and_baseline_anew(store, job, clock, motor):
    put_in(store, clock, {2018: 500, 2019: 450})
    before = open_bench(store, job, clock())
    assert before.subject.winding.baseline_ohm["1-2"] == pytest.approx(0.5344 * 259.5 / 274.5, rel=1e-6)
    with store.begin() as session:
        row = session.query(WindingRow).order_by(WindingRow.id.desc()).first()
        row.since = date(2011, 1, 1)
        made = WindingRow(motor_id=row.motor_id, since=date(2020, 1, 1), reason="rewound", lead_scheme=row.lead_scheme)
        session.add(made)
        session.flush()
        session.get(Job, job).winding_id = made.id
    put_in(store, clock, {2021: 900}, ohms=("0.6100", "0.6105", "0.6102"))
    trend = motor_view(store, motor).state.trend
    assert (trend["n"], trend["left_out"], trend["since"]) == (1, 2, "2021-03-01")
    after = open_bench(store, job, clock())
    assert after.subject.winding.baseline_ohm["1-2"] == pytest.approx(0.61 * 259.5 / 274.5, rel=1e-6)
    assert [round(dot.against_first or 0, 6) for dot in motor_view(store, motor).dots()] == [0, 0, 0]


def test_a_baseline_that_was_typed_outranks_the_first_job(store, job, clock, motor):
    put_in(store, clock, {2018: 500})
    with store.begin() as session:
        row = session.query(WindingRow).one()
        row.baseline = {"readings": {"1-2": "0.500", "2-3": "0.500", "3-1": "0.500"}, "winding_temperature_c": 25}
    assert open_bench(store, job, clock()).subject.winding.baseline_ohm == {"1-2": 0.5, "2-3": 0.5, "3-1": 0.5}
    (dot,) = motor_view(store, motor).dots()
    assert dot.against_first == pytest.approx(100 * (0.5347 * 259.5 / 274.5 / 0.5 - 1), rel=1e-6)


def test_data_from_before_learns_how_it_compares_once(store, motor, clock):
    put_in(store, clock, {2018: 700, 2019: 690}, at="starter", ohms=("0.5200", "0.5350", "0.5500"))
    with store() as session:
        before = [(job.compares["at"], job.compares["test_voltage_v"]) for job in session.query(Job).all()]
    with store.begin() as session:
        session.execute(text("UPDATE job SET compares = NULL"))
        session.execute(text("UPDATE motor_state SET balance = NULL"))
    assert (compare_earlier(store), compare_earlier(store)) == (2, 0)
    with store() as session:
        assert [(j.compares["at"], j.compares["test_voltage_v"]) for j in session.query(Job).all()] == before
        assert session.query(MotorState).one().balance == "watch"


@pytest.mark.parametrize(("criteria", "verdict"), [("field-general", "watch"), ("field-coarse", "sound")])
def test_register_and_page_judge_the_balance_by_the_jobs_own_limits(store, motor, clock, criteria, verdict):
    put_in(store, clock, {2020: 500}, ohms=("0.5200", "0.5350", "0.5500"), criteria=criteria)
    with store() as session:
        state = session.query(MotorState).one()
    assert (state.balance, round(state.unbalance_percent, 1)) == (verdict, 2.8)
    (row,) = register(store, Asked(), date(2020, 4, 1)).rows
    assert row.balance == verdict
    assert "2.8" in register_line(row, date(2020, 4, 1))
