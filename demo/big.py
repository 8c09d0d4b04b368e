"""A works as big as any, by rows in bulk: for measuring, and for tests of lists. Two of the same size are the same."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from pathlib import Path

from sqlalchemy import text
from sqlalchemy.orm import Session

from grimcoil.store.listing import relist

FIRST_ID = 100_000  # numbers of their own: nothing that stands there already is touched


@dataclass(frozen=True, slots=True)
class Size:
    """How many motors, signed jobs of each, entries of each job."""

    motors: int = 10_000
    jobs: int = 20
    entries: int = 10


def fill(session: Session, size: Size) -> None:
    """Positions, motors, windings, states, jobs and entries. Raises IntegrityError where they stand there already."""
    statements = Path(__file__).with_suffix(".sql").read_text(encoding="utf-8").split(";\n")
    for statement in statements:
        if statement.strip():
            # MariaDB takes the :name of a bound value; the clock times in quotes aren't any
            session.execute(text(statement.replace("08:00:00", r"08\:00\:00")), asdict(size) | {"first": FIRST_ID})
    relist(session, range(FIRST_ID, FIRST_ID + size.motors))
