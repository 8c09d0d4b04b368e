"""Queries about jobs and their entries, and the way between an entry row and the core's entry."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import bindparam, insert, select, update
from sqlalchemy.orm import Session, defer, joinedload

from grimcoil.core.amount import Amount
from grimcoil.core.procedure.entries import Entry, EntryKind
from grimcoil.core.readings import Reading, Shown
from grimcoil.store.tables import EntryRow, InstrumentRangeRow, Job, Motor, MotorState

_JOB = (
    select(Job, MotorState)
    .outerjoin(MotorState, MotorState.motor_id == Job.motor_id)
    .where(Job.id == bindparam("job_id"))
    .options(
        joinedload(Job.motor).joinedload(Motor.position),
        joinedload(Job.winding),
        joinedload(Job.ohm_range).joinedload(InstrumentRangeRow.instrument),
        joinedload(Job.insulation_range).joinedload(InstrumentRangeRow.instrument),
        defer(Job.assessment, raiseload=True),
        defer(MotorState.spark, raiseload=True),
        defer(MotorState.trend, raiseload=True),
    )
)
_JOB_LOCKED = _JOB.with_for_update(of=Job)


def job(session: Session, job_id: int, lock: bool = False) -> tuple[Job, MotorState | None] | None:
    """A job with motor, position, winding, instruments, and the motor's state. One query.

    lock: nobody else may change this job until the transaction ends.
    """
    row = session.execute(_JOB_LOCKED if lock else _JOB, {"job_id": job_id}).first()
    return None if row is None else (row[0], row[1])


def by_token(session: Session, token: str) -> Job | None:
    """The job a start form already made."""
    return session.scalar(select(Job).where(Job.token == token))


def open_of(session: Session, motor_id: int) -> Job | None:
    """The open job of a motor."""
    return session.scalar(select(Job).where(Job.motor_id == motor_id, Job.state == "open").limit(1))


def open_jobs(session: Session) -> Sequence[Job]:
    """Open jobs, newest first."""
    query = (
        select(Job)
        .where(Job.state == "open")
        .order_by(Job.started_at.desc())
        .options(joinedload(Job.motor).joinedload(Motor.position))
    )
    return session.scalars(query).all()


def last_signed(session: Session, most: int = 12) -> Sequence[Job]:
    """The jobs signed last."""
    query = (
        select(Job)
        .where(Job.state == "signed")
        .order_by(Job.signed_at.desc())
        .limit(most)
        .options(joinedload(Job.motor).joinedload(Motor.position))
    )
    return session.scalars(query).all()


_DISCHARGING = (
    select(Job.id, Motor.tag, Job.discharge_due_at)
    .join(Motor, Motor.id == Job.motor_id)
    .where(Job.discharge_due_at.is_not(None), Job.state == "open")
    .order_by(Job.discharge_due_at)
)


def discharging(session: Session) -> Sequence[tuple[int, str, datetime]]:
    """Jobs whose winding stands shorted to frame: id, tag, due."""
    return [(row[0], row[1], row[2]) for row in session.execute(_DISCHARGING) if row[2] is not None]


@dataclass(frozen=True, slots=True)
class EntryLine:
    """An entry as it is read: plain columns, as there are dozens to a job."""

    seq: int
    token: str
    place: str
    kind: str
    text: str
    unit: str | None
    shown: str | None
    low: float | None
    high: float | None
    digit: float | None
    at: datetime
    who: str
    instrument: str | None
    taken_back_at: datetime | None
    taken_back_by: str | None


_ENTRIES = (
    select(*(getattr(EntryRow, name) for name in EntryLine.__slots__))
    .where(EntryRow.job_id == bindparam("job_id"))
    .order_by(EntryRow.seq)
)


def entry_lines(session: Session, job_id: int) -> list[EntryLine]:
    """All entries of a job in order, taken-back ones too."""
    return [EntryLine(*row) for row in session.execute(_ENTRIES, {"job_id": job_id})]


def mark_taken_back(session: Session, job_id: int, seq: int, who: str, at: datetime) -> None:
    """Mark one entry, once."""
    session.execute(
        update(EntryRow)
        .where(EntryRow.job_id == job_id, EntryRow.seq == seq, EntryRow.taken_back_at.is_(None))
        .values(taken_back_at=at, taken_back_by=who)
    )


def to_entry(row: EntryLine) -> Entry:
    """Row to the core's entry."""
    reading = None
    if row.shown is not None:
        amount = Amount(0.0 if row.low is None else row.low, math.inf if row.high is None else row.high)
        reading = Reading(row.text, Shown(row.shown), amount, row.digit)
    return Entry(
        row.seq,
        row.place,
        EntryKind(row.kind),
        row.text,
        row.at,
        row.who,
        reading,
        row.taken_back_at is not None,
        row.instrument,
    )


def to_line(entry: Entry, token: str, unit: str | None) -> EntryLine:
    """The core's entry as it will be read back."""
    reading = entry.reading
    amount = reading.amount if reading else None
    return EntryLine(
        seq=entry.seq,
        token=token,
        place=entry.place,
        kind=entry.kind.value,
        text=entry.text,
        unit=unit,
        shown=reading.shown.value if reading else None,
        low=amount.low if amount else None,
        high=None if amount is None or amount.high == math.inf else amount.high,
        digit=reading.count if reading else None,
        at=entry.at,
        who=entry.who,
        instrument=entry.instrument,
        taken_back_at=None,
        taken_back_by=None,
    )


def columns_of(line: EntryLine, entry: Entry, job_id: int) -> dict[str, object]:
    """A line's columns, to be inserted."""
    bound = entry.reading.amount.bound.value if entry.reading else None
    return {name: getattr(line, name) for name in EntryLine.__slots__} | {"job_id": job_id, "bound": bound}


def insert_entries(session: Session, job_id: int, pairs: Sequence[tuple[EntryLine, Entry]]) -> None:
    """Insert entries in one statement."""
    session.execute(insert(EntryRow), [columns_of(line, entry, job_id) for line, entry in pairs])
