"""Migrations from code: bring a database up to date, and tell whether it is."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine


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
