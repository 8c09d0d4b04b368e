"""A node killed, each stopped and started in turn, one cut off, amid two hundred posts each: nothing acknowledged is
lost, nothing is kept twice, on any node.
"""

import threading

import httpx2
import pytest
from pydantic import SecretStr
from sqlalchemy import func, select

from grimcoil.service.jobs import Start, start_job
from grimcoil.service.verifying import verify
from grimcoil.settings import Settings
from grimcoil.store.engine import make_engine, make_store
from grimcoil.store.nodes import addresses
from grimcoil.store.tables import EntryRow
from grimcoil.web.app import create_app
from grimcoil.web.state import utc_now
from tests.cluster.nodes import may_have_namespaces, until
from tests.served import served
from tests.support import signed_cookie

# Two applications of one process make their forms' models at one moment, and what hides this warning isn't for threads.
pytestmark = pytest.mark.filterwarnings("ignore:The 'alias' attribute")
READINGS = 100  # each kept and taken back: two hundred posts


class Poster(threading.Thread):
    """Posts readings one after the other, at one host and the other in turn, each until it is acknowledged."""

    def __init__(self, hosts, job, name):
        super().__init__(daemon=True)
        self.hosts, self.job, self.kept, self.named = hosts, job, 0, name
        self.news = threading.Condition()

    def run(self):
        for number in range(READINGS):
            form = {"place": "isolate.tag", "text": f"LOST-{self.named}", "token": self.token(number)}
            self.hosts.post(f"/jobs/{self.job}/keep", form, number)
            self.hosts.post(f"/jobs/{self.job}/take-back", {"seq": f"{number + 1}"}, number + 1)
            with self.news:
                self.kept += 1
                self.news.notify_all()

    def token(self, number):
        return f"{self.named}-{number:04}"

    def wait_for(self, number):
        with self.news:
            assert self.news.wait_for(lambda: self.kept >= number or not self.is_alive(), timeout=100)


def killed(nodes, poster):
    nodes[2].kill()
    poster.wait_for(60)
    nodes[2].recover()
    nodes[2].synced(3)


def restarted(nodes, poster):
    for number, node in enumerate(nodes, 1):
        node.stop()
        node.start()
        node.synced(3)
        poster.wait_for(25 * number)


def cut(nodes, poster):
    nodes[1].cut_off()
    until(lambda: nodes[1].state().startswith("non-Primary"), "cut off, and doesn't know it")
    poster.wait_for(60)
    nodes[1].heal()
    nodes[1].synced(3)


EVENTS = [killed, restarted, *([cut] if may_have_namespaces() else [])]


@pytest.mark.parametrize("event", EVENTS)
def test_nothing_acknowledged_is_lost_and_nothing_is_kept_twice(
    nodes, urls, stores, actor, registered, hosts, event, tell
):
    name = event.__name__
    job = start_job(stores[0], actor, Start(registered(f"LOST-{name}"), f"start-{name}"), utc_now())
    poster = Poster(hosts, job, name)
    poster.start()
    poster.wait_for(15)
    event(nodes, poster)
    poster.join(120)
    tell(f"{name}: {poster.kept} of {READINGS} readings kept and taken back, longest post {hosts.longest_s:.1f} s")
    if cut not in EVENTS:
        tell("cut off: not run, no network namespaces may be made here")
    assert hosts.refused == []
    assert poster.kept == READINGS
    for node in nodes:
        node.synced(3)
    for url in (addresses(one)[0] for one in urls):
        engine = make_engine(url.render_as_string(hide_password=False), patience_s=20)
        with make_store(engine)() as session:
            found = dict(
                session.execute(
                    select(EntryRow.token, func.count()).where(EntryRow.job_id == job).group_by(EntryRow.token)
                ).all()
            )
            numbers = list(session.scalars(select(EntryRow.seq).where(EntryRow.job_id == job).order_by(EntryRow.seq)))
        assert verify(make_store(engine)).breaks == ()
        engine.dispose()
        assert found == {poster.token(number): 1 for number in range(READINGS)}
        assert numbers == list(range(1, READINGS + 1))


def test_a_node_alone_is_not_ready_and_writes_nothing(nodes, urls, stores, actor, registered, tell):
    job = start_job(stores[0], actor, Start(registered("ALONE-1"), "start-alone"), utc_now())
    token, word = signed_cookie(stores[0], actor, utc_now())
    form = {"place": "isolate.tag", "text": "ALONE-1", "token": "keep-alone-1"}
    own = addresses(urls[0])[0].render_as_string(hide_password=False)
    with served(create_app(Settings(database_url=SecretStr(own)))) as host:
        there = {"cookies": {"gc_session": token}, "headers": {"x-csrf-token": word}, "timeout": 20}
        assert httpx2.get(f"{host}/readyz", timeout=20).json()["status"] == "ready"
        for other in nodes[1:]:
            other.hang()
        try:
            took = until(lambda: nodes[0].state().startswith("non-Primary"), "alone, and doesn't know it")
            ready = httpx2.get(f"{host}/readyz", timeout=20)
            page = httpx2.get(f"{host}/motors", **there)
            post = httpx2.post(f"{host}/jobs/{job}/keep", data=form, **there)
            assert (ready.status_code, ready.json()["status"]) == (503, "node non-Primary")
            assert httpx2.get(f"{host}/healthz", timeout=20).status_code == 200
            assert (page.status_code, post.status_code) == (503, 503)
            assert page.headers["refresh"]
            assert 'value="ALONE-1"' in post.text
        finally:
            for other in nodes[1:]:
                other.go_on()
        back = max(node.synced(3) for node in nodes)
        tell(f"alone: known after {took:.1f} s, one again {back:.1f} s after the others came back")
        with stores[2]() as session:
            assert session.scalar(select(func.count()).where(EntryRow.job_id == job)) == 0
        assert httpx2.post(f"{host}/jobs/{job}/keep", data=form, **there).status_code == 303
