"""Moves, repairs and positions on the page: with a phone and a keyboard, taken back again, refused words kept."""

import re

import pytest
from playwright.sync_api import expect

from tests.exchange.test_photos import made


@pytest.fixture
def life(page):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto("/motors/SH-440/history-and-moves")
    return page


def move(page, to, on, swap=""):
    if not page.url.endswith("/move"):
        page.get_by_role("link", name="Move or swap").click()
    page.get_by_label("What stands there").select_option(swap)
    page.get_by_label("Where to").fill(to)
    page.get_by_label("From", exact=True).fill(on)
    page.get_by_label("From", exact=True).press("Enter")


def test_a_motor_goes_to_the_store_and_back_again(life):
    move(life, "the store", "2026-11-20")
    expect(life.get_by_text("Now in the store")).to_be_visible()
    life.get_by_role("link", name="Sugar drier drum").first.click()
    expect(life.get_by_role("main")).to_contain_text("SH-440")
    expect(life.locator(".plate-strip")).not_to_contain_text("driven by")
    life.go_back()
    life.get_by_role("button", name="Undo moved").first.click()
    expect(life.get_by_text("Now in Sugar drier drum")).to_be_visible()
    expect(life.get_by_text("undone by")).to_have_count(1)


def test_a_place_that_is_taken_asks_and_a_wrong_day_keeps_what_was_typed(life):
    move(life, "Pulp press 2", "2026-11-21")
    expect(life.get_by_text("PP-122 stands there")).to_be_visible()
    expect(life.get_by_label("Where to")).to_have_value("Pulp press 2")
    move(life, "Nowhere at all", "2026-11-21")
    expect(life.get_by_text("No position is called")).to_be_visible()
    expect(life.get_by_label("Where to")).to_have_value("Nowhere at all")
    expect(life.get_by_text("Now in Sugar drier drum")).to_be_visible()


def test_rewound_dried_and_swapped_with_both_positions_right_and_all_of_it_taken_back(life):
    def did(what, day, cost=""):
        life.get_by_label("What", exact=True).select_option(label=what)
        life.get_by_label("Day", exact=True).fill(day)
        life.get_by_label("Cost").fill(cost)
        life.get_by_role("button", name="Save", exact=True).click()
        expect(life.get_by_role("button", name=f"Undo {what.lower()}")).to_be_visible()

    def driven_by(place):
        life.goto("/motors/BW-121/history-and-moves")
        life.get_by_role("link", name=place).first.click()
        return life.locator(".plate-strip")

    life.goto("/motors/BW-121/history-and-moves")
    did("Rewound", "2026-11-18", "1250.50")
    did("Dried", "2026-11-19")
    move(life, "Lime kiln fan", "2026-11-20", swap="yes")
    expect(life.get_by_text("Now in Lime kiln fan")).to_be_visible()
    rows = life.get_by_role("row")
    expect(rows.filter(has_text="Rewound")).to_contain_text("1250.50")
    expect(rows.filter(has_text="Moved").first).to_contain_text("LK-301 to the store")
    expect(driven_by("Lime kiln fan")).to_contain_text("BW-121")
    expect(driven_by("Stone catcher")).not_to_contain_text("BW-121")
    life.goto("/motors/LK-301/history-and-moves")
    expect(life.get_by_text("Now in the store")).to_be_visible()
    life.goto("/motors/BW-121")
    expect(life.get_by_role("main")).to_contain_text("Unproven: Rewound 18 Nov 2026, nothing tested since")
    life.goto("/motors/BW-121/history-and-moves")
    for what in ("moved", "dried", "rewound"):
        life.get_by_role("button", name=f"Undo {what}").first.click()
        expect(life.get_by_role("button", name=f"Undo {what}")).to_have_count(0)
    expect(life.get_by_text("Now in Stone catcher")).to_be_visible()
    expect(driven_by("Stone catcher")).to_contain_text("BW-121")
    life.goto("/motors/LK-301/history-and-moves")
    expect(life.get_by_text("Now in Lime kiln fan")).to_be_visible()
    expect(life.get_by_text("undone by")).to_have_count(1)
    life.goto("/motors/BW-121")
    expect(life.get_by_role("main")).to_contain_text("Sound: nothing asks for action")


def test_a_narrowed_list_stays_narrowed_in_its_address(page):
    page.goto("/motors")
    page.get_by_text("Narrow and sort").click()
    page.locator("select[name=area]").select_option(index=1)
    page.get_by_role("button", name="Show").click()
    expect(page.locator("a.r").first).to_be_visible()
    narrowed = page.locator("a.r").count()
    assert "area=" in page.url
    page.reload()
    expect(page.locator("a.r")).to_have_count(narrowed)
    page.goto("/motors")
    assert page.locator("a.r").count() > narrowed


def test_a_misspelt_name_is_found(page):
    page.goto("/motors")
    page.keyboard.press("/")
    with page.expect_response("**/_found?q=pulp*pres*2*"):  # one asked when the page goes away is told as an error
        page.keyboard.type("pulp pres 2")
    page.keyboard.press("Enter")
    expect(page.get_by_text("PP-122").first).to_be_visible()


def test_what_is_typed_while_a_search_lags_is_found_after_it(page):
    page.goto("/motors")
    page.evaluate("addEventListener('htmx:trigger', () => document.body.toggleAttribute('data-asked-again'))")
    held = []
    page.route("**/_found?*", lambda route: route.continue_() if held else held.append(route))
    page.keyboard.press("/")
    with page.expect_request("**/_found?q=pulp"):
        page.keyboard.type("pulp")
    page.keyboard.type(" pres 2")
    expect(page.locator("body[data-asked-again]")).to_have_count(0)
    with page.expect_response("**/_found?q=pulp*pres*2*"):
        held[0].continue_()
    expect(page.locator(".found").first).to_contain_text("PP-122")


