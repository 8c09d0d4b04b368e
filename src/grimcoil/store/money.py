"""Queries about what was reckoned, and about spares."""

from __future__ import annotations

from datetime import datetime
from typing import NamedTuple

from sqlalchemy import select
from sqlalchemy.orm import Session

from grimcoil.store.money_tables import MoneyRow
from grimcoil.store.tables import Job, Motor, columns

_R, _M, _J = columns(MoneyRow), columns(Motor), columns(Job)


class MoneyLine(NamedTuple):
    """A case that was kept."""

    id: int
    job_id: int | None
    at: datetime
    who: str
    says: str
    given: str


def kept(session: Session, motor_id: int, most: int = 20) -> list[MoneyLine]:
    """A motor's, newest first."""
    query = select(*columns(MoneyRow, MoneyLine._fields)).where(_R.motor_id == motor_id)
    return [MoneyLine(*row) for row in session.execute(query.order_by(_R.id.desc()).limit(most))]


def has_token(session: Session, token: str) -> bool:
    """A case was kept under this token already."""
    return session.scalar(select(_R.id).where(_R.token == token)) is not None


def spares(session: Session, motor: Motor, most: int = 5) -> list[str]:
    """Tags of motors in the store with the same power and voltage."""
    query = select(_M.tag).where(_M.position_id.is_(None), _M.id != motor.id, _M.power_text == motor.power_text)
    query = query.where(_M.rated_voltage_v == motor.rated_voltage_v, _M.power_text != "", _M.withdrawn_at.is_(None))
    return list(session.scalars(query.order_by(_M.tag).limit(most)))
