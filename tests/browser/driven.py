"""A job driven through its page as the plan asks, by click and Enter or by tapping."""

from __future__ import annotations

from playwright.sync_api import Error, Locator, expect

from grimcoil.core.plan.steps import Act, Input
from tests.walker import sound


def CLICK(key: Locator) -> None:  # noqa: N802 - stands where a value does
    """By the pointer."""
    key.click()


def TAP(key: Locator) -> None:  # noqa: N802
    """By a finger."""
    key.tap()


def one_entry(page, walker, place, press=CLICK):
    """Do with the page what comes next."""
    slot = walker.bench.plan.at(place)[1]
    form = page.locator(f"#keep-form:has([name=place][value='{place}'])")
    off = page.locator(".line").get_by_role("button", name="Voltage off", exact=True)
    if (slot.act is Act.MARK and (slot.mark_s or 0) > 60) or slot.act is Act.REMOVE:
        press(off)
        expect(off).not_to_be_attached()
        return
    text = walker.changed.get(place) or sound(slot, walker.tag)
    expect(form).to_be_attached()
    if slot.input is Input.CONFIRM:
        press(page.locator("button.key.keep"))
    elif slot.input is Input.CHOICE:
        press(page.locator(f"button[name=quick][value='{text}']"))
    else:
        page.locator("#entry").fill(text)
        if press is CLICK:
            page.locator("#entry").press("Enter")
        else:
            press(page.get_by_role("button", name="Save", exact=True))
    expect(form).not_to_be_attached()


def settled(page):
    """No request is under way: leaving the page would break it off."""
    expect(page.locator(".htmx-request")).to_have_count(0)


def reloaded(page):
    """The page as the clock has it now; it may be turning by itself just then, which breaks a reload off."""
    try:
        page.reload()
    except Error as broken:
        if "ERR_ABORTED" not in str(broken):
            raise
        page.wait_for_load_state()


def drive(page, walker, clock, press=CLICK, until=""):
    """Take what comes next on the page until the decision, or a place."""
    for _ in range(150):
        bench = walker.bench
        if bench.state.closing or (until and bench.state.place == until):
            return
        slot = bench.state.slot
        if slot.act in (Act.MARK, Act.RESIDUAL):
            left = bench.state.discharge_left_s
            mark = (slot.mark_s or 0.0) - (bench.state.hold_s or 0.0)
            clock.pass_(left + 1 if slot.act is Act.RESIDUAL and left is not None else max(1.0, mark))
            settled(page)
            reloaded(page)
        if page.get_by_text("Don't reconnect this motor.").count():
            page.get_by_text("Override with a reason").click()
            page.locator("#why").fill("its maker forbids the test; it ran so for years")
            page.get_by_role("button", name="Go on", exact=True).click()
            expect(page.get_by_text("Don't reconnect this motor.")).not_to_be_attached()
        one_entry(page, walker, bench.state.place, press)
    raise AssertionError(walker.bench.state.place)
