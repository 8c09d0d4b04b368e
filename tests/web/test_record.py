"""The record of a motor as a plain form: named as the formats name it, refused by its field, one link a change."""

import re

import pytest

from grimcoil.core.choices import LeadScheme
from grimcoil.service.details import details, nested
from grimcoil.service.jobs import open_bench
from grimcoil.service.verifying import verify
from grimcoil.store.tables import Position, WindingRow
from tests.service.conftest import PLATE

WHOLE = {
    "motor.ratings.0.speed": "low",
    "motor.ratings.0.voltage_v": "460",
    "motor.ratings.0.power": "7.5 kW",
    "motor.ratings.1.speed": "high",
    "motor.ratings.1.full_load_current_a": "24,5",
    "motor.accessories.0.what": "thermostat",
    "motor.accessories.0.leads": "P1, P2",
    "motor.brake.feed": "two-lines",
    "motor.brake.coil": "120 ohm",
    "motor.maker_plate.rated_voltage_v": "230/460",
    "motor.baseline.readings.1-2": "0.50",
    "motor.baseline.readings.2-3": "0.50",
    "motor.baseline.winding_temperature_c": "25",
    "position.starter": "star-delta",
    "position.cable.size_mm2": "6",
    "position.cable.length_m": "40",
    "position.overload.dial_a": "21",
    "position.overload.reset": "automatic",
    "position.control_chain": "stop overload start",
    "position.control_fuse": "yes",
    "position.calls_for.brake": "no",
    "position.supply_system": "wye-earthed",
    "position.system_voltage_v": "480",
}


@pytest.fixture
def motor(client):
    client.post("/motors/new", data=PLATE)
    return "BW-1"


@pytest.fixture
def job(client, motor):
    return client.post("/jobs/start", data={"tag": motor, "token": "start-0001"}).headers["location"]


@pytest.fixture
def post(client, motor):
    return lambda **changed: client.post(f"/motors/{motor}/data", data=WHOLE | changed)


def test_what_was_kept_stands_in_the_form_again_and_judges_the_open_job(post, client, store, motor, job, clock):
    assert post().status_code == 303
    page = client.get(f"/motors/{motor}/data").text
    for name, text in WHOLE.items():
        kept = re.search(rf'name="{re.escape(name)}"\s+value="([^"]*)"', page)
        chosen = re.search(rf'<select[^>]*name="{re.escape(name)}".*?<option value="([^"]*)" selected', page, re.DOTALL)
        found = kept or chosen
        assert found
        assert found[1] == {"24,5": "24.5", "P1, P2": "P1 P2"}.get(text, text)
    subject = open_bench(store, int(job.rpartition("/")[2]), clock()).subject
    assert subject.winding.baseline_ohm == {"1-2": 0.5, "2-3": 0.5}
    assert subject.speeds["low"].power_w == 7500
    assert subject.speeds["high"].full_load_current_a == (24.5,)
    assert (subject.fittings.protectors, subject.fittings.brake_coil_ohm) == (("thermostat",), 120)
    assert subject.maker_plate.rated_voltage_v == (230, 460)
    assert (subject.position.cable.size_mm2, subject.position.overload.automatic_reset) == (6, True)
    assert subject.position.calls_for.brake is False


def test_a_change_is_one_link_and_the_same_again_is_none(post, store):
    before = verify(store).links
    post()
    after = verify(store)
    post()
    assert (after.links, verify(store).links, after.breaks) == (before + 1, before + 1, ())


def test_emptied_fields_are_taken_off_the_record(post, client, store, motor):
    post()
    client.post(f"/motors/{motor}/data", data={"motor.ratings.0.speed": "", "position.system_voltage_v": ""})
    with store() as session:
        winding, position = session.query(WindingRow).one(), session.query(Position).one()
    assert (winding.ratings, winding.brake, winding.baseline, position.circuit) == (None, None, None, None)


@pytest.mark.parametrize(
    ("name", "text", "says"),
    [
        ("motor.ratings.1.voltage_v", "many", "valid number"),
        ("motor.ratings.1.power", "8 cats", "8 cats"),
        ("motor.brake.coil", "OL", "one exact value"),
        ("motor.baseline.readings.2-3", "none", "none"),
        ("motor.baseline.readings.3-1", "1 MV", "1 MV"),
        ("motor.maker_plate.rated_voltage_v", "230/x", "number"),
        ("position.cable.size_awg", "99", "a gauge"),
        ("position.overload.dial_a", "-4", "greater"),
        ("position.starter", "kick", "direct"),
        ("position.calls_for.power", "-3 kW", "-3 kW"),
    ],
)
def test_what_cannot_be_used_is_said_at_its_field_and_nothing_is_lost(post, store, name, text, says):
    links = verify(store).links
    answer = post(**{name: text})
    assert answer.status_code == 422
    assert says in answer.text
    assert f'id="e-{name}"' in answer.text or f"{name}:" in answer.text
    assert f'value="{text}"' in answer.text or name == "position.starter"
    assert 'value="0.50"' in answer.text
    assert verify(store).links == links


def test_rows_left_empty_move_no_refusal_to_another_row(post):
    answer = post(**{"motor.ratings.0.speed": "", "motor.ratings.0.voltage_v": "", "motor.ratings.0.power": "",
                     "motor.ratings.1.voltage_v": "many"})  # fmt: skip
    assert 'id="e-motor.ratings.1.voltage_v"' in answer.text


def test_a_reader_and_a_stranger_change_nothing(post, client, motor, store):
    assert client.post("/motors/NO-9/data", data=WHOLE).status_code == 404
    assert client.post(f"/motors/{motor}/data", data={"winding.x": "1"}).status_code == 422
    assert client.get("/motors/NO-9/data").status_code == 404


@pytest.mark.parametrize("scheme", LeadScheme)
def test_every_lead_scheme_asks_its_own_pairs(client, store, motor, scheme):
    with store.begin() as session:
        session.query(WindingRow).one().lead_scheme = scheme
    kept = details(store, motor)
    assert kept.pairs
    assert all(
        f'name="motor.baseline.readings.{pair}"' in client.get(f"/motors/{motor}/data").text for pair in kept.pairs
    )


def test_a_motor_without_a_place_gets_the_one_that_is_named(client, store):
    client.post("/motors/new", data={"tag": "SP-1", "rated_voltage_v": "400"})
    client.post("/motors/SP-1/data", data={"position.name": "Spare shelf", "position.area": "Store"})
    with store() as session:
        assert session.query(Position).one().name == "Spare shelf"
    assert "Spare shelf" in client.get("/motors/SP-1").text
    assert verify(store).breaks == ()


def test_a_form_as_a_document_keeps_order_and_names():
    document, names = nested({"motor.a.3.b": "x", "motor.a.1.b": " y ", "motor.c.leads": "1 2", "motor.d": ""})
    assert document == {"motor": {"a": [{"b": "y"}, {"b": "x"}], "c": {"leads": ["1", "2"]}}}
    assert names == {"motor.a.0": "motor.a.1", "motor.a.1": "motor.a.3"}
