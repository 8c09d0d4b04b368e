"""The works' page: instruments kept, and what a role may not do isn't offered."""

import json
import re
from datetime import UTC, date, timedelta

import pytest
from sqlalchemy import select

from grimcoil.core.choices import PhaseColour
from grimcoil.core.people import Role
from grimcoil.draw.joints import PHASE_COLOURS
from grimcoil.service import motors
from grimcoil.service.backups import back_up
from grimcoil.service.jobs import Start, open_bench, start_job
from grimcoil.service.verifying import verify
from grimcoil.store.tables import EntryRow
from tests.service.conftest import PLATE
from tests.support import TO_RESISTANCE, WARM, add_person

RANGE = {"name": "M7", "function": "low-ohm", "resolution": "0.01 m", "top": "20"}


def test_an_instrument_added_stands_on_the_page_and_in_the_start_form(client):
    assert client.post("/plant/instruments", data=RANGE).status_code == 303
    page = client.get("/plant").text
    assert "steps of 0.01 mΩ, to 20 Ω" in " ".join(page.split())
    assert "M7" in client.get("/jobs/start").text


def test_a_refused_range_keeps_what_was_typed(client):
    answer = client.post("/plant/instruments", data=RANGE | {"top": "4..2"})
    assert answer.status_code == 422
    assert 'value="4..2"' in answer.text
    assert "one decimal sign" in answer.text


def test_a_wrong_day_of_calibration_is_said(client):
    client.post("/plant/instruments", data=RANGE)
    answer = client.post("/plant/instruments/calibrated", data={"id": 1, "due": "soon"})
    assert answer.status_code in (404, 422)
    assert client.post("/plant/instruments/calibrated", data={"id": 9999, "due": ""}).status_code == 404


def test_a_reader_is_offered_no_form(store, sign_in, electrician):
    reader = sign_in(add_person(store, Role.READER, "R. Eader", electrician))
    page = reader.get("/plant").text
    assert "Add a range" not in page
    assert "An electrician or a planner keeps the instruments" in page


SITE = {"works_name": "Fenmark", "zone": "Asia/Tokyo", "criteria": "service-shop"}


def test_times_and_days_are_the_works_own(client, clock):
    clock.pass_(8 * 3600)  # 16:00 by the world's clock is 01:00 of the next day there
    assert client.post("/plant/site", data=SITE).status_code == 303
    page = client.get("/audit-trail").text
    assert "plant saved" in page
    assert "25 Nov 2026 01:00" in page
    assert "UTC" not in page
    client.post("/motors/new", data=PLATE)
    assert 'value="2026-11-25"' in client.get("/motors/BW-1/history-and-moves").text


def test_a_job_of_the_night_stands_on_the_works_day_and_stays_whole(client, store, electrician, clock):
    client.post("/plant/site", data=SITE)
    clock.pass_(8 * 3600)
    client.post("/motors/new", data=PLATE)
    job = start_job(store, electrician, Start("BW-1", "start-token-1"), clock())
    client.post(f"/jobs/{job}/keep", data={"place": "isolate.tag", "text": "BW-1", "token": "token-0001"})
    with store() as session:
        assert open_bench(store, job, clock()).begun_on == date(2026, 11, 25)
        assert [entry.at.tzinfo for entry in session.scalars(select(EntryRow))] == [UTC]
    assert verify(store).breaks == ()


@pytest.mark.parametrize(
    ("said", "text"),
    [
        ("zone", "Mars/Base"),
        ("criteria", "none"),
        ("works_name", " "),
        ("phase_colours", "brown, pink, grey"),
        ("phase_colours", "red, red, blue"),
        ("supply_system", "dc"),
        ("system_voltage_v", "5"),
    ],
)
def test_a_works_that_is_none_is_refused_at_its_field(client, said, text):
    answer = client.post("/plant/site", data=SITE | {said: text})
    assert answer.status_code == 422
    assert f'aria-describedby="e-{said}"' in answer.text
    assert 'value="Asia/Tokyo"' in answer.text or said == "zone"


