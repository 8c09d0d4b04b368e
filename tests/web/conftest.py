"""The application on the test database, asked without a browser."""

from collections.abc import Iterator, Mapping
from dataclasses import fields, is_dataclass

import jinja2
import pytest
from fastapi.testclient import TestClient
from pydantic import SecretStr
from sqlalchemy import event

from grimcoil.service.said_dead import DESK, say
from grimcoil.settings import Settings
from grimcoil.store.tables import Base
from grimcoil.web.app import create_app
from tests.support import signed_cookie


@pytest.fixture
def app(database_url, store, clock):
    made = create_app(Settings(database_url=SecretStr(database_url), allowed_hosts=["testserver"]), clock)
    yield made
    made.state.grimcoil.engine.dispose()


@pytest.fixture
def stranger(app):
    """Nobody signed in."""
    with TestClient(app, follow_redirects=False) as made:
        yield made


@pytest.fixture
def sign_in(store, clock, app):
    """A client of someone signed in; the word of its forms goes along as a header."""
    opened = []

    def made(actor):
        token, word = signed_cookie(store, actor, clock())
        client = TestClient(app, follow_redirects=False, cookies={"gc_session": token}, headers={"x-csrf-token": word})
        opened.append(client)
        return client.__enter__()

    yield made
    for client in opened:
        client.__exit__()


@pytest.fixture
def client(sign_in, electrician):
    return sign_in(electrician)


@pytest.fixture
def at_desk(store, electrician, clock):
    """Leads and Connection ask once a day whether a lead is touched."""
    say(store, electrician, DESK, "", clock())


def rows_in(value: object, path: str, depth: int = 7) -> Iterator[str]:
    """Where rows of the database stand among values that a page is made of."""
    if isinstance(value, Base):
        yield f"{path}: {type(value).__name__}"
    elif depth == 0 or isinstance(value, str | bytes):
        return
    elif isinstance(value, Mapping):
        for key, each in value.items():
            yield from rows_in(each, f"{path}.{key}", depth - 1)
    elif isinstance(value, list | tuple):
        for each in value:
            yield from rows_in(each, f"{path}[]", depth - 1)
    elif is_dataclass(value):
        for field in fields(value):
            yield from rows_in(getattr(value, field.name), f"{path}.{field.name}", depth - 1)


@pytest.fixture(autouse=True)
def pages_get_values(monkeypatch):
    """No page is made of rows of the database: they stay in store and service."""
    whole = jinja2.Template.render

    def render(self, *args, **given):
        found = list(rows_in(dict(*args, **given), ""))
        assert not found, f"{self.name}: {sorted(set(found))}"
        return whole(self, *args, **given)

    monkeypatch.setattr(jinja2.Template, "render", render)


@pytest.fixture
def engine_queries(client):
    seen = []
    engine = client.app.state.grimcoil.engine

    def count(_connection, _cursor, statement, *_rest):
        seen.append(statement)

    event.listen(engine, "before_cursor_execute", count)
    yield seen
    event.remove(engine, "before_cursor_execute", count)
