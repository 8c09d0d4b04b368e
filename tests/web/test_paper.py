"""Sheets as PDF: the words of the page in it, tagged, its fonts inside, its pages numbered, nothing fetched."""

import io
from dataclasses import replace

import pytest
from pypdf import PdfReader

from grimcoil.service import sheets
from grimcoil.service.jobs import Start, start_job
from grimcoil.web import paper
from grimcoil.web.pdf import OwnFiles
from tests.service.conftest import PLATE
from tests.web.test_money import CASE


@pytest.fixture
def job(client, store, electrician, clock):
    client.post("/motors/new", data=PLATE)
    return start_job(store, electrician, Start("BW-1", "start-token-1"), clock())


def read(answer):
    assert (answer.status_code, answer.headers["content-type"]) == (200, "application/pdf")
    return PdfReader(io.BytesIO(answer.content))


def words(pdf):
    return " ".join(" ".join(page.extract_text() for page in pdf.pages).split())


def test_a_job_sheet_says_what_its_page_says(client, job):
    pdf = read(client.get(f"/jobs/{job}/sheet.pdf"))
    told = words(pdf)
    for part in ("BW-1", "Judged by", "Page 1 of"):
        assert part in told
    assert "Find a motor" not in told
    root = pdf.trailer["/Root"]
    assert root["/MarkInfo"]["/Marked"]
    assert root["/Lang"] == "en"
    assert "/StructTreeRoot" in root
    assert "Sheet of BW-1" in pdf.metadata.title
    fonts = [font.get_object() for page in pdf.pages for font in page["/Resources"]["/Font"].values()]
    inner = [font["/DescendantFonts"][0].get_object()["/FontDescriptor"] for font in fonts]
    assert inner
    assert all({"/FontFile2", "/FontFile3"} & set(one) for one in inner)
    assert any("Atkinson" in str(one["/FontName"]) for one in inner)


def test_columns_hold_every_step_once_in_order(store, job, clock):
    made = sheets.sheet(store, job, clock())
    steps = [(f"step {i}", [("reading", None)] * (i % 5)) for i in range(17)]
    for count in (1, 2, 3, 7):
        columns = replace(made, steps=steps).columns(count)
        assert [step for column in columns for step in column] == steps
        assert len(columns) == count
    assert replace(made, steps=[]).columns(3) == [[], [], []]


def test_the_paper_for_who_pays_and_the_round_and_the_outage_list(client, job):
    assert "In one sentence" in words(read(client.get("/motors/BW-1/money/paper.pdf", params=CASE)))
    client.post("/motors/BW-1/round/on")
    assert "frame temperature" in words(read(client.get("/rounds/sheet.pdf?area=Yard")))
    assert "Outage list" in words(read(client.get("/outage.pdf?days=200")))
    assert client.get("/motors/BW-1/money/paper.pdf", params=CASE | {"years": "ten"}).status_code == 422
    assert client.get("/jobs/999/sheet.pdf").status_code == 404


@pytest.mark.parametrize(
    "address",
    [
        "file:///etc/passwd",
        "https://static.invalid/../app.py",
        "https://static.invalid/fonts/../../paper.py",
        "http://127.0.0.1/x.css",
    ],
)
def test_nothing_is_fetched_but_our_own_files(address):
    with pytest.raises(ValueError, match="is not fetched"):
        OwnFiles().fetch(address)


def test_what_was_typed_fetches_nothing_and_stays_text():
    typed = '<img src="file:///etc/hostname"><style>@import url(http://127.0.0.1/x.css)</style><p>A &lt;b&gt; word</p>'
    pdf = PdfReader(io.BytesIO(paper.pdf_of(f"<html lang=en><title>T</title><body>{typed}</body></html>")))
    assert words(pdf).startswith("A <b> word")
