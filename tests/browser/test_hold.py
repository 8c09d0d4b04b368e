"""The hold with gloves: Now, a late value, a second hold, two tabs, the network away, a session that ends."""

import re

import pytest
from playwright.sync_api import expect

from grimcoil.core.plan.entries import NOT_RECONNECTED
from grimcoil.service.signing_in import sign_out, who_is
from tests.browser.driven import TAP, drive, reloaded, settled
from tests.browser.test_axe import AXE, CHECKED
from tests.browser.test_widths import WRONG
from tests.served import browser_state
from tests.support import SECRET
from tests.walker import Walker


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return browser_context_args | {"viewport": {"width": 820, "height": 1180}, "has_touch": True}


@pytest.fixture
def held(page, works_store, tester, works_clock):
    """A job with its test voltage on for so many seconds."""

    def to(tag, seconds=0):
        walker = Walker(works_store, tester, works_clock, tag, "three-lead-wye").start()
        page.goto(f"/jobs/{walker.job}")
        drive(page, walker, works_clock, TAP, until="insulation.1-2-3.60")
        works_clock.pass_(seconds)
        settled(page)
        reloaded(page)
        return walker

    return to


def now(page):
    return page.get_by_role("button", name="Now", exact=True)


def off(page):
    return page.locator(".line").get_by_role("button", name="Voltage off", exact=True)


def press(page, *keys):
    for key in keys:
        TAP(page.locator(f"[data-press='{key}']"))


def test_the_whole_routine_job_by_touch_with_now_and_a_second_hold(page, held, works_clock):
    walker = held("GL-1", 61)
    TAP(now(page))
    expect(page.locator(".count")).to_contain_text(re.compile("read at 1:0[012]"))
    expect(off(page)).to_be_visible()
    press(page, "6", "2", "0", "M")
    expect(page.locator("#entry")).to_have_value("620M")
    TAP(page.get_by_role("button", name="Save", exact=True))
    expect(page.locator(".answered")).to_contain_text("1 min")
    TAP(off(page))
    TAP(page.get_by_role("button", name="Done", exact=True))
    expect(page.get_by_text("Keep it shorted for")).to_be_visible()
    works_clock.pass_(300)
    settled(page)
    reloaded(page)
    press(page, "0")
    TAP(page.get_by_role("button", name="Save", exact=True))
    TAP(page.get_by_role("button", name="Hold again"))
    expect(page.locator(".now[aria-current]")).to_contain_text("hold 2")
    drive(page, walker, works_clock, TAP)
    kept = walker.bench.state.kept.standing
    assert {"insulation.1-2-3.60", "insulation.1-2-3.60#2", "line_current.L1"} <= set(kept)
    TAP(page.get_by_role("button", name="Agree"))
    page.get_by_label("your password").fill(SECRET)
    TAP(page.get_by_role("button", name="Sign"))
    expect(page.get_by_text(re.compile("Signed by A. Tester")).first).to_be_visible()


@pytest.fixture
def under_way(page):
    """Posts to an address stay under way until they are let go."""
    waiting = []

    def hold(address):
        page.route(address, lambda route: waiting.append(route))  # noqa: PLW0108 - a builtin takes no mark of its own

        def let_go():
            for route in waiting:
                route.continue_()
            page.unroute(address)

        return let_go

    return hold


def test_digits_typed_while_now_is_on_its_way_are_in_the_box_that_comes(page, held, under_way):
    walker = held("GL-21", 61)
    press(page, "6")
    let_go = under_way("**/now")
    TAP(now(page))
    press(page, "2", "0")
    let_go()
    expect(page.locator(".count")).to_contain_text("read at 1:0")
    expect(page.locator("#entry")).to_have_value("620")
    press(page, "M")
    TAP(page.get_by_role("button", name="Save", exact=True))
    expect(page.locator(".answered")).to_contain_text("1 min")
    assert walker.bench.state.kept.standing["insulation.1-2-3.60"].text == "620M"


