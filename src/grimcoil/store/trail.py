"""The trail: written with each change in its own transaction, read by motor, job or person."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import NamedTuple

from sqlalchemy import or_, select
from sqlalchemy.orm import Session

from grimcoil.core.people import Actor
from grimcoil.store.people_tables import Person, Trail
from grimcoil.store.tables import Motor, columns, known_by
from grimcoil.store.trail_lanes import put_waiting, wait


class TrailLine(NamedTuple):
    """One line as it is read. `tag` and `login`: of the motor, of the person, where there is one."""

    id: int
    at: datetime
    who: str
    action: str
    detail: str
    origin: str
    tag: str | None
    job_id: int | None
    login: str | None


def write(
    session: Session,
    actor: Actor,
    action: str,
    now: datetime,
    motor_id: int | None = None,
    job_id: int | None = None,
    detail: str = "",
) -> None:
    """One line, in the transaction of what it tells."""
    line = {
        "at": now, "person_id": actor.person_id, "who": actor.who, "action": action, "motor_id": motor_id,
        "job_id": job_id, "detail": detail[:600], "origin": actor.origin[:80],
    }  # fmt: skip
    wait(session, line)


_T, _M, _P = columns(Trail), columns(Motor), columns(Person)
_LINES = (
    select(_T.id, _T.at, _T.who, _T.action, _T.detail, _T.origin, known_by(), _T.job_id, _P.login)
    .outerjoin(Motor.__table__, _M.id == _T.motor_id)
    .outerjoin(Person.__table__, _P.id == _T.person_id)
    .order_by(_T.id.desc())
)


def lines(
    session: Session,
    tag: str = "",
    job_id: int | None = None,
    login: str = "",
    since: datetime | None = None,
    until: datetime | None = None,
    before: int | None = None,
    most: int = 100,
) -> list[TrailLine]:
    """Newest first, of a motor, a job, a person, or all; from `since` up to `until`, which isn't in it; `before` goes
    on from an earlier page.
    """
    put_waiting(session)
    query = _LINES.limit(most)
    if tag:
        query = query.where(or_(_M.tag == tag, _M.withdrawn_tag == tag))
    if job_id is not None:
        query = query.where(_T.job_id == job_id)
    if login:
        query = query.where(_P.login == login)
    if since is not None:
        query = query.where(_T.at >= since)
    if until is not None:
        query = query.where(_T.at < until)
    if before is not None:
        query = query.where(_T.id < before)
    return [TrailLine(*row) for row in session.execute(query)]


LOOKED_BACK = 300  # lines of a person's: an answer older than those no longer stands


def last_of(session: Session, actor: Actor, actions: Sequence[str]) -> tuple[datetime, str, str] | None:
    """When, which and what the last of some actions of a person was, among the newest lines of theirs."""
    put_waiting(session)
    table = Trail.metadata.tables["trail"]
    newest = (
        select(table.c.id, table.c.at, table.c.action, table.c.detail)
        .where(table.c.person_id == actor.person_id)
        .order_by(table.c.id.desc())
        .limit(LOOKED_BACK)
        .subquery()
    )
    query = select(newest.c.at, newest.c.action, newest.c.detail).where(newest.c.action.in_(actions))
    found = session.execute(query.order_by(newest.c.id.desc()).limit(1)).first()
    return None if found is None else (found.at, found.action, found.detail)
