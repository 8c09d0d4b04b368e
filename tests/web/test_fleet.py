"""The fleet: drawn in one query, chosen by its address, and its lists; few queries, whatever the number of motors."""

import re

import pytest

from demo.big import Size, fill
from demo.scenario import seed
from demo.works import MOTORS
from grimcoil.service.signing_in import actor_of
from grimcoil.store.people import by_login

SHOWN = ("DD-207", "WE-622", "BW-121", "LK-305")


@pytest.fixture
def electrician(store, clock):
    with store.begin() as session:
        seed(session, clock(), [made for made in MOTORS if made.tag in SHOWN])
    with store() as session:
        return actor_of(by_login(session, "rohrdommel"))


def marks(page):
    """Tags of the wide drawing's links, in their order."""
    wide = page.partition('<svg class="plane only-wide"')[2].partition("</svg>")[0]
    return re.findall(r'class="visit" href="/fleet[?][^"]*at=([^"&]+)"', wide)


def test_every_motor_is_a_mark_the_neediest_first_and_chosen(client):
    page = client.get("/fleet").text
    assert marks(page)[:2] == ["WE-622", "DD-207"]
    assert set(marks(page)) == set(SHOWN)
    assert ">Open WE-622</a>" in page
    assert "below the minimum" in page
    assert re.search(r"DD-207, Diffuser drive 2: [\d.]+ times its minimum, used up in", page)


def test_one_is_chosen_by_its_address_and_an_unknown_one_chooses_the_first(client):
    assert ">Open DD-207</a>" in client.get("/fleet?at=DD-207").text
    assert ">Open WE-622</a>" in client.get("/fleet?at=NO-1").text


def test_the_next_stop_is_drawn_and_stays_in_every_link(client):
    page = client.get("/fleet?stop=2027-09-14").text
    assert "next stop, 14 Sep 2027" in page
    assert "/fleet?stop=2027-09-14&amp;at=DD-207" in page
    assert 'value="2027-09-14"' in page
    assert client.get("/fleet?stop=").status_code == 200
    assert client.get("/fleet?stop=soon").status_code == 422


def test_many_are_cells_and_the_picture_asks_no_more_of_the_database(client, store, engine_queries):
    with store.begin() as session:
        fill(session, Size(90, 4, 0))
    engine_queries.clear()
    page = client.get("/fleet").text
    assert 0 < len(engine_queries) <= 6
    assert 0 < len(marks(page)) <= 12
    assert " motors</title>" in page


def test_the_lists_ask_six_times_at_most_whatever_the_number_of_motors(client, store, engine_queries):
    with store.begin() as session:
        fill(session, Size(40, 2, 0))
    engine_queries.clear()
    page = client.get("/fleet/lists").text
    assert 0 < len(engine_queries) <= 6
    assert page.count("<tr>") > 10
