"""Photos of a job over HTTP: kept once, taken back, signed with the job; names and files that play tricks."""

import pytest
from sqlalchemy import select, text

from grimcoil.core.people import Role
from grimcoil.service.verifying import verify
from grimcoil.store.people_tables import PhotoRow
from tests.exchange.test_photos import made
from tests.service.conftest import PLATE
from tests.support import SECRET, WHOLE_JOB, add_person, walk


@pytest.fixture
def job(client):
    client.post("/motors/new", data=PLATE)
    return client.post("/jobs/start", data={"tag": "BW-1", "token": "start-token-1"}).headers["location"]


def send(client, job, raw, name="photo.jpg", token="photo-token-1", note="Leads as found"):
    return client.post(f"{job}/photos", data={"token": token, "note": note}, files={"photo": (name, raw, "image/jpeg")})


def test_a_photo_is_kept_once_shown_and_taken_back(client, job, store):
    for _ in range(2):
        assert send(client, job, made()).status_code == 303
    page = client.get(f"{job}/photos").text
    assert page.count("<img") == 1
    assert 'alt="Leads as found"' in page
    with store() as session:
        photo = session.scalars(select(PhotoRow)).one()
    picture = client.get(f"/photos/{photo.id}.jpg")
    assert (picture.status_code, picture.headers["content-type"]) == (200, "image/jpeg")
    assert picture.headers["x-content-type-options"] == "nosniff"
    assert "private" in picture.headers["cache-control"]
    assert f"/photos/{photo.id}.jpg" in client.get(f"{job}/report").text
    for _ in range(2):
        assert client.post(f"{job}/photos/take-back", data={"id": photo.id}).status_code == 303
    assert "Taken back by A. Tester" in client.get(f"{job}/photos").text
    assert f"/photos/{photo.id}.jpg" not in client.get(f"{job}/report").text
    assert client.get(f"/photos/{photo.id}.jpg").status_code == 200
    assert "photo undone" in client.get("/audit-trail").text


@pytest.mark.parametrize(
    "name",
    ["../../../etc/passwd", "..\\..\\boot.ini", "/etc/cron.d/x.jpg", "x\x00.jpg", "<script>.jpg", "a" * 5000, ""],
)
def test_a_file_name_is_never_used(client, job, store, name):
    answer = send(client, job, made(), name=name)
    assert answer.status_code in (303, 400, 422)
    assert "<script>.jpg" not in answer.text
    assert "etc" not in client.get(f"{job}/photos").text
    if answer.status_code == 303:
        with store() as session:
            assert session.scalars(select(PhotoRow)).one().note == "Leads as found"


@pytest.mark.parametrize("raw", [b"<html><script>alert(1)</script></html>", b"", b"GIF89a", made()[:100]])
def test_what_is_no_photo_is_told_and_the_note_is_still_there(client, job, store, raw):
    answer = send(client, job, raw, note="Burnt <b>lead")
    assert answer.status_code == 422
    assert "a photo as JPEG, PNG or WebP, at most 12 MiB" in answer.text or "photo" in answer.text
    assert "<b>lead" not in answer.text
    with store() as session:
        assert session.scalars(select(PhotoRow)).all() == []


def test_too_large_is_refused_before_it_is_read(client, job):
    answer = client.post(f"{job}/photos", content=b"", headers={"content-length": str(14 * 1024 * 1024)})
    assert (answer.status_code, "12 MiB" in answer.text) == (413, True)


def test_photos_are_signed_with_the_job_and_a_changed_one_shows(client, job, store, clock, electrician):
    assert send(client, job, made()).status_code == 303
    tokens = iter(range(1000))

    def keep(place, words):
        client.post(f"{job}/keep", data={"place": place, "text": words, "token": f"token-{next(tokens):04}"})

    walk(keep, clock, WHOLE_JOB)
    client.post(f"{job}/decide", data={"action": "return"})
    assert "1 photo" in client.get(job).text
    client.post(f"{job}/sign", data={"secret": SECRET})
    assert verify(store).breaks == ()
    late = send(client, job, made(), token="photo-token-2")
    assert (late.status_code, "this job is signed" in late.text) == (409, True)
    assert client.post(f"{job}/photos/take-back", data={"id": 1}).status_code == 409
    for change in (
        "UPDATE photo SET data = CONCAT(data, 'x')",
        "UPDATE photo SET note = 'other'",
        "UPDATE photo SET taken_back_by = 'x'",
        "DELETE FROM photo",
    ):
        with store.begin() as session:
            session.execute(text(change))
        assert any("a photo was changed" in line for line in verify(store).breaks), change


def test_who_may_not_measure_keeps_no_photo(client, job, store, sign_in):
    reader = sign_in(add_person(store, Role.READER, "R. Eader"))
    assert send(reader, job, made()).status_code == 403
    assert "Save it" not in reader.get(f"{job}/photos").text
    assert client.get("/photos/99.jpg").status_code == 404
    assert client.get("/jobs/99/photos").status_code == 404
    assert client.post(f"{job}/photos/take-back", data={"id": 99}).status_code == 404
