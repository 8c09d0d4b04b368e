"""A throwaway database for the whole run, emptied between tests. `bin/test` starts its server."""

import collections
import os
from collections.abc import Iterator

import pytest
from argon2 import PasswordHasher
from hypothesis import HealthCheck, settings
from sqlalchemy import Engine, create_engine, event, select, text
from sqlalchemy.engine import make_url

from grimcoil.core.people import Actor, Role
from grimcoil.service import secrets
from grimcoil.store.all_tables import METADATA
from grimcoil.store.engine import Store, make_engine, make_store
from grimcoil.store.schema import upgrade
from tests.support import HASHER, Clock, add_person

collect_ignore = [] if "GRIMCOIL_CLUSTER" in os.environ else ["cluster"]  # bin/test --cluster
APPEND_ONLY = ("signature", "trail")  # emptied whole: single rows can neither be changed nor deleted

settings.register_profile(
    "here", max_examples=60, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck)
)
# bin/test --core, while one works at the trade alone: CI tries four times as many.
settings.register_profile("quick", settings.get_profile("here"), max_examples=15)
settings.load_profile("here")


def pytest_terminal_summary(terminalreporter: pytest.TerminalReporter) -> None:
    """The ten files that took the longest, with what their fixtures took."""
    took: collections.Counter[str] = collections.Counter()
    for reports in terminalreporter.stats.values():
        for one in reports:
            if isinstance(one, pytest.TestReport):
                took[one.nodeid.partition("::")[0]] += one.duration
    if len(took) > 10:
        terminalreporter.section("ten slowest files")
        for name, seconds in took.most_common(10):
            terminalreporter.write_line(f"{seconds:7.1f} s  {name}")


@pytest.fixture(scope="session", autouse=True)
def cheap_hashes() -> Iterator[PasswordHasher]:
    """Hashing is slow by design; here what it guards is tested. Gives the real one."""
    real, secrets.HASHER = secrets.HASHER, HASHER
    yield real
    secrets.HASHER = real


def fresh_database(name: str) -> str:
    """A new empty database; its address. Workers that run side by side have their own."""
    name += os.environ.get("PYTEST_XDIST_WORKER", "")
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


def empty(engine: Engine) -> None:
    """Every table without a row."""
    with engine.begin() as connection:
        connection.execute(text("SET foreign_key_checks = 0"))  # an apprentice's row names another person's
        for table in reversed(METADATA.sorted_tables):
            if table.name not in APPEND_ONLY:
                connection.execute(table.delete())
            elif connection.scalar(select(table.c[0]).limit(1)) is not None:
                connection.execute(text(f"TRUNCATE {table.name}"))
        connection.execute(text("SET foreign_key_checks = 1"))


@pytest.fixture
def store(engine: Engine) -> Iterator[Store]:
    yield make_store(engine)
    empty(engine)


@pytest.fixture
def clock() -> Clock:
    return Clock()


@pytest.fixture
def electrician(store: Store) -> Actor:
    return add_person(store, Role.ELECTRICIAN)


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
