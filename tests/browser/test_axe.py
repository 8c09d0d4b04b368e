"""axe-core finds nothing, by day and by night, on every main view; touch targets are large enough."""

from pathlib import Path

import pytest
from playwright.sync_api import expect

from grimcoil.service.signing_in import actor_of
from grimcoil.store.people import by_login
from tests.browser.test_widths import MONEY
from tests.served import browser_state

AXE = (Path(__file__).parent / "vendor" / "axe.min.js").read_text(encoding="utf-8")
# By night only colours differ from the day.
CHECKED = {"light": ["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa", "best-practice"], "dark": ["color-contrast"]}
VIEWS = (
    "/",
    "/motors",
    "/motors/DD-207",
    "/motors/PP-140",
    "/motors/new",
    "/motors/DD-207/nameplate",
    "/motors?choose=1&sort=due",
    "/jobs",
    "/jobs/start?tag=ST-019",
    "JOB",
    "HELD",
    "SHEET",
    "/leads?n=12&m=ohms~A-D~0.84&m=ohms~A-B~OL&m=ohms~H-L~0.85",
    "/leads?n=6&m=ohms~A-D~1.91&m=ohms~B-E~1.90&m=ohms~C-F~1.91&m=kick~A-D~B-E~up&m=kick~A-D~C-F~up",
    "/connection",
    "/connection?scheme=six-lead&rated=400D%2F690Y&supply=400",
    "/motors/DD-207/history-and-moves",
    "/motors/BW-114/trend?beside=SH-440",
    "/motors/DD-207/move",
    "/positions",
    "/positions/new",
    "/positions/3",
    "/positions/3/form",
    "/positions/3/starter",
    "/motors/DD-207/history",
    "/troubleshooting/report?tag=DD-207&s=hums&d=overload-look~not-tripped&d=volts-line-side-start~481~479~480",
    "/motors/SH-440/other-tests",
    "/motors/SH-440/other-tests?kind=brushes",
    "/motors/SH-440/other-tests?notes=wound+rotor",
    "/labels",
    "/outage",
    "/plant",
    "/import",
    "/plant/criteria/field-general",
    "/fleet",
    "WAITING",
    MONEY,
    "/inspection-rounds",
    "/tasks?tag=DD-206",
    "/motors/DD-207/inspection?area=Diffuser+and+lime&task=frame+temperature",
    "/dryings",
    "/dryings/1",
    "/motors/DD-207/dry",
    "/troubleshooting",
    "/troubleshooting?tag=DD-207&s=hums&d=overload-look~not-tripped&d=volts-line-side-start~481~479~480",
    "/none",
    "/sign-in",
    "/me",
    "/audit-trail",
    "/positions/3/isolation",
    "PHOTOS",
    "AMEND",
    "SIGNED",
)


# What looks otherwise there.
NIGHT_ON_A_PHONE = ("JOB", "HELD", "/motors", "/leads", "/connection", "/troubleshooting", "/sign-in")


def resolve(page, view):
    if view == "PHOTOS":
        return f"{resolve(page, 'JOB')}/photos"
    if view in ("AMEND", "SIGNED"):
        return resolve(page, "SHEET").replace("/report", "/amend" if view == "AMEND" else "")
    if view in ("JOB", "HELD"):
        page.goto("/jobs")
        tag = {"JOB": "BW-114", "HELD": "LK-301"}[view]
        return page.get_by_role("link", name=tag).first.get_attribute("href")
    if view == "WAITING":
        page.goto("/import")
        return page.get_by_role("link", name="kept so far").get_attribute("href")
    if view == "SHEET":
        page.goto("/motors/DD-207")
        return page.get_by_role("link", name="Readings").get_attribute("href")
    return view


