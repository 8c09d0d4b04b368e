"""Tasks by full-page forms: opened, told wherever one looks, closed with a word."""

import re
from html import unescape

import pytest

from grimcoil.core.people import Role
from tests.service.conftest import PLATE
from tests.support import add_person

TASK = {"tag": "BW-1", "what": "Change <b>both</b> belts", "by": "2026-11-27", "because": "They slip."}


@pytest.fixture
def opened(client):
    client.post("/motors/new", data=PLATE)
    assert client.post("/tasks", data=TASK | {"token": "task-token-1"}).status_code == 303
    return client


def number(client):
    return re.search(r"/tasks/(\d+)/close", client.get("/tasks").text)[1]


@pytest.mark.parametrize(
    "path", ["/", "/tasks", "/motors/BW-1", "/motors/BW-1/inspection", "/inspection-rounds", "/outage?days=30"]
)
def test_it_is_told_where_one_looks_and_as_text(opened, path):
    page = opened.get(path).text
    assert "Change &lt;b&gt;both&lt;/b&gt; belts" in page
    assert "<b>both</b>" not in page


def test_it_is_in_the_calendar_and_in_the_format(opened):
    place = opened.post("/me/tokens", data={"name": "calendar", "calendar": "yes"})
    token = re.search(r"/calendar/(gc_[\w-]+)\.ics", unescape(place.text))[1]
    told = opened.get(f"/calendar/{token}.ics").text
    assert "SUMMARY:BW-1: Change <b>both</b> belts" in told
    assert "DTSTART;VALUE=DATE:20261127" in told
    document = opened.get("/tasks.json").json()
    assert [one["what"] for one in document["tasks"]] == [TASK["what"]]


def test_what_is_refused_keeps_what_was_typed(opened):
    wrong = opened.post("/tasks", data=TASK | {"token": "task-token-2", "by": "yesterday", "tag": "NO-9"})
    assert wrong.status_code == 422
    assert 'value="NO-9"' in wrong.text
    assert 'value="yesterday"' in wrong.text
    strange = opened.post("/tasks", data=TASK | {"token": "task-token-3", "tag": "NO-9"})
    assert strange.status_code == 422
    assert "NO-9" in strange.text
    short = opened.post(f"/tasks/{number(opened)}/close", data={"state": "done", "word": "ok"})
    assert short.status_code == 422
    assert "Say in 4 to 200 characters" in short.text
    assert 'value="ok"' in short.text


def test_it_is_closed_with_a_word_and_leaves_the_lists(opened):
    said = {"state": "done", "word": "new set on", "back": "round"}
    sent = opened.post(f"/tasks/{number(opened)}/close", data=said)
    assert (sent.status_code, sent.headers["location"]) == (303, "/motors/BW-1/inspection")
    page = opened.get("/tasks").text
    assert "Nothing is to be done." in page
    assert "new set on" in page
    assert "belts" not in opened.get("/").text


def test_who_may_not_close_it_is_not_asked(opened, store, sign_in, electrician):
    for_other = TASK | {"what": "Grease it", "whom": electrician.login, "token": "task-token-4"}
    assert opened.post("/tasks", data=for_other).status_code == 303
    other = sign_in(add_person(store, Role.APPRENTICE, "A. Pprentice", electrician))
    page = other.get("/tasks").text
    assert len(re.findall(r"/tasks/\d+/close", page)) == 1
    reader = sign_in(add_person(store, Role.READER, "R. Eader"))
    page = reader.get("/tasks").text
    assert "/close" not in page
    assert 'name="what"' not in page


def test_the_page_asks_the_database_at_most_six_times(opened, engine_queries):
    for path in ("/tasks", "/motors/BW-1", "/"):
        engine_queries.clear()
        assert opened.get(path).status_code == 200
        assert 0 < len(engine_queries) <= 6
