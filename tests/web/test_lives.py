"""Lives, positions, labels, the outage list and the calendar over HTTP."""

import csv
import io
import re

import openpyxl
import pytest
from icalendar import Calendar
from PIL import Image, ImageDraw
from sqlalchemy import select
from zxingcpp import read_barcodes

from demo.big import Size, fill
from grimcoil.core.people import Role
from grimcoil.service.motors import check_registration, register_motor
from grimcoil.store.tables import Position
from grimcoil.web.routers.labels import qr
from tests.service.conftest import PLATE
from tests.support import WHOLE_JOB, add_person, walk

DAY = "2026-11-20"


@pytest.fixture
def motor(client):
    client.post("/motors/new", data=PLATE)
    return "/motors/BW-1"


def test_moved_and_taken_back_by_plain_forms(client, motor):
    page = client.get(f"{motor}/move").text
    token = re.search(r'name="token" value="([^"]+)"', page)[1]
    sent = client.post(
        f"{motor}/history-and-moves/move", data={"token": token, "to": "the store", "on": DAY, "note": "<b>spare</b>"}
    )
    assert (sent.status_code, sent.headers["location"]) == (303, f"{motor}/history-and-moves")
    page = client.get(f"{motor}/history-and-moves").text
    assert "Now in the store" in page
    assert "&lt;b&gt;spare" in page
    event = re.search(r'name="id" value="(\d+)"', page)[1]
    assert client.post(f"{motor}/history-and-moves/take-back", data={"id": event}).status_code == 303
    assert "Now in Beet wash" in client.get(f"{motor}/history-and-moves").text


def test_a_refused_move_keeps_what_was_typed(client, motor):
    data = {"token": "move-token-1", "to": "Beet moon", "on": "2030-01-01", "note": "as agreed"}
    answer = client.post(f"{motor}/history-and-moves/move", data=data)
    assert answer.status_code == 422
    for part in ('value="Beet moon"', 'value="as agreed"', 'value="move-token-1"', "No position is called"):
        assert part in answer.text


def test_what_was_done_stands_on_the_life(client, motor):
    data = {"token": "done-token-1", "kind": "repaired", "on": DAY, "cost": "120.5", "note": "new bearing"}
    assert client.post(f"{motor}/history-and-moves/happened", data=data).status_code == 303
    page = client.get(f"{motor}/history-and-moves").text
    assert "Repaired" in page
    assert "120.50" in page
    wrong = client.post(f"{motor}/history-and-moves/happened", data=data | {"token": "done-token-2", "cost": "cheap"})
    assert (wrong.status_code, "new bearing" in wrong.text) == (422, True)


def test_the_position_page_tells_who_stands_there(client, motor, store):
    with store() as session:
        number = session.scalar(select(Position.id))
    page = client.get(f"/positions/{number}").text
    assert "Beet wash" in page
    assert "480 V wye earthed" in page
    assert "No failures on record" in page.replace("\n", " ")
    assert client.get("/positions/99999").status_code == 404


def test_a_reader_sees_the_life_and_no_form(sign_in, client, motor, store):
    reader = sign_in(add_person(store, Role.READER, "R. Reader"))
    page = reader.get(f"{motor}/history-and-moves").text
    assert "Undo" not in page
    assert "keeps a motor" in page
    refused = reader.post(
        f"{motor}/history-and-moves/move", data={"token": "move-token-1", "to": "the store", "on": DAY}
    )
    assert refused.status_code == 403


def test_labels_are_read_back_by_another_decoder(client, motor):
    page = client.get("/labels?q=BW-1").text
    svg = re.search(r'<svg[^>]*class="qr".*?</svg>', page, re.DOTALL)[0]
    assert _decoded(svg) == "http://testserver/motors/BW-1"
    assert "BW-1" in client.get("/labels?tag=BW-1&tag=NO-1").text


def test_a_long_tag_is_still_a_code():
    assert _decoded(qr("https://works.example/motors/" + "X" * 40)).endswith("X" * 40)