def test_digits_typed_while_a_value_is_on_its_way_are_told_of_and_not_taken_for_the_next(
    page, works_store, tester, works_clock, under_way
):
    walker = Walker(works_store, tester, works_clock, "GL-22", "three-lead-wye").start()
    page.goto(f"/jobs/{walker.job}")
    drive(page, walker, works_clock, TAP, until="prove_dead.L1-L2")
    let_go = under_way("**/keep")
    page.locator("#entry").fill("0")
    TAP(page.get_by_role("button", name="Save", exact=True))
    press(page, "5")
    let_go()
    expect(page.locator("#notice")).to_contain_text("“5” was typed")
    expect(page.locator("#entry")).to_have_value("")
    assert walker.bench.state.kept.standing["prove_dead.L1-L2"].text == "0"


def test_a_late_value_is_asked_and_kept_as_such(page, held):
    walker = held("GL-2", 80)
    press(page, "5", "2", "0", "M")
    page.evaluate("document.querySelector('[data-held-s]').value = ''")  # no first digit was seen
    TAP(page.get_by_role("button", name="Save", exact=True))
    expect(page.locator("#echo")).to_contain_text("Read at 1:00")
    expect(off(page)).to_be_visible()
    TAP(page.get_by_role("button", name=re.compile("Read now, 1:2")))
    expect(page.locator("#entry-error")).not_to_be_attached()
    assert walker.bench.state.kept.standing["insulation.1-2-3.60"].text == "520M"


def test_voltage_off_from_a_second_tab_that_knew_nothing_of_it(page, held, context, works_clock):
    walker = held("GL-3")
    other = context.new_page()
    other.goto(f"/jobs/{walker.job}?at=temperature")
    expect(off(other)).to_be_visible()
    box = off(other).bounding_box()
    others = [key.bounding_box() for key in other.locator(".line .key:not(.off)").all()]
    assert all(box["width"] * box["height"] >= one["width"] * one["height"] for one in others if one)
    elsewhere = context.new_page()
    elsewhere.goto("/motors")
    expect(elsewhere.locator("#danger")).to_contain_text("GL-3")
    expect(elsewhere.locator("#danger")).to_contain_text("500 V on the winding")
    works_clock.pass_(30)
    TAP(off(other))
    expect(off(other)).not_to_be_attached()
    assert walker.bench.state.safety.on_test is None
    page.locator("#entry").fill("520M")
    TAP(page.get_by_role("button", name="Save", exact=True))
    expect(page.get_by_role("alert").first).to_contain_text(re.compile("isn't|over|strap|shorted", re.IGNORECASE))


def test_with_the_network_away_the_second_of_now_is_the_pages_own(page, held, context, works_clock, quiet):
    walker = held("GL-4", 60)
    context.set_offline(True)
    TAP(now(page))
    expect(page.locator("#echo")).to_contain_text("No connection")
    expect(off(page)).to_be_visible()
    context.set_offline(False)
    works_clock.pass_(20)
    expect(page.locator(".count")).to_contain_text(re.compile("read at 1:0"), timeout=15000)
    assert walker.bench.state.kept.stamps["insulation.1-2-3.60"].held_s < 66
    quiet.clear()


@pytest.fixture
def own_session(context, works_store, tester, works_clock):
    """A sign-in of this test's own: it ends."""
    context.clear_cookies()
    context.add_cookies(browser_state(works_store, tester, works_clock)["cookies"])


