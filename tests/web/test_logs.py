"""What the log says of errors: where they broke, never what was typed or what opens doors."""

import io
import logging
import re

import pytest
import structlog
from fastapi.testclient import TestClient
from pydantic import SecretStr
from sqlalchemy.exc import OperationalError

from grimcoil.service import closing, jobs, motors, people, signing_in
from grimcoil.settings import Settings
from grimcoil.web import logs
from grimcoil.web.app import create_app
from tests.support import signed_cookie

MARK = "xMARKx9431"


class Unforeseen(Exception):
    """Says all it knows, as libraries do."""


@pytest.fixture(params=[True, False], ids=["demo", "serve"])
def heard(request, database_url, store, clock, electrician):
    """A client whose log is read: cookie, form word and all that is typed hold the mark."""
    app = create_app(Settings(database_url=SecretStr(database_url), allowed_hosts=["testserver"]), clock)
    logs.set_up(readable=request.param)
    told = io.StringIO()
    for handler in logging.getLogger().handlers:
        handler.setStream(told)
    token, word = signed_cookie(store, electrician, clock())
    cookies = {"gc_session": token, "other": MARK}
    with TestClient(app, cookies=cookies, headers={"x-csrf-token": word}, raise_server_exceptions=False) as client:
        client.secret, client.log = (token, word), told
        yield client
    app.state.grimcoil.engine.dispose()
    structlog.reset_defaults()


def breaks(monkeypatch, where, name, error):
    def fail(*given, **named):
        held = (given, named, MARK)  # a local that a traceback with locals would show
        raise error from ValueError(str(held))

    monkeypatch.setattr(where, name, fail)


PATHS = [
    ("/motors/BW-1", None, motors, "motor_view"),
    (f"/jobs/7/keep?x={MARK}", {"place": "isolate.tag", "text": MARK, "token": f"tok-{MARK}"}, jobs, "keep"),
    ("/jobs/7/overrule", {"key": "isolate", "reason": MARK, "token": f"tok-{MARK}"}, jobs, "overrule"),
    ("/jobs/7/sign", {"secret": MARK}, closing, "sign"),
    ("/me/password", {"secret": MARK, "password": MARK, "again": MARK}, signing_in, "confirm"),
    ("/me/pin", {"secret": MARK, "pin": MARK}, signing_in, "confirm"),
    ("/me/tokens", {"name": MARK, "read": "yes"}, people, "make_token"),
    ("/motors/new", {"tag": MARK, "serial": MARK}, motors, "check_registration"),
]
ERRORS = [Unforeseen(f"could not use {MARK}"), OperationalError(f"SELECT '{MARK}'", {"p": MARK}, Exception(MARK))]


@pytest.mark.parametrize(("path", "form", "where", "name"), PATHS, ids=lambda x: str(x)[:16] if x else "")
@pytest.mark.parametrize("error", ERRORS, ids=["unforeseen", "database"])
def test_no_line_holds_what_was_typed_or_opens_doors(heard, monkeypatch, path, form, where, name, error):
    breaks(monkeypatch, where, name, error)
    answer = heard.get(path) if form is None else heard.post(path, data=form)
    log = heard.log.getvalue()
    assert answer.status_code == (500 if isinstance(error, Unforeseen) else 503)
    assert MARK not in log
    assert not any(secret in log for secret in heard.secret)
    assert len(log) < 6000
    if isinstance(error, Unforeseen):
        assert "Unforeseen" in log
        assert re.search(r"test_logs\.py:\d+ fail", log)


def test_a_wrong_password_and_a_broken_sign_in_tell_nothing(heard, monkeypatch):
    breaks(monkeypatch, signing_in, "sign_in", Unforeseen(MARK))
    page = heard.get("/sign-in").text
    word = re.search(r'name="page_word"\s+value="([^"]+)"', page)[1]
    form = {"login": MARK, "password": MARK, "page_word": word}
    assert heard.post("/sign-in", data=form).status_code == 500
    assert MARK not in heard.log.getvalue()
    assert word not in heard.log.getvalue()


def test_a_library_that_logs_its_own_traceback_tells_no_more(heard):
    try:
        raise Unforeseen(MARK)
    except Unforeseen:
        logging.getLogger("uvicorn.error").exception("Exception in ASGI application")
    assert "Unforeseen" in heard.log.getvalue()
    assert MARK not in heard.log.getvalue()


@pytest.mark.parametrize("field", ["ohm_range_id", "insulation_range_id"])
def test_a_range_that_is_not_on_the_list_is_refused(heard, field):
    start = {"tag": "BW-1", "token": "start-0001", field: "999"}
    heard.post("/motors/new", data={"tag": "BW-1", "rated_voltage_v": "460"})
    answer = heard.post("/jobs/start", data=start)
    assert (answer.status_code, "one of the ranges on the list" in answer.text) == (422, True)


@pytest.mark.parametrize("rest", [".ics", ".ics?area=Lime", "", "/x"])
def test_a_key_that_stands_in_an_address_is_told_by_its_route(heard, rest):
    heard.get(f"/calendar/{MARK}{rest}")
    heard.get("/motors")
    told = heard.log.getvalue()
    assert MARK not in told
    assert ("/calendar/" in told) is ("/motors" in told)  # a log for reading tells no request at all
