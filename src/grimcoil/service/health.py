"""Is the database there and current; bring it up to date."""

from __future__ import annotations

from datetime import UTC, datetime

from sqlalchemy import Engine

from grimcoil.service.earlier import keep_earlier
from grimcoil.service.signing_in import forget_tries
from grimcoil.store.engine import make_engine, make_store
from grimcoil.store.schema import is_current, upgrade


def readiness(engine: Engine) -> bool:
    """True where the schema is current; raises SQLAlchemy's errors where the database is away."""
    return is_current(engine)


def migrate(url: str) -> None:
    """Apply every migration that is missing."""
    engine = make_engine(url)
    try:
        bring_up_to_date(engine)
    finally:
        engine.dispose()


def bring_up_to_date(engine: Engine) -> None:
    """Every migration that is missing, and what jobs and register from before lack."""
    upgrade(engine)
    store, now = make_store(engine), datetime.now(UTC)
    keep_earlier(store, now)
    forget_tries(store, now)
