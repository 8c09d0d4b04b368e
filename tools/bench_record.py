"""Many signed jobs: judged anew by the command, and their links verified; how many a second, and how much memory.

The jobs are the demo's own, copied in bulk with their documents: every kind of motor, some 50 entries each.
"""

from __future__ import annotations

import os
import resource
import subprocess
import sys
import time
from collections.abc import Sequence

from sqlalchemy import text
from sqlalchemy.orm import Session

from grimcoil.core.people import Actor, Role
from grimcoil.service.signatures import add_link
from grimcoil.service.verifying import verify
from grimcoil.settings import Settings
from grimcoil.store.engine import Store, make_engine, make_store
from grimcoil.store.tables import EntryRow, Job
from grimcoil.web.state import utc_now

VERIFIED_A_SECOND = 2000
FIRST = 1_000_000
WHOLE_TOO = "state = 'signed' AND import_id IS NULL AND subject IS NOT NULL"
WHOLE = f"{WHOLE_TOO} AND id < {FIRST}"
MADE_AT_ONCE = 20  # times all of the demo's jobs
LINKED_AT_ONCE = 200


def copied(session: Session, numbers: Sequence[int], plans: bool) -> None:
    """The demo's signed jobs, once by each of the numbers, and their entries and plans where they are asked for."""
    left_out = {"id", "token", *(() if plans else ("plan",))}
    job = ", ".join(f"`{c.name}`" for c in Job.__table__.columns if c.name not in left_out)
    entry = ", ".join(f"`{c.name}`" for c in EntryRow.__table__.columns if c.name not in ("id", "job_id", "token"))
    copies = f"SELECT seq AS copy FROM seq_{numbers[0]}_to_{numbers[-1]}"  # noqa: S608 # nosec B608 - numbers
    session.execute(
        text(
            f"INSERT INTO job (id, token, {job}) SELECT {FIRST} + 1000 * n.copy + id, CONCAT(n.copy, '-', id), {job}"  # noqa: S608 # nosec B608 - names of our own columns
            f" FROM job JOIN ({copies}) n WHERE {WHOLE}"
        )
    )
    if plans:
        session.execute(
            text(
                f"INSERT INTO entry (job_id, token, {entry}) SELECT {FIRST} + 1000 * n.copy + job_id,"  # noqa: S608 # nosec B608 - the same
                f" CONCAT(n.copy, '-', id), {entry} FROM entry JOIN ({copies}) n"
                f" WHERE job_id IN (SELECT id FROM job WHERE {WHOLE})"
            )
        )


def made(store: Store, numbers: Sequence[int], plans: bool) -> None:
    """Some at a time, as a transaction of gigabytes is nobody's friend."""
    for begin in range(0, len(numbers), MADE_AT_ONCE):
        with store.begin() as session:
            copied(session, numbers[begin : begin + MADE_AT_ONCE], plans)


def linked(store: Store) -> int:
    """A link for each copy."""
    actor = Actor(None, "Bench", Role.PLANNER)
    with store() as session:
        jobs = [job for (job,) in session.execute(text(f"SELECT id FROM job WHERE id >= {FIRST} ORDER BY id"))]  # noqa: S608 # nosec B608 - a number
    for begin in range(0, len(jobs), LINKED_AT_ONCE):
        with store.begin() as session:
            for job in jobs[begin : begin + LINKED_AT_ONCE]:
                add_link(session, job, actor, "documents", utc_now())
    return len(jobs)


def _memory() -> str:
    largest = max(resource.getrusage(who).ru_maxrss for who in (resource.RUSAGE_SELF, resource.RUSAGE_CHILDREN))
    return f"the largest process took {largest / 1024:.0f} MB"


def main(links: int, judged: int) -> None:
    """Prints what was measured."""
    store = make_store(make_engine(Settings().database_url.get_secret_value()))
    with store() as session:
        each = session.execute(text(f"SELECT COUNT(*) FROM job WHERE {WHOLE}")).scalar_one()  # noqa: S608 # nosec B608 - ours
    times = -(-links // each)
    made(store, range(1, times + 1), plans=True)
    begun = time.perf_counter()
    count = linked(store)
    print(f"{count} links made, {count / (time.perf_counter() - begun):.0f} a second")
    for workers in (1, os.cpu_count() or 1):
        begun = time.perf_counter()
        found = verify(store, workers=workers)
        rate = found.links / (time.perf_counter() - begun)
        verdict = "within" if rate >= VERIFIED_A_SECOND else "UNDER"
        print(f"verify, {found.links} links, {workers} at once: {rate:.0f} a second {verdict} {VERIFIED_A_SECOND}")
    print(f"  {len(found.breaks)} breaks; {_memory()}")
    begun = time.perf_counter()
    made(store, range(times + 1, times + 1 + -(-judged // each)), plans=False)
    print(f"{-(-judged // each) * each} more copies made in {time.perf_counter() - begun:.0f} s")
    begun = time.perf_counter()
    command = [sys.executable, "-m", "grimcoil.cli", "job", "judge"]
    told = subprocess.run(command, check=True, capture_output=True, text=True).stdout  # noqa: S603 # nosec B603 - our own
    took = time.perf_counter() - begun
    with store() as session:
        count = session.execute(text(f"SELECT COUNT(*) FROM job WHERE {WHOLE_TOO}")).scalar_one()  # noqa: S608 # nosec B608 - ours
    print(f"job judge, {count} jobs: {count / took:.0f} a second, {took:.0f} s in all; {_memory()}")
    print(f"  {len(told.strip().splitlines()) - 1} would be decided otherwise")


if __name__ == "__main__":
    main(*(int(word) for word in (sys.argv[1:] + ["6000", "20000"][len(sys.argv) - 1 :])))
