"""The isolation card's page."""

import re

import pytest

from grimcoil.core.people import Role
from tests.service.conftest import PLATE
from tests.support import add_person

ROWS = {"kind": ["main", "control", ""], "name": ["", "Lighting", ""], "from": ["MCC 4", "LP 2", ""],
        "lock_at": ["Q4", "<b>F7</b>", ""]}  # fmt: skip


@pytest.fixture
def card(client):
    client.post("/motors/new", data=PLATE)
    place = re.search(r'href="(/positions/\d+)"', client.get("/motors/BW-1").text)[1]
    assert f"{place}/isolation" in client.get(place).text
    return f"{place}/isolation"


def test_a_card_is_typed_kept_and_shown_again(client, card):
    first = client.get(card).text
    assert 'value="main" selected' in first
    assert client.post(card, data=ROWS).headers["location"] == card
    page = client.get(card).text
    for words in ("Lighting", "MCC 4", "&lt;b&gt;F7&lt;/b&gt;", 'value="control" selected'):
        assert words in page
    assert "<b>F7" not in page


def test_bad_rows_are_refused_and_nothing_typed_is_lost(client, card):
    answer = client.post(card, data=ROWS | {"kind": ["main", "steam", ""]})
    assert answer.status_code == 422
    assert "Lighting" in answer.text
    assert "steam" in answer.text
    assert client.post(card, data={"kind": ["main"], "name": []}).status_code == 422
    assert client.get("/positions/99999/isolation").status_code == 404


def test_who_reads_only_sees_it_without_a_form(client, card, store, sign_in):
    client.post(card, data=ROWS)
    reader = sign_in(add_person(store, Role.READER, "schwaden"))
    page = reader.get(card).text
    assert "Locked at Q4" in page
    assert 'name="lock_at"' not in page
    assert reader.post(card, data=ROWS).status_code == 403


def test_the_line_over_every_page_is_there_for_itself(client, card):
    assert client.get("/_danger").text.strip() == ""
    assert client.get("/_danger?own=-1").status_code == 422
