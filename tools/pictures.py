"""One picture per main view, from demo data with a clock of its own, into docs/screenshots. Run by bin/pictures."""

from __future__ import annotations

import os
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, sync_playwright
from pydantic import SecretStr

from demo.drying import seed_drying
from demo.rounds import seed_rounds
from demo.scenario import seed
from grimcoil.service.importing import Source
from grimcoil.service.said_dead import DESK, say
from grimcoil.service.sheet_drafts import begin
from grimcoil.service.signing_in import actor_of
from grimcoil.settings import Settings
from grimcoil.store.engine import Store, make_engine, make_store
from grimcoil.store.people import by_login
from grimcoil.store.schema import upgrade
from grimcoil.web.app import create_app
from tests.conftest import fresh_database
from tests.served import browser_state, served, word_of
from tests.support import WHOLE_JOB, Clock

OUT = Path(__file__).parents[1] / "docs" / "screenshots"
ARGUMENTS = "--disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync"
WIDE, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}


@contextmanager
def works(clock: Clock) -> Iterator[tuple[str, Callable[[str], Any], Store]]:
    """The application on a fresh demo database, what a browser holds that someone is signed in on, and its store."""
    address = fresh_database("grimcoil_pictures")
    engine = make_engine(address)
    upgrade(engine)
    store = make_store(engine)
    with store.begin() as session:
        seed(session, clock())
    seed_drying(store, clock())
    seed_rounds(store, clock())

    def state_of(login: str) -> Any:
        with store() as session:
            person = by_login(session, login)
            if person is None:
                return None
            say(store, actor_of(person), DESK, "", clock())
            return browser_state(store, actor_of(person), clock)

    with served(create_app(Settings(database_url=SecretStr(address), demo=True), clock)) as base:
        yield base, state_of, store
    engine.dispose()


def job_of(page: Page, tag: str) -> str:
    """The address of a motor's open job."""
    page.goto("/jobs")
    return page.get_by_role("link", name=tag).first.get_attribute("href") or ""


def walked(page: Page, clock: Clock, tag: str, until: str = "", changed: dict[str, str] | None = None) -> str:
    """A job on a motor, walked to a place over HTTP."""
    form = {"tag": tag, "token": f"picture-{tag}"}
    page.goto(f"/jobs/start?tag={tag}")
    word = {"x-csrf-token": word_of(page)}
    tester = page.get_by_label("Which insulation tester").locator("option").nth(1).get_attribute("value") or ""
    job = page.request.post("/jobs/start", form=form | {"insulation_range_id": tester}, headers=word).url
    for number, (place, text, seconds) in enumerate(WHOLE_JOB):
        if place == until:
            break
        clock.pass_(seconds)
        words = tag if place == "isolate.tag" else (changed or {}).get(place, text)
        kept = {"place": place, "text": words, "token": f"{tag}-{number:04}"}
        page.request.post(f"{job}/keep", form=kept, headers=word)
    return job


# Readings as this motor would give them at 20 °C: DD-215, 22 kW.
DD_215 = {
    "winding_resistance.1-2": "0.3052",
    "winding_resistance.2-3": "0.3047",
    "winding_resistance.3-1": "0.3058",
    "insulation.1-2-3.30": "760M",
    "insulation.1-2-3.60": "1090M",
    "line_current.L1": "26.4",
    "line_current.L2": "27.3",
    "line_current.L3": "26.7",
}
# The same for SH-440, 15 kW.
SH_440 = {
    "winding_resistance.1-2": "0.4862",
    "winding_resistance.2-3": "0.4871",
    "winding_resistance.3-1": "0.4855",
    "insulation.1-2-3.30": "790M",
    "insulation.1-2-3.60": "1190M",
    "line_current.L1": "18.4",
    "line_current.L2": "19.1",
    "line_current.L3": "18.6",
}


# Twelve unmarked leads, part of the way; a nine-lead motor joined for 230 V on 460 V.
LEADS = "/leads?n=12&m=ohms~A-D~0.84&m=ohms~A-B~OL&m=ohms~H-L~0.85&m=ohms~E-G~0.84&m=ohms~B-C~OL&m=ohms~I-K~0.84"
CONNECTION = (
    "/connection?scheme=nine-lead-wye&rated=230Y%2F460Y&supply=460&found-1=L1&found-7=L1&found-2=L2&found-8=L2"
    "&found-3=L3&found-9=L3&found-4=a&found-5=a&found-6=a"
)
# A motor that hums and doesn't turn, after its overload was looked at and the volts before the starter were read.
WALK = "/troubleshooting?tag=DD-207&s=hums&d=overload-look~not-tripped&d=volts-line-side-start~481~479~480"