def _decoded(svg):
    """Drawn from the path's own strokes, as a printer would, and read by an independent decoder."""
    size = int(re.search(r'viewBox="0 0 (\d+)', svg)[1])
    picture = Image.new("L", (size * 8, size * 8), 255)
    draw = ImageDraw.Draw(picture)
    x = y = 0.0
    for verb, first, second in re.findall(r"([Mmh])(-?[\d.]+)(?:[ ,]?(-?[\d.]+))?", re.search(r' d="([^"]+)"', svg)[1]):
        if verb == "h":
            draw.rectangle((x * 8, (y - 0.5) * 8, (x + float(first)) * 8 - 1, (y + 0.5) * 8 - 1), fill=0)
            x += float(first)
        elif verb == "M":
            x, y = float(first), float(second)
        else:
            x, y = x + float(first), y + float(second)
    return read_barcodes(picture)[0].text


def test_the_outage_list_by_week_and_area(client, store):
    with store.begin() as session:
        fill(session, Size(60, 1, 0))
    page = client.get("/outage?days=200").text
    assert "Week" in page
    assert "Boiler house" in page
    assert client.get("/outage?days=200&area=Yard").text.count("Boiler house") == 0
    assert client.get("/outage?days=0").status_code == 422


def test_the_outage_lists_hours_add_up_and_never_tested_ones_are_in_it(client, store, clock, electrician):
    for number in range(3):
        given = PLATE | {"tag": f"NT-{number}", "lead_scheme": "three-lead", "position": f"Pump {number}"}
        register_motor(store, electrician, check_registration(given, clock()))
    page = client.get("/outage").text
    assert all(f"NT-{number}" in page for number in range(3))
    assert page.count("Not tested yet") == 3
    assert re.search(r'<td class="num">3</td><td class="num">4.5</td>', page)


def test_the_outage_list_says_what_to_bring_and_how_many_locks(client, store, clock, electrician):
    for tag in ("LK-1", "LK-2"):
        given = PLATE | {"tag": tag, "lead_scheme": "three-lead", "position": f"Pump {tag}"}
        register_motor(store, electrician, check_registration(given, clock()))
    with store.begin() as session:
        driven = session.scalars(select(Position).where(Position.name == "Pump LK-2")).one()
        driven.circuit = {"starter": "drive", "control_supply": "separate"}
    page = client.get("/outage").text
    assert "Insulation tester, 500 V" in page
    assert "3 for the motor that takes most; 4 if all are" in page
    assert re.findall(r'<td class="num">(\d)</td></tr>', page[page.index("What to bring") :]) == ["1", "3"]


@pytest.fixture
def feed(client, store):
    with store.begin() as session:
        fill(session, Size(60, 1, 0))
    made = client.post("/me/tokens", data={"name": "phone", "calendar": "yes"}).text
    return re.search(r"(/calendar/[^<\s]+\.ics)", made)[1]


def test_the_calendar_is_read_by_its_own_standard(stranger, feed):
    answer = stranger.get(feed)
    assert answer.headers["content-type"].startswith("text/calendar")
    events = Calendar.from_ical(answer.content).walk("VEVENT")
    assert len(events) > 20
    assert all(str(e["summary"]).startswith("Test ") and (e["dtend"].dt - e["dtstart"].dt).days == 1 for e in events)
    assert len({str(e["uid"]) for e in events}) == len(events)
    yard = Calendar.from_ical(stranger.get(f"{feed}?area=Yard").content).walk("VEVENT")
    assert 0 < len(yard) < len(events)
    broken = stranger.get(f"{feed}?area=Yard%0D%0AX-EVIL:1")
    assert (broken.status_code, any(line.startswith("X-EVIL") for line in broken.text.splitlines())) == (200, False)


def test_a_round_stands_in_the_calendar_by_area_and_day(client, stranger, motor):
    client.post(f"{motor}/inspection/on")
    made = client.post("/me/tokens", data={"name": "phone", "calendar": "yes"}).text
    feed = re.search(r"(/calendar/[^<\s]+\.ics)", made)[1]
    events = [e for e in Calendar.from_ical(stranger.get(feed).content).walk("VEVENT") if "Round" in str(e["summary"])]
    assert [(str(e["dtstart"].dt), str(e["description"])) for e in events] == [("2026-11-24", "8 tasks of the round")]
    token = re.search(r'name="token" value="([^"]+)-done"', client.get(f"{motor}/inspection").text)[1]
    done = {"task": "listen", "outcome": "done", "token": f"{token}-done"}
    assert client.post(f"{motor}/inspection/keep", data=done).status_code == 303
    events = [e for e in Calendar.from_ical(stranger.get(feed).content).walk("VEVENT") if "Round" in str(e["summary"])]
    assert [(str(e["dtstart"].dt), str(e["description"])) for e in events] == [
        ("2026-11-24", "7 tasks of the round"), ("2026-12-24", "1 task of the round"),
    ]  # fmt: skip


