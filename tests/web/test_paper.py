"""Sheets as PDF: the words of the page in it, tagged, its fonts inside, its pages numbered, nothing fetched."""

import io
import re
from dataclasses import replace

import pytest
from pypdf import PdfReader

from grimcoil.cli.__main__ import main
from grimcoil.service import sheets
from grimcoil.service.jobs import Start, start_job
from grimcoil.web import paper
from grimcoil.web.pdf import OwnFiles
from tests.exchange.test_photos import made
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
    pdf = read(client.get(f"/jobs/{job}/report.pdf"))
    told = words(pdf)
    for part in ("BW-1", "Judged by", "Page 1 of"):
        assert part in told
    assert "Find a motor" not in told
    root = pdf.trailer["/Root"]
    assert root["/MarkInfo"]["/Marked"]
    assert root["/Lang"] == "en"
    assert "/StructTreeRoot" in root
    assert "Test report of BW-1" in pdf.metadata.title
    fonts = [font.get_object() for page in pdf.pages for font in page["/Resources"]["/Font"].values()]
    inner = [font["/DescendantFonts"][0].get_object()["/FontDescriptor"] for font in fonts]
    assert inner
    assert all({"/FontFile2", "/FontFile3"} & set(one) for one in inner)
    assert any("Atkinson" in str(one["/FontName"]) for one in inner)


def test_columns_hold_every_step_once_in_order(store, job, clock):
    sheet = sheets.sheet(store, job, clock())
    steps = [(f"step {i}", [("reading", None)] * (i % 5)) for i in range(17)]
    for count in (1, 2, 3, 7):
        columns = replace(sheet, steps=steps).columns(count)
        assert [step for column in columns for step in column] == steps
        assert len(columns) == count
    assert replace(sheet, steps=[]).columns(3) == [[], [], []]


def test_the_paper_for_who_pays_and_the_round_and_the_outage_list(client, job):
    assert "In one sentence" in words(read(client.get("/motors/BW-1/money/paper.pdf", params=CASE)))
    client.post("/motors/BW-1/inspection/on")
    assert "frame temperature" in words(read(client.get("/inspection-rounds/paper.pdf?area=Yard")))
    assert "Outage work list" in words(read(client.get("/outage.pdf?days=200")))
    assert client.get("/motors/BW-1/money/paper.pdf", params=CASE | {"years": "ten"}).status_code == 422
    assert client.get("/jobs/999/report.pdf").status_code == 404


def test_a_history_has_the_plate_the_life_and_the_tests(client, job):
    client.post("/motors/BW-1/history-and-moves/happened", data={"token": "done-token-1", "kind": "repaired",
        "on": "2026-03-01",
                                                    "note": "new bearing"})  # fmt: skip
    told = words(read(client.get("/motors/BW-1/history.pdf")))
    for part in ("BW-1", "460 V", "21 A", "three leads, wye", "Not tested yet", "new bearing", "Beet wash", "None yet"):
        assert part in told
    assert "As PDF" in client.get("/motors/BW-1/history").text
    assert client.get("/motors/NO-1/history.pdf").status_code == 404


def test_a_walk_on_paper_says_what_was_done_in_order_and_what_is_left(client, job):
    query = "tag=BW-1&s=dead-silent&d=overload-look~not-tripped&d=volts-line-side~481~479~480"
    assert "/troubleshooting/report?" in client.get(f"/troubleshooting?{query}").text
    told = words(read(client.get(f"/troubleshooting/report.pdf?{query}")))
    assert told.index("Overload: not tripped") < told.index("481, 479, 480 V line to line")
    assert "Not at its end" in told
    assert "proved dead" in told
    ended = f"{query}&d=volts-coil~110&d=contactor-look~stays-out"
    assert client.get(f"/troubleshooting/report?{ended}").status_code == 200
    assert client.get("/troubleshooting/report.pdf?s=sulks").status_code == 422


def test_the_photos_of_a_job_are_on_its_pdf_and_no_others(client, job):
    def pictures():
        return [image for page in read(client.get(f"/jobs/{job}/report.pdf")).pages for image in page.images]

    before = len(pictures())
    client.post(f"/jobs/{job}/photos", data={"token": "photo-token-1", "note": "As found"},
                files={"photo": ("a.jpg", made(), "image/jpeg")})  # fmt: skip
    assert len(pictures()) == before + 1
    with pytest.raises(ValueError, match="is not fetched"):
        OwnFiles({"/photos/1.jpg": b""}).fetch("https://static.invalid/photos/2.jpg")


@pytest.fixture
def command(store, database_url, monkeypatch, tmp_path, capsys):
    monkeypatch.setenv("GRIMCOIL_DATABASE_URL", database_url)

    def run(*given):
        capsys.readouterr()
        status = main(["paper", *map(str, given), "-o", str(tmp_path / "out.pdf")])
        said = capsys.readouterr()
        return status, (words(PdfReader(tmp_path / "out.pdf")) if status == 0 else said.err)

    return run


def test_every_paper_from_the_command_line(command, client, job):
    figures = [f"{name}={value}" for name, value in CASE.items()]
    for given, part in (
        (("job", job), "Judged by"), (("history", "BW-1"), "What happened"),
        (("money", "BW-1", *figures), "In one sentence"), (("outage", "--days", 200), "Outage work list"),
    ):  # fmt: skip
        status, told = command(*given)
        assert (status, part in told) == (0, True)


def test_it_is_the_same_paper_as_the_pages_with_the_times_of_the_works(command, client, job, store):
    client.post(f"/jobs/{job}/keep", data={"place": "isolate.tag", "text": "BW-1", "token": "keep-token-1"})

    def times(told):
        return re.findall(r"\b\d\d:\d\d\b", told)

    utc = times(words(read(client.get(f"/jobs/{job}/report.pdf"))))
    site = {"works_name": "Fenmark", "zone": "Asia/Tokyo", "criteria": "field-general"}
    assert client.post("/plant/site", data=site).status_code == 303
    local = times(words(read(client.get(f"/jobs/{job}/report.pdf"))))
    assert local
    assert local != utc
    assert times(command("job", job)[1]) == local


def test_a_file_that_cant_be_written_is_said(client, job, database_url, monkeypatch, capsys):
    monkeypatch.setenv("GRIMCOIL_DATABASE_URL", database_url)
    capsys.readouterr()
    assert main(["paper", "job", str(job), "-o", "/none/such/out.pdf"]) == 2
    assert "a file that can be written" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("given", "said"),
    [
        (("job", 999), "job: found “999”"), (("history", "NO-1"), "NO-1"), (("money", "BW-1", "years=12"), "at least"),
        (("money", "BW-1", "years=ten", "rewind_price=1"), "money"),
        (("money", "BW-1", "bogus=1"), "a field of the page"), (("outage", "--days", 0), "1 to 366"),
    ],
)  # fmt: skip
def test_what_cant_be_printed_is_one_line_and_no_file(command, client, job, tmp_path, given, said):
    status, told = command(*given)
    assert (status, told.count("\n")) == (2, 1)
    assert said in told
    assert not (tmp_path / "out.pdf").exists()


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
