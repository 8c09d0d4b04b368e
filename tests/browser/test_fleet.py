"""The fleet by keys on a wide page and by touch on a phone: a mark chosen, its sentence, its motor."""

import re

import pytest
from playwright.sync_api import expect


def test_by_keys_from_mark_to_mark_in_the_order_of_need(page):
    page.goto("/fleet")
    wide = page.locator("svg.plane.only-wide")
    first = wide.get_by_role("link").first
    first.focus()
    page.keyboard.press("ArrowRight")
    second = wide.get_by_role("link").nth(1)
    expect(second).to_be_focused()
    said = second.get_attribute("aria-label")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/fleet[?]at="))
    chosen = page.get_by_role("region", name="Chosen motor")
    expect(chosen).to_contain_text(said.partition(":")[0].partition(",")[0])
    chosen.get_by_role("link", name=re.compile("^Open")).click()
    expect(page).to_have_url(re.compile("/motors/"))


@pytest.mark.browser_context_args(viewport={"width": 390, "height": 844}, has_touch=True)
def test_by_touch_on_a_phone_from_the_list_to_the_line(page):
    page.goto("/fleet")
    assert page.evaluate("document.documentElement.scrollWidth") == 390
    page.get_by_role("listitem").filter(has_text="DD-207").get_by_role("link").tap()
    expect(page.get_by_role("region", name="Chosen motor")).to_contain_text("DD-207")
    expect(page.get_by_role("link", name="Plan its test")).to_be_in_viewport(ratio=0.5)
