"""The API by token: what it gives, what it refuses, and whatever a fuzzer thinks of over its own description."""

import json
import os
from io import BytesIO
from pathlib import Path
from zoneinfo import ZoneInfo

import pytest
import schemathesis
from fastapi.testclient import TestClient
from httpx2 import InvalidURL, LocalProtocolError
from hypothesis import HealthCheck, Phase, given, settings
from pypdf import PdfReader
from schemathesis.core import NotSet
from sqlalchemy import select

from grimcoil.core.people import Role
from grimcoil.service.importing import Source
from grimcoil.service.jobs import Start, start_job
from grimcoil.service.motors import check_registration, register_motor
from grimcoil.service.people import make_token
from grimcoil.service.sheet_drafts import begin, take
from grimcoil.service.site import keep_site
from grimcoil.store.tables import Position
from grimcoil.web.app import whole_description
from tests.service.conftest import PLATE
from tests.support import MADE_SAFE, NOW, WHOLE_JOB, add_person, signed_cookie, walk
from tests.web.test_money import CASE
from tests.web.test_signing import PUBLIC

JOB = json.loads((Path(__file__).parents[2] / "docs/formats/example-job.json").read_text(encoding="utf-8"))


@pytest.fixture
def motor(store, electrician):
    return register_motor(store, electrician, check_registration(PLATE, NOW))


@pytest.fixture
def by_token(app, store, clock, electrician):
    def made(*scopes, actor=electrician):
        token = make_token(store, actor, "scale house", scopes, clock())
        return TestClient(app, headers={"authorization": f"Bearer {token}"})

    return made


def test_it_says_whom_it_acts_for(by_token):
    told = by_token("read").get("/api/1/me").json()
    assert told == {"login": "a.tester", "name": "A. Tester", "role": "electrician", "scopes": ["read"]}


def test_readings_by_cursor_a_job_as_a_document_and_its_position(by_token, motor, client, clock, store):
    address = client.post("/jobs/start", data={"tag": motor, "token": "start-token-1"}).headers["location"]
    tokens = iter(range(1000))

    def put(place, words):
        client.post(f"{address}/keep", data={"place": place, "text": words, "token": f"token-{next(tokens):04}"})

    walk(put, clock, WHOLE_JOB)
    api, seen, after = by_token("read"), [], 0
    while after is not None:
        page = api.get(f"/api/1/motors/{motor}/readings?most=4&after={after}").json()
        seen += page["readings"]
        after = page["after"]
    assert len(seen) > 12
    assert len({one["id"] for one in seen}) == len(seen)
    assert [one["text"] for one in seen if one["place"] == "winding_resistance.1-2"] == ["0.5344"]
    number = int(address.rpartition("/")[2])
    told = api.get(f"/api/1/jobs/{number}/document").json()
    assert (told["format"], told["motor"]["tag"]) == ("grimcoil-job/1", motor)
    assert api.post("/api/1/assess", json=told).status_code == 200
    with store() as session:
        place = session.scalars(select(Position.id)).one()
    found = api.get(f"/api/1/positions/{place}").json()
    assert [stay["tag"] for stay in found["stays"]] == [motor]
    for path in ("motors/XX-1/readings", "jobs/999/document", "positions/999"):
        assert api.get(f"/api/1/{path}").status_code == 404


def test_what_is_due_and_what_came_in(by_token, motor, client, store, electrician, clock):
    client.post(f"/motors/{motor}/inspection/on")
    draft = begin(
        store, electrician, Source("yard.csv", b"Motor,Date,IR\nBW-1,2024-03-14,520\n"), "sheet-0001", clock()
    )
    take(store, electrician, draft, clock(), 1)
    api = by_token("read")
    due = api.get("/api/1/due?days=366").json()
    assert [(one["on"], one["tasks"]) for one in due["rounds"]] == [("2026-11-24", 8)]
    assert [one["tag"] for one in due["tests"]] == [motor]
    (came,) = api.get("/api/1/imports").json()
    assert (came["file_name"], came["taken"], came["taken_back"]) == ("yard.csv", 1, False)
    assert by_token("record").get("/api/1/due").status_code == 403
    assert api.get("/api/1/due?days=0").status_code == 422


