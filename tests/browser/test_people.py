"""People at the page: signing in by keyboard, a shared tablet, amending, a database that goes away and comes back."""

import re

import pytest
from playwright.sync_api import expect
from pydantic import SecretStr
from sqlalchemy import make_url

from grimcoil.core.people import Role
from grimcoil.settings import Settings
from grimcoil.web.app import create_app
from tests.browser.test_walk import walk_to
from tests.served import Line, browser_state, served
from tests.support import PIN_SECRET, SECRET, add_person


@pytest.fixture(scope="module")
def keeper(works_store):
    return add_person(works_store, Role.ADMINISTRATOR, "K. Eeper")


def someone(browser, browser_context_args, state):
    context = browser.new_context(**(browser_context_args | {"storage_state": state}))
    return context.new_page()


def test_signing_in_by_keyboard_leads_on_to_the_page_that_was_asked(browser, browser_context_args, tester):
    page = someone(browser, browser_context_args, None)
    page.goto("/motors/DD-207")
    expect(page).to_have_url(re.compile("/sign-in"))
    page.keyboard.type(tester.login)
    page.keyboard.press("Tab")
    page.keyboard.type("not this one")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("don't fit")
    expect(page.get_by_label("Sign-in name")).to_have_value(tester.login)
    page.get_by_role("textbox", name="Password").fill(SECRET)
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/motors/DD-207"))
    page.get_by_role("link", name="A. Tester").click()
    page.get_by_role("button", name="Sign out", exact=True).click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    page.goto("/motors")
    expect(page).to_have_url(re.compile("/sign-in"))
    page.context.close()


