"""Queries about where motors stood, what happened to them, and what failed at a position."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal
from typing import Any, NamedTuple

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from grimcoil.core.stays import FAILED, Failure
from grimcoil.store.tables import Job, LifeEvent, Motor, Position, Stay, WindingRow, columns, known_by

_E, _S, _M, _P, _J = columns(LifeEvent), columns(Stay), columns(Motor), columns(Position), columns(Job)
MOST = 100  # of a position's stays and failures, newest first


class EventLine(NamedTuple):
    """Something that happened, as it is listed."""

    id: int
    on_day: date
    kind: str
    note: str
    cost: Decimal | None
    who: str | None
    at: datetime | None
    taken_back_by: str | None
    can_go: bool


class StayLine(NamedTuple):
    """A stay with the names of motor and position; place None: the store."""

    id: int
    tag: str
    place: str | None
    position_id: int | None
    since: date
    until: date | None


_STAYS = (
    select(_S.id, known_by(), _P.name, _S.position_id, _S.since, _S.until)
    .join(Motor.__table__, _M.id == _S.motor_id)
    .outerjoin(Position.__table__, _P.id == _S.position_id)
)


def events(session: Session, motor_id: int) -> list[EventLine]:
    """What happened to a motor, newest first, taken-back ones too."""
    query = (
        select(_E.id, _E.on_day, _E.kind, _E.note, _E.cost, _E.who, _E.at, _E.taken_back_by, _E.undo.is_not(None))
        .where(_E.motor_id == motor_id)
        .order_by(_E.on_day.desc(), _E.id.desc())
        .limit(MOST)
    )
    return [EventLine(*row[:8], bool(row[8])) for row in session.execute(query)]


def stays_of(session: Session, motor_id: int) -> list[StayLine]:
    """Where a motor stood, newest first."""
    query = _STAYS.where(_S.motor_id == motor_id).order_by(_S.since.desc(), _S.id.desc()).limit(MOST)
    return [StayLine(*row) for row in session.execute(query)]


def stays_at(session: Session, position_id: int) -> list[StayLine]:
    """Which motors stood at a position, newest first."""
    query = _STAYS.where(_S.position_id == position_id).order_by(_S.since.desc(), _S.id.desc()).limit(MOST)
    return [StayLine(*row) for row in session.execute(query)]


class FoundLine(NamedTuple):
    """A fault that a walk found on a motor while it stood at a position."""

    tag: str
    on_day: date
    note: str
    found: dict[str, str] | None = None


def found_on(session: Session, motor_id: int) -> list[FoundLine]:
    """Ends of fault walks on a motor wherever it stood, newest first."""
    query = (
        select(_M.tag, _E.on_day, _E.note, _E.found)
        .join(Motor.__table__, _M.id == _E.motor_id)
        .where(_E.motor_id == motor_id, _E.kind == "walked", _E.taken_back_by.is_(None))
        .order_by(_E.on_day.desc(), _E.id.desc())
        .limit(MOST)
    )
    return [FoundLine(*row) for row in session.execute(query)]


def found_at(session: Session, position_id: int) -> list[FoundLine]:
    """Ends of fault walks on whatever stood at a position then, newest first."""
    there = (_S.motor_id == _E.motor_id) & (_E.on_day >= _S.since) & (_S.until.is_(None) | (_E.on_day <= _S.until))
    query = (
        select(_M.tag, _E.on_day, _E.note, _E.found)
        .join(Stay.__table__, there)
        .join(Motor.__table__, _M.id == _E.motor_id)
        .where(_S.position_id == position_id, _E.kind == "walked", _E.taken_back_by.is_(None))
        .order_by(_E.on_day.desc(), _E.id.desc())
        .limit(MOST)
    )
    return [FoundLine(*row) for row in session.execute(query)]


def stay_rows(session: Session, motor_id: int) -> list[Stay]:
    """The rows themselves, oldest first, held until the transaction ends."""
    query = select(Stay).where(Stay.motor_id == motor_id).order_by(Stay.since, Stay.id).with_for_update()
    return list(session.scalars(query))


def standing_at(session: Session, position_id: int) -> list[Motor]:
    """Motors that stand at a position now."""
    return list(session.scalars(select(Motor).where(Motor.position_id == position_id)))


def failures_at(session: Session, position_id: int) -> list[Failure]:
    """Motors that failed at a position, newest first: jobs signed there that ended in an action of FAILED."""
    query = (
        select(_M.tag, _J.tested_on, _J.decided_action, _J.root_causes)
        .join(Motor.__table__, _M.id == _J.motor_id)
        .where(_J.position_id == position_id, _J.state == "signed", _J.decided_action.in_(FAILED))
        .order_by(_J.tested_on.desc())
        .limit(MOST)
    )
    return [Failure(tag, on, action, tuple(causes or ())) for tag, on, action, causes in session.execute(query) if on]


def event_row(session: Session, motor_id: int, event_id: int) -> LifeEvent | None:
    """One event of a motor."""
    return session.scalar(select(LifeEvent).where(LifeEvent.motor_id == motor_id, LifeEvent.id == event_id))


def event_by_token(session: Session, token: str) -> LifeEvent | None:
    """The event that a form already made."""
    return session.scalar(select(LifeEvent).where(LifeEvent.token == token))


def beside(session: Session, event: LifeEvent) -> list[LifeEvent]:
    """What was kept of other motors with the same move: they went to the store for it."""
    if event.kind != "moved":
        return []
    same = LifeEvent.at == event.at, LifeEvent.kind == event.kind, LifeEvent.undo.is_(None)
    return list(session.scalars(select(LifeEvent).where(LifeEvent.motor_id.in_(_moved_too(event)), *same)))


def _moved_too(event: LifeEvent) -> list[int]:
    return [move["motor"] for move in undo_of(event).get("moves", ()) if move["motor"] != event.motor_id]


def jobs_on(session: Session, winding_id: int) -> int:
    """Jobs begun on a winding."""
    return session.scalar(select(func.count(_J.id)).where(_J.winding_id == winding_id)) or 0


def jobs_since(session: Session, motor_id: int, moment: datetime) -> int:
    """Jobs begun on a motor since a moment."""
    return session.scalar(select(func.count(_J.id)).where(_J.motor_id == motor_id, _J.started_at >= moment)) or 0


def winding_on(session: Session, motor_id: int, since: date) -> WindingRow | None:
    """The winding that began on a day."""
    return session.scalar(select(WindingRow).where(WindingRow.motor_id == motor_id, WindingRow.since == since))


def position(session: Session, position_id: int, lock: bool = False) -> Position | None:
    """A position by its number. lock: nobody else may change it until the transaction ends."""
    return session.get(Position, position_id, with_for_update=lock or None)


def position_names(session: Session, most: int = 500) -> list[str]:
    """Names of positions to pick from, in order; none that is used no more."""
    return list(session.scalars(select(_P.name).where(_P.retired_on.is_(None)).order_by(_P.name).limit(most)))


def undo_of(row: LifeEvent) -> dict[str, Any]:
    """What taking an event back has to put right."""
    return dict(row.undo or {})
