"""A sheet of 100 000 readings: cells understood a second, values stored a second beside the server's own LOAD DATA of the
same rows, tests filed and judged a second, and how much memory all of it took.
"""

from __future__ import annotations

import json
import os
import resource
import sys
import time
from contextlib import contextmanager
from datetime import timedelta
from itertools import count
from pathlib import Path
from typing import TYPE_CHECKING, Any

from sqlalchemy import text

from grimcoil.core.people import Actor, Role
from grimcoil.exchange.sheets.grid import read_book
from grimcoil.exchange.sheets.mapping import read_map
from grimcoil.exchange.sheets.understand import understand
from grimcoil.service.importing import Source, keep_readings, register_of, take_in, undo
from grimcoil.settings import Settings
from grimcoil.store import imports as rows
from grimcoil.store.engine import Store, make_engine, make_store
from grimcoil.store.tables import SheetImport
from grimcoil.web.state import utc_now

if TYPE_CHECKING:
    from collections.abc import Iterator

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


def stored(store: Store, done: Import) -> float:
    """Values a second into the table, in a transaction that is taken back."""
    numbers = count(1)
    motors = {tag: next(numbers) for tag in done.new_motors}
    with store() as session:
        session.execute(text("SET foreign_key_checks = 0"))
        made = SheetImport(file_name="bench", sha256="", who="bench", at=utc_now(), taken=0)
        session.add(made)
        session.flush()
        with timed("stored here", len(done.taken), "values") as found:
            keep_readings(session, made.id, done.taken, motors)
        session.rollback()
        session.execute(text("SET foreign_key_checks = 1"))
    return found[0]


def loaded(store: Store, import_id: int, many: int) -> float:
    """The same rows by LOAD DATA, from a file that the server wrote itself into a copy of the table."""
    server = make_engine(f"mysql+mysqldb://{os.environ.get('USER', 'root')}@localhost/grimcoil"
                         f"?unix_socket={os.environ['GRIMCOIL_BENCH_SOCKET']}")  # fmt: skip
    file = Path(os.environ["GRIMCOIL_BENCH_SOCKET"]).parent / "tmp" / "rows.tsv"
    file.unlink(missing_ok=True)
    with server.connect() as session:
        session.execute(text(f"SELECT * FROM sheet_reading WHERE import_id = {import_id} INTO OUTFILE '{file}'"))  # noqa: S608
        session.execute(text("CREATE OR REPLACE TABLE sheet_reading_loaded LIKE sheet_reading"))
        session.execute(text("SET autocommit = 0"))
        with timed("LOAD DATA", many, "of the same rows") as found:
            session.execute(text(f"LOAD DATA INFILE '{file}' INTO TABLE sheet_reading_loaded"))
        session.execute(text("DROP TABLE sheet_reading_loaded"))
    server.dispose()
    file.unlink(missing_ok=True)
    return found[0]


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
    ours = stored(store, done)
    with timed("filed, judged and linked", len(done.taken) // 5, "tests"):
        number = take_in(store, actor, Source("bench.csv", raw), done, utc_now())
    theirs = loaded(store, number, len(done.taken))
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
