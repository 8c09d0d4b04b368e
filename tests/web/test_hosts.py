"""Several hosts on one database: a node that isn't ready, a host of an earlier version, who sees what was just kept."""

import pytest
from sqlalchemy import text
from starlette.applications import Starlette
from starlette.responses import PlainTextResponse
from starlette.routing import Route
from starlette.testclient import TestClient

from grimcoil.service import health
from grimcoil.service.stores import FRESH
from grimcoil.web.fresh import COOKIE, Fresh
from tests.service.conftest import PLATE


def test_a_node_that_is_not_synced_is_not_ready_and_says_its_state(client, monkeypatch):
    monkeypatch.setattr(health, "unready", lambda _: "Donor/Desynced")
    answer = client.get("/readyz")
    assert (answer.status_code, answer.json()["status"]) == (503, "node Donor/Desynced")
    assert client.get("/healthz").status_code == 200


@pytest.fixture
def later(app, engine):
    """Another host has brought the database to a version that this one doesn't know."""
    versions = app.state.grimcoil.versions
    with engine.begin() as connection:
        stands = connection.scalar(text("SELECT version_num FROM alembic_version"))
        connection.execute(text("UPDATE alembic_version SET version_num = '9999'"))

    def back():
        with engine.begin() as connection:
            connection.execute(text("UPDATE alembic_version SET version_num = :stands"), {"stands": stands})
        versions.look()

    versions.look()
    yield back
    back()


def test_a_host_of_an_earlier_version_reads_and_writes_nothing(client, later):
    assert client.get("/readyz").json()["status"] == "schema not current"
    assert client.get("/motors").status_code == 200
    typed = PLATE | {"tag": "BW-9", "position": "Beet slicer"}
    refused = client.post("/motors/new", data=typed)
    assert refused.status_code == 503
    assert "of an earlier version" in refused.text
    assert 'value="Beet slicer"' in refused.text
    assert client.get("/motors/BW-9").status_code == 404
    later()
    assert client.post("/motors/new", data=typed).status_code == 303


def test_the_interface_says_it_as_a_document(client, later):
    answer = client.post("/api/1/assess", json={})
    assert (answer.status_code, answer.json()["error"]["path"]) == (503, "host")


@pytest.fixture
def asked():
    """Answers whether it was asked to catch up; a post of `/no` is refused."""

    async def told(_):
        return PlainTextResponse(str(FRESH.get()))

    async def refused(_):
        return PlainTextResponse("no", 422)

    routes = [Route("/", told, methods=["GET", "POST"]), Route("/no", refused, methods=["POST"])]
    plain = Starlette(routes=routes)
    plain.add_middleware(Fresh, https=False)
    with TestClient(plain) as client:
        yield client


def test_who_kept_something_catches_up_and_nobody_else(asked):
    assert asked.get("/").text == "False"
    assert asked.post("/no").status_code == 422
    assert asked.get("/").text == "False"
    kept = asked.post("/").headers["set-cookie"]
    assert all(word in kept for word in (f"{COOKIE}=1", "Max-Age=10", "HttpOnly", "SameSite=Strict"))
    assert "set-cookie" not in asked.get("/").headers
    assert asked.get("/").text == "True"
    asked.cookies.clear()
    assert asked.get("/", headers={"cookie": f"other=1; {COOKIE}=1"}).text == "True"
    assert asked.get("/", headers={"cookie": f"other={COOKIE}"}).text == "False"
    assert asked.get("/", headers={"cookie": f"{COOKIE}\x01=;;;"}).text == "False"
