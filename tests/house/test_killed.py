"""kill -9 of the application and of its database in the middle of 200 readings: nothing acknowledged is lost, and
nothing is kept twice.
"""

import os
import signal
import socket
import subprocess
import sys
import threading
import time
from http.client import HTTPConnection, HTTPException
from pathlib import Path
from urllib.parse import urlencode

import pytest
from fastapi.testclient import TestClient
from pydantic import SecretStr
from sqlalchemy import func, select

from grimcoil.core.people import Role
from grimcoil.service.health import migrate
from grimcoil.service.jobs import Start, start_job
from grimcoil.service.motors import check_registration, register_motor
from grimcoil.settings import Settings
from grimcoil.store.engine import make_engine, make_store
from grimcoil.store.tables import EntryRow
from grimcoil.web.app import create_app
from grimcoil.web.state import utc_now
from tests.service.conftest import PLATE
from tests.support import add_person, signed_cookie

ROOT = Path(__file__).parents[2]
READINGS = 200


class Database:
    """A durable MariaDB of this test's own."""

    def __init__(self, folder):
        self.folder = folder
        self.url = ""

    def start(self):
        script = f". bin/_common.sh; . bin/_database.sh; start_database {self.folder} durable; echo $database_url"
        done = subprocess.run(["bash", "-c", script, "bin/x"], cwd=ROOT, capture_output=True, text=True, check=True)
        self.url = done.stdout.split()[-1]

    def kill(self, how=signal.SIGKILL):
        pid = int((self.folder / "mariadb.pid").read_text(encoding="utf-8"))
        os.kill(pid, how)


class Application:
    """The application on a socket that outlives it: who calls while it is down waits in the queue."""

    def __init__(self, url, listener):
        self.environment = os.environ | {"GRIMCOIL_DATABASE_URL": url, "PYTHONPATH": str(ROOT / "src")}
        self.listener = listener
        self.start()

    def start(self):
        fd = self.listener.fileno()
        words = [
            "-m",
            "uvicorn",
            "grimcoil.web.app:create_app",
            "--factory",
            "--fd",
            str(fd),
            "--log-level",
            "critical",
        ]
        self.process = subprocess.Popen(
            [sys.executable, *words], pass_fds=[fd], env=self.environment, stdout=subprocess.DEVNULL
        )

    def kill(self):
        self.process.kill()
        self.process.wait()


class Poster(threading.Thread):
    """Posts readings one after the other, each until it is acknowledged."""

    def __init__(self, port, job, headers):
        super().__init__(daemon=True)
        self.port, self.job, self.headers = port, job, headers
        self.kept = []
        self.news = threading.Condition()
        self.database_there = threading.Event()
        self.database_there.set()
        self.failure = ""

    def run(self):
        for n in range(READINGS):
            token = f"reading-{n:04}"
            self.post("keep", {"place": "isolate.tag", "text": "BW-1", "token": token})
            with self.news:
                self.kept.append(token)
                self.news.notify_all()
            self.post("take-back", {"seq": n + 1})

    def post(self, verb, form):
        for _ in range(50):
            try:
                wire = HTTPConnection("127.0.0.1", self.port, timeout=60)
                wire.request("POST", f"/jobs/{self.job}/{verb}", urlencode(form), self.headers)
                status = wire.getresponse().status
                wire.close()
            except (OSError, HTTPException):
                continue
            if status == 303:
                return
            if status == 503:
                assert self.database_there.wait(60)
                continue
            self.failure = f"{verb} {form}: {status}"
            break
        raise AssertionError(self.failure or "never acknowledged")

    def wait_for(self, count):
        with self.news:
            assert self.news.wait_for(lambda: len(self.kept) >= count or not self.is_alive(), timeout=120)
            return list(self.kept)


def stored(url, job):
    engine = make_engine(url)
    with make_store(engine)() as session:
        rows = session.execute(
            select(EntryRow.token, func.count()).where(EntryRow.job_id == job).group_by(EntryRow.token)
        )
        found = dict(rows.all())
    engine.dispose()
    return found


@pytest.fixture
def database(tmp_path):
    made = Database(tmp_path / "db")
    made.start()
    yield made
    made.kill(signal.SIGTERM)


def job_with_cookie(url):
    """A started job in an empty database, and the cookie and word of its electrician."""
    migrate(url)
    engine = make_engine(url)
    store = make_store(engine)
    actor = add_person(store, Role.ELECTRICIAN)
    register_motor(store, actor, check_registration(PLATE, utc_now()))
    job = start_job(store, actor, Start("BW-1", "start-token-1"), utc_now())
    token, word = signed_cookie(store, actor, utc_now())
    engine.dispose()
    return job, token, word


def test_nothing_acknowledged_is_lost_and_nothing_is_kept_twice(database):
    job, token, word = job_with_cookie(database.url)
    headers = {
        "cookie": f"gc_session={token}",
        "x-csrf-token": word,
        "content-type": "application/x-www-form-urlencoded",
    }
    with socket.create_server(("127.0.0.1", 0)) as listener:
        application = Application(database.url, listener)
        poster = Poster(listener.getsockname()[1], job, headers)
        poster.start()

        before = poster.wait_for(60)
        application.kill()
        assert set(before) <= set(stored(database.url, job))
        application.start()

        before = poster.wait_for(130)
        poster.database_there.clear()
        database.kill()
        database.start()
        assert set(before) <= set(stored(database.url, job))
        poster.database_there.set()

        poster.join(120)
        application.kill()
    assert poster.failure == ""
    assert len(poster.kept) == READINGS
    assert stored(database.url, job) == {f"reading-{n:04}": 1 for n in range(READINGS)}


def test_a_database_that_hangs_is_said_within_seconds_and_the_form_is_held(database):
    """Stopped, not gone: it takes connections and never answers."""
    job, token, word = job_with_cookie(database.url)
    app = create_app(Settings(database_url=SecretStr(database.url), allowed_hosts=["testserver"]))
    with TestClient(app, cookies={"gc_session": token}, headers={"x-csrf-token": word}) as client:
        assert client.get("/readyz").status_code == 200
        form = {"place": "isolate.tag", "text": "BW-1 typed", "token": "keep-token-1"}
        database.kill(signal.SIGSTOP)
        try:
            began = time.monotonic()
            answer = client.post(f"/jobs/{job}/keep", data=form)
            waited = time.monotonic() - began
            up, ready = client.get("/healthz").status_code, client.get("/readyz").status_code
        finally:
            database.kill(signal.SIGCONT)
        assert (answer.status_code, up, ready) == (503, 200, 503)
        assert "BW-1 typed" in answer.text
        assert waited < 5
        assert client.get("/readyz").status_code == 200
