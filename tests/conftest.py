"""A throwaway database for the whole run, emptied between tests. `bin/test` starts its server."""

import os
from collections.abc import Iterator

import pytest
from hypothesis import HealthCheck, settings
from sqlalchemy import Engine, create_engine, event, text
from sqlalchemy.engine import make_url

from grimcoil.store.engine import Store, make_engine, make_store
from grimcoil.store.schema import upgrade
from grimcoil.store.tables import Base
from tests.support import Clock

settings.register_profile(
    "here", max_examples=60, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck)
)
settings.load_profile("here")


def fresh_database(name: str) -> str:
    """A new empty database; its address."""
    base = os.environ.get("GRIMCOIL_TEST_DATABASE_URL")
    assert base, "no test database: start the tests with bin/test"
    server = create_engine(make_url(base), isolation_level="AUTOCOMMIT")
    with server.connect() as connection:
        connection.execute(text(f"DROP DATABASE IF EXISTS {name}"))
        connection.execute(text(f"CREATE DATABASE {name} CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_ai_ci"))
    server.dispose()
    return make_url(base).set(database=name).render_as_string(hide_password=False)


@pytest.fixture(scope="session")
def database_url() -> str:
    return fresh_database("grimcoil_test")


@pytest.fixture(scope="session")
def engine(database_url: str) -> Iterator[Engine]:
    made = make_engine(database_url)
    upgrade(made)
    yield made
    made.dispose()


@pytest.fixture
def store(engine: Engine) -> Iterator[Store]:
    yield make_store(engine)
    with engine.begin() as connection:
        for table in reversed(Base.metadata.sorted_tables):
            connection.execute(table.delete())


@pytest.fixture
def clock() -> Clock:
    return Clock()


class Counter:
    """Statements sent to the database."""

    def __init__(self) -> None:
        self.statements: list[str] = []

    def __len__(self) -> int:
        return len(self.statements)


@pytest.fixture
def queries(engine: Engine) -> Iterator[Counter]:
    counter = Counter()

    def count(_connection, _cursor, statement, *_rest) -> None:
        counter.statements.append(statement)

    event.listen(engine, "before_cursor_execute", count)
    yield counter
    event.remove(engine, "before_cursor_execute", count)
