"""Server time of Motors, Motor, Job step and reading post against the floor; then the core's figures.

The floor is a constant template plus SELECT 1 on the same stack, for someone signed in. Floor and page are asked by
turns, so that whatever else the machine does touches both. Times are taken inside the
process, around the whole ASGI call.
"""

from __future__ import annotations

import asyncio
import logging
import sys
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import datetime, timedelta
from itertools import count
from statistics import median
from typing import Any
from urllib.parse import urlencode

from fastapi import Depends
from sqlalchemy import select, text
from starlette.responses import HTMLResponse

from grimcoil.core.drying.cycle import Act
from grimcoil.core.people import Actor
from grimcoil.core.plan.steps import Input
from grimcoil.service.dryings import begin
from grimcoil.service.dryings import end as end_drying
from grimcoil.service.jobs import How, Start, keep, open_bench, start_job
from grimcoil.service.said_dead import DESK, say
from grimcoil.service.signing_in import actor_of
from grimcoil.store.drying_tables import DryingEntryRow
from grimcoil.store.engine import Store
from grimcoil.store.people import by_login
from grimcoil.store.tables import EntryRow, InstrumentRangeRow, Motor, WindingRow
from grimcoil.web.app import serving
from grimcoil.web.signed import from_own_form, signed_in
from grimcoil.web.state import State, utc_now
from tests.core.plan.given import text_for, wait_after
from tests.support import TO_RESISTANCE, signed_cookie
from tools import bench_core

ROUNDS = 300
SIGNED: list[tuple[bytes, bytes]] = []  # headers of the one who is signed in
AIM = 3.0


def application() -> Any:
    """The application with the floor beside its pages."""
    app = serving()
    logging.getLogger("grimcoil").setLevel(logging.WARNING)
    templates = app.state.grimcoil.templates
    constant = templates.env.from_string("<!doctype html><title>Floor</title><p>A constant page.</p>")

    @app.get("/_floor", dependencies=[Depends(signed_in), Depends(from_own_form)])
    def floor(state: State) -> Any:
        with state.store() as session:
            session.execute(text("SELECT 1"))
        return HTMLResponse(constant.render())

    @app.get("/_bare")
    def bare(state: State) -> Any:
        return floor(state)

    return app


async def ask(app: Any, path: str, form: dict[str, str] | None = None) -> tuple[float, int]:
    """Milliseconds of one request, and its status."""
    body = urlencode(form).encode() if form else b""
    bare, _, query = path.partition("?")
    scope = {
        "type": "http", "asgi": {"version": "3.0"}, "http_version": "1.1", "method": "POST" if form else "GET",
        "path": bare, "raw_path": bare.encode(), "query_string": query.encode(), "root_path": "", "scheme": "http",
        "server": ("127.0.0.1", 80), "client": ("127.0.0.1", 1),
        "headers": [(b"host", b"127.0.0.1"), (b"content-type", b"application/x-www-form-urlencoded"),
                    (b"content-length", str(len(body)).encode()), (b"hx-request", b"true" if form else b"false"),
                    *SIGNED],
    }  # fmt: skip
    status = 0

    async def receive() -> dict[str, Any]:
        return {"type": "http.request", "body": body, "more_body": False}

    async def send(message: dict[str, Any]) -> None:
        nonlocal status
        status = message.get("status", status)

    start = time.perf_counter()
    await app(scope, receive, send)
    return 1000 * (time.perf_counter() - start), status


def p95(values: list[float]) -> float:
    """The 95th percentile."""
    return sorted(values)[int(len(values) * 0.95)]


async def measure(
    app: Any, name: str, requests: Iterator[tuple[str, dict[str, str] | None]], after: Callable[[], None]
) -> float:
    """Ask floor and page by turns; print and return the ratio of their 95th percentiles."""
    floors, bares, pages = [], [], []
    for i in range(ROUNDS + 20):
        floor, _ = await ask(app, "/_floor")
        bare, _ = await ask(app, "/_bare")
        path, form = next(requests)
        page, status = await ask(app, path, form)
        after()
        if status != 200:
            sys.exit(f"{name}: status {status} on {path}")
        if i >= 20:
            floors.append(floor)
            bares.append(bare)
            pages.append(page)
    ratio = p95(pages) / p95(floors)
    print(
        f"{name:14} median {median(pages):6.2f} ms  p95 {p95(pages):6.2f} ms   floor p95 {p95(floors):5.2f} ms"
        f"   ratio {ratio:5.2f}   {'within' if ratio <= AIM else 'OVER'} {AIM:g}"
        f"   ({p95(pages) / p95(bares):.2f} of the floor without sign-in)"
    )
    return ratio


MANY = 40  # readings that the longest plan asks before its last holds


