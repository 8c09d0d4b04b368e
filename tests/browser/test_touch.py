"""The bench by touch on a tablet held upright: what may not be done is never asked for."""

import re

import pytest
from playwright.sync_api import expect

from grimcoil.core.plan.steps import Circuit
from tests.browser.driven import TAP, drive, settled
from tests.service.test_every_kind import UNLIKE
from tests.support import SECRET
from tests.walker import Walker

UNEVEN = {"winding_resistance.1-2": "0.2611", "winding_resistance.2-3": "0.9", "winding_resistance.3-1": "0.9"}
BOX = {f"{place}@motor-box": text for place, text in UNEVEN.items()}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return browser_context_args | {"viewport": {"width": 820, "height": 1180}, "has_touch": True}


@pytest.fixture
def job(page, works_store, tester, works_clock):
    def start(tag, scheme, changed=None, plate=None, kind="routine"):
        walker = Walker(works_store, tester, works_clock, tag, scheme, changed, plate).start(kind)
        page.goto(f"/jobs/{walker.job}")
        return walker

    return start


def asked_now(page):
    """What the page asks for, if anything."""
    place = page.locator("#keep-form [name=place]")
    return place.input_value() if place.count() else ""


def test_a_failed_motor_comes_to_its_signature_with_nothing_live_asked(page, job, works_clock):
    walker = job("TF-1", "three-lead-wye", UNEVEN | BOX)
    drive(page, walker, works_clock, TAP, until="insulation.1-2-3.volts")
    live = [step.key for step in walker.bench.plan.steps if step.kind in ("supply_voltage", "line_current")]
    for step in ("restore", *live):
        page.goto(f"/jobs/{walker.job}?at={step}")
        expect(page.get_by_role("alert").first).to_be_visible()
        assert asked_now(page) == ""
    page.goto(f"/jobs/{walker.job}")
    TAP(page.get_by_role("button", name="Don't reconnect: decide"))
    expect(page.get_by_role("region", name="Decision")).to_be_visible()
    expect(page.locator("main")).not_to_contain_text("Supply volts")
    TAP(page.locator(".closing label", has_text="age").first)
    page.locator("#changed").fill("a spare goes in")
    TAP(page.get_by_role("button", name="Agree"))
    page.get_by_label("your password").fill(SECRET)
    TAP(page.get_by_role("button", name="Sign"))
    expect(page.get_by_text(re.compile("Signed by A. Tester")).first).to_be_visible()


def test_the_hoist_has_both_feeds_locked_and_proved_under_a_ban(page, job, works_clock, works_store):
    plate = {"insulation_test_forbidden": "yes", "supply_system": "", "system_voltage_v": ""}
    walker = job("TH-1", "two-speed-two-winding", UNLIKE["two-speed-two-winding"], plate)
    places = list(walker.bench.plan.places)
    assert {"isolate.lock-main", "isolate.lock-second-feed", "prove_dead.second-feed"} <= set(places)
    drive(page, walker, works_clock, TAP)
    kept = walker.bench.state.kept.standing
    assert {"prove_dead.second-feed", "insulation.1-2-3.11-12-13@ohmmeter", "line_current.L1@low"} <= set(kept)
    assert {"line_current.L1@high", "supply_voltage.L1-L2@high"} <= set(kept)
    assert not [place for place in kept if place.endswith(".on")]  # no insulation tester
    expect(page.get_by_role("region", name="Decision")).to_be_visible()


def test_a_find_of_volts_stops_the_work_and_stands_in_the_report(page, job, works_clock):
    walker = job("TL-1", "three-lead-wye", {"prove_dead.L2-L3": "277"})
    drive(page, walker, works_clock, TAP, until="prove_dead.L2-L3")
    page.locator("#entry").fill("277")
    TAP(page.get_by_role("button", name="Save", exact=True))
    expect(page.locator(".live-found")).to_contain_text("LIVE 277 V on L2–L3. Step back.")
    page.goto("/motors")
    expect(page.locator("#danger")).to_contain_text("TL-1")
    expect(page.locator("#danger")).to_contain_text("277 V found: not dead")
    TAP(page.locator("#danger a", has_text="TL-1"))
    TAP(page.get_by_role("button", name=re.compile("Source found and off")))
    expect(page.locator(".live-found")).not_to_be_attached()
    walker.changed.clear()
    drive(page, walker, works_clock, TAP, until="as_found.lead-1")
    page.goto(f"/jobs/{walker.job}/report")
    found = page.locator("table", has_text="Stopped")
    expect(found).to_contain_text("Prove dead, L2–L3: 277 V")
    expect(found).to_contain_text("begun again")


def test_with_power_on_no_dead_step_shows_a_box_on_whatever_way_it_was_reached(page, job, works_clock):
    walker = job("TP-1", "three-lead-wye")
    drive(page, walker, works_clock, TAP, until="supply_voltage.L1-L2")
    for step in walker.bench.plan.steps:
        if step.circuit is Circuit.LIVE or not step.slots:
            continue
        for address in (step.key, step.place(step.slots[-1])):
            page.goto(f"/jobs/{walker.job}?at={address}")
            settled(page)
            assert asked_now(page) == "", address
            assert page.locator("#bench .cable-wide, #bench .probe").count() == 0, address
