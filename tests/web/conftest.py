"""The application on the test database, asked without a browser."""

import pytest
from fastapi.testclient import TestClient
from pydantic import SecretStr

from grimcoil.settings import Settings
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
