"""The fault walk as an electrician does it, at a place with a fault in it that answers whatever the page asks."""

import re

import pytest
from playwright.sync_api import expect

from grimcoil.core.walk.catalogue import suspects
from grimcoil.service.handing_over import TOLD
from grimcoil.service.jobs import open_bench
from grimcoil.service.walks import walked
from grimcoil.web.views.walk import address
from tests.at_plant import done_at, plant_at
from tests.service.test_handing_over import left_to_motor
from tests.walker import Walker

MOST = 30
LOOKED = "&d=overload-look~not-tripped&d=look-closed~nothing&d=changed-lately~nothing"


def answer(page, store, plant):
    """One test, by keyboard alone: what is measured into its fields, what is seen by its key."""
    form = page.locator(".walk-form")
    name = form.locator("[name=t]").input_value()
    trial = walked(store, "DD-207", plant.symptom, "most-telling", ()).trials[name]
    done = done_at(plant, trial)
    if trial.asks:
        form.locator(f"button[value={done['answer']}]").press("Enter")
        return name
    shown = list(done["readings"].values())
    expect(form.locator("[name=r]").first).to_be_focused()
    for number, text in enumerate(shown):
        page.keyboard.type(text)
        page.keyboard.press("Enter" if number == len(shown) - 1 else "Tab")
    return name


def touch(page, store, plant):
    """The same by touch alone: a tap into each field, a tap on each key."""
    form = page.locator(".walk-form")
    name = form.locator("[name=t]").input_value()
    trial = walked(store, "DD-207", plant.symptom, "most-telling", ()).trials[name]
    done = done_at(plant, trial)
    if trial.asks:
        form.locator(f"button[value={done['answer']}]").tap()
        return name
    for number, text in enumerate(done["readings"].values()):
        field = form.locator("[name=r]").nth(number)
        field.tap()
        expect(field).to_be_focused()
        page.keyboard.type(text)
    form.get_by_role("button", name="Save").tap()
    return name


def to_the_end(page, store, plant, answer=answer):
    asked = []
    for _ in range(MOST):
        if page.locator(".walk-end").count():
            return asked
        before = page.url
        asked.append(answer(page, store, plant))
        expect(page).not_to_have_url(before)
    return asked


@pytest.mark.parametrize(
    ("fault", "width"), [("contactor-pole-open", 1280), ("cable-open", 390), ("overload-pole-open", 820)]
)
def test_a_fault_is_found_and_its_end_kept(page, works_store, fault, width):
    place = walked(works_store, "DD-207", "hums", "most-telling", ()).place
    plant = plant_at(place, fault, seed=7)
    page.set_viewport_size({"width": width, "height": 844})
    page.goto("/motors/DD-207")
    page.get_by_role("link", name="Troubleshoot").press("Enter")
    page.get_by_role("button", name="It hums and won't turn").press("Enter")
    asked = to_the_end(page, works_store, plant)
    expect(page.locator(".walk-end")).to_contain_text(suspects()[plant.faults[0].name].text)
    tests = [name for name in asked if name != "prove-dead"]
    assert len(tests) == len(set(tests)) > 1
    said = f"{fault} mended, starts counted"
    page.get_by_label("What is changed").fill(said)
    page.get_by_role("button", name="Save on the record").click()
    expect(page.get_by_role("alert")).to_contain_text("cause of the cause")
    expect(page.get_by_label("What is changed")).to_have_value(said)
    page.get_by_label("Cause of the cause").select_option("starts")
    page.get_by_role("button", name="Save on the record").click()
    expect(page).to_have_url(re.compile("/motors/DD-207/history-and-moves"))
    expect(page.get_by_text(said)).to_have_count(1)


def test_on_a_phone_by_touch_to_the_end(browser, browser_context_args, works_store):
    place = walked(works_store, "DD-207", "hums", "most-telling", ()).place
    plant = plant_at(place, "contactor-pole-open", seed=3)
    phone = {"has_touch": True, "is_mobile": True, "viewport": {"width": 390, "height": 844}}
    context = browser.new_context(**browser_context_args | phone)
    page = context.new_page()
    page.goto("/troubleshooting?tag=DD-207")
    page.get_by_role("button", name="It hums and won't turn").tap()
    to_the_end(page, works_store, plant, touch)
    expect(page.locator(".walk-end")).to_contain_text(suspects()[plant.faults[0].name].text)
    context.close()


