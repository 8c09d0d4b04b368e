"""Queries about side sheets."""

from __future__ import annotations

from datetime import datetime
from typing import Any, NamedTuple

from sqlalchemy import select
from sqlalchemy.orm import Session

from grimcoil.store.side_tables import SideSheet
from grimcoil.store.tables import columns

MOST = 60


class SideLine(NamedTuple):
    """A side sheet as it was kept."""

    id: int
    kind: str
    document: dict[str, Any]
    at: datetime
    who: str
    taken_back_by: str | None


def of_motor(session: Session, motor_id: int) -> list[SideLine]:
    """The newest of a motor, newest first; taken-back ones too."""
    one = columns(SideSheet)
    query = select(*(one[name] for name in SideLine._fields)).where(one.motor_id == motor_id)
    return [SideLine(*row) for row in session.execute(query.order_by(one.at.desc(), one.id.desc()).limit(MOST))]


def has_token(session: Session, token: str) -> bool:
    """Whether a form was kept already."""
    return session.scalar(select(SideSheet.id).where(SideSheet.token == token)) is not None


def row(session: Session, motor_id: int, number: int) -> SideSheet | None:
    """One of a motor's, to be changed."""
    return session.scalar(select(SideSheet).where(SideSheet.id == number, SideSheet.motor_id == motor_id))
