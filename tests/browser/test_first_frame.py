"""What is laid out a frame later is there at once after it, once a page, and nobody's place on it is lost."""

import pytest
from playwright.sync_api import expect

from grimcoil.service.jobs import Start, keep, start_job
from tests.support import TO_RESISTANCE

# Every animation that begins, and what a first frame leaves out when it is over.
BEGUN = """
window.begun = 0;
document.addEventListener('animationstart', (event) => { if (event.animationName === 'gc-later') window.begun += 1; });
"""
HELD_BACK = "() => getComputedStyle(document.querySelector('.list, .draw')).contentVisibility"


@pytest.fixture
def moving(browser, browser_context_args):
    context = browser.new_context(**browser_context_args | {"reduced_motion": "no-preference"})
    page = context.new_page()
    page.add_init_script(BEGUN)
    yield page
    context.close()


def test_a_list_is_held_back_for_a_frame_and_then_stands(moving):
    moving.goto("/motors")
    expect(moving.locator(":root")).to_have_attribute("data-shown", "")
    assert moving.evaluate("() => window.begun") == 1
    assert moving.evaluate(HELD_BACK) == "visible"
    assert moving.locator(".list .r").last.bounding_box()["height"] > 40


def test_who_wants_no_motion_has_it_at_once(page):
    page.add_init_script(BEGUN)
    page.goto("/motors")
    expect(page.locator(":root")).to_have_attribute("data-shown", "")
    assert page.evaluate("() => window.begun") == 0


def test_the_place_on_a_list_is_found_again(moving):
    moving.set_viewport_size({"width": 1280, "height": 400})
    moving.goto("/motors")
    moving.evaluate("() => window.scrollTo(0, 250)")
    moving.evaluate("() => document.querySelector('.list .r').click()")  # a pointer would move the page to its target
    moving.wait_for_url("**/motors/*")
    moving.go_back()
    moving.wait_for_function("() => window.scrollY === 250")


def test_a_part_that_is_swapped_in_never_blinks(moving, works_store, tester, works_clock):
    job = start_job(works_store, tester, Start("BW-121", "first-frame"), works_clock())
    for number, (place, words) in enumerate(TO_RESISTANCE):
        said = "BW-121" if place == "isolate.tag" else words
        keep(works_store, job, place, said, tester, f"first-frame-{number}", works_clock())
    moving.goto(f"/jobs/{job}")
    expect(moving.locator(":root")).to_have_attribute("data-shown", "")
    moving.evaluate("() => { window.begun = 0; }")
    box = moving.locator("[data-entry]")
    before = moving.locator("#keep-form [name=place]").get_attribute("value")
    box.fill("0.4862")
    box.press("Enter")
    expect(moving.locator("#keep-form [name=place]")).not_to_have_value(before)
    assert moving.evaluate("() => window.begun") == 0
    assert moving.evaluate(HELD_BACK) == "visible"