def test_the_address_is_a_key_that_opens_nothing_else(stranger, feed):
    key = feed.split("/")[2].removesuffix(".ics")
    assert stranger.get(feed.replace(key, key[:-1] + "x")).status_code == 401
    assert stranger.get("/api/1/motors", headers={"authorization": f"Bearer {key}"}).status_code == 403


def test_every_reading_of_a_motor_as_csv(client, motor, clock):
    job = client.post("/jobs/start", data={"tag": "BW-1", "token": "start-token-1"})
    address, tokens = job.headers["location"], iter(range(1000))

    def keep(place, words):
        client.post(f"{address}/keep", data={"place": place, "text": words, "token": f"token-{next(tokens):04}"})

    walk(keep, clock, WHOLE_JOB)
    rows = list(csv.DictReader(io.StringIO(client.get(f"{motor}/readings.csv").text)))
    by_place = {row["place"]: row for row in rows}
    assert by_place["winding_resistance.1-2"]["text"] == "0.5344"
    assert float(by_place["winding_resistance.1-2"]["low"]) == 0.5344
    assert client.get("/motors/NO-1/readings.csv").status_code == 404


def test_the_whole_register_as_csv_and_xlsx(client, store):
    with store.begin() as session:
        fill(session, Size(450, 1, 0))
    rows = list(csv.DictReader(io.StringIO(client.get("/register.csv").text)))
    assert len({row["motor"] for row in rows}) == len(rows) == 450
    assert {row["verdict"] for row in rows} >= {"sound", "act"}
    answer = client.get("/register.xlsx")
    sheet = openpyxl.load_workbook(io.BytesIO(answer.content)).active
    assert [cell.value for cell in sheet["A"]][1:] == [row["motor"] for row in rows]
    tag = rows[0]["motor"]
    assert client.get(f"/motors/{tag}/readings.xlsx").status_code == 200
    assert client.get("/motors/NO-1/readings.xlsx").status_code == 404


def test_the_list_narrows_sorts_and_goes_on(client, store):
    with store.begin() as session:
        fill(session, Size(120, 1, 0))
    page = client.get("/motors?sort=worst").text
    assert page.count('class="r') == 50
    more = re.search(r'href="(/motors\?[^"]*after=[^"]*)"', page)[1].replace("&amp;", "&")
    assert client.get(more).text.count('class="r') == 50
    narrowed = client.get("/motors?area=Yard&verdict=sound&due=overdue")
    assert narrowed.status_code == 200
    assert client.get("/motors?sort=upwards").status_code == 422
    assert "near" in client.get("/motors?q=conveyer").text
    assert 'value="Yard" selected' in narrowed.text


def test_motors_are_offered_while_a_word_is_typed(client, store, engine_queries):
    with store.begin() as session:
        fill(session, Size(120, 1, 0))
    engine_queries.clear()
    some = client.get("/motors/_found?q=conveyer").text
    assert 0 < len(engine_queries) <= 6
    assert some.count("<li>") == 8
    assert "More than 8 motors near it" in some
    one = client.get("/motors/_found?q=bw10000").text
    assert ('href="/motors/BW-10000"' in one, "1 motor near it" in one, "Enter" in one) == (True, True, False)
    assert client.get("/motors/_found?q=+").text.strip() == ""
    assert "No motor near “&lt;b&gt;”" in client.get("/motors/_found", params={"q": "<b>"}).text
    assert client.get("/motors/_found?q=" + "x" * 101).status_code == 422


def test_the_trail_takes_empty_fields_and_days(client, motor):
    everything = client.get("/audit-trail?motor=&job=&person=&since=&until=")
    assert everything.status_code == 200
    assert "motor registered" in everything.text
    assert "motor registered" in client.get("/audit-trail?since=2026-11-24&until=2026-11-24").text
    assert "Nothing is on the audit trail" in client.get("/audit-trail?since=2026-11-25").text
    assert client.get("/audit-trail?since=soon").status_code == 422
    assert "motor registered" in client.get("/audit-trail.csv?motor=&job=").text
