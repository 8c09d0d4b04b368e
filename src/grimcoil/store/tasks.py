"""Queries about tasks."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from sqlalchemy import Select, select
from sqlalchemy.orm import Session

from grimcoil.store.list_tables import Listing
from grimcoil.store.tables import Motor, Position, columns
from grimcoil.store.task_tables import FollowUpTask

_F, _M, _P, _L = columns(FollowUpTask), columns(Motor), columns(Position), columns(Listing)


@dataclass(frozen=True, slots=True)
class TaskToDo:
    """A task with the motor it is at, as it is listed."""

    id: int
    tag: str
    place: str | None
    area: str | None
    what: str
    because: str
    by_day: date
    whom: str
    origin: str
    opened_at: datetime
    opened_by: str
    state: str
    closed_at: datetime | None
    closed_by: str | None
    word: str


_LISTED = (
    select(
        _F.id, _M.tag, _P.name, _L.area, _F.what, _F.because, _F.by_day, _F.whom, _F.origin, _F.opened_at, _F.opened_by,
        _F.state, _F.closed_at, _F.closed_by, _F.word,
    )
    .join(Motor.__table__, _M.id == _F.motor_id)
    .outerjoin(Position.__table__, _P.id == _M.position_id)
    .outerjoin(Listing.__table__, _L.motor_id == _F.motor_id)
)  # fmt: skip
OPEN = "open"


def _all(session: Session, query: Select[Any]) -> list[TaskToDo]:
    return [TaskToDo(*row) for row in session.execute(query)]


def open_tasks(
    session: Session, until: date = date.max, area: str = "", tags: Sequence[str] = (), most: int = 200
) -> list[TaskToDo]:
    """Those open up to a day, the earliest first; of one area, or of these motors."""
    query = _LISTED.where(_F.state == OPEN, _F.by_day <= until)
    query = query.where(_L.area == area) if area else query
    query = query.where(_M.tag.in_(tags)) if tags else query
    return _all(session, query.order_by(_F.by_day, _F.id).limit(most))


def open_at(session: Session, motor_id: int, most: int = 60) -> list[TaskToDo]:
    """A motor's open ones, the earliest first."""
    query = _LISTED.where(_F.motor_id == motor_id, _F.state == OPEN)
    return _all(session, query.order_by(_F.by_day, _F.id).limit(most))


def of_motor(session: Session, motor_id: int, most: int = 60) -> list[TaskToDo]:
    """A motor's: open ones first, the earliest of them, then the last closed."""
    query = _LISTED.where(_F.motor_id == motor_id)
    found = _all(session, query.order_by(_F.state != OPEN, _F.by_day, _F.id).limit(most))
    shut = sorted((one for one in found if one.closed_at), key=lambda one: (one.closed_at, one.id), reverse=True)
    return [one for one in found if one.closed_at is None] + shut


def closed(session: Session, most: int = 30) -> list[TaskToDo]:
    """The last that were done or dropped."""
    return _all(session, _LISTED.where(_F.state != OPEN).order_by(_F.closed_at.desc(), _F.id.desc()).limit(most))


def every_task(session: Session, after: int, most: int) -> list[TaskToDo]:
    """All of them in the order they were opened, some at a time."""
    return _all(session, _LISTED.where(_F.id > after).order_by(_F.id).limit(most))


def row(session: Session, number: int) -> FollowUpTask | None:
    """One task, held until the transaction ends."""
    return session.scalar(select(FollowUpTask).where(FollowUpTask.id == number).with_for_update())


def has_token(session: Session, token: str) -> bool:
    """Whether a form was kept already."""
    return session.scalar(select(_F.id).where(_F.token == token)) is not None


def standing(session: Session, keys: Iterable[str]) -> set[str]:
    """Which of these are open now."""
    return set(session.scalars(select(_F.open_of).where(_F.open_of.in_(list(keys)))))


def opened_by(session: Session, motor_id: int, origin: str, origin_id: int) -> list[FollowUpTask]:
    """Those still open that one thing opened, held."""
    query = select(FollowUpTask).where(
        FollowUpTask.motor_id == motor_id, FollowUpTask.origin == origin, FollowUpTask.origin_id == origin_id,
        FollowUpTask.state == OPEN,
    )  # fmt: skip
    return list(session.scalars(query.with_for_update()))