@pytest.mark.parametrize("width", [1280, 390])
@pytest.mark.parametrize("scheme", ["light", "dark"])
@pytest.mark.usefixtures("waiting_sheet")
def test_axe_finds_nothing(browser, browser_context_args, scheme, width):
    size = {"viewport": {"width": width, "height": 844}}
    context = browser.new_context(**(browser_context_args | size), color_scheme=scheme, bypass_csp=True)
    page = context.new_page()
    found = []
    for view in NIGHT_ON_A_PHONE if (scheme, width) == ("dark", 390) else VIEWS:
        page.goto(resolve(page, view))
        page.evaluate(AXE)
        result = page.evaluate(
            "only => axe.run(document, {runOnly: only, resultTypes: ['violations']})", CHECKED[scheme]
        )
        found += [f"{view}: {v['id']}: {n['target']}" for v in result["violations"] for n in v["nodes"]]
    context.close()
    assert found == []


@pytest.mark.parametrize("width", [1280, 390])
@pytest.mark.usefixtures("waiting_sheet")
def test_keys_and_links_are_44_px_high(browser, browser_context_args, width):
    size = {"viewport": {"width": width, "height": 844}}
    context = browser.new_context(**(browser_context_args | size))
    page = context.new_page()
    small = []
    for view in (
        "JOB",
        "HELD",
        "PHOTOS",
        "AMEND",
        "/motors",
        "/motors/new",
        "/motors/DD-207/nameplate",
        "/motors?choose=1&sort=due",
        "/leads",
        "/connection",
        "/me",
        "/audit-trail",
        "WAITING",
        "/dryings/1",
        "/motors/DD-207/inspection",
    ):
        page.goto(resolve(page, view))
        small += page.evaluate(
            """[...document.querySelectorAll('button:not(.term), .bar a, .r, .spine a, .key, select,'
            + 'fieldset:not(.bare) label,'
            + 'input:not([type=hidden]):not([type=radio]):not([type=checkbox])')]
            .filter(n => n.offsetParent && n.getBoundingClientRect().height < 43.5)
            .map(n => n.outerHTML.slice(0, 90) + ' ' + n.getBoundingClientRect().height)"""
        )
    context.close()
    assert small == []


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_axe_finds_nothing_where_people_are_kept(browser, browser_context_args, works_store, works_clock, scheme):
    with works_store() as session:
        keeper = actor_of(by_login(session, "wollgras"))
    given = browser_context_args | {"storage_state": browser_state(works_store, keeper, works_clock)}
    context = browser.new_context(**given, color_scheme=scheme, bypass_csp=True)
    page = context.new_page()
    page.goto("/people")
    page.get_by_text("Change", exact=True).first.click()
    page.evaluate(AXE)
    result = page.evaluate("only => axe.run(document, {runOnly: only, resultTypes: ['violations']})", CHECKED[scheme])
    context.close()
    assert [f"{v['id']}: {n['target']}" for v in result["violations"] for n in v["nodes"]] == []


@pytest.mark.parametrize("width", [1280, 390])
@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_axe_finds_nothing_while_a_motor_is_looked_for(browser, browser_context_args, scheme, width):
    size = {"viewport": {"width": width, "height": 844}}
    context = browser.new_context(**(browser_context_args | size), color_scheme=scheme, bypass_csp=True)
    page = context.new_page()
    page.goto("/motors")
    if width < 768:
        page.locator(".more > summary").click()
    form = page.locator(".find:visible")
    form.get_by_role("searchbox").fill("press")
    found = form.get_by_role("link")
    expect(found.first).to_be_visible()
    found.first.focus()
    page.evaluate(AXE)  # of the bar alone: what the list lies over is another view's
    result = page.evaluate(
        "only => axe.run('.bar', {runOnly: only, resultTypes: ['violations']})", CHECKED[scheme]
    )  # fmt: skip
    assert [f"{v['id']}: {n['target']}" for v in result["violations"] for n in v["nodes"]] == []
    assert all(found.nth(n).bounding_box()["height"] >= 43.5 for n in range(found.count()))
    assert page.evaluate("document.documentElement.scrollWidth <= window.innerWidth")
    context.close()
