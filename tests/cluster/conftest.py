"""Three nodes, two stores on two of them, two applications each with its own node first. `bin/test --cluster`."""

import os
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from threading import Barrier

import httpx2
import pytest
from pydantic import SecretStr
from sqlalchemy import func, select

from grimcoil.core.errors import Refusal
from grimcoil.core.people import Role
from grimcoil.service.again import again
from grimcoil.service.health import migrate
from grimcoil.service.motors import check_registration, register_motor
from grimcoil.settings import Settings
from grimcoil.store.engine import make_engine, make_store
from grimcoil.store.nodes import FRESH
from grimcoil.store.tables import Motor
from grimcoil.web.app import create_app
from grimcoil.web.state import utc_now
from tests.cluster.nodes import three_nodes
from tests.served import served
from tests.service.conftest import PLATE
from tests.support import add_person, signed_cookie

PASSWORD = "of-the-cluster-test"
ROUNDS = 8
GIVES_UP_S = 4.0  # so long a client, or a proxy, waits for a host


FIGURES = pytest.StashKey[list[str]]()


@pytest.fixture
def tell(request):
    """Say a figure, or that a row of the table didn't run, at the end of the run."""
    return request.config.stash.setdefault(FIGURES, []).append


def pytest_terminal_summary(terminalreporter, config):
    for line in config.stash.get(FIGURES, []):
        terminalreporter.write_line(f"grimcoil: {line}")


@pytest.fixture(scope="session")
def nodes():
    folder, copying = Path(os.environ["GRIMCOIL_CLUSTER"]), Path(os.environ["GRIMCOIL_CLUSTER_COPYING"])
    with three_nodes(folder, copying) as made:
        made[0].ask("CREATE DATABASE grimcoil CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_ai_ci")
        made[0].ask(f"CREATE USER grimcoil IDENTIFIED BY '{PASSWORD}'")
        made[0].ask("GRANT ALL ON `grimcoil%`.* TO grimcoil")
        yield made


@pytest.fixture(scope="session")
def urls(nodes):
    """The address of the cluster for three hosts, each with its own node first."""
    hosts = [f"{node.address}:{node.port}" for node in nodes]
    turned = [hosts[at:] + hosts[:at] for at in range(3)]
    made = [f"mysql+mysqldb://grimcoil:{PASSWORD}@{','.join(own)}/grimcoil?charset=utf8mb4" for own in turned]
    migrate(made[0])  # by an ordinary user, on a cluster that has no table yet
    return made


@pytest.fixture(scope="session")
def stores(urls):
    """A store on each node."""
    engines = [make_engine(url, patience_s=20) for url in urls]
    yield [make_store(engine) for engine in engines]
    for engine in engines:
        engine.dispose()


@pytest.fixture(autouse=True)
def what_was_kept_is_seen():
    """What this test reads itself catches up with every node; what its threads do doesn't."""
    before = FRESH.set(True)
    yield
    FRESH.reset(before)


@pytest.fixture(scope="session")
def actor(stores):
    return add_person(stores[0], Role.ELECTRICIAN)


@pytest.fixture
def registered(stores, actor):
    """Put a motor on the register, at a position of its own."""

    def put(tag, **more):
        texts = PLATE | {"tag": tag, "position": f"Place of {tag}"} | more
        made = register_motor(stores[0], actor, check_registration(texts, utc_now()))
        caught_up(stores)
        return made

    return put


def caught_up(stores):
    """Wait until every node has been told all that was kept so far."""
    for store in stores:
        with store() as session:
            session.execute(select(func.count()).select_from(Motor))


def at_once(*verbs: Callable[[], object]) -> list[object]:
    """Each in a thread of its own, begun together, done again as pages do them; what each gave, or its refusal."""
    begin = Barrier(len(verbs))

    def one(verb):
        begin.wait(timeout=20)
        try:
            return again(verb)
        except Refusal as refusal:
            return refusal

    with ThreadPoolExecutor(len(verbs)) as pool:
        return list(pool.map(one, verbs))


@dataclass
class Hosts:
    """Two applications, and someone who posts to one after the other until it is acknowledged."""

    addresses: list[str]
    cookie: str
    word: str
    longest_s: float = 0.0
    refused: list[str] = field(default_factory=list)

    def post(self, path: str, form: dict[str, str], turn: int) -> httpx2.Response:
        """Under its own key to one host, then the other; a host is given up after some seconds."""
        begun = time.monotonic()
        for tried in range(60):
            address = self.addresses[(turn + tried) % len(self.addresses)]
            try:
                answer = httpx2.post(
                    f"{address}{path}", data=form, cookies={"gc_session": self.cookie},
                    headers={"x-csrf-token": self.word}, timeout=GIVES_UP_S,
                )  # fmt: skip
            except httpx2.TransportError:
                continue
            if answer.status_code != 503:
                self.longest_s = max(self.longest_s, time.monotonic() - begun)
                if answer.status_code != 303:
                    self.refused.append(f"{path}: {answer.status_code} {answer.text[:200]}")
                return answer
        raise AssertionError(f"never answered: {path}")

    def get(self, path: str, at: int) -> httpx2.Response:
        """From one host, as somebody who has just kept something."""
        cookies = {"gc_session": self.cookie, "gc_kept": "1"}
        return httpx2.get(f"{self.addresses[at]}{path}", cookies=cookies, timeout=20)


@pytest.fixture
def hosts(urls, stores, actor):
    token, word = signed_cookie(stores[0], actor, utc_now())
    one, two = (create_app(Settings(database_url=SecretStr(url))) for url in urls[:2])
    with served(one) as first, served(two) as second:
        yield Hosts([first, second], token, word)
