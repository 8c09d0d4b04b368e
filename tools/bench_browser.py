"""What a browser feels: first paint of the job bench and of Motors beside a constant page's on the same stack, from
Enter to the next step, and the longest task meanwhile. Chromium, headless; each page asked by turns with the floor.
"""

from __future__ import annotations

import os
import re
import sys
from statistics import median
from typing import Any

from playwright.sync_api import Page, sync_playwright
from sqlalchemy import text
from starlette.responses import HTMLResponse

from grimcoil.service.jobs import Start, keep, start_job
from grimcoil.service.signing_in import actor_of
from grimcoil.store.people import by_login
from grimcoil.store.tables import EntryRow
from grimcoil.web.state import utc_now
from tests.served import browser_state, served
from tests.support import TO_RESISTANCE
from tools.bench import application, p95

ARGUMENTS = "--disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync"
ROUNDS = 25
PAINT = """() => new Promise(done => { const look = () => {
  const seen = performance.getEntriesByName('first-contentful-paint')[0];
  seen ? done(seen.startTime) : setTimeout(look, 5); }; look(); })"""
WATCH = """() => { window.gcLong = 0;
  const longest = (list) => { for (const e of list.getEntries()) window.gcLong = Math.max(window.gcLong, e.duration); };
  new PerformanceObserver(longest).observe({ type: 'longtask', buffered: true }); }"""
MAIN = re.compile("<main.*</main>", re.DOTALL)
READINGS = ("0.4862", "0.4870", "0.4866")


def paint(page: Page, address: str) -> float:
    """Milliseconds from the address to the first paint."""
    page.goto(address)
    return float(page.evaluate(PAINT))


def job_on(store: Any, actor: Any, tag: str) -> int:
    """An open job that stands at its first resistance."""
    job = start_job(store, actor, Start(tag, f"felt-{utc_now():%H%M%S}"), utc_now())
    with store.begin() as session:  # one left open by the run before begins anew
        session.query(EntryRow).filter_by(job_id=job).delete()
    for number, (place, words) in enumerate(TO_RESISTANCE):
        keep(store, job, place, tag if place == "isolate.tag" else words, actor, f"felt-{number:04}", utc_now())
    return job


def typed(page: Page, address: str) -> tuple[list[float], float]:
    """Each reading typed and kept by Enter: milliseconds until the next place is asked; the longest task."""
    page.goto(address)
    page.evaluate(WATCH)
    times = []
    for reading in READINGS:
        box = page.locator("[data-entry]")
        before = page.locator("#keep-form [name=place]").get_attribute("value")
        box.fill(reading)
        page.wait_for_timeout(500)  # a figure is looked at before it is kept
        times.append(
            page.evaluate(
                """before => new Promise(done => {
                  const begun = performance.now();
                  const look = () => document.querySelector('#keep-form [name=place]')?.value !== before
                    ? requestAnimationFrame(() => done(performance.now() - begun)) : requestAnimationFrame(look);
                  document.querySelector('#keep-form').requestSubmit();
                  look();
                })""",
                before,
            )
        )
    return times, float(page.evaluate("() => window.gcLong"))


def main() -> None:
    """Prints ratios and times."""
    app = application()
    store = app.state.grimcoil.store
    with store() as session:
        person = by_login(session, "rohrdommel")
        if person is None:
            sys.exit("the bench's database is from before there were sign-ins: remove var/bench")
        actor = actor_of(person)
        motors = session.scalar(text("SELECT COUNT(*) FROM motor"))
    job = job_on(store, actor, "SH-440")
    shell = {"html": ""}

    @app.get("/_shell")
    def constant() -> HTMLResponse:
        """Head, bar, styles and scripts as every page has them; nothing asked of the database, no work to show."""
        return HTMLResponse(shell["html"])

    with served(app) as base, sync_playwright() as play:
        arguments = [*ARGUMENTS.split(), *(["--no-sandbox"] if os.geteuid() == 0 else [])]
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=arguments)
        state: Any = browser_state(store, actor, utc_now)
        page = browser.new_context(storage_state=state, viewport={"width": 1280, "height": 800}).new_page()
        page.goto(f"{base}/motors")
        shell["html"] = "<!doctype html>" + MAIN.sub("<main id=main><h1>A constant page</h1></main>", page.content())
        for name, path in (("Motors", "/motors"), ("Job bench", f"/jobs/{job}"), ("Motor", "/motors/DD-207")):
            floors, pages = [], []
            for i in range(ROUNDS + 3):
                floor, mine = paint(page, f"{base}/_shell"), paint(page, base + path)
                if i >= 3:
                    floors.append(floor)
                    pages.append(mine)
            ratio = median(pages) / median(floors)
            print(
                f"{name:12} of {motors} motors: first paint median {median(pages):5.0f} ms, p95 {p95(pages):5.0f};"
                f" constant page {median(floors):5.0f}; ratio {ratio:.2f} {'within' if ratio <= 1.3 else 'OVER'} 1.3"
            )
        times, longest = typed(page, f"{base}/jobs/{job}")
        print(
            f"Enter to the next step: {', '.join(f'{t:.0f}' for t in times)} ms,"
            f" {'within' if max(times) < 150 else 'OVER'} 150; longest task {longest:.0f} ms,"
            f" {'within' if longest <= 100 else 'OVER'} 100"
        )
        browser.close()


if __name__ == "__main__":
    main()
