"""Queries about jobs and their entries, and the way between an entry row and the core's entry."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from grimcoil.core.amount import Amount
from grimcoil.core.procedure.entries import Entry, EntryKind
from grimcoil.core.readings import Reading, Shown
from grimcoil.store.tables import EntryRow, InstrumentRangeRow, Job, Motor, MotorState


def job(session: Session, job_id: int, lock: bool = False) -> tuple[Job, MotorState | None] | None:
    """A job with motor, position, winding, instruments, and the motor's state. One query.

    lock: nobody else may change this job until the transaction ends.
    """
    query = (
        select(Job, MotorState)
        .outerjoin(MotorState, MotorState.motor_id == Job.motor_id)
        .where(Job.id == job_id)
        .options(
            joinedload(Job.motor).joinedload(Motor.position),
            joinedload(Job.winding),
            joinedload(Job.ohm_range).joinedload(InstrumentRangeRow.instrument),
            joinedload(Job.insulation_range).joinedload(InstrumentRangeRow.instrument),
        )
    )
    if lock:
        query = query.with_for_update(of=Job)
    row = session.execute(query).first()
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


def discharging(session: Session) -> Sequence[tuple[int, str, datetime]]:
    """Jobs whose winding stands shorted to frame: id, tag, due."""
    query = (
        select(Job.id, Motor.tag, Job.discharge_due_at)
        .join(Motor, Motor.id == Job.motor_id)
        .where(Job.discharge_due_at.is_not(None), Job.state == "open")
        .order_by(Job.discharge_due_at)
    )
    return [(row[0], row[1], row[2]) for row in session.execute(query) if row[2] is not None]


def entry_rows(session: Session, job_id: int) -> Sequence[EntryRow]:
    """All entries of a job in order, taken-back ones too."""
    return session.scalars(select(EntryRow).where(EntryRow.job_id == job_id).order_by(EntryRow.seq)).all()


def to_entry(row: EntryRow) -> Entry:
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


def to_row(entry: Entry, job_id: int, token: str, unit: str | None) -> EntryRow:
    """The core's entry to a row."""
    reading = entry.reading
    amount = reading.amount if reading else None
    return EntryRow(
        job_id=job_id,
        seq=entry.seq,
        token=token,
        place=entry.place,
        kind=entry.kind.value,
        text=entry.text,
        unit=unit,
        shown=reading.shown.value if reading else None,
        low=amount.low if amount else None,
        high=None if amount is None or amount.high == math.inf else amount.high,
        bound=amount.bound.value if amount else None,
        digit=reading.count if reading else None,
        at=entry.at,
        who=entry.who,
        instrument=entry.instrument,
    )