def longest(store: Any, actor: Any) -> tuple[int, str, str, datetime]:
    """A job of the longest plan, twelve leads phase by phase, walked until many readings are kept: its number, the next
    place that takes a reading, what is typed there, and when.
    """
    now = utc_now().replace(hour=1, minute=0)  # all of it on one day: a proof lasts no longer
    name = f"L12-{utc_now():%d%H%M%S}"
    with store.begin() as session:
        motor = Motor(
            tag=name, serial="", rated_voltage_v=480, power_text="11 kW", full_load_current_a=20, created_at=now
        )
        session.add(motor)
        session.flush()
        session.add(WindingRow(motor_id=motor.id, since=now.date(), reason="as built", lead_scheme="twelve-lead"))
        finest = select(InstrumentRangeRow.id).order_by(InstrumentRangeRow.resolution).limit(1)
        ohm = session.scalar(finest.where(InstrumentRangeRow.function == "low-ohm", InstrumentRangeRow.top > 1))
        hold = session.scalar(finest.where(InstrumentRangeRow.function == "insulation"))
    job = start_job(store, actor, Start(name, f"long-{name}", ohm, hold), now)
    bench, readings = open_bench(store, job, now), 0
    while True:
        place, slot = bench.state.place or "", bench.state.slot
        if slot is None:
            sys.exit(f"the longest plan ends after {readings} readings, at {bench.state.step.title}")
        number = len(bench.rows)
        typed = name if slot.input is Input.TAG else "0.2600" if slot.field == "winding" else text_for(slot)
        if readings >= MANY and slot.field == "insulation":
            print(f"the longest plan: {len(bench.plan.steps)} steps, {number} entries, {readings} readings")
            return job, place, typed, now
        bench = keep(store, job, place, typed, actor, f"long-{number:04}", now, How(anyway=True))
        readings += slot.input is Input.READING
        now += timedelta(seconds=wait_after(slot, (60.0,)))


def long_drying(store: Store, actor: Actor, entries: int = 504) -> int:
    """A drying of so many lines that goes on: whole cycles of heat, each with its readings, let go at the end."""
    now = utc_now() - timedelta(hours=entries)
    texts = {"hookup": "one-and-two", "cold_ohm": "0.500", "cold_c": "20"}
    number = begin(store, actor, "SH-440", texts, f"bench-{utc_now():%H%M%S%f}", now)
    cycle = [Act.HEAT_ON, *[Act.HEAT] * 14, Act.HEAT_OFF, Act.SHORTED, Act.FREED, Act.READ, Act.SHORTED, Act.FREED]
    with store.begin() as session:
        for seq in range(1, entries + 1):
            act, now = cycle[seq % len(cycle) - 1], now + timedelta(minutes=40)
            warm = 0.5 * (234.5 + 20 + 40 * seq / entries) / 254.5
            read = act is Act.READ
            session.add(DryingEntryRow(
                drying_id=number, seq=seq, token=f"bench-{number}-{seq}", act=act.value, at=now, kept_at=now,
                who=actor.who, amps="4.00" if act is Act.HEAT else None,
                volts=f"{4 * warm:.3f}" if act is Act.HEAT else None,
                insulation=f"{5 + seq / 9:.1f}M" if read else None,
                t_s=60.0 if read else None, ends="1-2-3~frame" if read else None,
            ))  # fmt: skip
    return number


async def pages() -> None:
    """All pages of the aim."""
    app = application()
    store = app.state.grimcoil.store
    with store() as session:
        person = by_login(session, "rohrdommel")
    if person is None:
        sys.exit("the bench's database is from before there were sign-ins: remove var/bench")
    actor = actor_of(person)
    token, word = signed_cookie(store, actor, utc_now())
    SIGNED[:] = [(b"cookie", f"gc_session={token}".encode()), (b"x-csrf-token", word.encode())]
    job = start_job(store, actor, Start("SH-440", f"bench-{utc_now():%H%M%S}"), utc_now())
    for number, (place, words) in enumerate(TO_RESISTANCE):
        keep(store, job, place, "SH-440" if place == "isolate.tag" else words, actor, f"bench-{number:04}", utc_now())
    tokens, place, typed = count(), "winding_resistance.1-2", "0.4862"

    def posts() -> Iterator[tuple[str, dict[str, str]]]:
        while True:
            number = next(tokens)  # no figure twice: what was worked out for one is no help with the next
            words = f"{typed.removesuffix('M')}.{number % 100:02}M" if typed.endswith("M") else typed
            yield f"/jobs/{job}/keep", {"place": place, "text": words, "token": f"post-{number:06}", "anyway": "1"}

    def remove() -> None:
        with store.begin() as session:
            session.query(EntryRow).filter_by(job_id=job, place=place).delete()

    def nothing() -> None:
        return None

    def same(path: str) -> Iterator[tuple[str, None]]:
        while True:
            yield path, None

    await measure(app, "Motors", same("/motors"), nothing)
    await measure(app, "Motor", same("/motors/DD-207"), nothing)
    await measure(app, "Job step", same(f"/jobs/{job}"), nothing)
    await measure(app, "Reading post", posts(), remove)
    job, place, typed, then = longest(store, actor)
    app.state.grimcoil = replace(app.state.grimcoil, clock=lambda: then)
    await measure(app, "Longest post", posts(), remove)
    app.state.grimcoil = replace(app.state.grimcoil, clock=utc_now)
    drying = long_drying(store, actor)
    await measure(app, "Drying of 500", same(f"/dryings/{drying}"), nothing)
    end_drying(store, actor, drying, "the bench is done", utc_now())
    twelve = "/leads?n=12&m=ohms~A-D~0.84&m=ohms~A-B~OL&m=ohms~H-L~0.85&m=ohms~E-G~0.84"
    say(store, actor, DESK, "", utc_now())
    await measure(app, "Leads", same(twelve), nothing)
    await measure(app, "Connection", same("/connection"), nothing)
    with store.begin() as session:
        session.query(EntryRow).filter_by(job_id=job).delete()
    app.state.grimcoil.engine.dispose()


if __name__ == "__main__":
    asyncio.run(pages())
    bench_core.main()