def test_a_trend_is_walked_test_by_test_with_the_keyboard(page):
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto("/motors/DD-207/trend")
    tests = page.locator(".only-wide a.visit")
    days = page.locator("tr[id^=test-] td:first-child").all_inner_texts()
    assert len(days) == tests.count() > 5
    tests.last.focus()
    said = page.locator(".only-wide .read:visible")
    expect(said).to_contain_text(f"{days[0]}: watch")
    page.keyboard.press("ArrowLeft")
    expect(said).to_contain_text(days[1])
    page.keyboard.press("Home")
    expect(said).to_contain_text(days[-1])
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("Enter")
    expect(page.locator("tr:target")).to_contain_text(days[-1])
    page.get_by_role("link", name="2 years").click()
    expect(page.locator(".only-wide a.visit")).to_have_count(3)


def test_a_tap_on_a_phone_leads_to_the_line_of_that_test(page):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto("/motors/DD-207/trend")
    page.locator(".only-phone a.visit").nth(4).locator(".hit").click()
    expect(page.locator("tr:target")).to_be_in_viewport()
    page.locator("tr:target").get_by_role("link", name="Test report").click()
    expect(page).to_have_url(re.compile("/report"))


def test_a_planner_keeps_a_view_and_plans_what_is_selected(page):
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto("/motors?verdict=sound")
    page.locator("summary", has_text="Narrow and sort").click()
    page.get_by_label("Save this view as").fill("All sound")
    page.get_by_label("Save this view as").press("Enter")
    page.goto("/motors")
    page.get_by_role("link", name="All sound").click()
    expect(page).to_have_url(re.compile(r"verdict=sound"))
    page.locator("summary", has_text="Narrow and sort").click()
    page.get_by_role("link", name="Select some").click()
    boxes = page.get_by_role("checkbox")
    boxes.first.focus()
    page.keyboard.press("Space")
    expect(page.get_by_text("1 selected")).to_be_visible()
    page.get_by_role("button", name="All here").click()
    expect(page.get_by_text(f"{boxes.count()} selected")).to_be_visible()
    page.get_by_role("button", name="Make work list").click()
    expect(page.get_by_role("main")).to_contain_text("tests of the motors that were selected")
    page.goto("/motors?verdict=sound")
    page.get_by_role("button", name="Take away All sound").click()
    expect(page.get_by_label("Your views")).to_have_count(0)


def test_a_plate_with_two_ratings_is_typed_as_the_metal_shows_it(page):
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto("/motors/new")
    page.get_by_label("Tag", exact=True).fill("PW-900")
    plate, said = page.locator(".nameplate"), page.locator("#plate-says")
    page.get_by_label("Leads in the box").select_option(label="Nine leads, wye")  # three can't be joined for both
    stamped = {
        "Power": "15 hp", "Rated speed": "1755", "Frequency": "60", "Rated voltage": "230", "Second voltage": "460",
        "Full-load current": "42", "Current at the second": "42", "Built in": "2008", "Serial number": "S-900",
    }  # fmt: skip
    for label, words in stamped.items():
        box = plate.get_by_label(label, exact=label == "Power")
        box.focus()
        page.keyboard.type(words)
    expect(said).to_contain_text("460 V")  # twice the volts, half the amps
    second = plate.get_by_label("Current at the second")
    second.fill("21")
    expect(said).not_to_contain_text("460 V")
    page.get_by_label("Name", exact=True).fill("Press water pump")
    page.get_by_role("button", name="Register").click()
    page.wait_for_url("**/motors/PW-900")
    expect(page.locator(".plate-strip")).to_contain_text("230/460 V")
    page.goto("/motors/PW-900/nameplate")
    for label, words in stamped.items():
        found = page.locator(".nameplate").get_by_label(label, exact=label == "Power").input_value()
        assert found == ("21" if label == "Current at the second" else words)


def test_a_plate_is_judged_as_it_is_typed_and_changed_with_its_photo(page):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto("/motors/ST-019/nameplate")
    said = page.locator("#plate-says")
    speed = page.get_by_label("Rated speed r/min")
    right = speed.input_value()
    speed.fill("1640")
    expect(said).to_contain_text("% slip")
    speed.fill(right)
    expect(said).not_to_contain_text("% slip")
    page.get_by_label("Serial number").fill("S-77")
    page.get_by_role("button", name="Change the nameplate").click()
    expect(page.locator("#e-why")).to_contain_text("What was wrong")
    expect(page.get_by_label("Serial number")).to_have_value("S-77")
    page.get_by_label("Why it changes").fill("worn, read by a lamp")
    page.get_by_role("button", name="Change the nameplate").click()
    expect(page.get_by_role("main")).to_contain_text("worn, read by a lamp: serial")
    photo = {"name": "plate.jpg", "mimeType": "image/jpeg", "buffer": made()}
    page.get_by_label("Photo of the nameplate").set_input_files(photo)
    page.get_by_label("What it shows").fill("By a lamp")
    page.get_by_role("button", name="Save the photo").click()
    expect(page.get_by_role("img", name="By a lamp")).to_be_visible()
    page.get_by_role("button", name="Undo By a lamp").click()
    expect(page.get_by_text("Taken back by")).to_be_visible()
