"""The fault walk over HTTP: begun from nothing or a motor, filled in, taken back, refused by its danger, kept."""

import re

import pytest

from tests.service.conftest import PLATE
from tests.walker import Walker

HUMS = "/troubleshooting?tag=BW-1&s=hums"
POLE = "&d=amps-start~98~97~0&d=volts-line-side-start~481~479~480&d=drop-poles~0.1~0.1~416"


@pytest.fixture
def motor(client):
    client.post("/motors/new", data=PLATE)


def test_it_begins_with_the_complaint(client):
    page = client.get("/troubleshooting").text
    assert "It hums and won" in page
    assert client.get("/troubleshooting?s=hums").status_code == 200  # on no motor
    assert client.get("/troubleshooting?s=singing").text == page
    assert client.get("/troubleshooting?tag=NO-1&s=hums").status_code == 404


def test_a_tag_in_any_spelling_is_taken_and_an_unknown_one_keeps_what_was_read(client, motor):
    read = "&s=hums&o=control-first&d=overload-look~not-tripped"
    step = client.get(f"/troubleshooting?tag=bw 1{read}")
    assert step.status_code in (200, 303)
    if step.status_code == 303:
        assert "tag=BW-1&" in step.headers["location"]
        assert "overload-look" in step.headers["location"]
    page = client.get(f"/troubleshooting?tag=BW-77{read}&t=look-closed&a=nothing")
    assert page.status_code == 404
    assert "BW-77" in page.text
    offered = re.search(r'href="(/troubleshooting\?tag=BW-1&[^"]+)"', page.text)[1].replace("&amp;", "&")
    for kept in ("overload-look", "look-closed", "control-first", "s=hums"):
        assert kept in offered
    assert client.get(offered).status_code == 200
    assert client.get(f"/troubleshooting?tag=<b>{read}").status_code == 404
    assert "<b>" not in client.get(f"/troubleshooting?tag=<b>{read}").text


def test_an_answer_and_readings_go_on_and_come_back(client, motor):
    page = client.get(HUMS)
    name = re.search(r'name="t"\s+value="([^"]+)"', page.text)[1]
    answer = client.get(f"{HUMS}&t={name}&a=not-tripped") if name == "overload-look" else None
    step = client.get(f"{HUMS}&t=overload-look&a=not-tripped")
    assert step.status_code == 303
    assert answer is None or answer.headers["location"] == step.headers["location"]
    there = step.headers["location"]
    read = client.get(f"{there}&t=volts-line-side-start&r=481&r=479&r=480")
    assert read.status_code == 303
    page = client.get(read.headers["location"]).text
    assert "481, 479, 480" in page
    back = re.findall(r'href="(/troubleshooting\?[^"]+)">Undo', page)[-1].replace("&amp;", "&")
    assert "overload-look" in back
    assert "481" not in back


def test_what_cannot_be_used_keeps_what_was_typed(client, motor):
    wrong = client.get(f"{HUMS}&t=amps-start&r=98&r=many&r=0")
    assert wrong.status_code == 422
    empty = client.get(f"{HUMS}&t=amps-start&r=&r=&r=")
    assert (empty.status_code, "what the meter shows" in empty.text) == (422, True)
    for entry in ("no-such-test~1", "prove-dead~dead~moon", "overload-look~perhaps", "mended~nothing"):
        assert client.get(f"{HUMS}&d={entry}").status_code in (404, 422)


def test_the_end_asks_for_the_cause_and_stands_on_the_motors_life(client, motor):
    page = client.get(HUMS + POLE).text
    assert "A contactor pole doesn&#39;t make, L3" in page or "A contactor pole doesn't make, L3" in page
    tokens = ["amps-start~98~97~0", "volts-line-side-start~481~479~480", "drop-poles~0.1~0.1~416"]
    form = {"tag": "BW-1", "s": "hums", "d": tokens, "token": "walk-token-1"}
    refused = client.post("/troubleshooting/keep", data=form)
    assert (refused.status_code, "Name the cause" in refused.text) == (422, True)
    long = client.post("/troubleshooting/keep", data=form | {"cause": "starts", "changed": "x" * 200})
    assert (long.status_code, "letters less" in long.text, "x" * 200 in long.text) == (422, True, True)
    form |= {"cause": "starts", "changed": "contacts renewed, starts counted"}
    for _ in range(2):
        kept = client.post("/troubleshooting/keep", data=form)
        assert (kept.status_code, kept.headers["location"]) == (303, "/motors/BW-1/history-and-moves")
    life = client.get("/motors/BW-1/history-and-moves").text
    assert life.count("contacts renewed, starts counted") == 1
    assert "troubleshooting saved" in client.get("/audit-trail").text
    place = re.search(r'href="(/positions/\d+)"', client.get("/motors/BW-1").text)[1]
    position = client.get(place).text
    assert "contacts renewed, starts counted" in position
    assert 'href="/troubleshooting?tag=BW-1"' in position
    taken = re.search(r'name="id" value="(\d+)"', life)[1]
    client.post("/motors/BW-1/history-and-moves/take-back", data={"id": taken})
    assert "contacts renewed" not in client.get(place).text


