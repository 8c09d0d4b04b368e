"""The network lost in the middle of a job, and back: nothing typed is lost, nothing is kept twice, clocks go on."""

from playwright.sync_api import expect

from tests.browser.test_walk import keep, walk_to


def test_a_reading_typed_without_network_is_kept_once_it_is_back(page, works_clock, quiet):
    walk_to(page, works_clock, "NET-1", "winding_resistance.1-2")
    page.context.set_offline(True)
    page.locator("#entry").fill("0.5344")
    page.locator("#entry").press("Enter")
    expect(page.locator("#echo")).to_contain_text("No connection: not kept yet.")
    expect(page.locator("#entry")).to_have_value("0.5344")
    page.context.set_offline(False)
    expect(page.locator("#keep-form [name=place]")).to_have_value("winding_resistance.2-3", timeout=15_000)
    quiet.clear()
    keep(page, "winding_resistance.2-3", "0.5344", "NET-1")  # and the job goes on


def test_an_answer_lost_on_its_way_keeps_the_reading_once(page, works_clock, quiet):
    walk_to(page, works_clock, "NET-2", "winding_resistance.1-2")
    lost = []

    def swallow(route):
        if not lost:
            lost.append(route.fetch().status)  # the works keeps it, the tablet never hears of it
            route.abort()
        else:
            route.continue_()

    page.route("**/keep", swallow)
    page.locator("#entry").fill("0.5344")
    page.locator("#entry").press("Enter")
    expect(page.locator("#keep-form [name=place]")).to_have_value("winding_resistance.2-3", timeout=15_000)
    assert lost == [200]
    expect(page.locator(".pair", has_text="0.5344")).to_have_count(1)
    quiet.clear()


def test_the_hold_stays_on_the_page_while_the_network_is_gone(page, works_clock, quiet):
    walk_to(page, works_clock, "NET-3", "insulation.1-2-3.30")
    place = page.locator("#keep-form [name=place]")
    works_clock.pass_(12.5)
    page.reload()
    expect(place).to_have_value("insulation.1-2-3.60")
    page.context.set_offline(True)
    works_clock.pass_(2)
    expect(page.locator("[data-held]")).to_be_visible()
    expect(page.locator(".line").get_by_role("button", name="Voltage off")).to_be_visible()
    quiet.clear()
    page.context.set_offline(False)
    expect(place).to_have_value("insulation.1-2-3.60")