def test_a_shared_tablet_switches_person_by_pin_and_signs_by_pin(
    browser, browser_context_args, works_store, works_clock, keeper, tester
):
    page = someone(
        browser,
        browser_context_args | {"viewport": {"width": 390, "height": 844}},
        browser_state(works_store, keeper, works_clock),
    )
    page.goto("/people")
    page.locator("details.change summary").first.click()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.get_by_label("Name of the tablet you hold").fill("Yard tablet")
    page.get_by_role("button", name="Enrol this device").click()
    expect(page.get_by_role("cell", name="Yard tablet", exact=True)).to_be_visible()
    page.goto("/me")
    page.get_by_role("button", name="Sign out", exact=True).click()
    page.get_by_label("A. Tester").check()
    page.get_by_role("textbox", name="PIN").fill(PIN_SECRET)
    page.get_by_role("button", name="Switch to me").click()
    walk_to(page, works_clock, "PIN-1", "")
    page.get_by_role("button", name="Agree").click()
    page.get_by_label("A. Tester, your password or PIN").fill("000000")
    page.get_by_role("button", name="Sign", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("not your password or PIN")
    page.get_by_label("A. Tester, your password or PIN").fill(PIN_SECRET)
    page.get_by_role("button", name="Sign", exact=True).click()
    expect(page.get_by_text(re.compile(r"Signed by A. Tester,\s+24 Nov"))).to_be_visible()
    walk_to(page, works_clock, "PIN-2", "winding_resistance.1-2")
    page.locator("#entry").fill("0.5344")
    tab = page.context.new_page()
    tab.goto("/me")
    tab.get_by_role("button", name="Sign out", exact=True).click()
    expect(tab.get_by_role("heading", name="Sign in")).to_be_visible()
    page.locator("#entry").press("Enter")
    dialog = page.get_by_role("dialog", name="Signed out")
    expect(dialog.get_by_label("A. Tester")).not_to_be_checked()  # nobody is chosen beforehand
    dialog.get_by_label("A. Tester").check()
    dialog.get_by_label("PIN").fill(PIN_SECRET)
    dialog.get_by_role("button", name="Sign in").click()
    expect(dialog).not_to_be_visible()
    expect(page.locator("#entry")).to_have_value("0.5344")
    page.context.close()


def test_a_signed_job_is_amended_and_both_stay_readable(page, works_clock):
    walk_to(page, works_clock, "AMEND-1", "")
    page.get_by_role("button", name="Agree").click()
    page.get_by_label("your password").fill(SECRET)
    page.get_by_role("button", name="Sign", exact=True).click()
    page.get_by_role("link", name="Amend").click()
    page.get_by_label("Reading to put right").select_option("insulation.1-2-3.60")
    page.get_by_label("As it should stand").fill("52M")
    page.get_by_label("Why").fill("Decimal point slipped")
    page.get_by_label("Your password").fill("not this one")
    page.get_by_role("button", name="Sign the amendment").click()
    expect(page.get_by_role("alert")).to_contain_text("not your password")
    expect(page.get_by_label("As it should stand")).to_have_value("52M")
    page.get_by_label("Your password").fill(SECRET)
    page.get_by_role("button", name="Sign the amendment").click()
    expect(page.get_by_text("“Decimal point slipped”")).to_be_visible()
    page.get_by_role("link", name="Print report").click()
    expect(page.locator(".gone").filter(has_text="520M")).to_be_visible()
    expect(page.get_by_text(re.compile("Link [0-9]+ of the chain"))).to_be_visible()


def test_a_page_of_an_earlier_sign_in_keeps_what_was_typed_and_asks_first(
    browser, browser_context_args, works_store, works_clock, tester
):
    page = someone(browser, browser_context_args, browser_state(works_store, tester, works_clock))
    walk_to(page, works_clock, "ANEW-1", "winding_resistance.1-2")
    page.locator("#entry").fill("0.5344")
    tab = page.context.new_page()
    tab.goto("/me")
    tab.get_by_role("button", name="Sign out", exact=True).click()
    page.locator("#entry").press("Enter")
    expect(page.locator("#echo")).to_contain_text("You are signed out")
    tab.get_by_label("Sign-in name").fill(tester.login)
    tab.get_by_role("textbox", name="Password").fill(SECRET)
    tab.keyboard.press("Enter")
    expect(tab.get_by_role("link", name="A. Tester", exact=True)).to_be_visible()
    page.get_by_role("button", name="Not now").click()
    page.locator("#entry").press("Enter")
    expect(page.locator("#echo")).to_contain_text("You are signed in as A. Tester now: press the key again")
    expect(page.locator("#entry")).to_have_value("0.5344")
    page.locator("#entry").press("Enter")
    expect(page.locator("#keep-form [name=place]")).to_have_value("winding_resistance.2-3")
    page.context.close()


@pytest.fixture
def cuttable(works, works_clock):
    """The same works over a line that can be cut."""
    line = Line(make_url(works).port)
    address = make_url(works).set(port=line.port).render_as_string(hide_password=False)
    with served(create_app(Settings(database_url=SecretStr(address)), works_clock)) as base:
        yield base, line
        line.cut()


def test_with_the_database_gone_nothing_typed_is_lost_and_it_comes_back_by_itself(
    browser, browser_context_args, works_store, works_clock, tester, cuttable, quiet
):
    base, line = cuttable
    state = browser_state(works_store, tester, works_clock)
    page = someone(browser, browser_context_args | {"base_url": base}, state)
    walk_to(page, works_clock, "GONE-1", "winding_resistance.1-2")
    line.cut()
    page.locator("#entry").fill("0.5344")
    page.locator("#entry").press("Enter")
    expect(page.locator("#echo")).to_contain_text("The database doesn't answer: not kept yet.")
    expect(page.locator("#entry")).to_have_value("0.5344")
    line.mend()
    expect(page.locator("#keep-form [name=place]")).to_have_value("winding_resistance.2-3", timeout=15_000)
    expect(page.get_by_text("0.5344").first).to_be_visible()
    line.cut()
    page.goto("/motors")
    expect(page.get_by_role("heading", name="Database away")).to_be_visible()
    line.mend()
    expect(page.get_by_role("heading", name="Motors")).to_be_visible(timeout=15_000)
    page.context.close()


def test_without_script_a_form_is_held_until_the_database_is_back(
    browser, browser_context_args, works_store, works_clock, tester, cuttable
):
    base, line = cuttable
    given = browser_context_args | {"base_url": base, "java_script_enabled": False}
    page = someone(browser, given, browser_state(works_store, tester, works_clock))
    walk_to(page, works_clock, "GONE-2", "winding_resistance.1-2")
    page.locator("#entry").fill("0.5344")
    line.cut()
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("heading", name="Database away")).to_be_visible()
    expect(page.get_by_text("0.5344")).to_be_visible()
    line.mend()
    page.get_by_role("button", name="Send it again").click()
    expect(page.locator("#keep-form [name=place]")).to_have_value("winding_resistance.2-3")
    page.context.close()
