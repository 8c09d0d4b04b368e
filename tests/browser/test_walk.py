"""The job in a real browser: by keyboard, on a phone, without script, in two tabs, with bad input."""

import re

import pytest
from playwright.sync_api import expect

from tests.served import word_of
from tests.support import MADE_SAFE, PROVED_DEAD, SECRET, WHOLE_JOB, at_box

NARROW = ("/", "/motors", "/motors/DD-207", "/jobs", "/motors/new", "/me", "/audit-trail", "/leads", "/connection")
PLATE = {"Rated voltage": "460", "Full-load current": "21", "Power": "15 hp", "Speed": "1755", "Frequency": "60"}


def register_and_start(page, tag):
    page.goto("/motors")
    page.get_by_role("link", name="Add a motor").click()
    page.get_by_label("Tag", exact=True).fill(tag)
    for label, text in PLATE.items():
        page.get_by_label(label).first.fill(text)
    page.get_by_label("Leads in the box").select_option("three-lead-wye")
    page.get_by_role("button", name="Register").click()
    expect(page).to_have_url(re.compile(f"/motors/{tag}"))
    page.get_by_role("link", name="Start a job").click()
    page.get_by_label("Which ohmmeter").select_option("Another one, not on the list")
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_role("heading", name=tag)).to_be_visible()


def keep(page, place, text, tag):
    """Enter as a person would: type and press Enter, or press the key."""
    form = page.locator(f"#keep-form:has([name=place][value='{place}'])")
    if place == "discharge.1-2-3.off":
        off = page.locator(".line").get_by_role("button", name="Voltage off", exact=True)
        off.click()
        expect(off).not_to_be_attached()
        return
    expect(form).to_be_attached()
    if text == "confirmed" or ".lock-" in place:
        page.get_by_role("button", name="Done", exact=True).click()
    elif place in ("isolate.tried", "by_hand.shaft", "prove_dead.source"):
        page.get_by_role("button", name=re.compile(text, re.IGNORECASE)).click()
    else:
        page.locator("#entry").fill(tag if place == "isolate.tag" else text)
        page.locator("#entry").press("Enter")
    expect(form).not_to_be_attached()


def walk_to(page, clock, tag, until, school=""):
    """A job that stands at `until`, made over HTTP; the page shows it. school: where the dead tests begin."""
    plate = {"tag": tag, "rated_voltage_v": "460", "full_load_current_a": "21", "lead_scheme": "three-lead-wye",
             "supply_system": "wye-earthed", "system_voltage_v": "480", "position": f"Place of {tag}"}  # fmt: skip
    page.goto("/motors/new")
    word = {"x-csrf-token": word_of(page)}
    page.request.post("/motors/new", form=plate, headers=word)
    start = {"tag": tag, "token": f"start-{tag}", "school": school}
    job = page.request.post("/jobs/start", form=start, headers=word).url
    for number, (place, text, seconds) in enumerate(at_box(WHOLE_JOB) if school else WHOLE_JOB):
        if place == until:
            break
        clock.pass_(seconds)
        words = tag if place == "isolate.tag" else text
        form = {"place": place, "text": words, "token": f"{tag}-{number:04}"}
        answer = page.request.post(f"{job}/keep", form=form, headers=word)
        assert answer.ok, (place, answer.status)
    page.goto(job)


def test_from_nameplate_to_signed_verdict_and_trend(page, works_clock):
    register_and_start(page, "WALK-1")
    for place, text, seconds in WHOLE_JOB:
        if re.fullmatch(r"supply_voltage\.L\d", place):
            continue  # its supply isn't on record: no volts to earth are asked
        works_clock.pass_(seconds)
        if place == "insulation.1-2-3.30":  # given, though nobody waits for it
            page.goto(f"{page.url.partition('?')[0]}?at={place}")
        elif place in ("insulation.1-2-3.60", "discharge.1-2-3.volts"):
            page.goto(page.url.partition("?")[0])  # the page turns by its own clock, which isn't the works' here
        keep(page, place, text, "WALK-1")
    expect(page.get_by_text("Return to service.")).to_be_visible()
    expect(page.get_by_text(re.compile("Insulation to frame is good: 396 MΩ at 40 °C"))).to_be_visible()
    expect(page.get_by_role("img", name="Life and trends of WALK-1: 1 tests.").first).to_be_visible()
    page.get_by_role("button", name="Agree").click()
    page.get_by_label("your password").fill(SECRET)
    page.get_by_role("button", name="Sign").click()
    expect(page.get_by_text(re.compile(r"Signed by A. Tester,\s+24 Nov"))).to_be_visible()
    page.get_by_role("link", name="To the motor").click()
    expect(page.get_by_text("Sound: nothing asks for action.")).to_be_visible()
    page.get_by_role("link", name="Test report of").click()
    expect(page.get_by_text("0.5344")).to_be_visible()


