"""The migrated database is what the tables say, strict, in UTC, with foreign keys."""

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import text
from sqlalchemy.exc import DBAPIError, IntegrityError

from grimcoil.store.people_tables import Person
from grimcoil.store.schema import is_current
from grimcoil.store.tables import Motor, Position
from tests.support import NOW


def test_migrations_make_what_the_tables_say(engine):
    with engine.connect() as connection:
        context = MigrationContext.configure(connection, opts={"compare_type": True})
        assert compare_metadata(context, Person.metadata) == []
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
