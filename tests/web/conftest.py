"""The application on the test database, asked without a browser."""

import pytest
from fastapi.testclient import TestClient
from pydantic import SecretStr

from grimcoil.settings import Settings
from grimcoil.web.app import create_app


@pytest.fixture
def client(database_url, store, clock):
    settings = Settings(database_url=SecretStr(database_url), allowed_hosts=["testserver"])
    app = create_app(settings, clock)
    with TestClient(app, follow_redirects=False) as made:
        yield made
    app.state.grimcoil.engine.dispose()
