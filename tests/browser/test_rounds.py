"""A round on a phone: task after task with a thumb, a figure judged, something seen that becomes a job."""

import pytest
from playwright.sync_api import expect


@pytest.fixture
def stop(page):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto("/motors/SH-440/inspection")
    page.get_by_role("button", name="Put it on the inspection round").click()
    page.goto("/inspection-rounds")
    page.get_by_role("link", name="Sugar house", exact=True).click()
    expect(page.locator(".bar .tag")).to_have_text("SH-440")
    return page


def test_six_tasks_and_something_seen_that_becomes_a_job(stop):
    for name in ("Listen", "Frame temperature", "Vents and fan", "Box and glands", "Grease", "Clean"):
        expect(stop.locator(".round-line .ask")).to_have_text(name)
        if name == "Frame temperature":
            stop.get_by_role("textbox", name="Frame temperature").fill("warm")
            stop.get_by_role("button", name="Save", exact=True).click()
            expect(stop.get_by_role("alert")).to_contain_text("warm")
            expect(stop.get_by_role("textbox", name="Frame temperature")).to_have_value("warm")
            stop.get_by_role("textbox", name="Frame temperature").fill("47")
            stop.get_by_role("textbox", name="Frame temperature").press("Enter")
        else:
            stop.get_by_role("button", name="Done", exact=True).click()
    stop.get_by_role("button", name="Skip", exact=True).click()
    expect(stop.get_by_role("alert")).to_contain_text("Say why")
    stop.get_by_role("textbox", name="Skip, because").fill("stands still in the stop")
    stop.get_by_role("button", name="Skip", exact=True).click()
    stop.get_by_label("Saw something").select_option("local burn")
    stop.get_by_role("button", name="Save what was seen").click()
    expect(stop.get_by_text("Next: lock it out")).to_be_visible()
    stop.get_by_role("link", name="Start a job").first.click()
    expect(stop.get_by_role("radio", name="Routine")).to_be_checked()


def test_the_round_on_paper_and_a_task_taken_back(page):
    page.goto("/motors/DD-207/inspection?area=Diffuser+and+lime")
    expect(page.get_by_role("img", name="Stop 1 of")).to_be_visible()
    page.get_by_role("button", name="Done", exact=True).click()
    page.get_by_role("button", name="Undo listen").first.click()
    expect(page.locator(".round-kept .gone")).to_have_count(1)
    expect(page.locator(".round-line .ask")).to_have_text("Listen")
    page.goto("/inspection-rounds")
    page.get_by_role("link", name="On paper").first.click()
    expect(page.get_by_role("heading", name="DD-207")).to_be_visible()
