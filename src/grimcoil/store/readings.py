"""Kept readings of one motor or of all, some at a time, in the order they were kept."""

from __future__ import annotations

from datetime import date, datetime
from typing import NamedTuple

from sqlalchemy import select
from sqlalchemy.orm import Session

from grimcoil.store.tables import EntryRow, Job, Motor, columns

_J, _M = columns(Job), columns(Motor)


class ReadingLine(NamedTuple):
    """A kept reading of a motor with the job it belongs to."""

    id: int
    job_id: int
    tested_on: date | None
    place: str
    text: str
    unit: str | None
    low: float | None
    high: float | None
    at: datetime
    who: str
    instrument: str | None
    taken_back_at: datetime | None


def readings_of(session: Session, motor_id: int, after: int = 0, most: int = 2000) -> list[ReadingLine]:
    """Readings of a motor's jobs in the order they were kept, behind one."""
    e = columns(EntryRow)
    query = (
        select(
            e.id, e.job_id, _J.tested_on, e.place, e.text, e.unit, e.low, e.high, e.at, e.who, e.instrument,
            e.taken_back_at,
        )
        .join(Job.__table__, _J.id == e.job_id)
        .where(_J.motor_id == motor_id, e.kind == "reading", e.id > after)
        .order_by(e.id)
        .limit(most)
    )  # fmt: skip
    return [ReadingLine._make(row) for row in session.execute(query)]


def all_readings(session: Session, after: int = 0, most: int = 2000) -> list[tuple[str, ReadingLine]]:
    """Readings of every motor with its tag in the order they were kept, behind one."""
    e = columns(EntryRow)
    query = (
        select(
            _M.tag, e.id, e.job_id, _J.tested_on, e.place, e.text, e.unit, e.low, e.high, e.at, e.who, e.instrument,
            e.taken_back_at,
        )
        .join(Job.__table__, _J.id == e.job_id)
        .join(Motor.__table__, _M.id == _J.motor_id)
        .where(e.kind == "reading", e.id > after)
        .order_by(e.id)
        .limit(most)
    )  # fmt: skip
    return [(row[0], ReadingLine._make(row[1:])) for row in session.execute(query)]
