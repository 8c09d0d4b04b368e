"""Addresses of earlier versions: every one leads on, its form and its question with it."""

import pytest

from grimcoil.web.moved import MOVED, moved_to
from tests.service.conftest import PLATE

OLD = {
    "/works": "/plant", "/works/archive.zip": "/plant/archive.zip", "/works/sheets/7/row": "/import/7/row",
    "/works/criteria/ieee-43": "/plant/criteria/ieee-43", "/trail.csv": "/audit-trail.csv", "/walk": "/troubleshooting",
    "/walk/sheet.pdf": "/troubleshooting/report.pdf", "/rounds/walk": "/inspection-rounds/walk",
    "/rounds/sheet": "/inspection-rounds/paper", "/motors/BW~1/side/vibration": "/motors/BW~1/other-tests/vibration",
    "/motors/BW-1/life/move": "/motors/BW-1/history-and-moves/move", "/motors/B%2F1/record": "/motors/B%2F1/data",
    "/motors/BW-1/plate/photo": "/motors/BW-1/nameplate/photo", "/motors/BW-1/round": "/motors/BW-1/inspection",
    "/jobs/12/sheet.pdf": "/jobs/12/report.pdf", "/trail": "/audit-trail",
}  # fmt: skip


@pytest.mark.parametrize(("old", "new"), OLD.items())
def test_an_old_address_has_one_that_is_todays(old, new):
    assert moved_to(old) == new
    assert moved_to(new) is None


@pytest.mark.parametrize("path", ["/workshop", "/motors/life", "/jobs/new/sheet", "/api/1/jobs/3/sheet.pdf", "/walks"])
def test_what_only_looks_like_one_stays(path):
    assert moved_to(path) is None


def test_every_rule_is_tried():
    assert all(any(old.match(path) for path in OLD) for old, _ in MOVED)


def test_a_question_goes_along_and_a_page_is_found(client):
    answer = client.get("/trail?tag=A%26B&page=2")
    assert (answer.status_code, answer.headers["location"]) == (308, "/audit-trail?tag=A%26B&page=2")
    assert answer.headers["x-content-type-options"] == "nosniff"
    for path in ("/works", "/trail", "/rounds", "/walk", "/works/sheets"):
        assert client.get(client.get(path).headers["location"]).status_code == 200


def test_a_form_of_a_page_still_open_is_sent_again_as_it_is(client):
    client.post("/motors/new", data=PLATE)
    answer = client.post("/motors/BW-1/life/happened", data={"x": "1"})
    assert answer.status_code == 308
    assert answer.headers["location"] == "/motors/BW-1/history-and-moves/happened"
    form = {"kind": "repaired", "on": "2026-03-01", "note": "seal", "token": "old-form-token-1"}
    kept = client.post("/motors/BW-1/life/happened", data=form, follow_redirects=True)
    assert kept.status_code == 200
    assert "seal" in kept.text
