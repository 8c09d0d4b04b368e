"""Is the database there and current."""

from __future__ import annotations

from sqlalchemy import Engine

from grimcoil.store.schema import is_current


def readiness(engine: Engine) -> bool:
    """True where the schema is current; raises SQLAlchemy's errors where the database is away."""
    return is_current(engine)