def in_tokyo(store, electrician, now):
    keep_site(store, electrician, {"works_name": "Fenmark", "zone": "Asia/Tokyo", "criteria": "field-general"}, now)


def test_a_sheet_as_pdf_says_what_the_page_says_by_the_works_clock(by_token, client, store, electrician, motor, clock):
    in_tokyo(store, electrician, clock())
    clock.pass_(7.5 * 3600)  # half past midnight in Tokyo
    job = start_job(store, electrician, Start(motor, "start-token-1"), clock())
    place, text = MADE_SAFE[0]
    client.post(f"/jobs/{job}/keep", data={"place": place, "text": text, "token": "token-0001"})
    here, by_key = (
        "".join(" ".join(page.extract_text() for page in PdfReader(BytesIO(answer.content)).pages).split())
        for answer in (
            client.get(f"/jobs/{job}/report.pdf"),
            by_token("read").get(f"/api/1/jobs/{job}/sheet.pdf"),
        )
    )
    assert by_key == here
    assert "25Nov2026" in here
    assert "24Nov2026" not in here
    assert "00:30" in here
    assert by_token("record").get(f"/api/1/jobs/{job}/sheet.pdf").status_code == 403
    assert by_token("read").get("/api/1/jobs/999/sheet.pdf").status_code == 404


def test_a_tokens_today_is_the_works_today(by_token, client, store, electrician, motor, clock):
    in_tokyo(store, electrician, clock())
    client.post(f"/motors/{motor}/inspection/on")
    clock.pass_(7.5 * 3600)  # midnight has passed in Tokyo, and not in UTC
    assert clock().date() < clock().astimezone(ZoneInfo("Asia/Tokyo")).date()
    on = by_token("read").get("/api/1/due?days=366").json()["rounds"][0]["on"]
    assert on == clock().astimezone(ZoneInfo("Asia/Tokyo")).date().isoformat()


def test_a_job_is_started_and_read_into(by_token, motor):
    api = by_token("read", "record")
    started = api.post("/api/1/jobs", json={"tag": motor}, headers={"idempotency-key": "start-0001"})
    assert started.status_code == 201
    job = started.json()
    assert (job["tag"], job["state"], job["next_place"]) == ("BW-1", "open", "isolate.tag")
    for n, (place, text) in enumerate(MADE_SAFE):
        for _ in range(2):  # sent twice, kept once
            answer = api.post(
                f"/api/1/jobs/{job['id']}/entries",
                json={"place": place, "text": text},
                headers={"idempotency-key": f"entry-{n:04}"},
            )
            assert answer.status_code == 201
    kept = api.get(f"/api/1/jobs/{job['id']}").json()["entries"]
    assert [(e["place"], e["text"], e["who"]) for e in kept] == [(p, t, "A. Tester") for p, t in MADE_SAFE]
    line = api.get("/api/1/motors?q=BW-1").json()["motors"][0]
    assert (line["tag"], line["open_job_id"]) == ("BW-1", job["id"])
    assert api.get("/api/1/motors/BW-1").json()["open_job_id"] == job["id"]


def test_it_judges_a_record_without_storing_it(by_token):
    told = by_token("read").post("/api/1/assess", json=JOB)
    assert told.status_code == 200
    assert told.json()["format"] == "grimcoil-assessment/1"
    assert told.json()["winding_resistance"][0]["verdict"] in ("sound", "watch")


@pytest.mark.parametrize(
    ("path", "json", "status", "where"),
    [
        ("/api/1/jobs", {"tag": "NO-1"}, 404, "motor"),
        ("/api/1/jobs", {"tag": "BW-1", "extra": 1}, 422, "extra"),
        ("/api/1/jobs", [], 422, ""),
        ("/api/1/jobs/1/entries", {"place": "isolate.tag", "text": "BW-1"}, 404, "job"),
        ("/api/1/assess", JOB | {"format": "other/1"}, 422, ""),
        ("/api/1/assess", {"format": "grimcoil-job/1"}, 422, ""),
    ],
)
def test_refusals_say_where_and_what(by_token, motor, path, json, status, where):
    answer = by_token("record").post(path, json=json, headers={"idempotency-key": "some-key-1"})
    assert answer.status_code == status
    error = answer.json()["error"]
    assert set(error) == {"path", "found", "accepted", "example", "do"}
    assert where in error["path"]


