"""The sheet of a starter: kept whole or not at all, judged with the motor that stands there, in the chain."""

import pytest
from sqlalchemy import select

from grimcoil.core.people import Role
from grimcoil.service.verifying import verify
from grimcoil.store.tables import Position
from tests.service.conftest import PLATE
from tests.support import add_person

FIGURES = {"starter": "star-delta", "timer_s": "4", "run_up_s": "9", "coil_v": "110", "starts_per_hour": "20"}


@pytest.fixture
def sheet(client, store):
    client.post("/motors/new", data=PLATE)
    with store() as session:
        return f"/positions/{session.scalar(select(Position.id))}/starter"


def test_kept_judged_and_put_right(client, sheet, store):
    assert "kind not said yet" in client.get(sheet).text
    assert "Nothing to judge yet" in client.get(sheet).text
    assert client.post(sheet, data=FIGURES).status_code == 303
    page = client.get(sheet).text
    for words in ("it changes over too early", "About 9 s.", "every <b>6 months</b>", 'value="4"', ">K3<"):
        assert words in page
    client.post(sheet, data=FIGURES | {"timer_s": "9,5"})
    page = client.get(sheet).text
    assert "Timer 9.5 s, " in page
    assert " 9 s: they fit." in page
    with store() as session:
        assert session.scalar(select(Position.circuit))["starter_figures"]["timer_s"] == 9.5
    assert verify(store).breaks == ()


def test_the_same_again_adds_nothing_to_the_trail(client, sheet):
    for _ in range(2):
        client.post(sheet, data=FIGURES)
    assert client.get("/audit-trail").text.count("starter data saved") == 1


@pytest.mark.parametrize(
    ("name", "typed", "said"),
    [
        ("timer_s", "-4", "greater"), ("timer_s", "9000", "from 0.1 to 600"), ("tap_percent", "five", "number"),
        ("starter", "magic", "direct"), ("coil_v", "nan", "finite"),
    ],
)  # fmt: skip
def test_what_cant_be_is_refused_at_its_field_and_nothing_is_lost(client, sheet, name, typed, said):
    answer = client.post(sheet, data=FIGURES | {name: typed})
    assert answer.status_code == 422
    assert f'id="e-{name}"' in answer.text
    assert said in answer.text
    assert 'value="20"' in answer.text
    assert "Nothing to judge yet" in client.get(sheet).text


def test_the_record_of_the_motor_leaves_the_sheet_alone_and_takes_a_trip_class(client, sheet):
    client.post(sheet, data=FIGURES)
    given = {"position.starter": "star-delta", "position.overload.trip_class": "10", "position.overload.dial_a": "12"}
    assert client.post("/motors/BW-1/data", data=given).status_code == 303
    page = client.get(sheet).text
    assert 'value="110"' in page
    assert "Run-up 9 s is shorter than class 10" in page
    assert "Dial 12 A, plate 21 A: it trips below full load." in page


def test_onto_the_round(client, sheet):
    client.post(sheet, data=FIGURES)
    client.post("/motors/BW-1/inspection/task", data={"task": "starter contacts", "months": "6"})
    assert "starter contacts" in client.get("/motors/BW-1/inspection").text.lower()


def test_who_may_and_what_isnt_there(client, sheet, sign_in, store):
    reader = sign_in(add_person(store, Role.READER, "R. Reader"))
    page = reader.get(sheet).text
    assert "Whoever keeps the register" in page
    assert 'name="timer_s"' not in page
    assert reader.post(sheet, data=FIGURES).status_code == 403
    assert client.get("/positions/99999/starter").status_code == 404
    assert client.get(sheet.replace("/starter", "")).text.count(sheet) == 1
