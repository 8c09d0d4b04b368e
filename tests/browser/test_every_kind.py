"""Jobs of many kinds driven through the page, key by key, to the signature."""

import pytest
from playwright.sync_api import expect

from tests.browser.driven import drive, settled
from tests.service.test_every_kind import UNCOUPLED, UNLIKE
from tests.support import SECRET
from tests.walker import Walker

LOW = {"insulation.1-2-3.30": "0.5M", "insulation.1-2-3.60": "0.4M"}
HOT = {"temperature.winding": "80", "winding_resistance.2-3": "OL", "winding_resistance.3-1": "OL"}
FLOWS = {
    "nine": ("nine-lead-wye", "routine", "", UNLIKE["nine-lead-wye"], {}, "Return to service."),
    "studs": ("six-lead", "routine", "", {}, {}, "Return to service."),
    "hoist": (
        "two-speed-two-winding", "acceptance", "", UNLIKE["two-speed-two-winding"] | UNCOUPLED,
        {"insulation_test_forbidden": "yes"}, "Return to service.",
    ),
    "wet": ("three-lead-wye", "wet", "", LOW, {}, "Return to service."),
    "hot": ("three-lead-wye", "routine", "box-first", HOT, {}, "Return to service."),
    "spare": ("three-lead-delta", "dead-only", "", {}, {}, "Return to service."),
}  # fmt: skip


@pytest.mark.parametrize("flow", FLOWS)
def test_from_the_start_page_to_the_signature(page, works_store, tester, works_clock, flow):
    scheme, occasion, school, changed, plate, words = FLOWS[flow]
    tag = f"FLOW-{flow}"
    walker = Walker(works_store, tester, works_clock, tag, scheme, changed, plate)
    page.goto(f"/jobs/start?tag={tag}")
    page.locator(f"input[name=occasion][value={occasion}]").check()
    page.get_by_label("Where to begin").select_option(school)
    for name in ("Which ohmmeter", "Which insulation tester"):
        page.get_by_label(name).select_option("Another one, not on the list")
    expect(page.locator(".plan-list")).to_be_visible()
    settled(page)
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_role("heading", name=tag)).to_be_visible()
    walker.job = int(page.url.rsplit("/", 1)[1])
    drive(page, walker, works_clock)
    expect(page.get_by_text(words, exact=False).first).to_be_visible()
    page.get_by_role("button", name="Agree").click()
    page.get_by_label("your password").fill(SECRET)
    page.get_by_role("button", name="Sign").click()
    expect(page.get_by_role("link", name="Print report")).to_be_visible()


def test_the_starter_fails_the_box_passes_and_the_cable_is_found(page, works_store, tester, works_clock):
    walker = Walker(works_store, tester, works_clock, "SPLIT-1", "three-lead-wye", LOW | {"cable.V-E": "0.02M"})
    walker.start()
    walker.to("prove_dead_box.before")
    page.goto(f"/jobs/{walker.job}")
    expect(page.get_by_text("It came because insulation failed at the starter")).to_be_visible()
    walker.to("cable.V-E")
    page.goto(f"/jobs/{walker.job}")
    page.locator("#entry").fill("0.02M")
    page.locator("#entry").press("Enter")
    expect(page.locator(".changed")).to_contain_text("V")
    walker.to("connection.checked")
    assert not walker.bench.whole.stands.failed


def test_several_readings_in_one_line_and_one_taken_back_three_steps_ago(page, works_store, tester, works_clock):
    walker = Walker(works_store, tester, works_clock, "LINE-1", "six-lead").start()
    walker.to("winding_resistance.1-4")
    page.goto(f"/jobs/{walker.job}")
    page.locator("#entry").fill("0.2611 0.2612 0.2610")
    expect(page.locator("#echo")).to_contain_text("3 readings: 1–4 0.2611, 2–5 0.2612, 3–6 0.2610")
    page.locator("#entry").press("Enter")
    expect(page.locator("#keep-form [name=place]")).to_have_value("winding_to_winding.1-4.2-5.volts")
    page.goto(f"/jobs/{walker.job}?at=temperature.winding")
    page.get_by_role("button", name="Undo Winding, 22").click()
    expect(page.locator("#entry")).to_have_value("")
    page.locator("#entry").fill("24")
    page.locator("#entry").press("Enter")
    expect(page.locator("#keep-form [name=place]")).to_have_value("winding_to_winding.1-4.2-5.volts")
    page.goto(f"/jobs/{walker.job}?at=temperature")
    expect(page.get_by_role("button", name="Undo Winding, 24")).to_be_visible()
    assert walker.bench.record.conditions.winding_temperature_c == 24


def test_two_devices_on_one_job_see_one_another(page, context, works_store, tester, works_clock):
    walker = Walker(works_store, tester, works_clock, "TWO-1", "three-lead-wye").start()
    walker.to("winding_resistance.1-2")
    other = context.new_page()
    for each in (page, other):
        each.goto(f"/jobs/{walker.job}")
    page.locator("#entry").fill("0.2611")
    page.locator("#entry").press("Enter")
    expect(page.locator("#keep-form [name=place]")).to_have_value("winding_resistance.2-3")
    other.locator("#entry").fill("0.2700")
    other.locator("#entry").press("Enter")
    expect(other.get_by_text("0.2611, saved by A. Tester").first).to_be_visible()
    expect(other.get_by_text("You typed 0.2700; it was not kept.")).to_be_visible()
    assert walker.bench.state.kept.standing["winding_resistance.1-2"].text == "0.2611"
    other.close()


def test_the_leads_are_rolled_each_time_behind_its_own_lock(page, works_store, tester, works_clock):
    amps = {
        f"{kind}.L3{suffix}": "20.5"
        for kind, suffix in (("line_current", ""), ("lead_roll", "#2"), ("lead_roll", "#3"))
    }
    walker = Walker(works_store, tester, works_clock, "ROLL-1", "nine-lead-wye", UNLIKE["nine-lead-wye"] | amps)
    walker.start(also=("lead_roll",)).to("isolate.lock-main#2")
    page.goto(f"/jobs/{walker.job}?at=lead_roll.shift.shifted%232")
    expect(page.get_by_text("ower was restored").first).to_be_visible()
    expect(page.get_by_role("button", name="Done", exact=True)).to_have_count(0)
    assert "lead_roll.shift.shifted#2" not in walker.bench.state.kept.standing
    page.goto(f"/jobs/{walker.job}")
    expect(page.get_by_text("Power is on. Live work.").first).to_be_visible()
    page.get_by_role("button", name="Done", exact=True).click()
    expect(page.get_by_text("Treat it as live.").first).to_be_visible()
    drive(page, walker, works_clock)
    expect(page.get_by_text("The unequal current stays on line L3").first).to_be_visible()
    expect(page.get_by_text("Correct the supply.").first).to_be_visible()