# Rewind or replace, for a diffuser drive in its campaign stop.
MONEY = (
    "/motors/DD-207/money?power=30+kW&rewind_price=2450&new_price=4180&fit_price=380&energy_price_per_kwh=0.112"
    "&hours_per_year=5200&load_percent=78&efficiency_now_percent=93&efficiency_new_percent=94.1&years=12"
    "&discount_rate_percent=7&built_year=2012&lead_time_new_h=1848"
)
ROUND = "/motors/DD-206/inspection?area=Diffuser+and+lime&task=frame+temperature"
# As such sheets are kept: signs mixed, a bare zero, a day that is two, a mean below.
SHEET = """Mot Nr;Date;R 1-2;R 2-3;R 3-1;Iso 1 min;Temp;Remark
BW114;12.3.24;0,476;0,478;0.477;>550M;17;ok
DD-207;13/3/24;R21;R212;211 mΩ;22;64F;wet pit
PP 122;2024-03-13;0.094;0.088;0.0945;760M;21;hums
LK-331;14.3.24;0.41;0.41;0,4;0;16;flood
ST-019;14.3.24;1,204;1.21;O.L;1G2;19 C;-
WE-610;3/4/24;0.33;3-3;0.331;500 V;18;new cable
Mean;;0,45;;;;;
"""


def main(only: str = "") -> None:
    """Take them all, or those whose name holds `only`."""
    clock = Clock(datetime(2026, 11, 24, 8, 12, tzinfo=UTC))
    with works(clock) as (base, state_of, store), sync_playwright() as playwright:
        root = ["--no-sandbox"] if os.geteuid() == 0 else []
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS.split() + root)

        def shoot(
            name: str,
            path: str | Callable[[Page], str],
            size: dict[str, int] = WIDE,
            scheme: str = "light",
            act: Callable[[Page], object] | None = None,
            login: str = "rohrdommel",
        ) -> None:
            if only and only not in name:
                return
            given: Any = {"storage_state": state_of(login)} if login else {}
            context = browser.new_context(
                viewport=size, reduced_motion="reduce", color_scheme=scheme, base_url=base, **given
            )  # fmt: skip
            page = context.new_page()
            page.goto(path if isinstance(path, str) else path(page))
            page.evaluate("document.fonts.ready")
            if act:
                act(page)
            page.screenshot(path=OUT / f"{name}.png")
            print(name, page.evaluate("document.documentElement.scrollWidth"), file=sys.stderr)
            context.close()

        def typed(page: Page) -> None:
            page.locator("#entry").press_sequentially("0.4768")
            page.locator("#echo .vm").wait_for()

        shoot("job", lambda p: job_of(p, "BW-114"), act=typed)
        shoot("job-phone", lambda p: job_of(p, "BW-114"), PHONE, act=typed)
        shoot("motors", "/motors")
        shoot("motor", "/motors/DD-207")
        shoot("trend", "/motors/DD-207/trend?beside=DD-206", scheme="dark")
        shoot("today", "/")
        shoot("leads", LEADS)
        shoot("connection", CONNECTION)
        shoot("walk", WALK)
        shoot("prove-dead", lambda p: walked(p, clock, "SH-447", "prove_dead.L2-E"))
        shoot("insulation", lambda p: walked(p, clock, "SH-440", "discharge.1-2-3.off", SH_440))
        shoot("decision", lambda p: walked(p, clock, "DD-215", "", DD_215))
        shoot("sheet", sheet_of)
        shoot("start", "/jobs/start?tag=BW-121&occasion=acceptance")
        shoot("money", MONEY)
        shoot("drying", "/dryings/1")
        shoot("round", ROUND, act=lambda p: (p.locator("#r-in").fill("61"), p.evaluate("scrollTo(0, 0)")))
        shoot("fleet", "/fleet?stop=2027-09-14&at=DD-207")
        shoot("sheets", lambda _: waiting_sheet(store, clock))
        browser.close()


def waiting_sheet(store: Store, clock: Clock) -> str:
    """The page of a sheet kept so far, on its way in."""
    with store() as session:
        person = by_login(session, "rohrdommel")
    if person is None:
        raise LookupError("rohrdommel")
    number = begin(store, actor_of(person), Source("notebook-2024.csv", SHEET.encode()), "picture-sheet", clock())
    return f"/import/{number}"


def sheet_of(page: Page) -> str:
    """The last sheet of a motor."""
    page.goto("/motors/DD-207")
    return page.get_by_role("link", name="Readings").get_attribute("href") or ""


if __name__ == "__main__":
    main(*sys.argv[1:2])
