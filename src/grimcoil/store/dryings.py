"""Queries about dryings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import NamedTuple

from sqlalchemy import bindparam, func, select
from sqlalchemy.orm import Session

from grimcoil.store.drying_tables import DryingEntryRow, DryingRow
from grimcoil.store.tables import Motor, columns

ENDED = "ended"
_D, _E, _M = columns(DryingRow), columns(DryingEntryRow), columns(Motor)


@dataclass(frozen=True, slots=True)
class DryingLine:
    """A drying without its entries."""

    id: int
    motor_id: int
    job_id: int | None
    state: str
    hookup: str
    cold_ohm: str
    cold_c: float
    other_meter: bool
    current_limit_a: float | None
    started_at: datetime
    started_by: str
    ended_at: datetime | None
    ended_by: str | None
    end_why: str | None


@dataclass(frozen=True, slots=True)
class DryingEntryLine:
    """One act or reading."""

    id: int
    seq: int
    act: str
    at: datetime
    kept_at: datetime
    who: str
    amps: str | None
    volts: str | None
    insulation: str | None
    t_s: float | None
    ends: str | None
    rotated_to: str | None
    taken_back_at: datetime | None
    taken_back_by: str | None


class DryingNow(NamedTuple):
    """A drying that goes on: its motor, and what runs until when."""

    id: int
    tag: str
    doing: str
    due_at: datetime | None
    started_at: datetime


def locked(session: Session, drying_id: int) -> DryingRow | None:
    """Held until the transaction ends."""
    return session.scalar(select(DryingRow).where(DryingRow.id == drying_id).with_for_update())


def one(session: Session, drying_id: int) -> DryingRow | None:
    """A drying."""
    return session.get(DryingRow, drying_id)


def by_token(session: Session, token: str) -> int | None:
    """The drying that a form already began."""
    return session.scalar(select(_D.id).where(_D.token == token))


def entries(session: Session, drying_id: int) -> list[DryingEntryLine]:
    """In order, those taken back too."""
    query = select(*columns(DryingEntryRow, DryingEntryLine.__slots__)).where(_E.drying_id == drying_id)
    return [DryingEntryLine(*row) for row in session.execute(query.order_by(_E.seq))]


_SAID = func.crc32(
    func.concat_ws("|", *(func.ifnull(each, "-") for each in columns(DryingEntryRow, DryingEntryLine.__slots__)))
)
_FINGERPRINT = select(func.count(), func.sum(_SAID), func.bit_xor(_SAID)).where(_E.drying_id == bindparam("drying"))


def fingerprint(session: Session, drying_id: int) -> tuple[int, ...]:
    """How many entries it has, and numbers that every figure of each goes into: the same while nothing changed."""
    return tuple(int(each or 0) for each in session.execute(_FINGERPRINT, {"drying": drying_id}).one())


def has_token(session: Session, drying_id: int, token: str) -> bool:
    """Whether a form was kept already."""
    query = select(_E.id).where(_E.drying_id == drying_id, _E.token == token)
    return session.scalar(query) is not None


def next_seq(session: Session, drying_id: int) -> int:
    """Behind the last one."""
    return (session.scalar(select(func.max(_E.seq)).where(_E.drying_id == drying_id)) or 0) + 1


def open_of(session: Session, motor_id: int) -> int | None:
    """The drying of a motor that goes on."""
    return session.scalar(select(_D.id).where(_D.motor_id == motor_id, _D.state == "open"))


def going_on(session: Session) -> Sequence[DryingNow]:
    """Every drying that goes on, the oldest first."""
    query = select(_D.id, _M.tag, _D.doing, _D.due_at, _D.started_at).join(Motor.__table__, _M.id == _D.motor_id)
    return [DryingNow(*row) for row in session.execute(query.where(_D.state == "open").order_by(_D.id))]
