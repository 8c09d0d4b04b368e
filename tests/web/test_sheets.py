"""A large sheet comes in while its page says how far it is; one that can't be taken says why, and nothing is kept."""

import re

import pytest

from grimcoil.store.tables import Job
from grimcoil.web import long_work
from grimcoil.web.long_work import HERE
from grimcoil.web.routers import sheets

SHEET = "Motor;Date;R 1-2;R 2-3;R 3-1\n" + "".join(
    f"ZZ-{n};2024-03-{n + 1:02};0,41;0,42;0,{43 + n}\n" for n in range(8)
)


@pytest.fixture
def draft(client):
    files = {"sheet": ("yard.csv", SHEET.encode(), "text/csv")}
    return client.post("/import", data={"token": "sheet-token-1"}, files=files).headers["location"]


@pytest.fixture(autouse=True)
def large(monkeypatch):
    monkeypatch.setattr(sheets, "LARGE", 3)
    monkeypatch.setattr(long_work, "EVERY_S", 0.0)


def jobs(store):
    with store() as session:
        return session.query(Job).count()


def test_how_far_it_is_is_told_and_where_it_goes_on(client, draft, store):
    page = client.post(f"{draft}/take", data={"expected": 24})
    assert page.status_code == 200
    assert re.findall(r"<p>(\d+) of 8 tests</p>", page.text) == [str(n) for n in range(1, 9)]
    assert "It is in." in page.text
    assert page.text.rstrip().endswith("</html>")
    assert jobs(store) == 8
    again = client.post(f"{draft}/take", data={"expected": 24}).text  # a double tap finds it gone
    assert "Nothing was saved" in again
    assert jobs(store) == 8


def test_what_was_shown_and_is_no_more_is_not_taken(client, draft, store):
    page = client.post(f"{draft}/take", data={"expected": 23}).text
    assert "24 values can be taken now" in page
    assert "Nothing was saved." in page
    assert jobs(store) == 0


def test_a_small_one_is_taken_at_once(client, draft, store, monkeypatch):
    monkeypatch.setattr(sheets, "LARGE", 24)
    assert client.post(f"{draft}/take", data={"expected": 24}).status_code == 303
    assert jobs(store) == 8


def test_what_breaks_is_said_and_raised():
    def broken(told):
        told(1, 2)
        raise ValueError("no")

    sent = []

    def send():
        for line in long_work.lines(f"<a>{HERE}</a>", "<tests>", "/on", broken):
            sent.append(line)

    with pytest.raises(ValueError, match="no"):
        send()
    assert "<p>1 of 2 &lt;tests&gt;</p>\n" in sent
    assert "Something broke on our side." in sent[-2]
    assert (sent[0], sent[-1]) == ("<a>", "</a>")


def test_a_sheet_of_whole_figures_opens_on_its_page(client):
    """No figure has a decimal sign, so the proposal names none."""
    files = {"sheet": ("whole.csv", b"Motor;Date;IR\nZZ-1;2024-03-01;520\nZZ-2;2024-03-02;610\n", "text/csv")}
    page = client.post("/import", data={"token": "sheet-token-9"}, files=files).headers["location"]
    opened = client.get(page)
    assert opened.status_code == 200
    assert "Decimal sign" in opened.text


def test_several_columns_are_told_at_once(client, draft):
    said = {"name": ["R 1-2", "R 2-3", "R 3-1"], "holds": "leave_out"}
    assert client.post(f"{draft}/column", data=said).status_code == 303
    page = client.get(draft).text
    assert page.count("nothing: leave it out") > 3
    assert "<dt>Values understood</dt><dd>0</dd>" in page
    assert client.post(f"{draft}/column", data={"holds": "leave_out"}).status_code == 422


def test_a_row_that_is_no_test_is_kept_as_a_remark(client):
    raw = SHEET.replace("ZZ-1;", "bearing howled;;\nZZ-1;", 1).encode()
    files = {"sheet": ("yard.csv", raw, "text/csv")}
    draft = client.post("/import", data={"token": "sheet-token-2"}, files=files).headers["location"]
    page = client.get(draft).text
    assert page.count('value="remark"') == 1
    key = re.search(r'name="key"\s+value="([^"]+)"><button class="btn-gc" name="text" value="remark"', page)[1]
    assert client.post(f"{draft}/cell", data={"key": key, "text": "remark"}).status_code == 303
    page = client.get(draft).text
    assert 'value="remark"' not in page
    assert "<dt>Values understood</dt><dd>25</dd>" in page
