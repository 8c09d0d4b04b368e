"""The migrated database is what the tables say, strict, in UTC, with foreign keys."""

from contextlib import suppress

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import event, text
from sqlalchemy.exc import DBAPIError, IntegrityError

from grimcoil.store.all_tables import METADATA
from grimcoil.store.engine import make_engine
from grimcoil.store.schema import is_current, upgrade
from grimcoil.store.tables import Motor, Position
from tests.conftest import fresh_database
from tests.support import NOW


def test_migrations_make_what_the_tables_say(engine):
    with engine.connect() as connection:
        context = MigrationContext.configure(connection, opts={"compare_type": True})
        assert compare_metadata(context, METADATA) == []
    assert is_current(engine)


def test_a_text_too_long_is_refused_not_cut(store):
    with pytest.raises(DBAPIError, match="too long"), store.begin() as session:
        session.add(Position(name="x" * 101))


def test_session_settings(engine):
    with engine.connect() as connection:
        mode, zone, charset = connection.execute(
            text("SELECT @@sql_mode, @@time_zone, @@character_set_connection")
        ).one()
    assert "STRICT_ALL_TABLES" in mode
    assert zone == "+00:00"
    assert charset == "utf8mb4"


def test_every_reference_is_a_foreign_key(store):
    motor = Motor(tag="X", position_id=999, rated_voltage_v=460, created_at=NOW)
    with pytest.raises(IntegrityError), store.begin() as session:
        session.add(motor)


@pytest.mark.parametrize("step", [*range(1, 40, 3), 40, 41, 42, 43, 44])
def test_a_migration_that_was_killed_goes_on_at_the_next_start(step):
    """MariaDB keeps each change of a table at once: what is there is recognised, the rest follows."""
    made = make_engine(fresh_database("grimcoil_killed"))
    left = [step]

    def killed(_connection, _cursor, statement, *_rest):
        if statement.lstrip().upper().startswith(("CREATE", "ALTER", "INSERT", "UPDATE")):
            left[0] -= 1
            if left[0] == 0:
                raise InterruptedError("killed")

    event.listen(made, "before_cursor_execute", killed)
    with suppress(InterruptedError):
        upgrade(made)
    upgrade(made)
    with made.connect() as connection:
        context = MigrationContext.configure(connection, opts={"compare_type": True})
        assert compare_metadata(context, METADATA) == []
        triggers = connection.scalars(
            text("SELECT trigger_name FROM information_schema.triggers WHERE trigger_schema = DATABASE()")
        ).all()
    assert len(triggers) == 4
    assert is_current(made)
    made.dispose()
