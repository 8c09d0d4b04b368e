"""The works' own criteria by keyboard: copied, a limit changed, what it would judge otherwise seen, then kept."""

import re

from playwright.sync_api import expect


def test_a_copy_is_tried_on_the_signed_jobs_and_kept(page):
    page.goto("/plant")
    page.get_by_role("link", name="Field, general").click()
    page.get_by_label("Its name").fill("sugar-works")
    page.get_by_label("Its title").fill("Sugar works")
    page.get_by_label("Which limit").select_option("insulation_random_mohm")
    page.get_by_label("Source").fill("Works engineer")
    page.get_by_label("New value").fill("much")
    page.keyboard.press("Enter")
    expect(page.get_by_text("A number, in the unit that stands beside the limit.")).to_be_visible()
    expect(page.get_by_label("Source")).to_have_value("Works engineer")
    page.get_by_label("New value").fill("2000")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Insulation minimum at 40 °C, random-wound: 2000 MΩ in place of 5 MΩ")).to_be_visible()
    expect(page.get_by_text(re.compile(r"\d+ of \d+ signed jobs would be judged otherwise"))).to_be_visible()
    expect(page.get_by_role("region", name="Judged otherwise").get_by_role("link", name="LK-301").first).to_be_visible()
    page.get_by_role("button", name="Save version 1").click()
    expect(page.get_by_role("heading", name="Sugar works")).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("random-wound"))).to_contain_text("2000 MΩ")
    page.get_by_role("link", name="Plant", exact=True).last.click()
    expect(page.get_by_label("Default acceptance criteria")).to_contain_text("Sugar works")
