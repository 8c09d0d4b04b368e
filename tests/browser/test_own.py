"""The motor's own names, what is at hand, and its leads put back, as a person does it: wide, and on a phone."""

import pytest
from playwright.sync_api import expect

from grimcoil.core.wishes import AtHand
from grimcoil.service.details import keep_details
from tests.browser.driven import drive, settled
from tests.walker import Walker

NAMES = {"motor.lead_names.1": "U1", "motor.lead_names.2": "V1", "motor.lead_names.3": "one notch",
         "motor.lead_colours.1": "brown"}  # fmt: skip
FOUND = {f"as_found.lead-{n}": f"T{n}" for n in "123"}
PHONE = {"width": 390, "height": 844}


@pytest.fixture
def walker(works_store, tester, works_clock, request):
    made = Walker(works_store, tester, works_clock, request.param, "three-lead-wye", dict(FOUND))
    keep_details(works_store, tester, request.param, NAMES, works_clock())
    return made


@pytest.mark.parametrize("walker", ["OB-1"], indirect=True)
def test_what_is_at_hand_is_asked_first_and_the_plan_follows(page, walker):
    page.goto("/jobs/start?tag=OB-1")
    first = page.locator("form.starting input[type=checkbox], form.starting input[type=radio]").first
    expect(first).to_have_attribute("name", "at_hand")
    plan = page.get_by_role("region", name="The plan")
    expect(plan).to_contain_text("Insulation to frame")
    first.focus()
    page.keyboard.press("Tab")
    page.keyboard.press("Space")  # the ohmmeter
    expect(plan).to_contain_text("no insulation tester at hand")
    expect(plan).to_contain_text("Insulation by ohmmeter")
    page.get_by_label("First dead test").select_option("shaft")
    settled(page)
    steps = page.locator(".plan-list li").all_inner_texts()
    order = [next(i for i, text in enumerate(steps) if what in text) for what in ("By hand", "Winding resistance")]
    assert order == sorted(order)
    page.get_by_role("button", name="Start", exact=True).click()
    expect(page.locator(".spine")).to_contain_text("Isolate")
    walker.job = int(page.url.rpartition("/")[2])
    assert walker.bench.plan.wishes.at_hand == (AtHand.OHMMETER,)


@pytest.mark.parametrize("walker", ["OB-2"], indirect=True)
@pytest.mark.parametrize("size", [PHONE], ids=["phone"])
def test_leads_are_asked_by_their_own_names_and_put_back_one_by_one(page, walker, works_clock, size):
    walker.start(occasion="routine")
    page.set_viewport_size(size)
    page.goto(f"/jobs/{walker.job}")
    walker.to("winding_resistance.1-2")
    page.reload()
    line = page.get_by_role("region", name="Reading line")
    expect(line).to_contain_text("Ohms from lead 1 (U1, brown) to lead 2 (V1)")
    expect(page.locator("svg.only-phone.boxes .marked")).to_have_text(["one", "notch", "U1", "V1"])
    walker.to("reconnect.lead-1")
    page.reload()
    line.get_by_role("button", name="T1, as found").click()
    expect(line).to_contain_text("Put lead 2 (V1) back")
    line.get_by_role("button", name="T3", exact=True).click()
    expect(line).to_contain_text("lead 2 on T3, found on T2")
    line.get_by_role("button", name="T2", exact=True).click()
    expect(line.get_by_role("alert")).to_contain_text("the motor turns the other way")
    assert page.evaluate("document.documentElement.scrollWidth") == size["width"]
    line.get_by_role("link", name="Change lead 2").click()
    page.locator("#entry").fill("T2")
    page.locator("#entry").press("Enter")
    expect(line.get_by_role("link", name="Change lead 3")).to_be_visible()
    line.get_by_role("link", name="Change lead 3").click()
    page.locator("#entry").fill("T3")
    page.locator("#entry").press("Enter")
    expect(line).to_contain_text("All leads are back")
    drive(page, walker, works_clock, until="restore.restored")
    assert {walker.bench.state.kept.standing[f"reconnect.lead-{n}"].text for n in "123"} == {"T1", "T2", "T3"}