def test_scopes_roles_and_cookies_are_told_apart(app, by_token, store, motor, electrician, sign_in):
    key = {"idempotency-key": "start-0001"}
    read_only = by_token("read").post("/api/1/jobs", json={"tag": motor}, headers=key)
    assert (read_only.status_code, "scopes: read" in read_only.json()["error"]["found"]) == (403, True)
    reader = by_token("record", actor=add_person(store, Role.READER, "R. Eader"))
    assert reader.post("/api/1/jobs", json={"tag": motor}, headers=key).status_code == 403
    assert sign_in(electrician).get("/api/1/me").status_code == 401  # a cookie opens no API
    assert by_token("read").get("/motors", follow_redirects=False).status_code == 303  # a token opens no page
    for header in ("Bearer", "Bearer ", "Basic abc", "Bearer gc_forged", "bearer \x00"):
        assert TestClient(app).get("/api/1/me", headers={"authorization": header}).status_code == 401


@pytest.mark.parametrize("path", ["/api/1/motors", "/api/1/motors/BW-1", "/api/1/jobs/1"])
def test_reading_needs_its_scope_too(by_token, motor, path):
    refused = by_token("record", "register").get(path)
    assert (refused.status_code, "scopes: record, register" in refused.json()["error"]["found"]) == (403, True)
    assert by_token("read").get(path).status_code in (200, 404)


def test_a_motor_is_registered_by_the_scope_for_it(by_token, motor):
    body = {"motor": JOB["motor"] | {"tag": "NEW-9"}, "position": JOB["position"] | {"name": "New place"}}
    assert by_token("read", "record").post("/api/1/motors", json=body).status_code == 403
    api = by_token("register", "read")
    assert api.post("/api/1/motors", json=body).json() == {"tag": "NEW-9"}
    assert api.get("/api/1/motors/NEW-9").json()["lead_scheme"] == JOB["motor"]["lead_scheme"]
    again = api.post("/api/1/motors", json=body)
    assert (again.status_code, again.json()["error"]["path"]) == (422, "motor.tag")
    odd = api.post("/api/1/motors", json={"motor": {"tag": "X-1", "power": "9 cats"}})
    assert (odd.status_code, odd.json()["error"]["path"]) == (422, "motor.power")


def test_a_kept_entry_is_in_its_answer_and_its_key_names_it_alone(by_token, motor):
    api = by_token("read", "record")
    job = api.post("/api/1/jobs", json={"tag": motor}, headers={"idempotency-key": "start-0001"}).json()["id"]

    def send(place, text, key):
        body = {"place": place, "text": text}
        return api.post(f"/api/1/jobs/{job}/entries", json=body, headers={"idempotency-key": key})

    kept = send("isolate.tag", "BW-1", "entry-0001")
    assert [(e["place"], e["text"]) for e in kept.json()["entries"]] == [("isolate.tag", "BW-1")]
    assert send("isolate.tag", " BW-1 ", "entry-0001").json()["entries"] == kept.json()["entries"]
    other = send("isolate.lock-main", "Disconnect", "entry-0001")
    assert (other.status_code, other.json()["error"]["path"]) == (422, "key")
    assert send("isolate.tag", "BW-2", "entry-0001").status_code == 422
    assert len(api.get(f"/api/1/jobs/{job}").json()["entries"]) == 1


def test_a_start_key_names_one_motor(by_token, motor, store, electrician):
    register_motor(store, electrician, check_registration(PLATE | {"tag": "BW-7"}, NOW))
    api = by_token("read", "record")
    key = {"idempotency-key": "start-0001"}
    assert api.post("/api/1/jobs", json={"tag": motor}, headers=key).status_code == 201
    assert api.post("/api/1/jobs", json={"tag": "BW-7"}, headers=key).status_code == 422


