"""Two hosts do the same at one moment, on two nodes: one answer, or the same twice; never two rows. Each row of the
table of what breaks.
"""

from concurrent.futures import ThreadPoolExecutor
from functools import partial

import pytest
from sqlalchemy import func, select

from grimcoil.core.errors import Refusal
from grimcoil.service.closing import decide, sign
from grimcoil.service.dryings import begin
from grimcoil.service.jobs import Start, keep, start_job, take_back
from grimcoil.service.lives import move
from grimcoil.service.signing_in import WrongSecret, confirm
from grimcoil.service.verifying import verify
from grimcoil.store.drying_tables import DryingRow
from grimcoil.store.people_tables import Signature
from grimcoil.store.schema import unfit
from grimcoil.store.tables import EntryRow, Job, Motor, Position
from grimcoil.web.state import utc_now
from tests.cluster.conftest import PASSWORD, ROUNDS, at_once, caught_up
from tests.service.conftest import PLATE
from tests.support import SECRET, Clock
from tests.walker import Walker

# Two applications of one process make their forms' models at one moment, and what hides this warning isn't for threads.
pytestmark = pytest.mark.filterwarnings("ignore:The 'alias' attribute")


def count(store, *where):
    with store() as session:
        return session.scalar(select(func.count()).where(*where))


def test_an_empty_cluster_is_migrated_by_an_ordinary_user(stores, nodes):
    assert unfit(stores[2].kw["bind"]) == []
    assert [node.state() for node in nodes] == ["Primary Synced 3"] * 3


def test_one_open_job_of_a_motor(stores, actor, registered):
    for turn in range(ROUNDS):
        tag = registered(f"ST-{turn}")
        verbs = [
            partial(start_job, store, actor, Start(tag, f"one-of-two-{turn}-{n}"), utc_now())
            for n, store in enumerate(stores[:2])
        ]
        told = at_once(*verbs)
        assert len({one for one in told if isinstance(one, int)}) == 1, told
    assert count(stores[2], Job.state == "open", Job.token.like("one-of-two-%")) == ROUNDS


def test_one_drying_of_a_motor(stores, actor, registered):
    cold = {"hookup": "one-and-two", "cold_ohm": "0.412", "cold_c": "18"}
    for turn in range(ROUNDS):
        tag = registered(f"DR-{turn}")
        told = at_once(
            *(
                partial(begin, store, actor, tag, cold, f"begin-{turn}-{n:04}", utc_now())
                for n, store in enumerate(stores[:2])
            )
        )
        assert sum(isinstance(one, int) for one in told) == 1, told
    assert count(stores[2], DryingRow.state == "open") == ROUNDS


def test_one_start_sent_to_both_hosts_is_one_job(stores, actor, registered):
    for turn in range(ROUNDS):
        start = Start(registered(f"SA-{turn}"), f"same-start-{turn}")
        first, second = at_once(*(partial(start_job, store, actor, start, utc_now()) for store in stores[:2]))
        assert first == second
        assert isinstance(first, int)


def test_entries_of_one_job_have_numbers_without_a_gap(stores, actor, registered):
    job = start_job(stores[0], actor, Start(registered("EN-1"), "entries-start"), utc_now())
    caught_up(stores)
    for turn in range(ROUNDS):
        for keys in (("one", "other"), ("same", "same")):
            at_once(
                *(
                    partial(keep, store, job, "isolate.tag", "EN-1", actor, f"entry-{turn}-{key}", utc_now())
                    for store, key in zip(stores[:2], keys, strict=True)
                )
            )
            with stores[2]() as session:
                rows = session.execute(
                    select(EntryRow.seq, EntryRow.token, EntryRow.taken_back_at).where(EntryRow.job_id == job)
                ).all()
            standing = [row.seq for row in rows if row.taken_back_at is None]
            assert len(standing) in ({1} if keys[0] == "same" else {1, 2})
            for number in standing:
                take_back(stores[turn % 2], job, number, actor, utc_now())
    assert sorted(row.seq for row in rows) == list(range(1, len(rows) + 1))
    assert len({row.token for row in rows}) == len(rows) >= 2 * ROUNDS