@pytest.mark.usefixtures("own_session")
def test_signed_out_in_mid_step_and_back_with_nothing_lost(page, held, works_store, works_clock, context, quiet):
    held("GL-5", 61)
    TAP(now(page))
    press(page, "6", "2", "0", "M")
    session = next(cookie for cookie in context.cookies() if cookie["name"].endswith("gc_session"))
    signed = who_is(works_store.kw["bind"], works_store, session["value"], "here", works_clock())
    sign_out(works_store, signed, works_clock())
    TAP(page.get_by_role("button", name="Save", exact=True))
    dialog = page.get_by_role("dialog", name="Signed out")
    expect(dialog).to_contain_text("Nothing is lost")
    expect(dialog).to_contain_text("this device isn't enrolled")
    dialog.get_by_label("Sign-in name").fill("a.tester")
    dialog.get_by_label("Password").fill("wrong-wrong-wrong")
    TAP(dialog.get_by_role("button", name="Sign in"))
    expect(dialog.locator("[data-says]")).not_to_be_empty()
    dialog.get_by_label("Password").fill(SECRET)
    TAP(dialog.get_by_role("button", name="Sign in"))
    expect(dialog).not_to_be_visible()
    expect(page.locator("#entry")).to_have_value("620M")
    TAP(page.get_by_role("button", name="Save", exact=True))
    expect(page.locator("#echo")).to_contain_text("press the key again")
    TAP(page.get_by_role("button", name="Save", exact=True))
    expect(page.locator(".answered")).to_contain_text("1 min")
    quiet.clear()


def test_no_control_of_the_hold_is_narrower_than_its_text(page, held):
    held("GL-6", 30)
    for width, height in ((1280, 800), (1024, 768), (820, 1180), (390, 844)):
        page.set_viewport_size({"width": width, "height": height})
        assert page.evaluate(WRONG) == [], (width, height)


def test_the_closing_page_and_a_refused_decision_fit_on_every_size(page, works_store, tester, works_clock):
    uneven = {"winding_resistance.2-3": "0.9", "winding_resistance.3-1": "0.9"}
    walker = Walker(works_store, tester, works_clock, "GL-7", "three-lead-wye", uneven).start(school="box-first")
    walker.to("insulation.1-2-3.volts")
    walker.put(NOT_RECONNECTED, "")
    page.goto(f"/jobs/{walker.job}")
    for refused in (False, True):
        if refused:
            TAP(page.get_by_role("button", name="Agree"))
            expect(page.get_by_role("alert")).to_contain_text("root cause, and what is changed")
            TAP(page.get_by_text("Decide otherwise"))
        for width, height in ((1280, 800), (1024, 768), (820, 1180), (390, 844)):
            page.set_viewport_size({"width": width, "height": height})
            assert page.evaluate(WRONG) == [], (width, height, refused)
            assert page.locator("fieldset.causes").count() == 1
            assert page.locator("#why").bounding_box()["width"] > 120 if refused else True


def test_a_second_enter_swears_to_nothing(page, works_store, tester, works_clock):
    page.set_viewport_size({"width": 1280, "height": 800})
    walker = Walker(works_store, tester, works_clock, "GL-8", "three-lead-wye").start()
    walker.to("isolate.lock-main")
    page.goto(f"/jobs/{walker.job}")
    page.keyboard.press("Tab")
    page.locator("input[name=text]").press("Enter")
    expect(page.locator("#keep-form [name=place]")).to_have_value("isolate.tried")
    rows = len(walker.bench.rows)
    for _ in range(3):
        page.keyboard.press("Enter")
    settled(page)
    assert len(walker.bench.rows) == rows
    expect(page.locator("#keep-form [name=place]")).to_have_value("isolate.tried")


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_axe_finds_nothing_in_a_hold(browser, browser_context_args, held, scheme):
    walker = held(f"GL-{scheme}", 30)
    context = browser.new_context(**browser_context_args, color_scheme=scheme, bypass_csp=True)
    page = context.new_page()
    page.goto(f"/jobs/{walker.job}")
    page.evaluate(AXE)
    result = page.evaluate("only => axe.run(document, {runOnly: only, resultTypes: ['violations']})", CHECKED[scheme])
    context.close()
    assert [f"{v['id']}: {n['target']}" for v in result["violations"] for n in v["nodes"]] == []