def test_after_mending_it_goes_on(client, motor):
    page = client.get(HUMS + POLE).text
    on = re.search(r'href="(/troubleshooting\?[^"]+)">Repaired: go on', page)[1].replace("&amp;", "&")
    assert "mended" in on
    assert client.get(on).status_code == 200


def test_nothing_is_kept_without_an_end(client, motor):
    form = {"tag": "BW-1", "s": "hums", "token": "walk-token-2", "cause": "starts", "changed": "something"}
    assert client.post("/troubleshooting/keep", data=form).status_code == 422


RUNS = (
    "/troubleshooting?tag=BW-1&s=trips-later&d=look-closed~nothing&d=overload-look~not-tripped&d=amps-run~{0}~{0}~{0}"
)


def test_the_next_walk_begins_with_what_the_last_one_found(client, motor):
    assert "Here before" not in client.get(HUMS).text
    tokens = ["amps-start~98~97~0", "volts-line-side-start~481~479~480", "drop-poles~0.1~0.1~416"]
    form = {
        "tag": "BW-1",
        "s": "hums",
        "d": tokens,
        "token": "walk-token-2",
        "cause": "starts",
        "changed": "contacts renewed",
    }
    assert client.post("/troubleshooting/keep", data=form).status_code == 303
    page = client.get(HUMS).text
    assert "Here before" in page
    assert "a contactor pole doesn" in page
    taken = re.search(r'name="id" value="(\d+)"', client.get("/motors/BW-1/history-and-moves").text)[1]
    assert client.post("/motors/BW-1/history-and-moves/take-back", data={"id": taken}).status_code == 303
    assert "Here before" not in client.get(HUMS).text


def test_a_walk_that_finds_nothing_ends_as_a_one_time_event_that_is_watched(client, motor):
    once = "a one-time event</summary>"
    assert once not in client.get(RUNS.format("400")).text  # far over the plate's
    page = client.get(RUNS.format("16")).text
    assert once in page
    watch = re.search(r'name="watch_until" value="([^"]+)"', page)[1]
    tokens = re.findall(r"d=([^&]+)", RUNS.format("16"))
    form = {
        "tag": "BW-1",
        "s": "trips-later",
        "d": tokens,
        "token": "once-token-1",
        "cause": "unknown",
        "changed": "amps daily",
    }
    for wrong in ("tomorrow", "2020-01-01"):
        refused = client.post("/troubleshooting/keep", data=form | {"watch_until": wrong})
        assert (refused.status_code, "Not a one-time event" in refused.text) == (422, True)
        assert ("amps daily" in refused.text, wrong in refused.text) == (True, True)
    assert client.post("/troubleshooting/keep", data=form | {"watch_until": watch}).status_code == 303
    assert "watched until" in client.get("/motors/BW-1/history-and-moves").text
    again = client.get(RUNS.format("16")).text
    assert "it came back, so it has a cause" in again
    assert once not in again
    late = client.post("/troubleshooting/keep", data=form | {"watch_until": watch, "token": "once-token-2"})
    assert (late.status_code, "a cause" in late.text) == (422, True)


def test_readings_of_an_open_job_are_offered_to_the_walk(client, store, electrician, clock):
    walker = Walker(store, electrician, clock, "BW-9", "three-lead").start(school="box-first")
    assert "take its readings in" not in client.get("/troubleshooting?tag=BW-9&s=hums").text
    walker.to("insulation.1-2-3.on")
    page = client.get("/troubleshooting?tag=BW-9&s=hums").text
    there = re.search(r'href="([^"]+)">take its readings in', page)[1].replace("&amp;", "&")
    taken = client.get(there).text
    assert "after 1 entry" in " ".join(taken.split()).replace(" entr y", " entry")
    assert "take its readings in" not in taken
