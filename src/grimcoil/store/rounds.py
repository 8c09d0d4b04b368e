"""Queries about rounds. What is due is counted by the index over the next days; a stop is one motor's."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, NamedTuple

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from grimcoil.store.list_tables import Listing
from grimcoil.store.round_tables import RoundEntry, RoundTask
from grimcoil.store.tables import Motor, Position, columns

_T, _E, _L, _M, _P = (columns(table) for table in (RoundTask, RoundEntry, Listing, Motor, Position))


class AreaDue(NamedTuple):
    """An area's share of what is due: motors, tasks, the oldest day."""

    area: str
    motors: int
    tasks: int
    oldest: date


class StopLine(NamedTuple):
    """A motor of a round in walking order, with how much is due there."""

    motor_id: int
    tag: str
    place: str | None
    tasks: int


class TaskLine(NamedTuple):
    """A task of a motor."""

    id: int
    task: str
    months: int
    next_on: date | None
    bearings: dict[str, Any] | None
    every_h: int | None = None
    hours_a_month: int | None = None
    season: str | None = None


@dataclass(frozen=True, slots=True)
class RoundLine:
    """What was done, skipped or seen."""

    id: int
    task: str
    at: datetime
    kept_at: datetime
    who: str
    outcome: str
    text: str
    value: float | None
    loaded: bool | None
    words: str
    taken_back_at: datetime | None
    taken_back_by: str | None


def areas_due(session: Session, until: date) -> list[AreaDue]:
    """Each area with something due up to a day, in walking order."""
    query = (
        select(_L.area, func.count(_T.motor_id.distinct()), func.count(), func.min(_T.next_on))
        .join(Listing.__table__, _L.motor_id == _T.motor_id)
        .where(_T.next_on <= until)
        .group_by(_L.area)
        .order_by(func.min(_L.by_area))
    )
    return [AreaDue(*row) for row in session.execute(query)]


def due_by_day(session: Session, since: date, until: date, area: str = "") -> list[tuple[date, str, int]]:
    """Day, area and number of tasks, from a day through another."""
    query = select(_T.next_on, _L.area, func.count()).join(Listing.__table__, _L.motor_id == _T.motor_id)
    query = query.where(_T.next_on >= since, _T.next_on <= until)
    query = query.where(_L.area == area) if area else query
    rows = session.execute(query.group_by(_T.next_on, _L.area).order_by(_T.next_on, _L.area))
    return [(day, where, count) for day, where, count in rows]


def stops(session: Session, area: str, until: date, most: int = 200) -> list[StopLine]:
    """The motors of an area with something due, in walking order."""
    query = (
        select(_M.id, _M.tag, _P.name, func.count())
        .join(Listing.__table__, _L.motor_id == _M.id)
        .join(RoundTask.__table__, _T.motor_id == _M.id)
        .outerjoin(Position.__table__, _P.id == _M.position_id)
        .where(_L.area == area, _T.next_on <= until)
        .group_by(_M.id, _M.tag, _P.name, _L.by_area)
        .order_by(_L.by_area)
        .limit(most)
    )
    return [StopLine(*row) for row in session.execute(query)]


def tasks_of(session: Session, motor_id: int) -> list[TaskLine]:
    """A motor's, those taken off the round too."""
    query = select(*columns(RoundTask, TaskLine._fields)).where(_T.motor_id == motor_id).order_by(_T.id)
    return [TaskLine(*row) for row in session.execute(query)]


def task_row(session: Session, motor_id: int, task: str) -> RoundTask | None:
    """One task, held until the transaction ends."""
    query = select(RoundTask).where(RoundTask.motor_id == motor_id, RoundTask.task == task)
    return session.scalar(query.with_for_update())


def lines_of(session: Session, motor_id: int, most: int = 60) -> list[RoundLine]:
    """What was kept at a motor, newest first."""
    query = select(*columns(RoundEntry, RoundLine.__slots__)).where(_E.motor_id == motor_id)
    return [RoundLine(*row) for row in session.execute(query.order_by(_E.at.desc(), _E.id.desc()).limit(most))]


class FigureLine(NamedTuple):
    """A figure that stands, by the moment it was read, whenever it was entered."""

    task: str
    at: datetime
    id: int
    value: float
    loaded: bool | None


def figures(session: Session, motor_id: int, most: int = 400) -> list[FigureLine]:
    """A motor's newest figures, oldest first."""
    query = select(*columns(RoundEntry, FigureLine._fields)).where(
        _E.motor_id == motor_id, _E.value.is_not(None), _E.taken_back_at.is_(None)
    )
    rows = session.execute(query.order_by(_E.at.desc(), _E.id.desc()).limit(most)).all()
    return [FigureLine(*row) for row in reversed(rows)]


def has_token(session: Session, token: str) -> bool:
    """Whether a form was kept already."""
    return session.scalar(select(_E.id).where(_E.token == token)) is not None


def entry(session: Session, motor_id: int, entry_id: int) -> RoundEntry | None:
    """One entry of a motor, held."""
    query = select(RoundEntry).where(RoundEntry.id == entry_id, RoundEntry.motor_id == motor_id)
    return session.scalar(query.with_for_update())


def newest_of_task(session: Session, motor_id: int, task: str) -> datetime | None:
    """When a task was last done or skipped, by the moment of it."""
    query = select(func.max(_E.at)).where(_E.motor_id == motor_id, _E.task == task, _E.taken_back_at.is_(None))
    newest: datetime | None = session.scalar(query)
    return newest


def last_of_task(session: Session, motor_id: int, task: str) -> int | None:
    """The number of a task's newest entry that stands."""
    query = select(func.max(_E.id)).where(_E.motor_id == motor_id, _E.task == task, _E.taken_back_at.is_(None))
    return session.scalar(query)
