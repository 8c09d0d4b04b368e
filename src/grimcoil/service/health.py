"""Is the database there and current; bring it up to date."""

from __future__ import annotations

from datetime import UTC, datetime

from sqlalchemy import Engine

from grimcoil.core.errors import RecordRefusal
from grimcoil.service.earlier import keep_earlier
from grimcoil.service.signing_in import forget_tries
from grimcoil.store.engine import make_engine, make_store
from grimcoil.store.schema import is_current, may_make_triggers, unfit, upgrade


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
