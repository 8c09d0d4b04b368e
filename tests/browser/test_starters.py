"""A star-delta starter whose timer is wrong: typed, told, put right, put on the round; wide and on a phone."""

import pytest
from playwright.sync_api import expect


@pytest.fixture(params=[(1280, 800, 2), (390, 844, 4)], ids=["wide", "phone"])
def sheet(page, request):
    page.set_viewport_size({"width": request.param[0], "height": request.param[1]})
    page.goto(f"/positions/{request.param[2]}")
    page.get_by_role("link", name="Starter data and checks").click()
    return page


def test_a_timer_that_is_wrong_is_told_and_put_right(sheet):
    sheet.get_by_label("Kind").select_option("star-delta")
    sheet.get_by_label("Run-up").fill("9")
    sheet.get_by_text("Star-delta, autotransformer").click()
    sheet.get_by_label("Timer").fill("4 sec")
    sheet.get_by_label("Timer").press("Enter")
    expect(sheet.get_by_role("alert")).to_contain_text("1 of the fields")
    expect(sheet.get_by_label("Run-up")).to_have_value("9")
    sheet.get_by_label("Timer").fill("4")
    sheet.get_by_label("Timer").press("Enter")
    expect(sheet.get_by_text("it changes over too early")).to_be_visible()
    expect(sheet.get_by_role("img", name="star delta starter")).to_be_visible()
    sheet.get_by_label("Timer").fill("9.5")
    sheet.get_by_label("Timer").press("Enter")
    expect(sheet.get_by_text("Timer 9.5 s, run-up 9 s: they fit.")).to_be_visible()
    sheet.get_by_role("button", name="Put it on the inspection round").click()
    expect(sheet.get_by_role("main")).to_contain_text("tarter contacts")
