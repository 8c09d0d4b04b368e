"""From a walk that leaves motor or cable to a call-out job with its dead tests, and back with what these read."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from urllib.parse import urlencode

from grimcoil.core.choices import Occasion, School, Spot
from grimcoil.core.errors import GateClosed, Unknown
from grimcoil.core.measured import InsulationTest, ResistanceTest
from grimcoil.core.people import Action, Actor
from grimcoil.core.walk.ending import MOTOR
from grimcoil.core.walk.tell import so_far
from grimcoil.service.bench import Bench
from grimcoil.service.jobs import LONGEST_NOTE, Start, keep, open_bench, start_job
from grimcoil.service.registered import motor_named
from grimcoil.service.walks import ELSEWHERE, SEPARATOR, Walked
from grimcoil.store import jobs
from grimcoil.store.engine import Store
from grimcoil.store.walk_tables import JobWalk

TOLD = "walk.told"
PAIRS, LEADS = ("1-2", "2-3", "3-1"), ("1", "2", "3")
HELD_S = 60.0


def leaves_motor(done: Walked) -> bool:
    """Next to nothing but suspects of motor and cable is left, and the motor is on the register."""
    over = done.made.hand_over
    return bool(done.tag) and bool(over) and all(one.suspect.element in MOTOR for one in over)


def words_of(done: Walked) -> str:
    """What the job is told: the suspects by weight, then the walk so far, as much as a line takes."""
    listed = [f"{one.suspect.kind.text}{f' {one.suspect.line}' if one.suspect.line else ''} {one.belief:.0%}" for one in
              done.made.hand_over[:4]]  # fmt: skip
    words = f"Troubleshooting leaves {', '.join(listed)}. {so_far(done.made)}"
    return words if len(words) <= LONGEST_NOTE else words[: LONGEST_NOTE - 1].rstrip() + "…"


def hand_over(store: Store, actor: Actor, done: Walked, address: str, token: str, now: datetime) -> int:
    """Start a call-out job on the walk's motor with its suspects carried in; once by token. Returns the job's number.

    Raises Forbidden, Unknown, GateClosed where the walk leaves something else, or another kind of job is open.
    """
    actor.need(Action.START_JOB)
    if not leaves_motor(done):
        raise GateClosed(
            "Hand over", "more than motor and cable is left", "troubleshooting that leaves motor or cable alone"
        )
    wanted = Start(done.tag, token, occasion=Occasion.CALL_OUT, school=School.BOX_FIRST)
    job_id = start_job(store, actor, wanted, now)
    try:
        keep(store, job_id, TOLD, words_of(done), actor, f"{token[:36]}-w", now)
    except Unknown:
        raise GateClosed("Hand over", f"a job of another kind is open on {done.tag}", "that one signed first") from None
    with store.begin() as session:
        session.merge(JobWalk(job_id=job_id, address=address))
    return job_id


def way_back(store: Store, bench: Bench) -> str:
    """The walk's address with this job's readings at the motor box as its entries; empty where it came from no walk."""
    if bench.job.kind != Occasion.CALL_OUT:
        return ""
    with store() as session:
        row = session.get(JobWalk, bench.job.id)
        address = "" if row is None else row.address
    tokens = entries_of(bench)
    if not address or not tokens:
        return address
    return address + "&" + urlencode([("d", token) for token in tokens])


@dataclass(frozen=True, slots=True)
class Beside:
    """A job that is open on the walk's motor: its number, and what it read that the walk doesn't know yet."""

    job_id: int
    tokens: tuple[str, ...]


def beside(store: Store, done: Walked, now: datetime) -> Beside | None:
    """The open job whose readings the walk may begin with; nothing without one, or once they are in."""
    if not done.tag:
        return None
    with store() as session:
        job = jobs.open_of(session, motor_named(session, done.tag).id)
        number = None if job is None else job.id
    if number is None:
        return None
    new = [token for token in entries_of(open_bench(store, number, now)) if token not in done.tokens]
    return Beside(number, tuple(new)) if new else None


def entries_of(bench: Bench) -> list[str]:
    """The winding's readings as the walk's own tests: ohms of the three pairs, each lead to frame after a minute.

    They stand under the job's own proof of death and say nothing of how the place is now.
    """
    out = []
    for test in bench.record.tests:
        if isinstance(test, ResistanceTest) and test.hookup.at != Spot.STARTER and not test.hot:
            texts = [test.readings[pair].text for pair in PAIRS if pair in test.readings]
            if len(texts) == len(PAIRS):
                out.append(SEPARATOR.join(("ohms-motor-lifted", *texts)))
        if isinstance(test, InsulationTest) and test.hookup.at != Spot.STARTER and test.to_frame:
            text = next((one.reading.text for one in test.series if one.t_s >= HELD_S), "")
            if text and (not test.ends or len(test.ends) == len(LEADS)):
                out.append(SEPARATOR.join(("insulation-motor", *[text] * len(LEADS))))
    return [ELSEWHERE + token for token in dict.fromkeys(out)]
