"""The register and registration over HTTP, as plain forms."""

import html
import json
import re

import pytest

from grimcoil.core.people import Role
from grimcoil.service.importing import take_in
from grimcoil.service.job_files import import_job
from grimcoil.service.motors import motor_view
from tests.service.conftest import PLATE
from tests.service.test_importing import SOURCE, read
from tests.support import add_person


def register(client, **changes):
    return client.post("/motors/new", data=PLATE | changes)


def test_an_empty_site_says_the_next_thing_to_do(client):
    assert "Add the first one" in client.get("/motors").text
    assert "Pick a motor" in client.get("/").text


def test_register_and_find(client):
    answer = register(client)
    assert (answer.status_code, answer.headers["location"]) == (303, "/motors/BW-1")
    page = client.get("/motors/BW-1").text
    assert "not tested yet" in page
    assert "Beet wash" in page
    listed = client.get("/motors").text
    assert "BW-1" in listed
    assert "Not tested yet" in listed
    assert client.get("/motors?q=beet").headers["location"] == "/motors/BW-1?near=beet"
    assert "No motor matches" in client.get("/motors?q=nothing").text


@pytest.mark.parametrize("tag", ["bw1", "BW1", "B.W-1"])
def test_a_tag_in_another_spelling_is_asked_about_and_what_was_typed_stays(client, tag):
    register(client)
    answer = register(client, tag=tag, serial="S-77", position="")
    assert (answer.status_code, 'value="S-77"' in answer.text) == (200, True)
    assert f"BW-1 is on the register: is {tag} the same motor in another spelling?" in answer.text
    assert "Is it another motor?" in answer.text
    assert "It is another one: register" in answer.text
    key = re.search(r'name="confirmed" value="([^"]*)"', answer.text)[1]
    other = register(client, tag="BW.1", position="", confirmed=html.unescape(key))
    assert "is BW.1 the same motor" in other.text  # confirmed of that tag alone
    assert client.get(f"/motors/{tag}").status_code == 404
    sure = register(client, tag=tag, serial="S-77", position="", confirmed=html.unescape(key))
    assert (sure.status_code, sure.headers["location"]) == (303, f"/motors/{tag}")


def test_the_very_tag_again_is_refused_at_its_field(client):
    register(client)
    answer = register(client, tag="bw-1")
    assert (answer.status_code, "bw-1 is on the register already" in answer.text) == (422, True)


def test_refused_fields_keep_what_was_typed(client):
    answer = register(client, rated_voltage_v="many", serial="S-77")
    assert answer.status_code == 422
    assert 'value="many"' in answer.text
    assert 'value="S-77"' in answer.text
    assert 'aria-invalid="true"' in answer.text


def test_a_misread_plate_is_shown_back_once_then_taken(client):
    first = register(client, speed_rpm="1650")
    assert first.status_code == 200
    assert "% slip" in first.text
    key = first.text.split('name="confirmed" value="')[1].split('"')[0]
    assert register(client, speed_rpm="1650", confirmed=key).status_code == 303
    assert "% slip" in client.get("/motors/BW-1").text


def test_a_confirmation_holds_only_for_the_plate_it_was_given_for(client):
    key = register(client, speed_rpm="1650").text.split('name="confirmed" value="')[1].split('"')[0]
    assert register(client, speed_rpm="1640", confirmed=key).status_code == 200


def test_the_same_tag_twice(client):
    register(client)
    again = register(client)
    assert again.status_code == 422
    assert "already" in again.text


@pytest.mark.parametrize("path", ["/motors/NO-1", "/jobs/999", "/jobs/999/report", "/nowhere"])
def test_unknown_pages_are_plain_404s(client, path):
    answer = client.get(path)
    assert answer.status_code == 404
    assert "Traceback" not in answer.text


@pytest.mark.parametrize("text", ["<script>alert(1)</script>", "'; DROP TABLE motor; --", '"><svg onload=1>'])
def test_markup_and_sql_are_shown_harmlessly(client, text):
    register(client, position=text, serial=text)
    for page in ("/motors", "/motors/BW-1"):
        body = client.get(page).text
        assert text not in body or "<" not in text
        assert "&lt;" in body or "<" not in text


def test_the_plots_stand_by_the_criteria_of_the_last_job(client, store, electrician, clock):
    register(client)
    assert motor_view(store, "BW-1").limits.name == "field-general"
    file = {
        "format": "grimcoil-job/1",
        "motor": {"tag": "BW-1", "rated_voltage_v": 460},
        "criteria": "service-shop",
        "tests": [{"kind": "winding_resistance", "readings": {"1-2": "0.5344", "2-3": "0.5350", "3-1": "0.5347"}}],
    }
    done = import_job(store, json.dumps(file), electrician, clock())
    assert motor_view(store, "BW-1").limits.name == "service-shop"
    for address in (f"/jobs/{done.job_id}", f"/jobs/{done.job_id}/report"):
        page = client.get(address)
        assert page.status_code == 200
        assert "not signed" in page.text
        assert "Signed by" not in page.text
        assert "service shop" in page.text.casefold()


def test_a_motor_without_its_plate_asks_for_it_until_it_has_one(client, store, clock):
    register(client)
    take_in(store, add_person(store, Role.ELECTRICIAN, "I. Importer"), SOURCE, read(store), clock())
    assert "no nameplate yet" in client.get("/motors").text
    page = client.get("/motors/PP-9").text
    assert "plate isn" in page
    assert "/motors/new?tag=PP-9" in page
    assert "On record since 2025" in page
    assert "Built" not in page
    assert "On record since" in client.get("/motors/PP-9/history-and-moves").text
    assert 'value="PP-9"' in client.get("/motors/new?tag=PP-9").text
    assert "Its nameplate isn" in client.get("/jobs/start?tag=PP-9").text
    job = client.post("/jobs/start", data={"tag": "PP-9", "token": "start-pp9"}).headers["location"]
    assert client.get(job).status_code == 200
    assert client.get("/troubleshooting?tag=PP-9&s=hums").status_code == 200
    assert register(client, tag="PP-9", built_year="2019").status_code == 303
    assert "Built 2019" in client.get("/motors/PP-9").text
    assert "plate isn" not in client.get("/motors/PP-9").text
    assert "no nameplate yet" not in client.get("/motors").text
    assert client.get(job).status_code == 200
