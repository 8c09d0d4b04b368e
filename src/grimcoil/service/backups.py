"""Backing a works up and putting it back, for the command line. Not in `stores`: it loads the migrations."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import datetime
from pathlib import Path

from sqlalchemy import Engine, update
from sqlalchemy.exc import SQLAlchemyError

from grimcoil.core.errors import RecordRefusal, Refusal
from grimcoil.service.health import bring_up_to_date, readiness
from grimcoil.service.job_files import export_job
from grimcoil.service.verifying import verify
from grimcoil.store.archive import Packed, pack, unpack
from grimcoil.store.backup import Manifest, restore, rows_by_table
from grimcoil.store.backup import back_up as written
from grimcoil.store.engine import Store, make_store
from grimcoil.store.jobs import every_open
from grimcoil.store.restoring import emptied
from grimcoil.store.tables import Site

__all__ = ["back_up", "pack", "restore", "rows_by_table", "take_in", "unpack"]


def back_up(engine: Engine, target: Path, now: datetime) -> Manifest:
    """The same as the store writes it, and on the page of the works when it was. Raises RecordRefusal."""
    made = written(engine, target, now)
    with make_store(engine).begin() as session:
        session.execute(update(Site).values(backed_up_at=now))
    return made


def take_in(engine: Engine, source: Path, told: Callable[[str], None] = lambda _: None) -> Packed:
    """Unpack an archive, bring it to this version and look at what it says before it counts as taken: the chain by
    `verify`, open jobs by the models that read them out. Whatever isn't so, the database is empty again.

    Raises RecordRefusal.
    """
    packed = unpack(engine, source, told)
    try:
        if not readiness(engine):  # of an earlier version: with the links that it had not yet
            bring_up_to_date(engine)
        wrong = next(_nonsense(make_store(engine), datetime.fromisoformat(packed.made_at)), "")
    except (ValueError, TypeError, KeyError, AttributeError, SQLAlchemyError) as error:
        wrong = f"rows that can't be read ({type(error).__name__})"
    except BaseException:
        emptied(engine)
        raise
    if wrong:
        emptied(engine)
        raise RecordRefusal("archive", wrong, "a works that reads as it was kept; the database is empty as before")
    return packed


def _nonsense(store: Store, now: datetime) -> Iterator[str]:
    yield from verify(store).breaks
    with store() as session:
        numbers = every_open(session)
    for number in numbers:
        try:
            export_job(store, number, now)
        except Refusal as refusal:
            yield f"job {number}: {refusal.sentence()}"
