"""Is the database there and current; bring it up to date."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError

from grimcoil.core.errors import RecordRefusal
from grimcoil.service.again import number_of
from grimcoil.service.earlier import keep_earlier
from grimcoil.service.signing_in import forget_tries
from grimcoil.store.engine import make_engine, make_store
from grimcoil.store.nodes import NOT_READY, clock_there, unready, unready_apart
from grimcoil.store.schema import is_current, is_newer, may_make_triggers, unfit, upgrade

__all__ = [
    "Ready", "bring_up_to_date", "check_tables", "is_newer", "migrate", "readiness", "ready",
]  # fmt: skip


@dataclass(frozen=True, slots=True)
class Ready:
    """Whether it can be written to here: why not, in a word or two; clock_offset_s: how far this host's clock
    is ahead of the database's, s, None where the database is away.
    """

    why_not: str
    clock_offset_s: float | None = None


def ready(engine: Engine, clock: Callable[[], datetime]) -> Ready:
    """The database answers, its node is one to write to, its tables are of this version."""
    try:
        with engine.connect() as connection:
            if state := unready(connection):
                return Ready(f"node {state}")
            offset = (clock().astimezone(UTC) - clock_there(connection)).total_seconds()
        return Ready("" if is_current(engine) else "schema not current", offset)
    except SQLAlchemyError as error:
        state = unready_apart(engine) if number_of(error) == NOT_READY else ""
        return Ready(f"node {state}" if state else "database away")


def readiness(engine: Engine) -> bool:
    """True where the schema is current; raises SQLAlchemy's errors where the database is away."""
    return is_current(engine)


def check_tables(engine: Engine) -> None:
    """Raise RecordRefusal where the tables aren't current, or one is none that a cluster takes."""
    if not is_current(engine):
        raise RecordRefusal("database", "tables of an earlier version", "migrate first: grimcoil migrate")
    if strange := unfit(engine):
        raise RecordRefusal("database", ", ".join(strange), "tables of InnoDB, each with a primary key")


def migrate(url: str) -> None:
    """Apply every migration that is missing."""
    engine = make_engine(url)
    try:
        bring_up_to_date(engine)
    finally:
        engine.dispose()


def bring_up_to_date(engine: Engine) -> None:
    """Every migration that is missing, and what jobs and register from before lack. Raises RecordRefusal, before the
    first table is made, where this user may not make what belongs to them.
    """
    if not is_current(engine) and not may_make_triggers(engine):
        found = "a binary log or a cluster, and a user who may make no triggers"
        accepted = "log_bin_trust_function_creators=1 in the server's settings, or a user with SUPER to migrate"
        raise RecordRefusal("database", found, accepted)
    upgrade(engine)
    store, now = make_store(engine), datetime.now(UTC)
    keep_earlier(store, now)
    forget_tries(store, now)