def test_an_echo_that_answers_after_keeping_changes_nothing(page, works_clock):
    walk_to(page, works_clock, "LATE-1", "winding_resistance.3-1")
    held = []

    def hold(route):
        held.append(route)

    page.route("**/_echo*", hold)
    with page.expect_request("**/_echo*"):
        page.locator("#entry").fill("0.52")
    page.locator("#entry").press("Enter")
    expect(page.locator("#keep-form [name=place]")).to_have_value("insulation.1-2-3.volts")
    scale, echo = page.locator("#scale"), page.locator("#echo")
    before = scale.text_content(), echo.text_content()
    with page.expect_response("**/_echo*"):
        for route in held:
            route.continue_()
    page.evaluate("() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")
    assert (scale.text_content(), echo.text_content()) == before


def test_the_sheet_prints_on_one_page(page):
    page.goto("/motors/DD-207")
    page.get_by_role("link", name="Readings").click()
    for size in ("A4", "Letter"):
        pdf = page.pdf(format=size, prefer_css_page_size=False)
        assert len(re.findall(rb"/Type\s*/Page[^s]", pdf)) == 1


def test_echo_needle_and_verdict_come_as_one_types(page, works_clock):
    walk_to(page, works_clock, "ECHO-1", "winding_resistance.2-3")
    page.locator("#entry").press_sequentially("0.60")
    expect(page.locator("#echo")).to_contain_text("0.6 ohms")
    expect(page.locator("#echo")).to_contain_text("Unbalanced with 1–2")
    expect(page.locator("#scale .sc-needle").first).to_be_attached()
    page.locator("#entry").fill("4..2")
    expect(page.locator("#echo")).to_contain_text("one decimal sign")
    page.locator("#entry").press("Enter")
    expect(page.locator("#entry")).to_have_value("4..2")
    expect(page.locator("#entry")).to_have_attribute("aria-invalid", "true")


def test_keys(page, works_clock):
    walk_to(page, works_clock, "KEYS-1", "winding_resistance.2-3")
    entry = page.locator("#entry")
    expect(entry).to_be_focused()
    entry.press("o")
    expect(entry).to_have_value("OL")
    page.keyboard.type("L")
    expect(entry).to_have_value("OL")
    entry.fill("")
    entry.press("u")
    expect(page.get_by_text("0 of 3")).to_be_visible()
    page.locator("#entry").press("ArrowLeft")
    expect(page.get_by_text("6 Temperature")).to_be_visible()
    page.get_by_role("link", name="Go on").focus()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    expect(page.locator("#find-wide")).to_be_focused()


def test_a_choice_key_keeps_what_was_meant(page, works_clock):
    walk_to(page, works_clock, "ASK-1", "winding_resistance.1-2")
    page.locator("#entry").fill("534M")
    page.locator("#entry").press("Enter")
    page.get_by_role("button", name="534 mΩ").click()
    expect(page.get_by_text("1 of 3")).to_be_visible()


def test_two_tabs_on_one_job(page, context, works_clock):
    walk_to(page, works_clock, "TABS-1", "winding_resistance.1-2")
    other = context.new_page()
    other.goto(page.url)
    keep(page, "winding_resistance.1-2", "0.5344", "TABS-1")
    other.locator("#entry").fill("0.6")
    other.locator("#entry").press("Enter")
    expect(other.get_by_text(re.compile("0.5344, saved by A. Tester")).first).to_be_visible()
    other.close()


def test_the_countdown_gate_in_the_browser(page, works_clock):
    walk_to(page, works_clock, "GATE-1", "discharge.1-2-3.volts")
    expect(page.get_by_text("Keep it shorted for")).to_be_visible()
    page.locator("#entry").fill("0")
    page.locator("#entry").press("Enter")
    expect(page.locator("#echo")).to_contain_text("left shorted to frame")
    page.goto("/motors")
    expect(page.locator(".bar > .follow").first).to_contain_text("shorted to frame")
    page.goto("/jobs")
    expect(page.get_by_role("link", name=re.compile("GATE-1")).first).to_be_visible()


