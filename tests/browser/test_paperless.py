"""What was still on paper, as a person does it: winding by winding by beep, readings before switching off, a cable by
itself, and a task that a round opens and closes.
"""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.driven import one_entry, settled
from tests.walker import Walker

PHONE = {"width": 390, "height": 844}


def test_continuity_winding_by_winding_by_its_beep(page, works_store, tester, works_clock):
    walker = Walker(works_store, tester, works_clock, "PL-1", "six-lead").start("acceptance")
    walker.to("continuity.1-4")
    page.goto(f"/jobs/{walker.job}")
    expect(page.locator("#echo")).to_contain_text("Beep, no beep, or ohms from lead 1 to lead 4")
    page.locator("#entry").fill("beep")
    page.locator("#entry").press("Enter")
    expect(page.get_by_text("A beep is no resistance value").first).to_be_visible()
    expect(page.locator("#keep-form [name=place]")).to_have_value("continuity.2-5")
    page.locator("#entry").fill("OL")
    page.locator("#entry").press("Enter")
    expect(page.get_by_text(re.compile("2–5.* is open")).first).to_be_visible()
    assert walker.bench.state.kept.standing["continuity.2-5"].text == "OL"


def test_what_is_read_as_it_runs_comes_first_and_the_lock_ends_it(page, works_store, tester, works_clock):
    walker = Walker(works_store, tester, works_clock, "PL-2", "three-lead-wye").start(also=("as_running",))
    page.goto(f"/jobs/{walker.job}")
    expect(page.get_by_role("link", name=re.compile("1 As it runs"))).to_be_visible()
    place = walker.bench.state.place
    assert place.endswith("@running")
    page.locator("#entry").fill("478")
    page.locator("#entry").press("Enter")
    expect(page.locator("#keep-form [name=place]")).not_to_have_value(place)
    assert walker.bench.state.kept.standing[place].text == "478"
    walker.to("isolate.lock-main")
    page.goto(f"/jobs/{walker.job}")
    one_entry(page, walker, "isolate.lock-main")
    settled(page)
    page.goto(f"/jobs/{walker.job}?at={place}")
    expect(page.locator("#entry")).to_have_count(0)


def test_a_cable_by_itself_is_a_choice_at_start_and_a_step_of_the_plan(page, works_store, tester, works_clock):
    Walker(works_store, tester, works_clock, "PL-3", "three-lead-wye")
    page.goto("/jobs/start?tag=PL-3")
    plan = page.get_by_role("region", name="The plan")
    expect(plan).to_contain_text("Insulation to frame")
    page.get_by_role("checkbox", name="Cable alone").check()
    page.get_by_role("checkbox", name="Terminal block alone").check()
    expect(plan).to_contain_text("Cable, far ends joined")
    expect(plan).to_contain_text("Terminal block alone")
    page.get_by_role("button", name="Start", exact=True).click()
    expect(page).to_have_url(re.compile(r"/jobs/\d+"))


@pytest.mark.browser_context_args(viewport=PHONE, has_touch=True)
def test_what_a_round_sees_is_a_task_that_is_done_with_a_word(page, works_store, tester, works_clock):
    Walker(works_store, tester, works_clock, "PL-4", "three-lead-wye")
    page.goto("/motors/PL-4/inspection")
    page.get_by_role("button", name="Put it on the inspection round").tap()
    page.get_by_label("Saw something").select_option("blocked vents")
    page.get_by_role("button", name="Save what was seen").tap()
    expect(page.get_by_text("Clean the vents").first).to_be_visible()
    page.goto("/tasks")
    task = page.get_by_role("listitem").filter(has_text="PL-4").filter(has_text="Clean the vents")
    expect(task).to_be_visible()
    task.locator("summary").tap()
    task.get_by_label("What was done, or why not").fill("blown out")
    task.get_by_role("button", name=re.compile("^Done")).tap()
    closed = page.get_by_role("region", name="Done and dropped").get_by_role("row").filter(has_text="PL-4")
    expect(closed).to_contain_text("blown out")


def test_what_is_typed_takes_the_place_of_a_suggestion(page, works_store, tester, works_clock):
    walker = Walker(works_store, tester, works_clock, "PL-5", "three-lead-wye").start()
    walker.to("winding_resistance.3-1")
    page.goto(f"/jobs/{walker.job}")
    page.locator("#entry").fill("0.2611")
    page.locator("#entry").press("Enter")
    expect(page.locator("#keep-form [name=place]")).to_have_value("insulation.1-2-3.volts")
    expect(page.locator("#entry")).to_have_value("500")
    expect(page.locator("#entry")).to_be_focused()
    assert any(page.evaluate("() => getSelection().toString()") == "500" for _ in range(300))  # once it is settled
    page.keyboard.type("250")
    expect(page.locator("#entry")).to_have_value("250")
