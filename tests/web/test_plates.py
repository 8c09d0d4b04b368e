"""A motor's plate: judged as it is typed, changed with a reason and by one person at a time, photographed."""

import re

import pytest
from sqlalchemy import select

from grimcoil.core.people import Role
from grimcoil.service.verifying import verify
from grimcoil.store.people_tables import PhotoRow
from grimcoil.store.tables import Job
from tests.exchange.test_photos import made
from tests.service.conftest import PLATE
from tests.support import add_person
from tests.web.test_jobs import job, put  # noqa: F401
from tests.web.test_motors import register

STAMPED = {name: text for name, text in PLATE.items() if name not in ("tag", "position", "area", "supply_system")}
STAMPED.pop("system_voltage_v")


@pytest.fixture
def plate(client):
    register(client)
    return client.get("/motors/BW-1/nameplate").text


def seen_in(page):
    return re.search(r'name="seen" value="([^"]+)"', page).group(1)


def change(client, page, why="misread, the 6 is an 8", **changes):
    return client.post("/motors/BW-1/nameplate", data=STAMPED | changes | {"why": why, "seen": seen_in(page)})


def test_the_plate_stands_as_it_was_typed(plate):
    for name in ("rated_voltage_v", "full_load_current_a", "power", "speed_rpm"):
        assert re.search(rf'name="{name}" value="{re.escape(STAMPED[name])}"', plate), name
    assert "None: it stands as it was typed first." in plate


def test_a_change_says_who_why_and_what(client, plate, store):
    assert change(client, plate, serial="S-81", speed_rpm="1765").status_code == 303
    page = client.get("/motors/BW-1/nameplate").text
    assert 'value="S-81"' in page
    assert "A. Tester: misread, the 6 is an 8: serial empty to S-81, speed_rpm 1755 to 1765" in page
    assert verify(store).breaks == ()


def test_the_same_again_is_no_change(client, plate):
    assert change(client, plate, why="").status_code == 303
    assert "None: it stands" in client.get("/motors/BW-1/nameplate").text


@pytest.mark.parametrize("why", ["", "  ", "x", "y" * 201])
def test_without_a_reason_nothing_changes_and_nothing_typed_is_lost(client, plate, why):
    answer = change(client, plate, why=why, serial="S-81")
    assert answer.status_code == 422
    assert 'aria-describedby="e-why"' in answer.text
    assert 'value="S-81"' in answer.text
    assert "S-81" not in client.get("/motors/BW-1/nameplate").text


def test_two_people_at_once_overwrite_nothing(client, plate, sign_in, store):
    other = sign_in(add_person(store, Role.PLANNER, "B. Other"))
    assert change(other, plate, full_load_current_a="22").status_code == 303
    answer = change(client, plate, full_load_current_a="20.5")
    assert answer.status_code == 422
    assert "Somebody changed it meanwhile: on record now is 22." in answer.text
    assert 'value="20.5"' in answer.text
    assert 'name="full_load_current_a" value="22"' in client.get("/motors/BW-1/nameplate").text


def test_a_figure_that_can_not_be_is_said_in_its_cell(client, plate):
    answer = change(client, plate, rated_voltage_v="many", built_year="2999")
    assert answer.status_code == 422
    for name in ("rated_voltage_v", "built_year"):
        assert f'aria-describedby="e-{name}"' in answer.text


def test_what_contradicts_itself_is_said_while_it_is_typed(client):
    said = client.post("/motors/new/_check", data=STAMPED | {"speed_rpm": "1650"}).text
    assert "% slip" in said
    assert "Nothing contradicts itself so far" in client.post("/motors/new/_check", data=STAMPED).text
    assert "Nothing contradicts itself so far" in client.post("/motors/new/_check", data={"power": ""}).text
    assert "number in V" in client.post("/motors/new/_check", data={"rated_voltage_v": "4x"}).text
    assert client.post("/motors/new/_check", data={"elsewhere": "1"}).status_code == 422
    assert "BW-1" not in client.get("/motors").text


def test_who_only_reads_sees_the_plate_and_changes_nothing(client, plate, sign_in, store, electrician):
    reader = sign_in(add_person(store, Role.READER, "R. Eader", electrician))
    page = reader.get("/motors/BW-1/nameplate").text
    assert "disabled" in page
    assert "Change the nameplate" not in page
    assert change(reader, plate, serial="S-9").status_code == 403


def send(client, raw, token="plate-photo-1", note="As the <b>metal</b> shows"):
    files = {"photo": ("p.jpg", raw, "image/jpeg")}
    return client.post("/motors/BW-1/nameplate/photo", data={"token": token, "note": note}, files=files)


def test_a_photo_of_the_plate_is_kept_once_and_taken_back(client, plate, store):
    for _ in range(2):
        assert send(client, made()).status_code == 303
    with store() as session:
        photo = session.scalars(select(PhotoRow)).one()
    page = client.get("/motors/BW-1/nameplate").text
    assert f"/photos/{photo.id}.jpg" in page
    assert "As the &lt;b&gt;metal&lt;/b&gt; shows" in page
    assert client.get(f"/photos/{photo.id}.jpg").headers["content-type"] == "image/jpeg"
    assert client.post("/motors/BW-1/nameplate/take-back", data={"id": photo.id}).status_code == 303
    assert "Taken back by A. Tester" in client.get("/motors/BW-1/nameplate").text
    assert client.post("/motors/BW-1/nameplate/take-back", data={"id": photo.id + 1}).status_code == 404


def test_a_photo_may_be_as_large_as_one_of_a_job(client, plate):
    at = "/motors/BW-1/nameplate/photo"
    assert client.post(at, content=b"", headers={"content-length": str(14 * 1024 * 1024)}).status_code == 413
    assert client.post(at, content=b"", headers={"content-length": str(11 * 1024 * 1024)}).status_code != 413


def test_what_is_no_photo_is_said_and_the_note_is_still_there(client, plate):
    answer = send(client, b"%PDF-1.4 hello")
    assert answer.status_code == 422
    assert "a photo as JPEG, PNG or WebP" in answer.text
    assert "As the &lt;b&gt;metal" in answer.text


def test_a_signed_job_keeps_the_plate_it_was_judged_by(client, job, put, clock, store):  # noqa: F811
    with store.begin() as session:
        row = session.query(Job).one()
        row.state = "signed"
        row.tested_on = clock().date()
        subject = row.subject
    page = client.get("/motors/BW-1/nameplate").text
    assert change(client, page, full_load_current_a="22").status_code == 303
    answer = change(client, client.get("/motors/BW-1/nameplate").text, full_load_current_a="22", built_year="2030")
    assert answer.status_code == 422
    with store() as session:
        assert session.query(Job).one().subject == subject