@pytest.mark.browser_context_args(java_script_enabled=False)
def test_without_script_by_full_page_forms(page, works_clock):
    register_and_start(page, "PLAIN-1")
    for place, text in (*MADE_SAFE, *PROVED_DEAD):
        works_clock.pass_(5)
        keep(page, place, text, "PLAIN-1")
    expect(page.get_by_text(re.compile("Proved dead"))).to_be_visible()
    page.locator("#entry").fill("")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text(re.compile("1 to 300 characters"))).to_be_visible()


def test_a_reload_after_keeping_posts_nothing(page, works_clock):
    register_and_start(page, "AGAIN-1")
    keep(page, "isolate.tag", "AGAIN-1", "AGAIN-1")
    page.reload()
    expect(page.get_by_text("1 of 3")).to_be_visible()


@pytest.mark.browser_context_args(viewport={"width": 390, "height": 844}, has_touch=True)
def test_on_a_phone_nothing_is_wider_than_the_window(page, works_clock):
    for number, until in enumerate(
        (
            "isolate.lock-main",
            "prove_dead.L1-E",
            "winding_resistance.3-1",
            "insulation.1-2-3.60",
            "discharge.1-2-3.volts",
        )
    ):
        walk_to(page, works_clock, f"PHONE-{number}", until)
        assert page.evaluate("document.documentElement.scrollWidth") <= 390, until
    walk_to(page, works_clock, "PHONE-9", "winding_resistance.3-1")
    keep_box = page.get_by_role("button", name="Save").bounding_box()
    assert keep_box["y"] + keep_box["height"] <= 844
    page.get_by_text("Circuit", exact=True).click()
    expect(page.locator("svg.circuit")).to_be_visible()
    for path in NARROW:
        page.goto(path)
        assert page.evaluate("document.documentElement.scrollWidth") <= 390, path


@pytest.mark.browser_context_args(viewport={"width": 640, "height": 400})
def test_at_200_percent_zoom_everything_can_be_reached(page):
    """A 1280 x 800 window at 200 % is 640 x 400 CSS pixels."""
    for path in NARROW:
        page.goto(path)
        assert page.evaluate("document.documentElement.scrollWidth") <= 640, path
    page.goto("/jobs")
    page.get_by_role("link", name=re.compile("LK-301")).first.click()
    button = page.get_by_role("button", name=re.compile("Save|Done"))
    button.scroll_into_view_if_needed()
    expect(button).to_be_in_viewport()


def test_the_hold_draws_its_curve(page, works_clock):
    walk_to(page, works_clock, "HOLD-1", "discharge.1-2-3.off")
    expect(page.get_by_role("img", name="Insulation resistance against time").first).to_be_visible()
    expect(page.get_by_text("500 V DC on the winding. Stand clear.")).to_be_visible()
    expect(page.get_by_text("at 1040").first).to_be_visible()


def test_a_live_reading_turns_the_line_red_and_leaves_one_key(page, works_clock):
    walk_to(page, works_clock, "LIVE-1", "prove_dead.L2-L3")
    keep(page, "prove_dead.L2-L3", "277", "LIVE-1")
    expect(page.locator(".live-found")).to_contain_text("LIVE 277 V on L2–L3. Step back.")
    assert page.locator("#bench button:visible").all_inner_texts() == ["Source found and off: begin again"]
    page.get_by_role("button", name="Source found and off: begin again").click()
    expect(page.locator("#keep-form [name=place]")).to_have_value("isolate.lock-main")
    expect(page.locator(".plate-strip .gate").first).to_contain_text("Not proved dead. Treat as live")


def test_a_failed_motor_is_led_off_the_voltage_and_to_the_decision(page, works_clock):
    walk_to(page, works_clock, "FAIL-1", "insulation.1-2-3.60", "box-first")
    works_clock.pass_(30)
    page.reload()
    keep(page, "insulation.1-2-3.60", "0.8", "FAIL-1")
    expect(page.locator("#keep-form [name=place]")).to_have_value("discharge.1-2-3.off")
    expect(page.locator(".plate-strip .worst")).to_contain_text("water or a breakdown path")
    keep(page, "discharge.1-2-3.off", "confirmed", "FAIL-1")
    keep(page, "discharge.1-2-3.short", "confirmed", "FAIL-1")
    works_clock.pass_(300)
    page.reload()
    keep(page, "discharge.1-2-3.volts", "0", "FAIL-1")
    keep(page, "by_hand.shaft", "free", "FAIL-1")
    keep(page, "by_hand.seen", "not read", "FAIL-1")
    expect(page.locator("#keep-form")).to_have_count(0)  # nothing is asked that gives it back
    expect(page.get_by_role("button", name="Agree")).to_be_visible()
    expect(page.get_by_text("Clean and dry, then test again.")).to_be_visible()


