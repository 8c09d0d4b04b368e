"""`bin/serve`'s processes as a proxy and an administrator meet them: whose headers are believed, counts added up over
the processes, a log that can be read by machines and holds no secret, an end without a trace.
"""

import json
import os
import re
import signal
import socket
import subprocess
import sys
from http.client import HTTPConnection
from pathlib import Path
from urllib.parse import urlencode

import pytest
from sqlalchemy import select

from grimcoil.store.people_tables import Trail
from tests.support import SECRET

ROOT = Path(__file__).parents[2]
FORWARDED = {"x-forwarded-for": "203.0.113.9", "x-forwarded-proto": "https"}


@pytest.fixture
def serve(database_url):
    started = []

    def start(**settings):
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
        environment = os.environ | settings
        environment |= {"GRIMCOIL_DATABASE_URL": database_url, "GRIMCOIL_PORT": str(port), "GRIMCOIL_WORKERS": "2"}
        process = subprocess.Popen(
            [sys.executable, "-m", "grimcoil.cli", "serve"], env=environment, stderr=subprocess.PIPE, text=True
        )
        started.append(process)
        ready = 0
        said = []
        while ready < 2:  # both processes say when they are there
            said.append(next(process.stderr))
            ready += "Application startup complete" in said[-1]
        return process, port, said

    yield start
    for process in started:
        process.kill()
        process.wait()
        process.stderr.close()


def ask(port, method, path, form=None, headers=None):
    wire = HTTPConnection("127.0.0.1", port, timeout=30)
    wire.request(method, path, urlencode(form) if form else None, headers or {})
    answer = wire.getresponse()
    body = answer.read().decode()
    wire.close()
    return answer, body


def enter(port, login, headers):
    _, page = ask(port, "GET", "/sign-in")
    word = re.search(r'name="page_word" value="([^"]+)"', page)[1]
    form = {"login": login, "password": SECRET, "page_word": word}
    sent = {"content-type": "application/x-www-form-urlencoded", "cookie": f"gc_form={word}"} | headers
    return ask(port, "POST", "/sign-in", form, sent)[0]


@pytest.mark.parametrize(("trusted", "origin"), [('["192.0.2.1"]', "127.0.0.1"), ('["127.0.0.1"]', "203.0.113.9")])
def test_forwarded_addresses_are_believed_from_listed_proxies_only(serve, store, electrician, trusted, origin):
    process, port, said = serve(GRIMCOIL_TRUSTED_PROXIES=trusted)
    assert enter(port, electrician.login, FORWARDED).status == 303
    with store() as session:
        assert session.scalar(select(Trail.origin).where(Trail.action == "signed in")) == origin
    assert ask(port, "GET", "/metrics", headers=FORWARDED)[0].status == 403
    for _ in range(6):
        ask(port, "GET", "/healthz")
    wanted = 'grimcoil_requests_total{method="GET",route="/healthz",status="200"} 6.0'
    # an answer is counted once it is out: the other process may be asked before the last one is
    assert any(wanted in ask(port, "GET", "/metrics")[1] for _ in range(50))
    process.send_signal(signal.SIGTERM)
    said += process.stderr.read().splitlines()
    assert process.wait(30) == 0
    requests = [json.loads(line) for line in said if '"request"' in line]
    assert {r["path"] for r in requests} >= {"/sign-in", "/healthz"}
    assert all(len(r["request"]) == 8 for r in requests)
    whole = "\n".join(said)
    assert SECRET not in whole
    assert "page_word" not in whole
    assert "Traceback" not in whole