def test_its_description_holds_the_api_alone(by_token):
    described = by_token("read").get("/api/1/openapi.json").json()
    assert all(path.startswith("/api/1/") for path in described["paths"])
    assert "SignInForm" not in str(described)
    assert described["security"] == [{"token": []}]


FEW = settings(
    max_examples=int(os.environ.get("GRIMCOIL_FUZZ", "6")),
    deadline=None,
    derandomize=True,
    database=None,
    phases=[Phase.explicit, Phase.generate],
    suppress_health_check=list(HealthCheck),
)
INSIDE = ("argon2id", "token_hash", "Traceback", 'File "', "sqlalchemy", "MySQLdb")


def asked(client, case):
    """A case of the fuzzer as a request."""
    headers = {name: str(value) for name, value in (case.headers or {}).items() if str(value).isascii()}
    body = {}
    if not isinstance(case.body, NotSet):
        body = {"json": case.body} if case.media_type == "application/json" else {"data": case.body or {}}
    try:
        return client.request(case.method, case.formatted_path, params=case.query or {}, headers=headers, **body)
    except (InvalidURL, UnicodeEncodeError, LocalProtocolError):
        return None  # what no client can send


def fuzz(app, client, skipped=()):
    """Ask every operation of the whole description; what came back."""
    answers = []
    for found in schemathesis.openapi.from_dict(whole_description(app)).get_all_operations():
        operation = found.ok()
        if operation.path in skipped:
            continue

        _ask_often(client, operation, answers)
    return answers


def _ask_often(client, operation, answers):
    @FEW
    @given(case=operation.as_strategy())
    def one(case):
        answer = asked(client, case)
        if answer is not None:
            answers.append((operation.method, operation.path, answer))

    one()


@pytest.fixture
def open_job(store, motor, electrician, clock):
    return start_job(store, electrician, Start(motor, "start-token-1"), clock())


def test_a_fuzzer_signed_in_finds_no_crash_and_no_leak(app, store, electrician, open_job, clock):
    token = make_token(store, electrician, "fuzzer", ["read", "record", "register"], clock())
    session, word = signed_cookie(store, electrician, clock())
    headers = {"authorization": f"Bearer {token}", "x-csrf-token": word}
    with TestClient(
        app, headers=headers, cookies={"gc_session": session}, follow_redirects=False, raise_server_exceptions=False
    ) as client:
        answers = fuzz(app, client, skipped=("/sign-out",))
    assert len(answers) > 200
    for method, path, answer in answers:
        assert answer.status_code < 500, (method, path, answer.text[:300])
        sent = f"{answer.request.url}{answer.request.content!r}"  # a fuzzer types words that it finds in the code
        assert not [word for word in INSIDE if word in answer.text and word not in sent], (method, path)
    assert {answer.status_code for _, _, answer in answers} >= {200, 303, 404, 422}


def test_a_fuzzer_signed_out_gets_nothing(app, store, open_job):
    with TestClient(app, follow_redirects=False, raise_server_exceptions=False) as client:
        answers = fuzz(app, client)
    for method, path, answer in answers:
        assert answer.status_code < 500, (method, path)
        assert "BW-1" not in answer.text or "BW-1" in str(answer.request.url) + str(answer.request.content), path
        if path not in PUBLIC:
            assert answer.status_code in (303, 401, 405, 413), (method, path, answer.status_code)


def test_papers_for_another_program(by_token, motor, client):
    api = by_token("read")
    for path in (f"/motors/{motor}/history.pdf", "/outage.pdf?days=90"):
        answer = api.get(f"/api/1{path}")
        assert (answer.status_code, answer.content[:5]) == (200, b"%PDF-")
    money = api.get(f"/api/1/motors/{motor}/money.pdf", params=CASE)
    assert (money.status_code, money.headers["content-type"]) == (200, "application/pdf")
    assert api.get(f"/api/1/motors/{motor}/money.pdf").status_code == 422
    assert api.get("/api/1/motors/NO-1/history.pdf").status_code == 404
    assert by_token("calendar").get("/api/1/outage.pdf").status_code == 403
