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
from datetime import timedelta
from http.client import HTTPConnection, HTTPException
from pathlib import Path
from urllib.parse import urlencode

import pytest
from fastapi.testclient import TestClient
from pydantic import SecretStr
from sqlalchemy import func, select

from grimcoil.core.people import Role
from grimcoil.core.rounds.tasks import Task
from grimcoil.core.side.wear import OBSERVATIONS
from grimcoil.service.closing import Cause, decide
from grimcoil.service.dryings import begin
from grimcoil.service.health import migrate
from grimcoil.service.jobs import Start, start_job
from grimcoil.service.motors import check_registration, register_motor
from grimcoil.service.rounds import put_on
from grimcoil.service.verifying import verify
from grimcoil.settings import Settings
from grimcoil.store.drying_tables import DryingEntryRow
from grimcoil.store.engine import make_engine, make_store
from grimcoil.store.people_tables import Signature
from grimcoil.store.round_tables import RoundEntry
from grimcoil.store.tables import EntryRow, Job, Motor
from grimcoil.web.app import create_app
from grimcoil.web.state import utc_now
from tests.service.conftest import PLATE
from tests.support import SECRET, Clock, add_person, signed_cookie
from tests.walker import Walker

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

    def __enter__(self):
        self.start()
        return self

    def __exit__(self, *_):
        self.kill()

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
        self.send(f"/jobs/{self.job}/{verb}", urlencode(form))

    def send(self, path, body, kind="application/x-www-form-urlencoded", gone=None):
        """Where it goes on; gone: what is answered where it was kept and only its answer was lost."""
        lost = False
        for _ in range(50):
            try:
                wire = HTTPConnection("127.0.0.1", self.port, timeout=60)
                wire.request("POST", path, body, self.headers | {"content-type": kind})
                answer = wire.getresponse()
                status, place = answer.status, answer.headers.get("location", "")
                wire.close()
            except (OSError, HTTPException):
                lost = True
                continue
            if status == 303 or (lost and status == gone):
                return place
            if status == 503:
                lost = True
                assert self.database_there.wait(60)
                continue
            self.failure = f"{path} {body}: {status}"
            break
        raise AssertionError(self.failure or "never acknowledged")

    def wait_for(self, count):
        with self.news:
            assert self.news.wait_for(lambda: len(self.kept) >= count or not self.is_alive(), timeout=120)
            return list(self.kept)


MOTORS = 8
PAUSES = (MOTORS * 2, MOTORS * 5)  # after so many posts the application, then the database is killed
TESTS = "Motor;Date;R 1-2;R 2-3;R 3-1\n{tag};2024-03-02;0,41;0,42;0,43\n"


class Shift(Poster):
    """A drying's acts, a round's stops, signatures and sheets of several motors, each post until it is acknowledged."""

    def __init__(self, port, tags, dryings, jobs, headers):
        super().__init__(port, 0, headers)
        self.tags, self.dryings, self.jobs = tags, dryings, jobs

    def run(self):
        for n, tag in enumerate(self.tags):
            hold = {"act": "read", "insulation": "3M", "t_s": "60", "ends": "1-2-3~frame"}
            self.did(f"/dryings/{self.dryings[n]}/keep", hold, f"read-{n:06}")
            self.did(f"/dryings/{self.dryings[n]}/keep", {"act": "shorted"}, f"shorted-{n:06}")
            for outcome in ("skipped", "observed"):
                seen = {
                    "task": Task.LISTEN.value,
                    "outcome": outcome,
                    "words": next(iter(OBSERVATIONS)) if outcome == "observed" else "locked room",
                }
                self.did(f"/motors/{tag}/inspection/keep", seen, f"{outcome}-{n:06}")
            if n < len(self.jobs):
                self.done(self.send(f"/jobs/{self.jobs[n]}/sign", urlencode({"secret": SECRET}), gone=409))
            self.sheet(tag, f"sheet-{n:06}")

    def did(self, path, form, token):
        self.done(self.send(path, urlencode(form | {"token": token})))

    def sheet(self, tag, token):
        parts = {"token": ("", token), "sheet": ('; filename="a.csv"', TESTS.format(tag=f"NEW-{tag}"))}
        body = "".join(
            f'--b\r\nContent-Disposition: form-data; name="{name}"{more}\r\n\r\n{text}\r\n'
            for name, (more, text) in parts.items()
        )
        draft = self.send("/import", f"{body}--b--\r\n", "multipart/form-data; boundary=b")
        self.done(self.send(f"{draft}/take", urlencode({"expected": 3}), gone=404))

    def done(self, what):
        with self.news:
            self.kept.append(what)
            self.news.notify_all()


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
    with (
        socket.create_server(("127.0.0.1", 0)) as listener,
        Application(database.url, listener) as application,
    ):
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


