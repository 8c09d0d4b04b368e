"""The key of a form names one thing sent: other content under it is told, on every form, and nothing typed is lost."""

import re
from html import unescape

import pytest

from tests.service.conftest import PLATE

KEY = "one-key-for-both"
# Each form with a key: where it goes, what is kept first, what comes under the same key then.
FORMS = {
    "life": ("/motors/BW-1/history-and-moves/happened", {"kind": "repaired", "on": "2026-03-01", "note": "a"},
        {"note": "b"}),
    "move": ("/motors/BW-1/history-and-moves/move", {"to": "store", "on": "2026-11-20"}, {"note": "other"}),
    "round": (
        "/motors/BW-1/inspection/keep",
        {"task": "frame temperature", "outcome": "skipped", "words": "guard stuck"},
        {"words": "no key"},
    ),
}  # fmt: skip


@pytest.fixture
def motor(client):
    client.post("/motors/new", data=PLATE)
    client.post("/motors/BW-1/inspection/on")


@pytest.mark.usefixtures("motor")
@pytest.mark.parametrize("form", sorted(FORMS))
def test_other_content_under_a_key_is_told_and_held(client, form):
    address, first, then = FORMS[form]
    kept = client.post(address, data=first | {"token": KEY})
    assert kept.status_code == 303, kept.text
    again = client.post(address, data=first | {"token": KEY})
    assert again.status_code == 303  # a double tap does nothing twice
    other = client.post(address, data=first | then | {"token": KEY})
    assert other.status_code == 422
    assert "send this one as a change of its own" in other.text
    held = dict(re.findall(r'<input type="hidden" name="([^"]+)" value="([^"]*)">', other.text))
    assert unescape(held[next(iter(then))]) == next(iter(then.values()))
    assert held["token"] != KEY
    assert len(held["token"]) <= 40


@pytest.mark.usefixtures("motor")
def test_what_was_refused_keeps_its_key(client):
    address, first, _ = FORMS["life"]
    refused = client.post(address, data=first | {"on": "soon", "token": KEY})
    assert refused.status_code == 422
    assert client.post(address, data=first | {"token": KEY}).status_code == 303