def test_the_hold_clock_goes_on_through_a_redraw_and_the_second_is_kept(page, works_clock):
    walk_to(page, works_clock, "CLOCK-1", "insulation.1-2-3.30")
    works_clock.pass_(28.5)
    page.reload()
    page.goto(f"{page.url.partition('?')[0]}?at=insulation.1-2-3.30")
    since = page.locator("[data-held]").get_attribute("data-since")
    page.evaluate("htmx.trigger(document.querySelector('.draw'), 'load')")
    works_clock.pass_(1)
    page.locator("#entry").fill("390M")
    assert page.locator("[data-held]").get_attribute("data-since") == since
    assert float(page.locator("[data-held-s]").input_value()) >= 0
    page.locator("#entry").press("Enter")
    expect(page.locator("#keep-form [name=place]")).to_have_value("insulation.1-2-3.60")
    assert page.locator("[data-held]").get_attribute("data-since") == since


def test_a_slip_of_the_decimal_point_is_asked_and_can_be_kept(page, works_clock):
    walk_to(page, works_clock, "SLIP-1", "temperature.winding")
    page.locator("#entry").fill("215")
    page.locator("#entry").press("Enter")
    expect(page.locator("#echo")).to_contain_text("Decimal point")
    page.get_by_role("button", name="Save anyway").click()
    expect(page.locator("#keep-form [name=place]")).to_have_value("temperature.ambient")


def test_a_motor_that_moved_at_the_try_is_not_locked(page, works_clock):
    walk_to(page, works_clock, "MOVED-1", "isolate.tried")
    page.get_by_role("button", name=re.compile("it moved", re.IGNORECASE)).click()
    expect(page.locator(".live-found, .plate-strip .gate").first).to_contain_text(
        re.compile("moved|Live", re.IGNORECASE)
    )
    expect(page.get_by_role("button", name="Source found and off: begin again")).to_be_visible()
    expect(page.locator("#keep-form [name=place]")).to_have_count(0)


def test_a_proof_falls_after_two_hours_and_the_readings_stand(page, works_clock):
    walk_to(page, works_clock, "AGED-1", "winding_resistance.2-3")
    expect(page.locator(".plate-strip .gate").first).to_contain_text("Proved dead")
    works_clock.pass_(2 * 3600 + 1)
    page.reload()
    expect(page.locator(".plate-strip .gate").first).not_to_contain_text("Proved dead")
    expect(page.locator("#keep-form [name=place]")).not_to_have_value("winding_resistance.2-3")
    expect(page.get_by_text("Leads disconnected")).to_have_count(0)


def test_a_makers_ban_offers_no_voltage_and_cannot_be_passed(page, works_clock):
    plate = {
        "tag": "BAN-1",
        "rated_voltage_v": "460",
        "lead_scheme": "three-lead-wye",
        "insulation_test_forbidden": "yes",
    }
    page.goto("/motors/new")
    word = {"x-csrf-token": word_of(page)}
    page.request.post("/motors/new", form=plate, headers=word)
    job = page.request.post("/jobs/start", form={"tag": "BAN-1", "token": "start-BAN-1"}, headers=word).url
    for number, (place, text, seconds) in enumerate(WHOLE_JOB):
        works_clock.pass_(seconds)
        if place.startswith("insulation."):
            form = {"place": place, "text": text, "token": f"ban-{number:04}"}
            assert page.request.post(f"{job}/keep", form=form, headers=word).status in (404, 422)
            break
        said = text.replace("BW-1", "BAN-1")
        page.request.post(f"{job}/keep", form={"place": place, "text": said, "token": f"ban-{number:04}"}, headers=word)
    page.goto(job)
    expect(page.locator("#keep-form [name=place]")).to_have_value("insulation.1-2-3@ohmmeter")  # no test voltage
    expect(page.get_by_role("button", name="Voltage on")).to_have_count(0)
    expect(page.locator("body")).to_contain_text("forbid")