def shift_of(url):
    """Motors with a drying begun each and on the round, jobs that wait to be signed; the signed-in electrician."""
    migrate(url)
    engine = make_engine(url)
    store = make_store(engine)
    actor, clock = add_person(store, Role.ELECTRICIAN), Clock(utc_now() - timedelta(days=2))
    tags, dryings, jobs = [], [], []
    for n in range(MOTORS):
        tags.append(register_motor(store, actor, check_registration(PLATE | {"tag": f"DR-{n}"}, clock())))
        cold = {"hookup": "one-and-two", "cold_ohm": "0.412", "cold_c": "18"}
        dryings.append(begin(store, actor, tags[-1], cold, f"begin-{n:06}", clock()))
        put_on(store, actor, tags[-1], clock())
    for n in range(3):
        walker = Walker(store, actor, clock, f"SG-{n}", "three-lead").start()
        decide(store, walker.job, walker.to().whole.decision.action, "", actor, clock(), Cause(("damp",), "dried"))
        jobs.append(walker.job)
    token, word = signed_cookie(store, actor, utc_now())
    engine.dispose()
    return (tags, dryings, jobs), {"cookie": f"gc_session={token}", "x-csrf-token": word}


def counted(url):
    """Of each kind what is kept, by what tells one from the next, and how often."""
    engine = make_engine(url)
    store = make_store(engine)
    with store() as session:
        told = {
            "acts": session.scalars(select(DryingEntryRow.token)).all(),
            "round": session.scalars(select(RoundEntry.token)).all(),
            "signed": session.scalars(select(Signature.job_id).where(Signature.kind == "job")).all(),
            "sheets": session.scalars(select(Motor.tag).join(Job).where(Job.import_id.is_not(None))).all(),
        }
    breaks = verify(store).breaks
    engine.dispose()
    return told, breaks


def test_amid_dryings_rounds_signatures_and_sheets(database):
    work, headers = shift_of(database.url)
    with (
        socket.create_server(("127.0.0.1", 0)) as listener,
        Application(database.url, listener) as application,
    ):
        shift = Shift(listener.getsockname()[1], *work, headers)
        shift.start()
        shift.wait_for(PAUSES[0])
        application.kill()
        application.start()
        shift.wait_for(PAUSES[1] - MOTORS)
        shift.database_there.clear()
        database.kill()
        database.start()
        shift.database_there.set()
        shift.join(240)
    assert shift.failure == ""
    told, breaks = counted(database.url)
    tags, _, jobs = work
    assert sorted(told["acts"]) == sorted(f"{act}-{n:06}" for act in ("read", "shorted") for n in range(MOTORS))
    assert sorted(told["round"]) == sorted(f"{what}-{n:06}" for what in ("skipped", "observed") for n in range(MOTORS))
    assert sorted(told["signed"]) == sorted(jobs)
    assert sorted(told["sheets"]) == sorted(f"NEW-{tag}" for tag in tags)
    assert breaks == ()
