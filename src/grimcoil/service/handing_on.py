"""A job handed to who may end it: it stands on that person's Today until it is signed or handed on."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from grimcoil.core.errors import GateClosed, RecordRefusal, Unknown
from grimcoil.core.people import MAY, Action, Actor, Role
from grimcoil.service.bench import held
from grimcoil.service.jobs import tell
from grimcoil.store import jobs as job_rows
from grimcoil.store import people as people_rows
from grimcoil.store.engine import Store


def takers(store: Store, actor: Actor) -> Sequence[tuple[str, str]]:
    """Who may decide and sign, by login and name; not oneself. One query."""
    with store() as session:
        people = people_rows.everyone(session)
    ends = [one for one in people if one.removed_at is None and Action.SIGN in MAY[Role(one.role)]]
    return [(one.login, one.name) for one in ends if one.login != actor.login]


def hand_on(store: Store, job_id: int, login: str, actor: Actor, now: datetime) -> str:
    """Put an open job on a person's Today; to the same person again changes nothing. Returns their name.

    Raises Forbidden, Unknown, GateClosed while something can hurt at it, RecordRefusal for one who can't end it.
    """
    actor.need(Action.KEEP_ENTRY)
    with store.begin() as session:
        bench = held(session, job_id, now)
        person = people_rows.by_login(session, login)
        if person is None or person.removed_at is not None or Action.SIGN not in MAY[Role(person.role)]:
            raise RecordRefusal("Hand over to", login[:40], "someone who may decide and sign")
        if bench.state.signed:
            raise GateClosed("Hand over", "", "this job is signed")
        if bench.state.safety.charged is not None:
            raise GateClosed(
                "Hand over", "test voltage was on the winding", "Discharge it first. This cannot be overridden."
            )
        job = job_rows.row_of(session, job_id)
        if job is None:
            raise Unknown("job", str(job_id), "the number of a job on record")
        if job.handed_to != login:
            job.handed_to = login
            tell(session, actor, "handed over", now, bench, f"to {person.name}")
        return str(person.name)
