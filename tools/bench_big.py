"""Pages on a big works against the floor: time, rows the database looks at, bytes, and how they grow with the works.

The same pages are asked for on a works of a tenth the size first; the growth exponent is log10 of the ratio. Asked over
many motors, so that nothing is served from one warm row.
"""

from __future__ import annotations

import asyncio
import math
import sys
import time
from collections.abc import Callable, Iterator
from itertools import count
from typing import Any

from sqlalchemy import text

from demo.big import FIRST_ID, Size, fill
from grimcoil.service.signing_in import actor_of
from grimcoil.settings import Settings
from grimcoil.store.all_tables import METADATA
from grimcoil.store.engine import make_engine, make_store
from grimcoil.store.people import by_login
from grimcoil.store.searching import MOST_READ
from grimcoil.web.state import utc_now
from tests.support import signed_cookie
from tools import bench

ROUNDS = 60
STEP = 2654435761  # spreads the motors asked for
# Lists, and pages of a motor's 200 jobs.
LISTS = {
    "Motors", "Motors, worst", "Motors, filtered", "Motors, combined", "Motors, far", "Search", "Search, common",
    "Outage list", "Motor", "Trend",
}  # fmt: skip
# Where filters are combined, rows are read until a page of them fits, so many at most.
BOUNDS = {"Motors, combined": MOST_READ}
MOST, MOST_LISTS, MOST_GROWTH = 3.0, 4.0, 0.1


def pages(motors: int) -> dict[str, Callable[[int], str]]:
    """Every page of the register by what it is asked for; the number picks a motor."""

    def tag(n: int) -> str:
        n = n * STEP % motors
        return f"{('BW', 'LK', 'EV', 'SH', 'PD')[n // 2 % 5]}-{10000 + n}"

    return {
        "Today": lambda _: "/",
        "Motors": lambda _: "/motors",
        "Motors, worst": lambda _: "/motors?sort=worst",
        "Motors, far": lambda n: f"/motors?sort=due&after=2027-0{1 + n % 9}",
        "Motors, filtered": lambda n: f"/motors?verdict={('act', 'watch', 'sound')[n % 3]}&sort=insulation",
        "Motors, combined": lambda _: "/motors?verdict=act&area=Yard&sort=worst",
        "Search": lambda n: f"/motors?q=conveyer+{1000 + n * STEP % motors}",
        "Search, common": lambda _: "/motors?q=pump",
        "Motor": lambda n: f"/motors/{tag(n)}",
        "Trend": lambda n: f"/motors/{tag(n)}/trend",
        "Life": lambda n: f"/motors/{tag(n)}/history-and-moves",
        "Position": lambda n: f"/positions/{FIRST_ID + n * STEP % motors}",
        "Outage list": lambda _: "/outage?days=30",
        "Fleet": lambda _: "/fleet",
        "Jobs": lambda _: "/jobs",
        "Trail": lambda _: "/audit-trail",
    }


def counted(session: Any) -> int:
    """Rows the whole server has looked at so far."""
    rows = session.execute(text("SHOW GLOBAL STATUS LIKE 'Handler_read%'"))
    return sum(int(value) for name, value in rows if name != "Handler_read_rnd_deleted")


async def asked(app: Any, store: Any, address: Iterator[str], rounds: int) -> tuple[list[float], list[float], float]:
    """Page and floor by turns: milliseconds of each, and rows a page."""
    floors, times = [], []
    with store() as session:
        looked = 0
        for i in range(rounds + 3):
            floor, _ = await bench.ask(app, "/_floor")
            before = counted(session)
            page, status = await bench.ask(app, next(address))
            if status not in (200, 303):
                sys.exit(f"status {status}")
            if i >= 3:
                looked += counted(session) - before
                floors.append(floor)
                times.append(page)
    return times, floors, looked / rounds


def _emptied(store: Any) -> None:
    with store.begin() as session:
        session.execute(text("SET foreign_key_checks = 0"))
        for table in reversed(METADATA.sorted_tables):
            if table.name not in ("signature", "trail", "person", "sign_in", "site"):
                session.execute(table.delete())
        session.execute(text("SET foreign_key_checks = 1"))


async def measure(app: Any, store: Any, size: Size) -> dict[str, tuple[float, float, float]]:
    """A works of this size made anew; per page ratio to the floor (p95), milliseconds (median), rows looked at."""
    _emptied(store)
    start = time.perf_counter()
    with store.begin() as session:
        fill(session, size)
    with store.begin() as session:
        session.execute(text("ANALYZE TABLE listing, search_key, job, entry, stay, motor_state"))
    made = f"{size.motors} motors, {size.motors * size.jobs} jobs, {size.motors * size.jobs * size.entries} entries"
    print(f"{made}: made in {time.perf_counter() - start:.0f} s")
    out = {}
    for name, address in pages(size.motors).items():
        times, floors, rows = await asked(app, store, map(address, count(1)), ROUNDS)
        out[name] = (bench.p95(times) / bench.p95(floors), sorted(times)[len(times) // 2], rows)
    return out


async def main(motors: int) -> None:
    """Small, then big, then what grew."""
    app = bench.application()
    store = make_store(make_engine(Settings().database_url.get_secret_value()))  # patient, as commands are
    with store() as session:
        person = by_login(session, "rohrdommel")
    if person is None:
        sys.exit("the bench's database is from before there were sign-ins: remove var/bench")
    token, word = signed_cookie(store, actor_of(person), utc_now())
    bench.SIGNED[:] = [(b"cookie", f"gc_session={token}".encode()), (b"x-csrf-token", word.encode())]
    small = await measure(app, store, Size(motors // 10))
    big = await measure(app, store, Size(motors))
    for name, (ratio, median, rows) in big.items():
        most = MOST_LISTS if name in LISTS else MOST
        grown = math.log10(max(median, 0.1) / max(small[name][1], 0.1))
        read = math.log10(max(rows, 1) / max(small[name][2], 1))
        verdict = "within" if ratio <= most else "OVER"
        bound = BOUNDS.get(name)
        growth = (
            ""
            if max(read, 0) <= MOST_GROWTH
            else "  GROWS"
            if bound is None or rows > bound
            else f"  of {bound} at most"
        )
        print(
            f"{name:18} median {median:6.2f} ms  ratio {ratio:5.2f} {verdict} {most:g}   rows {rows:6.0f}"
            f"   exponent of time {grown:5.2f}, of rows {read:5.2f}{growth}"
        )
    app.state.grimcoil.engine.dispose()


if __name__ == "__main__":
    asyncio.run(main(int(sys.argv[1]) if len(sys.argv) > 1 else 10_000))