def _waiting(stores, actor, tag):
    walker = Walker(stores[0], actor, Clock(utc_now()), tag, "three-lead").start()
    decide(stores[0], walker.job, walker.to().whole.decision.action, "", actor, utc_now())
    caught_up(stores)
    return walker.job


def test_a_job_is_signed_once(stores, actor):
    jobs = [_waiting(stores, actor, f"SI-{turn}") for turn in range(4)]
    for job in jobs:
        told = at_once(*(partial(sign, store, job, actor, SECRET, utc_now()) for store in stores[:2]))
        assert sum(isinstance(one, Refusal) for one in told) <= 1, told
    assert count(stores[2], Signature.job_id.in_(jobs)) == len(jobs)
    assert verify(stores[2]).breaks == ()


def test_a_reading_is_taken_back_before_the_signature_or_not_at_all(stores, actor):
    for turn in range(4):
        job = _waiting(stores, actor, f"TB-{turn}")
        told = at_once(
            partial(sign, stores[0], job, actor, SECRET, utc_now()),
            partial(take_back, stores[1], job, 1, actor, utc_now()),
        )
        assert any(not isinstance(one, Refusal) for one in told)
        with stores[2]() as session:
            signed = session.get(Job, job).state == "signed"
            back = session.scalar(select(EntryRow.taken_back_at).where(EntryRow.job_id == job, EntryRow.seq == 1))
        assert not (signed and back is not None), told
    assert verify(stores[2]).breaks == ()


def test_of_two_moved_to_one_position_one_stands_there(stores, actor, registered):
    for turn in range(ROUNDS):
        tags = [registered(f"MV-{turn}-{n}", position=f"Was {turn} {n}") for n in range(2)]
        registered(f"GO-{turn}", position=f"Free {turn}")
        to = {"to": f"Free {turn}", "on": f"{utc_now().date()}"}
        move(stores[0], actor, f"GO-{turn}", to | {"to": "store"}, f"free-{turn}-token", utc_now())
        caught_up(stores)
        at_once(
            *(
                partial(move, store, actor, tag, to, f"move-{tag}-token", utc_now())
                for store, tag in zip(stores[:2], tags, strict=True)
            )
        )
        with stores[2]() as session:
            there = select(func.count()).select_from(Motor).join(Position, Position.id == Motor.position_id)
            assert session.scalar(there.where(Position.name == f"Free {turn}")) == 1
    assert verify(stores[2]).breaks == ()


def test_motors_registered_side_by_side_are_all_kept(stores, hosts):
    def post(number):
        form = PLATE | {"tag": f"RG-{number}", "position": f"Side {number}"}
        return hosts.post("/motors/new", form, number).status_code

    with ThreadPoolExecutor(6) as pool:
        told = list(pool.map(post, range(36)))
    assert told == [303] * 36, hosts.refused
    assert count(stores[2], Motor.tag.like("RG-%")) == 36
    assert hosts.get("/motors/RG-35", 0).status_code == hosts.get("/motors/RG-35", 1).status_code == 200


def test_what_was_kept_at_one_host_is_seen_at_the_other(hosts):
    for turn in range(ROUNDS):
        form = PLATE | {"tag": f"RW-{turn}", "position": f"Seen {turn}"}
        assert hosts.post("/motors/new", form, turn).status_code == 303
        assert hosts.get(f"/motors/RW-{turn}", (turn + 1) % 2).status_code == 200


def test_wrong_passwords_count_over_hosts_as_on_one(stores, actor):
    def guess(store, number):
        try:
            return confirm(store, actor, f"{PASSWORD} {number}", utc_now())
        except WrongSecret as refusal:
            return refusal.accepted

    told = at_once(*(partial(guess, stores[number % 2], number) for number in range(10)))
    assert all(isinstance(one, str) and one != "password" for one in told)
    told = [guess(stores[number % 2], number) for number in range(2)]
    assert all("too many wrong tries" in one for one in told), told
