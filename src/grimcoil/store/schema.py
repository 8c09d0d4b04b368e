"""Migrations from code: bring a database up to date, and tell whether it is."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, text


def config(url: str | None = None) -> Config:
    """Alembic's configuration, without a file."""
    made = Config()
    made.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    if url:
        made.set_main_option("sqlalchemy.url", url.replace("%", "%%"))
    return made


def known_revisions() -> frozenset[str]:
    """Every migration that this version has."""
    return frozenset(one.revision for one in ScriptDirectory.from_config(config()).walk_revisions())


def upgrade(engine: Engine, to: str = "head") -> None:
    """Apply every migration that is missing, up to one."""
    made = config()
    with engine.begin() as connection:
        made.attributes["connection"] = connection
        command.upgrade(made, to)


def is_current(engine: Engine) -> bool:
    """The database stands at the newest migration."""
    head = ScriptDirectory.from_config(config()).get_current_head()
    with engine.connect() as connection:
        return MigrationContext.configure(connection).get_current_revision() == head


@lru_cache(maxsize=1)
def _known() -> frozenset[str]:
    return known_revisions()


def is_newer(engine: Engine) -> bool:
    """The database stands at a migration that this version doesn't have."""
    with engine.connect() as connection:
        stands = MigrationContext.configure(connection).get_current_revision()
    return stands is not None and stands not in _known()


_LOGGED = text(
    "SHOW GLOBAL VARIABLES WHERE Variable_name IN ('log_bin', 'wsrep_on', 'log_bin_trust_function_creators')"
)
_UNFIT = text(
    "SELECT t.table_name, t.engine, c.constraint_name IS NULL FROM information_schema.tables t"
    " LEFT JOIN information_schema.table_constraints c ON c.table_schema = t.table_schema"
    " AND c.table_name = t.table_name AND c.constraint_type = 'PRIMARY KEY'"
    " WHERE t.table_schema = DATABASE() AND t.table_type = 'BASE TABLE'"
    " AND (t.engine <> 'InnoDB' OR c.constraint_name IS NULL) ORDER BY t.table_name"
)


def may_make_triggers(engine: Engine) -> bool:
    """Whether this user may: not where the binary log or a cluster is on, the server doesn't trust who makes them, and
    the user isn't one who may do everything. The server's manual, error 1419.
    """
    with engine.connect() as connection:
        on = {name for name, value in connection.execute(_LOGGED) if value in ("ON", "1")}
        if not on & {"log_bin", "wsrep_on"} or "log_bin_trust_function_creators" in on:
            return True
        grants = [line.upper() for line in connection.scalars(text("SHOW GRANTS"))]
    return any(" ON *.*" in line and ("SUPER" in line or "ALL PRIVILEGES" in line) for line in grants)


def unfit(engine: Engine) -> list[str]:
    """Tables that a cluster can't take, each with why: without a primary key, or of another engine than InnoDB."""
    with engine.connect() as connection:
        return [
            f"{name}: {'no primary key' if bare else f'engine {kind}'}"
            for name, kind, bare in connection.execute(_UNFIT)
        ]