def test_an_entry_is_taken_back_by_the_browser_and_by_its_own_key(page, works_store):
    page.goto("/troubleshooting?tag=DD-207&s=hums")
    first = page.locator(".walk-form [name=t]").input_value()
    place = walked(works_store, "DD-207", "hums", "most-telling", ()).place
    plant = plant_at(place, "winding-open", seed=3)
    answer(page, works_store, plant)
    expect(page.locator(".walk-what h2")).to_contain_text("after 1 entry")
    page.go_back()
    expect(page.locator(".walk-form [name=t]")).to_have_value(first)
    page.go_forward()
    page.get_by_text("Entries, to undo").click()
    page.get_by_role("link", name="Undo").click()
    expect(page.locator(".walk-what h2")).to_contain_text("after 0 entries")
    expect(page.locator(".walk-form [name=t]")).to_have_value(first)


def test_a_reading_that_is_none_stays_where_it_was_typed(page):
    page.goto(f"/troubleshooting?tag=DD-207&s=hums{LOOKED}&d=prove-dead~dead~panel")
    fields = page.locator(".walk-form [name=r]")
    fields.first.fill("4..2")
    fields.first.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("4..2")
    expect(fields.first).to_have_value("4..2")


def test_keys_type_what_a_meter_shows_in_words_and_no_file_speaks(page):
    page.goto(f"/troubleshooting?tag=DD-207&s=hums{LOOKED}&d=prove-dead~dead~panel&n=ohms-overload-out")
    fields = page.locator(".walk-form [name=r]")
    expect(fields).to_have_count(3)
    for key in ("OL", "Beep", "OL"):
        page.get_by_role("button", name=key, exact=True).click()
    assert [one.input_value() for one in fields.all()] == ["OL", "beep", "OL"]
    page.get_by_role("button", name="Save", exact=True).first.click()
    expect(page.locator(".walk-what h2")).to_contain_text("after 5 entries")
    said = page.locator("main").inner_text()
    assert not re.search(r"\b(overload|load|line|lead)-(T|L)?\d|overload-look|ohms-", said)
    expect(page.locator(".walk-what")).to_contain_text("line to line at the overload's outgoing side")


def test_another_test_and_a_reading_of_ones_own(page):
    page.goto(f"/troubleshooting?tag=DD-207&s=hums{LOOKED}")
    asked = page.locator(".walkline .ask").inner_text()
    page.get_by_text("Another test").click()
    page.locator(".walk-else .plain-list a").first.click()
    expect(page.get_by_role("link", name="Back to what would be asked next")).to_be_visible()
    page.get_by_role("link", name="Back to what would be asked next").click()
    expect(page.locator(".walkline .ask")).to_have_text(asked)
    page.get_by_text("A reading of your own").click()
    own = page.locator(".walk-own")
    own.get_by_label("What").select_option("ohms")
    own.get_by_label("From").select_option("supply-L1")
    own.get_by_label("To", exact=True).select_option("earth")
    own.get_by_label("Shows").fill("0.4")
    own.get_by_role("button", name="Save").click()
    expect(page.get_by_role("alert")).to_contain_text("stays live")  # kept back, and where it was typed
    own.get_by_label("From").select_option("overload-T1")
    own.get_by_label("To", exact=True).select_option("earth")
    own.get_by_label("Shows").fill("0.4")
    own.get_by_role("button", name="Save").click()
    expect(page.locator(".walk-what h2")).to_contain_text("after 4 entries")


def test_handed_over_to_the_dead_tests_and_back_again(page, works_store, tester, works_clock):
    _, tokens, plant = left_to_motor(works_store, "winding-open", "PP-140")
    page.goto(address("PP-140", "hums", "most-telling", tuple(tokens)))
    page.get_by_role("button", name="Hand over to the dead tests").press("Enter")
    expect(page).to_have_url(re.compile(r"/jobs/\d+"))
    number = int(page.url.rpartition("/")[2])
    bench = open_bench(works_store, number, works_clock())
    assert suspects()[plant.faults[0].name].text in bench.state.kept.standing[TOLD].text
    opened = {f"winding_resistance.{pair}": "OL" for pair in ("1-2", "3-1")}
    walker = Walker(works_store, tester, works_clock, "OVER-1", "three-lead", opened)
    walker.job, walker.tag = number, "PP-140"
    walker.to("insulation.1-2-3.on")
    walker.skip("insulation.1-2-3")
    walker.to()
    page.reload()
    page.get_by_role("link", name="Back to troubleshooting with what was read").click()
    expect(page.locator(".walk-end")).to_contain_text(suspects()[plant.faults[0].name].text)
