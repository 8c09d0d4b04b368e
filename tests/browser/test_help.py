"""Help where a term stands: by touch on a phone, by mouse and keys on a wide page; what an apprentice may find out."""

import re

import pytest
from playwright.sync_api import expect

from grimcoil.core.people import Role
from tests.browser.test_axe import AXE, CHECKED
from tests.served import browser_state
from tests.support import add_person

PHONE = {"viewport": {"width": 390, "height": 844}, "has_touch": True, "is_mobile": True}


@pytest.fixture
def apprentice(browser, browser_context_args, works_store, works_clock, tester):
    """A phone of somebody new."""
    actor = add_person(works_store, Role.APPRENTICE, "N. Eu", tester)
    state = browser_state(works_store, actor, works_clock)
    context = browser.new_context(**browser_context_args | PHONE | {"storage_state": state})
    page = context.new_page()
    yield page
    context.close()


def findings_of_axe(page, scheme):
    page.evaluate(AXE)
    result = page.evaluate("only => axe.run(document, {runOnly: only, resultTypes: ['violations']})", CHECKED[scheme])
    return [f"{v['id']}: {n['target']}" for v in result["violations"] for n in v["nodes"]]


def test_by_touch_an_apprentice_finds_out_what_a_word_means_and_what_they_may(apprentice):
    page = apprentice
    page.goto("/motors")
    page.get_by_text("What the marks mean").tap()
    expect(page.get_by_text(re.compile("cannot decide it"))).to_be_visible()
    page.goto("/motors/DD-207")
    word = page.locator(".term").first
    says = page.locator(f"#{word.get_attribute('popovertarget')}")
    expect(says).to_be_hidden()
    word.tap()
    expect(says).to_be_visible()
    box = says.bounding_box()
    assert box["y"] + box["height"] == pytest.approx(844, abs=2)
    assert (box["x"], box["width"]) == (0, 390)
    page.keyboard.press("Escape")
    expect(says).to_be_hidden()
    page.goto("/me")
    page.get_by_text("What you may do, and what needs someone else").tap()
    needs = page.get_by_role("region", name="What needs someone else")
    expect(needs.get_by_text("Sign: electrician")).to_be_visible()


def test_by_mouse_by_focus_and_by_key_beside_its_word(page):
    page.goto("/motors/DD-207")
    word = page.locator(".term").first
    says = page.locator(f"#{word.get_attribute('popovertarget')}")
    word.hover()
    expect(says).to_be_visible()
    at, box = word.bounding_box(), says.bounding_box()
    assert abs(box["x"] - at["x"]) < 400
    assert box["x"] + box["width"] <= 1280
    page.mouse.move(5, 300)
    expect(says).to_be_hidden()
    page.keyboard.press("?")
    expect(says).to_be_visible()
    expect(word).to_be_focused()
    page.keyboard.press("Escape")
    expect(says).to_be_hidden()
    expect(word).to_have_accessible_description(re.compile(r"\w+ \w+.*\."))


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_axe_finds_nothing_with_a_help_open(browser, browser_context_args, scheme):
    context = browser.new_context(**browser_context_args, color_scheme=scheme, bypass_csp=True)
    page = context.new_page()
    page.goto("/motors/DD-207")
    page.keyboard.press("?")
    expect(page.locator(".meaning:popover-open")).to_be_visible()
    found = findings_of_axe(page, scheme)
    page.locator(".term").first.press("?")
    page.locator(".meaning:popover-open").get_by_role("link", name="All terms").click()
    expect(page).to_have_url(re.compile("/glossary#"))
    found += findings_of_axe(page, scheme)
    context.close()
    assert found == []
