"""What hangs on a motor, so that it can't be withdrawn."""

from __future__ import annotations

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from grimcoil.core.choices import LifeKind
from grimcoil.store.drying_tables import DryingRow
from grimcoil.store.money_tables import MoneyRow
from grimcoil.store.people_tables import PhotoRow
from grimcoil.store.round_tables import RoundEntry
from grimcoil.store.side_tables import SideSheet
from grimcoil.store.tables import Base, Job, LifeEvent, Stay, columns
from grimcoil.store.task_tables import FollowUpTask

_J, _E, _S = columns(Job), columns(LifeEvent), columns(Stay)
_BESIDE: tuple[tuple[type[Base], str], ...] = (
    (DryingRow, "drying"), (SideSheet, "side sheet"), (RoundEntry, "round entry"), (PhotoRow, "photo"),
    (MoneyRow, "money paper"), (FollowUpTask, "task"),
)  # fmt: skip


def hanging(session: Session, motor_id: int) -> list[str]:
    """What was done with it, in a few words each: what was taken back or withdrawn itself doesn't count."""
    jobs = session.scalars(select(_J.id).where(_J.motor_id == motor_id, _J.state != "withdrawn").order_by(_J.id)).all()
    out = [f"job {number}" for number in jobs[:3]] + ([f"{len(jobs) - 3} more jobs"] if len(jobs) > 3 else [])
    events = _E.kind.not_in((LifeKind.BUILT.value,)), _E.taken_back_at.is_(None)
    kinds = session.scalars(select(_E.kind).where(_E.motor_id == motor_id, *events).distinct().order_by(_E.kind))
    out += [f"its life: {kind}" for kind in kinds]
    for made, word in _BESIDE:
        rows = columns(made)
        query = select(func.count()).where(rows.motor_id == motor_id)
        if "taken_back_at" in made.__table__.columns:
            query = query.where(rows.taken_back_at.is_(None))
        if count := session.scalar(query):
            out.append(f"{count} {word}{'s' if count > 1 and not word.endswith('y') else ''}")
    moves = session.scalar(select(func.count()).where(_S.motor_id == motor_id))
    return out + (["a move"] if moves and moves > 1 else [])
