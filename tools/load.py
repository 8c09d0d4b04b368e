"""Twenty people at once on one host and on two of one database: each keeps a reading and takes it back over and over,
then each registers motors, which is what the one chain costs.

Prints how many changes a second were made, how many failed, and the times people waited. Run by
`bin/bench load [SECONDS] [HOSTS…]`.
"""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import threading
import time
from http.client import HTTPConnection, HTTPException
from statistics import median
from urllib.parse import urlencode

from grimcoil.core.people import Role
from grimcoil.service.jobs import Start, start_job
from grimcoil.service.motors import check_registration, register_motor
from grimcoil.settings import Settings
from grimcoil.store.engine import Store, make_engine, make_store
from grimcoil.web.state import utc_now
from tests.service.conftest import PLATE
from tests.support import add_person, signed_cookie

PEOPLE = 20
FORM = "application/x-www-form-urlencoded"


class Electrician(threading.Thread):
    """One person at one motor."""

    def __init__(self, store: Store, number: int, port: int, until: threading.Event) -> None:
        super().__init__(daemon=True)
        now, mark = utc_now(), f"{utc_now():%H%M%S}-{number:02}"
        actor = add_person(store, Role.ELECTRICIAN, f"Load {mark}")
        tag = register_motor(store, actor, check_registration(PLATE | {"tag": f"LD-{mark}"}, now))
        self.job = start_job(store, actor, Start(tag, f"load-{mark}"), now)
        token, word = signed_cookie(store, actor, now)
        self.headers = {"cookie": f"gc_session={token}", "x-csrf-token": word, "content-type": FORM}
        self.tag, self.port, self.until = tag, port, until
        self.times: list[float] = []
        self.failures: list[str] = []

    def run(self) -> None:
        """Until told to stop."""
        wire = HTTPConnection("127.0.0.1", self.port, timeout=60)
        number = 0
        while not self.until.is_set():
            number += 1
            kept = {"place": "isolate.tag", "text": self.tag, "token": f"load-token-{number:06}"}
            self.post(wire, "keep", kept)
            self.post(wire, "take-back", {"seq": str(number)})
        wire.close()

    def post(self, wire: HTTPConnection, verb: str, form: dict[str, str]) -> None:
        """One change of the job."""
        self.send(wire, f"/jobs/{self.job}/{verb}", form)

    def send(self, wire: HTTPConnection, path: str, form: dict[str, str]) -> None:
        """One change; its time, or why it failed."""
        began = time.perf_counter()
        try:
            wire.request("POST", path, urlencode(form), self.headers)
            answer = wire.getresponse()
            answer.read()
        except (OSError, HTTPException) as error:
            self.failures.append(repr(error))
            return
        self.times.append(1000 * (time.perf_counter() - began))
        if answer.status != 303:
            self.failures.append(f"{path}: {answer.status}")


class Clerk(Electrician):
    """One who registers motors: each is a link of the one chain, behind everybody else's."""

    def run(self) -> None:
        """Until told to stop."""
        wire, number = HTTPConnection("127.0.0.1", self.port, timeout=60), 0
        while not self.until.is_set():
            number += 1
            self.send(wire, "/motors/new", PLATE | {"tag": f"{self.tag}-{number}", "position": f"{self.tag} {number}"})
        wire.close()


def main(seconds: str = "30", *hosts: str) -> None:
    """Serve, load, report: on one host, then on two of the same database."""
    engine = make_engine(Settings().database_url.get_secret_value())
    store, failed = make_store(engine), 0
    for count in [int(one) for one in hosts] or [1, 2]:
        for kind, does in ((Electrician, "readings kept and taken back"), (Clerk, "motors registered")):
            failed += _loaded(store, count, kind, does, float(seconds))
    engine.dispose()
    sys.exit(1 if failed else 0)


def _loaded(store: Store, hosts: int, kind: type[Electrician], does: str, seconds: float) -> int:
    """Twenty people on so many hosts for a while; prints what they waited, returns how many changes failed."""
    ports = [8479 + number for number in range(hosts)]
    servers = [_served(port) for port in ports]
    until = threading.Event()
    try:
        for port in ports:
            _wait(port)
        people = [kind(store, number, ports[number % hosts], until) for number in range(PEOPLE)]
        began = time.perf_counter()
        for one in people:
            one.start()
        until.wait(seconds)
        until.set()
        for one in people:
            one.join(60)
        took = time.perf_counter() - began
    finally:
        for server in servers:
            server.send_signal(signal.SIGTERM)
            server.wait(30)
    times = sorted(t for one in people for t in one.times)
    failures = [failure for one in people for failure in one.failures]
    print(
        f"{PEOPLE} people, {hosts} host{'s' if hosts > 1 else ''} of 2 processes, {does}:"
        f" {len(times) / took:.0f} a second, {len(failures)} failed; median {median(times):.0f} ms,"
        f" p95 {times[int(len(times) * 0.95)]:.0f} ms, longest {times[-1]:.0f} ms",
        flush=True,
    )
    for failure in failures[:5]:
        print(failure)
    return len(failures)


def _served(port: int) -> subprocess.Popen[bytes]:
    environment = os.environ | {"GRIMCOIL_PORT": str(port), "GRIMCOIL_WORKERS": "2"}
    return subprocess.Popen([sys.executable, "-m", "grimcoil.cli", "serve"], env=environment, stderr=subprocess.DEVNULL)


def _wait(port: int) -> None:
    """Until it answers; half a minute at most."""
    pause = threading.Event()
    for _ in range(300):
        try:
            wire = HTTPConnection("127.0.0.1", port, timeout=5)
            wire.request("GET", "/readyz")
            if wire.getresponse().status == 200:
                return
        except OSError:
            pass
        pause.wait(0.1)
    sys.exit("the application didn't come up")


if __name__ == "__main__":
    main(*sys.argv[1:])
