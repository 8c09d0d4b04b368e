"""A drowned motor on the page: wet, three cycles with one rotation, dry, and on to its full set of tests."""

import re

import pytest
from playwright.sync_api import expect


@pytest.fixture
def begun(page, works_clock):
    page.goto("/motors/SH-440/dry")
    page.get_by_label("Resistance cold").fill("0.412")
    page.get_by_label("Winding then").fill("18")
    page.get_by_role("button", name="Begin").press("Enter")
    expect(page.get_by_text("Winding free")).to_be_visible()
    yield page
    works_clock.pass_(60)


def hold(page, clock, mohm):
    for text, seconds in ((mohm / 1.4, "30"), (mohm, "60")):
        page.get_by_role("textbox", name="Insulation").fill(f"{text:.4g}M")
        page.get_by_label("Held").select_option(seconds)
        page.get_by_role("button", name="Save the reading").click()
        clock.pass_(31)
    expect(page.get_by_text("Charged by the tester")).to_be_visible()
    with page.expect_navigation():  # a reload on its heels would meet a page that is being swapped
        page.get_by_role("button", name="Tester off, shorted to frame").click()
    expect(page.get_by_role("button", name="Strap off")).to_have_count(0)
    clock.pass_(245)
    page.reload()
    page.get_by_role("button", name="Strap off").click()


def heat(page, clock, volts="2.9"):
    page.get_by_role("button", name="Heat on").click()
    expect(page.get_by_text("Heating current is on")).to_be_visible()
    expect(page.get_by_role("textbox", name="Insulation")).to_have_count(0)
    clock.pass_(1260)
    page.get_by_role("textbox", name="Amps").fill("6.2")
    page.get_by_role("textbox", name="Volts").fill(volts)
    with page.expect_navigation():
        page.keyboard.press("Enter")
    page.get_by_role("button", name="Heat off").click()
    with page.expect_navigation():
        page.get_by_role("button", name="Shorted to frame").click()
    clock.pass_(65)
    page.reload()
    page.get_by_role("button", name="Strap off").click()


def test_wet_to_dry_with_one_rotation(begun, works_clock):
    page = begun
    hold(page, works_clock, 2.0)
    for number, mohm in enumerate((290.0, 300.0, 303.0, 305.0, 306.0, 307.0)):
        heat(page, works_clock)
        if number == 1:
            page.get_by_label("Rotate").select_option("2")
            page.get_by_role("button", name="Rotated").click()
            expect(page.get_by_role("img", name="Hookup one-and-two: phase 1 50%, phase 2 100%")).to_be_visible()
        works_clock.pass_(600)
        hold(page, works_clock, mohm)
    expect(page.get_by_text("Dry. Varnish only now").first).to_be_visible()
    page.get_by_role("button", name="It is dry: end").click()
    page.get_by_role("link", name="Full set of tests").click()
    expect(page.get_by_role("radio", name="After drying")).to_be_checked()
    page.goto("/motors/SH-440/history-and-moves")
    expect(page.get_by_text("dry after 6 cycles")).to_be_visible()


def test_on_a_phone_a_wrong_figure_is_told_at_its_field_and_kept(page, works_clock):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto("/motors/ST-019/dry")
    page.get_by_label("Resistance cold").fill("OL")
    page.get_by_label("Winding then").fill("14")
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_label("Resistance cold")).to_have_value("OL")
    page.get_by_label("Resistance cold").fill("0.31")
    page.get_by_role("button", name="Begin").click()
    page.get_by_role("button", name="Heat on").click()
    page.get_by_role("textbox", name="Amps").fill("9.5")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator("#d-said")).to_contain_text("volts")
    expect(page.get_by_role("textbox", name="Amps")).to_have_value("9.5")
    page.goto("/")
    expect(page.get_by_role("main").locator("a", has_text="ST-019").first).to_contain_text("Drying, heat")
    page.goto("/dryings")
    page.get_by_role("link", name="ST-019", exact=True).click()
    page.get_by_role("button", name="Undo Heat on").click()
    page.get_by_label("End it before it is").fill("to the oven")
    page.get_by_role("button", name="End", exact=True).click()
    expect(page.get_by_text("to the oven")).to_be_visible()


def test_what_dries_stands_on_today_with_its_clock(page):
    page.goto("/")
    row = page.get_by_role("main").locator("a[href='/dryings/1']")
    expect(row.locator("[data-until]")).to_be_visible()
    row.click()
    expect(page).to_have_url(re.compile("/dryings/1$"))
