"""A sheet of 100 000 readings: cells understood a second, values stored a second beside the server's own LOAD DATA of
the same rows, tests filed and judged a second, and how much memory all of it took.
"""

from __future__ import annotations

import json
import os
import resource
import sys
import time
from contextlib import contextmanager
from datetime import timedelta
from pathlib import Path
from statistics import median
from typing import TYPE_CHECKING, Any

from sqlalchemy import text
from sqlalchemy.orm import Session

from grimcoil.core.people import Actor, Role
from grimcoil.exchange.sheets.grid import read_book
from grimcoil.exchange.sheets.mapping import read_map
from grimcoil.exchange.sheets.understand import understand
from grimcoil.service.importing import Source, keep_readings, register_of, take_in
from grimcoil.service.undoing import undo
from grimcoil.settings import Settings
from grimcoil.store import imports as rows
from grimcoil.store.engine import make_engine, make_store
from grimcoil.store.tables import SheetImport
from grimcoil.web.state import utc_now

if TYPE_CHECKING:
    from collections.abc import Iterator

    from sqlalchemy import Engine

    from grimcoil.exchange.sheets.taken import Import

AIM = 0.3
PAIRS = ("1-2", "2-3", "3-1")
COLUMNS = {
    "Motor": {"as": "tag"},
    "Date": {"as": "date"},
    "IR": {"as": "insulation", "from": "1-2-3", "to": "frame"},
    **{pair: {"as": "winding_resistance", "pair": pair} for pair in PAIRS},
    "Temp": {"as": "winding_temperature_c"},
}
MAP = json.dumps({"format": "grimcoil-map/1", "columns": COLUMNS})
TESTS_A_MOTOR = 10


def written(values: int, mark: str) -> bytes:
    """A CSV of so many values, five a line, ten lines a motor."""
    lines = [",".join(COLUMNS)]
    today = utc_now().date()
    for number in range(values // 5):
        motor, year = divmod(number, TESTS_A_MOTOR)
        on = today - timedelta(days=200 * year + motor % 90 + 1)
        ohms = ",".join(f"0.{840 + number % each}" for each in (9, 7, 5))
        lines.append(f"{mark}-{motor:05},{on},{400 + number % 300},{ohms},{18 + number % 9}")
    return "\n".join(lines).encode()


@contextmanager
def timed(what: str, many: int, unit: str) -> Iterator[list[float]]:
    """Says how many a second; the list holds that figure afterwards."""
    out: list[float] = []
    begun = time.perf_counter()
    yield out
    out.append(many / (time.perf_counter() - begun))
    print(f"{what}: {out[0]:.0f} {unit} a second")


def server() -> Engine:
    """The bench's own database as its owner: LOAD DATA from a file is nobody else's."""
    owner, socket = os.environ.get("USER", "root"), os.environ["GRIMCOIL_BENCH_SOCKET"]
    return make_engine(f"mysql+mysqldb://{owner}@localhost/grimcoil?unix_socket={socket}")


def _another(session: Session) -> int:
    made = SheetImport(file_name="bench", sha256="", who="bench", at=utc_now(), taken=0)
    session.add(made)
    session.flush()
    return made.id


def beside(done: Import, number: int) -> tuple[float, float]:
    """Values a second into the table as an import stores them, and by LOAD DATA from a file of the same rows that the
    server wrote itself: the same table, by turns, each in a transaction that is taken back; the median of five.
    """
    engine = server()
    file = Path(os.environ["GRIMCOIL_BENCH_SOCKET"]).parent / "tmp" / "rows.tsv"
    file.unlink(missing_ok=True)
    names = ", ".join(name for name in rows.READING if name != "import_id")
    load = f"LOAD DATA INFILE '{file}' INTO TABLE sheet_reading (@of, {names}) SET import_id = {{}}"
    ours, theirs = [], []
    with Session(engine) as session:
        session.execute(text(f"SELECT * FROM sheet_reading WHERE import_id = {number} INTO OUTFILE '{file}'"))  # noqa: S608
        motors = {tag: number for tag, number in session.execute(text("SELECT tag, id FROM motor"))}  # noqa: C416
        for _ in range(5):
            new = _another(session)
            with timed("stored here", len(done.taken), "values") as here:
                keep_readings(session, new, done.taken, motors)
            session.rollback()
            new = _another(session)
            with timed("LOAD DATA", len(done.taken), "of the same rows") as there:
                session.execute(text(load.format(new)))
            session.rollback()
            ours += here
            theirs += there
    engine.dispose()
    file.unlink(missing_ok=True)
    return median(ours), median(theirs)


def main() -> None:
    """All of it, and the ratio."""
    values = int(sys.argv[1]) if len(sys.argv) > 1 else 100_000
    engine = make_engine(Settings().database_url.get_secret_value())
    store = make_store(engine)
    actor: Any = Actor(None, "bench", Role.PLANNER)
    raw = written(values, f"IM{utc_now():%H%M%S}")
    known = register_of(store)
    with timed("understood", values // 5 * len(COLUMNS), "cells"):
        done = understand(read_book(raw, "bench.csv"), read_map(MAP), utc_now().date(), known)
    with timed("filed, judged and linked", len(done.taken) // 5, "tests"):
        number = take_in(store, actor, Source("bench.csv", raw), done, utc_now())
    ours, theirs = beside(done, number)
    ratio = ours / theirs
    print(f"values stored beside LOAD DATA: {ratio:.2f}  {'within' if ratio >= AIM else 'UNDER'} {AIM}")
    with timed("undone", len(done.taken) // 5, "tests"):
        undo(store, actor, number, utc_now())
    with store() as session:
        print(f"{sum(1 for _ in rows.readings_of(session, number))} values stay")
    print(f"at most {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")
    engine.dispose()


if __name__ == "__main__":
    main()
