"""Leads and Connection as their user meets them: by keyboard, by tapping, without scripts."""

import re

import pytest
from playwright.sync_api import expect

from grimcoil.core.people import Role
from tests.browser.test_axe import AXE, CHECKED
from tests.served import browser_state
from tests.support import add_person


def answer(page):
    """A six-lead motor: A-D, B-E, C-F are its coils."""
    source = page.locator("#keep-form [name=a]").input_value(), page.locator("#keep-form [name=b]").input_value()
    return "1.91" if source in (("A", "D"), ("B", "E"), ("C", "F")) else "OL"


def test_six_leads_by_keyboard(page):
    page.goto("/leads?n=6")
    for kept in range(1, 16):
        if page.locator("#entry").count() == 0 or page.locator("#keep-form [name=k]").input_value() != "ohms":
            break
        said = page.locator(".jacks").inner_text()
        page.locator("#entry").fill(answer(page))
        page.locator("#entry").press("Enter")
        expect(page.locator(".jacks")).not_to_have_text(said)
        expect(page).to_have_url(re.compile(rf"^[^?]*\?n=6(&m=[^&]*){{{kept}}}$"))
    expect(page.locator(".shead")).to_have_text("1 scheme still fits")
    assert "m=ohms" in page.url
    page.go_back()
    expect(page.locator("#keep-form [name=k]")).to_have_value("ohms")


def test_two_taps_ask_for_a_pair_and_over_range_is_one_key(page):
    page.goto("/leads?n=6")
    page.get_by_role("link", name="Lead C").first.click()
    page.get_by_role("link", name="Lead F").first.click()
    expect(page.locator(".jacks")).to_have_text(re.compile(r"C\s*to\s*F"))
    page.get_by_role("button", name="Open, OL").click()
    expect(page.locator(".coils")).to_contain_text("OL")
    page.locator("[data-back]").click()
    expect(page.locator(".coils")).not_to_contain_text("OL")


def test_a_refused_reading_stays_where_it_was_typed(page):
    page.goto("/leads?n=6")
    page.locator("#entry").fill("4..2")
    page.locator("#entry").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("4..2")
    expect(page.locator("#entry")).to_have_value("4..2")


def test_moving_a_lead_changes_coils_and_verdict_at_once(page):
    page.goto("/connection?scheme=nine-lead-wye&rated=230Y%2F460Y&supply=460")
    expect(page.locator(".verdict-line").first).to_contain_text("Nothing joined yet")
    page.get_by_role("link", name="Set: high voltage").click()
    expect(page.locator(".verdict-line").first).to_contain_text("Right")
    page.get_by_label("9 W5").select_option("")
    expect(page.locator(".verdict-line").first).to_contain_text("without current")
    page.get_by_role("link", name="Set: high voltage").click()
    expect(page.locator(".verdict-line").first).to_contain_text("Right")


@pytest.mark.parametrize("width", [1280, 390])
def test_without_scripts_both_pages_work(browser, browser_context_args, width):
    size = {"viewport": {"width": width, "height": 844}}
    context = browser.new_context(**(browser_context_args | size), java_script_enabled=False)
    page = context.new_page()
    page.goto("/leads?n=6")
    page.locator("#entry").fill("1.91")
    page.get_by_role("button", name="Save", exact=False).first.click()
    assert "m=ohms%7EA-B%7E1.91" in page.url or "ohms~A-B~1.91" in page.url
    page.goto("/connection")
    page.get_by_role("link", name="Set: high voltage").click()
    page.get_by_label("Supply", exact=True).fill("230")
    page.get_by_role("button", name="Solve").click()
    expect(page.locator(".verdict-line").first).to_contain_text("50 %")
    context.close()


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_what_is_asked_before_a_lead_is_touched_can_be_read(
    browser, browser_context_args, works_store, works_clock, scheme
):
    reader = add_person(works_store, Role.ELECTRICIAN, f"Lead {scheme}")
    state = browser_state(works_store, reader, works_clock)
    given = browser_context_args | {"storage_state": state, "color_scheme": scheme, "bypass_csp": True}
    page = browser.new_context(**given).new_page()
    page.goto("/leads?n=6&tag=BW-114")
    page.evaluate(AXE)
    result = page.evaluate("only => axe.run(document, {runOnly: only, resultTypes: ['violations']})", CHECKED[scheme])
    assert [f"{v['id']}: {n['target']}" for v in result["violations"] for n in v["nodes"]] == []
    page.get_by_role("button", name="Locked, and proved dead here").click()
    expect(page.get_by_text("locked, proved dead at BW-114")).to_be_visible()
    page.context.close()
