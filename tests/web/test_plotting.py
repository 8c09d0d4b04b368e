"""The trend page and its file: the span, sisters, conditions, and what a round read."""

import csv
import io

import pytest
from sqlalchemy import text

from demo.big import FIRST_ID, Size, fill
from demo.rounds import seed_rounds
from demo.scenario import seed
from demo.works import MOTORS
from grimcoil.service.signing_in import actor_of
from grimcoil.store import plotting
from grimcoil.store.people import by_login
from grimcoil.store.tables import Job, Motor

SHOWN = ("DD-207", "DD-206", "BW-114")


@pytest.fixture
def electrician(store, clock):
    """One of the demo's people, with some of its motors."""
    with store.begin() as session:
        seed(session, clock(), [made for made in MOTORS if made.tag in SHOWN])
    seed_rounds(store, clock(), ("DD-207",))
    with store() as session:
        return actor_of(by_login(session, "rohrdommel"))


def lines(answer):
    return list(csv.DictReader(io.StringIO(answer.text)))


def test_every_signed_test_of_a_motor_with_its_conditions(client, engine_queries):
    engine_queries.clear()
    page = client.get("/motors/DD-207/trend").text
    assert 0 < len(engine_queries) <= 6
    rows = lines(client.get("/motors/DD-207/trend.csv"))
    assert page.count('<tr id="test-') == len(rows) == page.count('class="visit"') // 2 == 10
    assert {row["read_at"] for row in rows} == {"motor-box"}
    assert "500 V, T2 insulation" in page


def test_what_rounds_read_stands_on_the_same_axis(client):
    page = client.get("/motors/DD-207/trend").text
    assert "Frame, °C" in page
    assert page.count("<td>frame temperature</td>") == 6
    assert "Figures of inspection rounds" not in client.get("/motors/DD-207/trend?since=2021&until=2022").text


def test_a_span_of_years_is_cut_out_and_says_what_lies_before(client):
    rows = lines(client.get("/motors/DD-207/trend.csv?since=2022&until=2023"))
    assert {row["tested_on"][:4] for row in rows} == {"2022", "2023"}
    assert rows == lines(client.get("/motors/DD-207/trend.csv?since=2023&until=2022"))
    assert "Built 2012" in client.get("/motors/DD-207/trend?since=2022").text
    empty = client.get("/motors/DD-207/trend?since=1950&until=1951").text
    assert "No test in these years." in empty
    assert '<svg class="panels' not in empty


@pytest.mark.parametrize(("path", "status"), [("DD-207/trend?since=20", 422), ("NO/trend", 404), ("NO/trend.csv", 404)])
def test_years_that_are_none_and_motors_that_are_not_there(client, path, status):
    assert client.get(f"/motors/{path}").status_code == status


def test_sisters_alone_are_drawn_beside(client):
    plain, sister = (client.get(f"/motors/DD-207/trend{beside}").text for beside in ("", "?beside=DD-206"))
    assert sister.count('sister"') > plain.count('sister"') == 0
    assert client.get("/motors/DD-207/trend?beside=BW-114").text.count('sister"') == 0


def test_tests_under_other_conditions_than_the_last_are_marked(client, store):
    assert "unlike the last" not in client.get("/motors/DD-207/trend").text
    with store.begin() as session:
        first = (
            session.query(Job)
            .filter(Job.compares.is_not(None), Job.motor.has(tag="DD-207"))
            .order_by(Job.tested_on)
            .first()
        )
        first.compares = first.compares | {"test_voltage_v": 1000.0}
    assert client.get("/motors/DD-207/trend").text.count("unlike the last") == 1


def test_drops_of_poles_and_run_ups_stand_over_the_years(client, store):
    with store.begin() as session:
        jobs = session.query(Job).filter(Job.motor.has(tag="DD-207"), Job.state == "signed").order_by(Job.tested_on)
        for i, job in enumerate(jobs):
            drops = {"L1": 0.1 + 0.12 * i, "L2": 0.11, "L3": 0.12}
            job.assessment = job.assessment | {"contact_drop": [{"drops_v": drops}], "starts": [{"run_up_s": 4 + i}]}
    page = client.get("/motors/DD-207/trend").text
    for words in ("Drop across each closed pole, V", ">change the set<", "Run-up, s", ">L1<", ">L3<"):
        assert words in page
    newest = lines(client.get("/motors/DD-207/trend.csv"))[-1]
    assert (newest["drop_l1_v"], newest["drop_l3_v"], newest["run_up_s"]) == ("1.18", "0.12", "13")


def test_a_life_too_long_for_one_picture_goes_on_behind_it(client, store, monkeypatch):
    with store.begin() as session:
        fill(session, Size(2, 130, 0))
        number = FIRST_ID
    with store() as session:
        name = session.get(Motor, number).tag
    page = client.get(f"/motors/{name}/trend").text
    assert page.count('<tr id="test-') == 60
    assert "70 tests before" in page.replace("\n", " ")
    assert "60 of 130 tests" in page
    monkeypatch.setattr(plotting, "COUNTED", 100)
    page = client.get(f"/motors/{name}/trend").text.replace("\n", " ")
    assert "60 of 100+ tests" in page
    assert "The tests before" in page


def test_a_long_life_is_not_read_for_its_first_day_and_its_number(store, monkeypatch):
    monkeypatch.setattr(plotting, "COUNTED", 80)
    with store.begin() as session:
        fill(session, Size(2, 900, 0))
        session.execute(text("ANALYZE TABLE job"))
        counted = text("SHOW SESSION STATUS LIKE 'Handler_read%'")
        before = sum(int(n) for _, n in session.execute(counted))
        found = plotting.plotted_jobs(session, FIRST_ID, None, None)
        read = sum(int(n) for _, n in session.execute(counted)) - before
        ends = session.execute(
            text(f"SELECT MIN(tested_on), MAX(tested_on) FROM job WHERE motor_id = {FIRST_ID}")
        ).one()
    assert (len(found.jobs), found.in_span, (found.first, found.last)) == (60, 81, tuple(ends))
    assert read < 400