def test_a_position_without_a_supply_of_its_own_has_that_of_the_works(client, store, electrician, clock):
    plain = {name: words for name, words in PLATE.items() if name not in ("supply_system", "system_voltage_v")}
    client.post("/motors/new", data=plain)
    client.post("/motors/new", data=PLATE | {"tag": "BW-2", "position": "Beet crusher"})
    one, two = (re.search(r"/positions/\d+", client.get(f"/motors/{tag}").text)[0] for tag in ("BW-1", "BW-2"))
    assert "as the plant has it" not in client.get(one).text
    supply = {"supply_system": "corner-earthed", "system_voltage_v": "690"}
    assert client.post("/plant/site", data=SITE | supply).status_code == 303
    assert 'value="690"' in client.get("/plant").text
    assert re.search(r"690 V [^<]*, as the plant has it", client.get(one).text)
    assert "as the plant has it" not in client.get(two).text
    assert "this position has 690 V" in client.get("/motors/BW-1").text  # a 460 V motor
    assert "this position has 690 V" not in client.get("/motors/BW-2").text
    subjects = []
    for tag in ("BW-1", "BW-2"):
        job = start_job(store, electrician, Start(tag, f"start-{tag}"), clock())
        subject = open_bench(store, job, clock()).subject
        subjects.append((subject.supply_system, subject.system_voltage_v))
    assert subjects == [("corner-earthed", 690.0), ("wye-earthed", 480.0)]
    own = re.search(r'<input[^>]*name="position.system_voltage_v"[^>]*>', client.get("/motors/BW-1/data").text)
    assert own is not None
    assert 'value=""' in own[0]  # what the works has is nobody's own
    assert verify(store).breaks == ()


@pytest.mark.usefixtures("at_desk")
def test_a_line_has_the_colour_that_the_works_gave_it(client):
    lead = "&".join(f"found-{i}={on}" for i, on in zip("123456", ("L1", "L2", "L3", "a", "a", "a"), strict=True))
    address = f"/connection?scheme=six-lead&rated=460&supply=460&state=found&{lead}"
    plain = client.get(address).text
    assert client.post("/plant/site", data=SITE | {"phase_colours": "Red / white/blue"}).status_code == 303
    assert 'value="red, white, blue"' in client.get("/plant").text
    drawn = client.get(address).text
    for colour in ("red", "white", "blue"):
        assert PHASE_COLOURS[colour] in drawn
        assert PHASE_COLOURS[colour] not in plain
    assert set(PHASE_COLOURS) == {colour.value for colour in PhaseColour}


def test_who_keeps_the_works(store, sign_in):
    reader = sign_in(add_person(store, Role.READER, "schwaden"))
    assert "Time zone" not in reader.get("/plant").text
    assert reader.post("/plant/site", data=SITE).status_code == 403


def test_degrees_and_power_are_typed_in_the_works_own_units_and_kept_with_them(client, store, clock):
    assert client.post("/plant/site", data=SITE | {"units": "°F, hp"}).status_code == 303
    client.post("/motors/new", data=PLATE | {"power": "15"})
    assert "15 hp" in client.get("/motors/BW-1").text
    start = {"tag": "BW-1", "token": "start-token-1"}
    job = client.post("/jobs/start", data=start).headers["location"]
    script = TO_RESISTANCE[: -len(WARM)]
    for number, (place, text) in enumerate(script):
        assert (
            client.post(f"{job}/keep", data={"place": place, "text": text, "token": f"to-{number:05}"}).status_code
            == 303
        )
        clock.pass_(5)
    assert "°F" in client.get(job).text
    at = {"place": "temperature.winding", "text": "77"}
    assert "25 degrees Celsius" in client.get(f"{job}/_echo", params=at).text
    for _ in range(2):  # a double tap
        assert client.post(f"{job}/keep", data=at | {"token": "warm-00001"}).status_code == 303
    assert (
        client.post(
            f"{job}/keep", data={"place": "temperature.ambient", "text": "20 °C", "token": "warm-00002"}
        ).status_code
        == 303
    )
    with store() as session:
        kept = {e.place: (e.text, e.low) for e in session.scalars(select(EntryRow)) if e.place.startswith("temp")}
    assert kept == {"temperature.winding": ("77 °F", 25.0), "temperature.ambient": ("20 °C", 20.0)}


