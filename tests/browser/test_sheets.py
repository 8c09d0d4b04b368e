"""A sheet kept so far, brought in on the page: columns told, cells answered by keyboard, taken, taken back again."""

from urllib.parse import urlsplit

import pytest
from playwright.sync_api import expect

SHEET = """Mot Nr;Datum;R 1-2;R 2-3;R 3-1;Iso 1 min;Wert;Bemerkung
BW114;12.3.24;0,476;0,478;0,477;>550M;17;ok
DD-207;13.3.24;R21;R212;211 mΩ;0;18;=1+1
ZZ-7;14.3.24;0,41;0,41;0,4;760M;16;<b>wet</b>
ZZ-7;31.2.24;0,41;0,41;0,4;760M;16;
"""


@pytest.fixture
def sheet(page):
    page.goto("/import")
    page.get_by_label("Your spreadsheet").set_input_files(
        {"name": "yard.csv", "mimeType": "text/csv", "buffer": SHEET.encode()}
    )
    page.get_by_role("button", name="Read the file").press("Enter")
    expect(page.get_by_role("heading", name="yard.csv")).to_be_visible()
    return page


def test_a_sheet_comes_in_and_goes_again(sheet):
    expect(sheet.get_by_text("more than 550 megohms")).to_be_visible()
    expect(sheet.locator("td.refused")).to_have_count(1)
    column = sheet.locator("details", has=sheet.locator("summary", has_text="Wert"))
    column.get_by_label("Holds").select_option("winding_temperature_c")
    column.get_by_role("button", name="Read it so").press("Enter")
    expect(sheet.get_by_text("17 degrees Celsius")).to_be_visible()
    sheet.get_by_role("button", name="short", exact=True).focus()
    sheet.keyboard.press("Enter")
    expect(sheet.get_by_role("button", name="short", exact=True)).to_have_count(0)
    sheet.get_by_role("button", name="Leave out row 4").press("Enter")
    expect(sheet.get_by_role("button", name="Include row 4")).to_be_visible()
    expect(sheet.get_by_role("button", name="Import 12")).to_be_visible()
    sheet.get_by_role("button", name="Include row 4").press("Enter")
    with sheet.expect_download() as file:
        sheet.get_by_role("link", name="What stays outside").press("Enter")
    assert "31.2.24" in file.value.path().read_text("utf-8")
    sheet.get_by_role("button", name="Import 18").press("Enter")
    came_in = sheet.get_by_role("region", name="What came in")
    expect(came_in.get_by_role("link", name="BW-114")).to_be_visible()
    brought = sheet.url
    came_in.get_by_role("link", name="ZZ-7").press("Enter")
    expect(sheet.get_by_role("main")).to_contain_text("14 Mar 2024")
    sheet.goto(brought)
    sheet.get_by_role("button", name="Undo the whole import").press("Enter")
    told = sheet.get_by_role("status").filter(has_text="undone")
    expect(told).to_contain_text("ZZ-7")
    sheet.goto("/import")
    expect(sheet.get_by_role("cell", name="by A. Tester").first).to_be_visible()


def test_other_rows_are_headings_by_keyboard(sheet):
    """None: the first row is data then, and the columns have their letters; and back again."""
    headings = sheet.locator("details", has=sheet.locator("summary", has_text="Headings"))

    def tick_first_row():
        if headings.get_attribute("open") is None:  # it stands open where the whole sheet leaves something open
            headings.locator("summary").press("Enter")
        headings.get_by_role("checkbox", name="1 Mot Nr").press("Space")
        headings.get_by_role("button", name="Read it so").press("Enter")

    tick_first_row()
    expect(sheet.locator("summary", has_text="Headings: none")).to_be_visible()
    expect(sheet.get_by_role("button", name="Leave out row 1")).to_be_visible()
    tick_first_row()
    expect(sheet.locator("summary", has_text="Headings: row 1")).to_be_visible()
    expect(sheet.get_by_text("more than 550 megohms")).to_be_visible()
    sheet.get_by_role("button", name="Discard").click()


def test_words_that_do_not_fit_are_told_and_the_sheet_stands(sheet):
    column = sheet.locator("details", has=sheet.locator("summary", has_text="R 1-2"))
    column.locator("summary").click()
    column.get_by_label("Held").fill("soon")
    column.get_by_label("Holds").select_option("insulation")
    column.get_by_role("button", name="Read it so").click()
    expect(sheet.get_by_role("alert")).to_contain_text("soon")
    expect(sheet.get_by_text("0.476 ohms")).to_be_visible()
    draft = urlsplit(sheet.url).path
    sheet.get_by_role("button", name="Discard").click()
    expect(sheet.get_by_role("heading", name="Import a spreadsheet")).to_be_visible()
    expect(sheet.locator(f'a[href="{draft}"]')).to_have_count(0)


def test_a_file_that_is_none_is_refused_in_words(page):
    page.goto("/import")
    page.get_by_label("Your spreadsheet").set_input_files(
        {"name": "old.xls", "mimeType": "application/octet-stream", "buffer": b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1 rest"}
    )
    page.get_by_role("button", name="Read the file").click()
    expect(page.get_by_role("alert")).to_contain_text("save as XLSX or CSV")
