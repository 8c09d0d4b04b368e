"""The works' page: instruments kept, and what a role may not do isn't offered."""

from grimcoil.core.people import Role
from tests.support import add_person

RANGE = {"name": "M7", "function": "low-ohm", "resolution": "0.01 m", "top": "20"}


def test_an_instrument_added_stands_on_the_page_and_in_the_start_form(client):
    assert client.post("/works/instruments", data=RANGE).status_code == 303
    page = client.get("/works").text
    assert "steps of 0.01 mΩ, to 20 Ω" in " ".join(page.split())
    assert "M7" in client.get("/jobs/start").text


def test_a_refused_range_keeps_what_was_typed(client):
    answer = client.post("/works/instruments", data=RANGE | {"top": "4..2"})
    assert answer.status_code == 422
    assert 'value="4..2"' in answer.text
    assert "one decimal sign" in answer.text


def test_a_wrong_day_of_calibration_is_said(client):
    client.post("/works/instruments", data=RANGE)
    answer = client.post("/works/instruments/calibrated", data={"id": 1, "due": "soon"})
    assert answer.status_code in (404, 422)
    assert client.post("/works/instruments/calibrated", data={"id": 9999, "due": ""}).status_code == 404


def test_a_reader_is_offered_no_form(store, sign_in, electrician):
    reader = sign_in(add_person(store, Role.READER, "R. Eader", electrician))
    page = reader.get("/works").text
    assert "Add a range" not in page
    assert "An electrician or a planner keeps the instruments" in page