def test_the_paper_of_a_round_asks_in_the_works_own_degrees(client):
    client.post("/motors/new", data=PLATE)
    client.post("/motors/BW-1/inspection/on")
    assert "______ °C" in client.get("/inspection-rounds/paper?area=Yard").text
    assert client.post("/plant/site", data=SITE | {"units": "°F, hp"}).status_code == 303
    assert "______ °F" in client.get("/inspection-rounds/paper?area=Yard").text


def test_areas_are_listed_in_the_order_they_are_walked(client):
    for tag, area in (("BW-1", "Yard"), ("BW-2", "Boiler house"), ("BW-3", "Lime kiln"), ("BW-4", "Attic")):
        client.post("/motors/new", data=PLATE | {"tag": tag, "position": f"Place {tag}", "area": area})

    def order():
        page = client.get("/motors").text
        return sorted(("BW-1", "BW-2", "BW-3", "BW-4"), key=lambda tag: page.index(f'"/motors/{tag}"'))

    assert order() == ["BW-4", "BW-2", "BW-3", "BW-1"]
    assert client.post("/plant/site", data=SITE | {"areas": "Lime kiln\n Yard \n\nBoiler house"}).status_code == 303
    assert order() == ["BW-3", "BW-1", "BW-2", "BW-4"]
    assert "Lime kiln\nYard\nBoiler house\nAttic</textarea>" in client.get("/plant").text
    client.post("/motors/new", data=PLATE | {"tag": "BW-5", "position": "Place 5", "area": "Yard"})
    page = client.get("/motors").text
    assert page.index('"/motors/BW-1"') < page.index('"/motors/BW-5"') < page.index('"/motors/BW-2"')
    plan = client.get("/outage?tag=BW-4&tag=BW-1&tag=BW-3").text
    assert plan.index("Lime kiln") < plan.index("Yard") < plan.index("Attic")
    assert client.post("/plant/site", data=SITE).status_code == 303
    assert order() == ["BW-4", "BW-2", "BW-3", "BW-1"]


@pytest.mark.parametrize("areas", ["Yard\nYard", "x" * 101, "\n".join(f"Area {n}" for n in range(301))])
def test_areas_that_can_not_be_walked_are_said_at_the_field(client, areas):
    answer = client.post("/plant/site", data=SITE | {"areas": areas})
    assert answer.status_code == 422
    assert 'aria-describedby="e-areas"' in answer.text
    assert areas in answer.text


def test_every_reading_of_the_works_goes_out_as_csv_and_json(client, store, clock, monkeypatch):
    monkeypatch.setattr(motors, "READ_AT_ONCE", 7)
    kept = {}
    for tag in ("BW-1", "BW-2"):
        client.post("/motors/new", data=PLATE | {"tag": tag, "position": f"Place {tag}"})
        job = client.post("/jobs/start", data={"tag": tag, "token": f"start-{tag}"}).headers["location"]
        for number, (place, text) in enumerate(TO_RESISTANCE):
            data = {"place": place, "text": tag if place == "isolate.tag" else text, "token": f"{tag}-{number:05}"}
            assert client.post(f"{job}/keep", data=data).status_code == 303
            clock.pass_(5)
        kept[tag] = client.get(f"/motors/{tag}/readings.csv").text.splitlines()[1:]
    whole = client.get("/readings.csv").text.splitlines()
    assert whole[1:] == kept["BW-1"] + kept["BW-2"]
    assert len(whole) > 20
    lines = [json.loads(line) for line in client.get("/readings.jsonl").text.splitlines()]
    assert [line["motor"] for line in lines] == [line.split(",")[0] for line in whole[1:]]
    assert [line["text"] for line in lines] == [line.split(",")[4] for line in whole[1:]]
    assert "/readings.csv" in client.get("/plant").text


def test_the_age_of_the_last_backup_is_shown_to_who_keeps_the_data(sign_in, store, clock, client, app, tmp_path):
    admin = sign_in(add_person(store, Role.ADMINISTRATOR, "B. Admin"))
    client.post("/plant/site", data={"works_name": "Beet works", "zone": "UTC", "criteria": "field-general"})
    assert "No backup was" in admin.get("/plant").text
    engine = app.state.grimcoil.engine
    back_up(engine, tmp_path / "one.tar", clock() - timedelta(days=9))
    assert "9 days ago" in admin.get("/plant").text
    assert "Last backup" not in client.get("/plant").text
    assert verify(store).breaks == ()
