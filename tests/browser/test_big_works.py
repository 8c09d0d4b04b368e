"""The register of ten thousand motors in a real browser: found while it is typed, narrowed, paged, gone back to."""

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Page, expect
from pydantic import SecretStr

from demo.big import Size, fill
from grimcoil.core.people import Role
from grimcoil.settings import Settings
from grimcoil.store.engine import make_engine, make_store
from grimcoil.store.schema import upgrade
from grimcoil.web.app import create_app
from tests.conftest import fresh_database
from tests.served import browser_state, served
from tests.support import Clock, add_person

MOTORS = 10_000


@pytest.fixture(scope="module")
def signed_in_at() -> Iterator[tuple[str, dict[str, object]]]:
    """The works made once; the application's address and who is signed in."""
    address = fresh_database("grimcoil_big")
    engine = make_engine(address)
    upgrade(engine)
    store = make_store(engine)
    with store.begin() as session:
        fill(session, Size(MOTORS, 1, 0))
    clock = Clock()
    with served(create_app(Settings(database_url=SecretStr(address)), clock)) as base:
        yield base, browser_state(store, add_person(store, Role.PLANNER), clock)
    engine.dispose()


@pytest.fixture
def big(browser, signed_in_at) -> Iterator[Page]:
    base, state = signed_in_at
    context = browser.new_context(base_url=base, storage_state=state, viewport={"width": 1280, "height": 800})
    yield context.new_page()
    context.close()


def test_a_motor_is_found_among_ten_thousand_by_misspelt_words_and_the_keyboard_alone(big):
    big.goto("/")
    big.keyboard.press("/")
    big.keyboard.type("pmup upper 4228")
    found = big.locator(".find .found a")
    expect(found.first).to_contain_text("pump upper 4228")
    expect(big.locator(".find .found > p").first).to_contain_text("near it")
    big.keyboard.press("ArrowDown")
    expect(found.first).to_be_focused()
    big.keyboard.press("ArrowUp")
    expect(big.get_by_role("searchbox").first).to_be_focused()
    big.keyboard.press("ArrowDown")
    tag = found.first.locator("b").inner_text()
    big.keyboard.press("Enter")
    big.wait_for_url(f"**/motors/{tag}")
    expect(big.get_by_role("heading", level=1)).to_have_text(tag)


def test_what_was_found_goes_by_escape_and_by_going_elsewhere(big):
    big.goto("/motors")
    box = big.get_by_role("searchbox").first
    found = big.locator(".found").first
    box.press_sequentially("fan")
    expect(found.get_by_role("link")).to_have_count(8)
    expect(found).to_contain_text("Enter lists more")
    big.keyboard.press("ArrowDown")
    big.keyboard.press("Escape")
    expect(found).to_be_hidden()
    expect(box).to_be_focused()
    box.press_sequentially(" wset")
    expect(found.get_by_role("link").first).to_contain_text("fan west")
    big.get_by_role("heading", name="Motors").click()
    expect(found).to_be_hidden()
    box.fill("quartz")
    expect(found).to_contain_text("No motor near “quartz”")
    box.fill("")
    expect(found).to_be_hidden()


def test_an_answer_that_comes_after_the_box_was_left_opens_nothing(big):
    waiting = []
    big.goto("/motors")
    big.route("**/motors/_found*", lambda route: waiting.append(route))  # noqa: PLW0108 - a builtin can't be one
    with big.expect_request("**/motors/_found*"):
        big.get_by_role("searchbox").first.press_sequentially("fan")
    big.get_by_role("heading", name="Motors").click()
    big.evaluate("() => document.activeElement.blur()")
    with big.expect_response("**/motors/_found*") as answer:
        waiting[-1].continue_()
    answer.value.finished()
    big.evaluate("() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")
    assert big.locator(".found a").count() == 0


def test_a_serial_or_a_tag_written_anyhow_is_its_motor(big):
    big.goto("/motors")
    box = big.get_by_role("searchbox").first
    for typed in ("S713701", "sh-14567", "sh 14567"):
        box.fill(typed)
        expect(big.locator(".found a").first).to_contain_text("SH-14567")
    box.press("Enter")
    big.wait_for_url("**/motors/SH-14567?near=*")


def test_the_list_is_a_page_of_markup_however_many_there_are(big):
    big.goto("/motors?verdict=act&sort=worst")
    assert big.locator(".list .r").count() == 50
    assert big.evaluate("() => document.querySelectorAll('*').length") < 3000
    seen = set(big.locator(".list .r .t").all_inner_texts())
    big.get_by_role("link", name="More motors").click()
    big.wait_for_url(re.compile("after="))
    again = big.locator(".list .r .t").all_inner_texts()
    assert len(again) == 50
    assert not seen & set(again)
    big.go_back()
    big.wait_for_url(re.compile("sort=worst$"))
    assert set(big.locator(".list .r .t").all_inner_texts()) == seen
