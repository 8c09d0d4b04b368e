"""The trail by motor, job and person; as CSV; with the worst that can be typed, shown harmlessly everywhere."""

import csv
import io
from urllib.parse import quote

import pytest

from grimcoil.core.lines import hides, shown_as_such
from tests.service.conftest import PLATE
from tests.support import SECRET, WHOLE_JOB, walk

WORST = [
    "<script>alert(1)</script>",
    '"><img src=x onerror=alert(1)>',
    "'; DROP TABLE motor; --",
    '=HYPERLINK("http://elsewhere.example","x")',
    "{{ 7 * 7 }}${7*7}",
    "../../etc/passwd",
    "\u202eevil\u2066",
]


pytestmark = pytest.mark.usefixtures("at_desk")
ADDRESSES = [
    "/motors?q={}",
    "/audit-trail?motor={}",
    "/audit-trail?person={}",
    "/jobs/start?tag={}",
    "/connection?rated={}",
    "/connection.svg?rated={}",
    "/leads?tag={}",
    "/sign-in?next={}",
]


@pytest.fixture
def job(client):
    client.post("/motors/new", data=PLATE)
    return client.post("/jobs/start", data={"tag": "BW-1", "token": "start-token-1"}).headers["location"]


def test_who_did_what_to_which(client, job, electrician):
    client.post(f"{job}/keep", data={"place": "isolate.tag", "text": "BW-1", "token": "token-0001"})
    client.post(f"{job}/take-back", data={"seq": 1})
    number = job.rsplit("/", 1)[1]
    for query in ("motor=BW-1", f"job={number}", f"person={electrician.login}"):
        page = client.get(f"/audit-trail?{query}").text
        assert "Tag on the motor&#39;s plate: BW-1" in page
        assert "undone" in page
        assert "testclient" in page
    assert "Nothing is on the audit trail" in client.get("/audit-trail?motor=NO-1").text
    assert client.get("/audit-trail?job=abc").status_code == 422


def test_it_goes_on_page_by_page(client, job):
    for n in range(60):
        client.post(f"{job}/keep", data={"place": "isolate.tag", "text": "BW-1", "token": f"token-{n:04}"})
        client.post(f"{job}/take-back", data={"seq": n + 1})
    first = client.get("/audit-trail").text
    assert first.count("<tr>") == 101
    more = first.split('<p><a href="')[1].split('"')[0].replace("&amp;", "&")
    assert "motor registered" in client.get(more).text
    assert "motor registered" not in first


@pytest.mark.parametrize("text", WORST)
def test_the_worst_is_shown_harmlessly(client, job, clock, text):
    put = iter(range(1000))

    def keep(place, words):
        data = {"place": place, "text": words, "token": f"token-{next(put):04}"}
        assert client.post(f"{job}/keep", data=data).status_code == 303

    walk(
        keep,
        clock,
        [
            (p, text if p in ("isolate.lock-main", "as_found.lead-1", "reconnect.lead-1") else t, s)
            for p, t, s in WHOLE_JOB
        ],
    )
    client.post(f"{job}/decide", data={"action": "replace", "reason": text})
    client.post(f"{job}/sign", data={"secret": SECRET})
    amended = {"reason": text, "token": "amend-token-1", "secret": SECRET}
    assert client.post(f"{job}/amend", data=amended).status_code == 303
    for path in (
        job,
        f"{job}/report",
        f"{job}?at=isolate",
        "/audit-trail",
        "/motors/BW-1",
        "/jobs",
        "/",
        f"{job}/amend",
    ):
        page = client.get(path)
        assert page.status_code == 200
        for raw in ("<script>alert", "<img src=x", '"><img', "49$", "${49}"):
            assert raw not in page.text, path
    rows = list(csv.reader(io.StringIO(client.get("/audit-trail.csv").text)))
    assert rows[0] == ["at", "who", "action", "motor", "job", "detail", "origin"]
    cells = [cell for row in rows[1:] for cell in row]
    assert any(shown_as_such(text).strip() in cell for cell in cells)
    assert not any(hides(character) for cell in cells for character in cell)
    assert not any(cell.startswith(("=", "+", "-", "@", "\t")) for cell in cells)


@pytest.mark.parametrize("text", WORST)
@pytest.mark.parametrize("path", ADDRESSES)
def test_the_worst_in_an_address(client, path, text):
    answer = client.get(path.format(quote(text)))
    assert answer.status_code in (200, 303, 422)
    assert "<script>alert" not in answer.text
    assert "<img src=x" not in answer.text
