"""Queries about rounds. What is due is tallied by area and day; a stop is one motor's."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, NamedTuple

from sqlalchemy import exists, func, select
from sqlalchemy.orm import Session

from grimcoil.store.list_tables import Listing
from grimcoil.store.round_tables import RoundEntry, RoundTally, RoundTask
from grimcoil.store.tables import Motor, Position, columns

_T, _E, _L, _M, _P = (columns(table) for table in (RoundTask, RoundEntry, Listing, Motor, Position))
_N = columns(RoundTally)


class AreaDue(NamedTuple):
    """An area's share of what is due: tasks, the oldest day."""

    area: str
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
    taken_back_why: str | None


def areas_due(session: Session, until: date, order: Mapping[str, int]) -> list[AreaDue]:
    """Each area with something due up to a day. order: the place of each area in the walk."""
    query = select(_N.area, func.sum(_N.n), func.min(_N.next_on)).where(_N.next_on <= until, _N.n > 0)
    found = [AreaDue(area, int(tasks), oldest) for area, tasks, oldest in session.execute(query.group_by(_N.area))]
    return sorted(found, key=lambda one: (order.get(one.area, len(order)), one.area or "~"))


def due_by_day(session: Session, since: date, until: date, area: str = "") -> list[tuple[date, str, int]]:
    """Day, area and number of tasks, from a day through another."""
    query = select(_N.next_on, _N.area, _N.n).where(_N.next_on >= since, _N.next_on <= until, _N.n > 0)
    query = query.where(_N.area == area) if area else query
    return [(day, where, count) for day, where, count in session.execute(query.order_by(_N.next_on, _N.area))]


def stops(session: Session, area: str, until: date, most: int = 200) -> list[StopLine]:
    """The first motors of an area with something due, in walking order; no more are looked at than are shown."""
    due = exists().where(_T.motor_id == _L.motor_id, _T.next_on <= until).correlate(Listing.__table__)
    here = select(_L.motor_id, _L.by_area).where(_L.area == area, due).order_by(_L.by_area).limit(most).subquery()
    query = (
        select(_M.id, _M.tag, _P.name, func.count())
        .join(here, here.c.motor_id == _M.id)
        .join(RoundTask.__table__, _T.motor_id == _M.id)
        .outerjoin(Position.__table__, _P.id == _M.position_id)
        .where(_T.next_on <= until)
        .group_by(_M.id, _M.tag, _P.name, here.c.by_area)
        .order_by(here.c.by_area)
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
