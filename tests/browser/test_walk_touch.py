"""The fault walk on a tablet by touch alone: points on the drawing, over to the dead tests and back."""

import re

import pytest
from playwright.sync_api import expect

from grimcoil.web.views.walk import address
from tests.browser.driven import TAP, drive
from tests.service.test_handing_over import left_to_motor
from tests.walker import Walker

LOOKED = "&d=overload-look~not-tripped&d=look-closed~nothing&d=changed-lately~nothing"
LEAST = 44


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return browser_context_args | {"viewport": {"width": 820, "height": 1180}, "has_touch": True}


def point(page, name):
    return page.locator(f"[data-point='{name}']")


def test_two_points_touched_on_the_drawing_are_where_it_was_read(page):
    page.goto(f"/troubleshooting?tag=DD-207&s=hums{LOOKED}&d=prove-dead~dead~panel")
    expect(point(page, "overload-T1")).to_be_hidden()
    TAP(page.get_by_text("A reading of your own"))
    TAP(point(page, "overload-T1"))
    TAP(point(page, "overload-T2"))
    own = page.locator(".walk-own")
    expect(own.get_by_label("From")).to_have_value("overload-T1")
    expect(own.get_by_label("To", exact=True)).to_have_value("overload-T2")
    expect(own.get_by_label("Shows")).to_be_focused()
    TAP(point(page, "lead-3"))  # a third begins anew
    expect(own.get_by_label("From")).to_have_value("lead-3")
    expect(own.get_by_label("To", exact=True)).to_have_value("")
    TAP(point(page, "frame"))
    own.get_by_label("Shows").fill("OL")
    TAP(own.get_by_role("button", name="Save"))
    expect(page.locator(".walk-what h2")).to_contain_text("after 5 entries")
    expect(page.locator("main")).to_contain_text("lead 3 to the frame")


def test_every_point_of_the_drawing_has_room_for_a_finger_and_covers_no_other(page):
    page.goto(f"/troubleshooting?tag=DD-207&s=hums{LOOKED}")
    TAP(page.get_by_text("A reading of your own"))
    boxes = [one.bounding_box() for one in page.locator("[data-point]").all()]
    assert len(boxes) > 30
    assert all(box["width"] >= LEAST and box["height"] >= LEAST for box in boxes)
    for number, box in enumerate(boxes):
        for other in boxes[number + 1 :]:
            apart_x = abs(box["x"] - other["x"]) >= box["width"] - 1
            apart_y = abs(box["y"] - other["y"]) >= box["height"] - 1
            assert apart_x or apart_y


def test_over_to_the_dead_tests_and_back_with_what_they_read(page, works_store, tester, works_clock):
    _, tokens, _ = left_to_motor(works_store, "cable-open", "PP-122")
    page.goto(address("PP-122", "hums", "most-telling", tuple(tokens)))
    TAP(page.get_by_role("button", name="Hand over to the dead tests"))
    expect(page).to_have_url(re.compile(r"/jobs/\d+"))
    walker = Walker(works_store, tester, works_clock, "OVER-2", "three-lead")
    walker.job, walker.tag = int(page.url.rpartition("/")[2]), "PP-122"
    drive(page, walker, works_clock, TAP)
    TAP(page.get_by_role("link", name="Back to troubleshooting with what was read"))
    expect(page.locator(".walk-what h2")).to_contain_text(f"after {len(tokens) + 2} entries")
    expect(page.locator(".walkline")).to_contain_text(re.compile("dead", re.IGNORECASE))  # the panel is proved anew
