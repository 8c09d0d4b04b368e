"""Positions over HTTP: the list, the form, used no more and again; the move from the motor's own page."""

import re

import pytest

from tests.service.conftest import PLATE


@pytest.fixture
def motor(client):
    client.post("/motors/new", data=PLATE)
    return "/motors/BW-1"


def test_made_found_in_the_list_changed_and_used_no_more(client):
    made = client.post("/positions/new", data={"position.name": "<b>Mill</b>", "position.area": "Hall 2"})
    page = made.headers["location"]
    assert made.status_code == 303
    listed = client.get("/positions?area=Hall+2").text
    assert "&lt;b&gt;Mill" in listed
    assert "&lt;b&gt;Mill" not in client.get("/positions?area=Hall+1").text
    changed = client.post(f"{page}/form", data={"position.name": "Mill", "position.starter": "star-delta"})
    assert changed.status_code == 303
    assert "star delta" in client.get(page).text
    assert client.post(f"{page}/retire", data={"why": "sold"}).status_code == 303
    assert "Used no more since" in client.get(page).text
    assert "used no more since" in client.get("/positions").text
    assert client.post(f"{page}/again", data={}).status_code == 303
    assert "Used no more since" not in client.get(page).text


def test_what_was_typed_stays_where_it_is_refused(client, motor):
    wrong = client.post("/positions/new", data={"position.name": "Beet wash", "position.cable.length_m": "far off"})
    assert wrong.status_code == 422
    assert 'value="far off"' in wrong.text
    page = re.search(r"/positions/\d+", client.get(motor).text)[0]
    why = client.post(f"{page}/retire", data={"why": "x" * 300})
    assert why.status_code == 422
    assert "x" * 300 in why.text
    assert client.post(f"{page}/retire", data={"why": "sold"}).status_code == 409


def test_move_stands_on_the_motors_page_and_the_single_hit_says_so(client, motor):
    assert f'href="{motor}/move"' in client.get(motor).text
    found = client.get("/motors?q=bw1")
    assert found.status_code == 303
    page = client.get(found.headers["location"]).text
    assert "The only motor near “bw1”" in page


def test_a_motor_of_two_speeds_with_a_brake_comes_in_one_form(client):
    more = {
        "motor.ratings.0.speed": "low", "motor.ratings.0.power": "4 kW", "motor.ratings.1.speed": "high",
        "motor.ratings.1.power": "6 kW", "motor.brake.feed": "separate", "frame_size": "132M", "bearings": "6308 C3",
        "efficiency_percent": "88,1 %", "power_factor": "0.83",
    }  # fmt: skip
    texts = PLATE | {"tag": "HO-1", "lead_scheme": "two-speed-two-winding"} | more
    wrong = client.post("/motors/new", data=texts | {"motor.ratings.1.power": "a lot", "confirmed": "x"})
    assert wrong.status_code == 422
    assert 'value="a lot"' in wrong.text
    assert client.get("/motors/HO-1").status_code == 404
    asked = client.post("/motors/new", data=texts)
    key = re.search(r'name="confirmed" value="([^"]+)"', asked.text)
    if key:
        asked = client.post("/motors/new", data=texts | {"confirmed": key[1]})
    assert asked.status_code == 303
    told = client.get("/motors/HO-1/nameplate").text
    for value in ("132M", "6308 C3", "88.1", "0.83"):
        assert f'value="{value}"' in told
    assert 'value="6 kW"' in client.get("/motors/HO-1/data").text
