"""Queries about repairs under way."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import Any, NamedTuple

from sqlalchemy import bindparam, select
from sqlalchemy.orm import Session

from grimcoil.core.choices import LifeKind
from grimcoil.store.repair_tables import Repair
from grimcoil.store.tables import LifeEvent, Motor, Position, columns

_E, _R, _M, _P = columns(LifeEvent), columns(Repair), columns(Motor), columns(Position)
STAGES = (LifeKind.ORDERED.value, LifeKind.AWAY.value, LifeKind.BACK.value)


class StageLine(NamedTuple):
    """One stage of a repair as it stands. promised: of an order, what the repairer said."""

    id: int
    kind: str
    on_day: date
    note: str
    promised: dict[str, Any] | None


class RepairLine(NamedTuple):
    """A repair under way, as it is listed."""

    tag: str
    state: str
    since: date
    due: date | None
    told: str


def stages(session: Session, motor_id: int, until: date = date.max) -> list[StageLine]:
    """What stands of a motor's repairs up to a day, newest first."""
    query = (
        select(_E.id, _E.kind, _E.on_day, _E.note, _E.promised)
        .where(_E.motor_id == motor_id, _E.kind.in_(STAGES), _E.taken_back_at.is_(None), _E.on_day <= until)
        .order_by(_E.on_day.desc(), _E.id.desc())
        .limit(len(STAGES))
    )
    return [StageLine(*row) for row in session.execute(query)]


_UNDER_WAY = (
    select(_M.tag, _R.state, _R.since, _R.due, _R.told)
    .join(Motor.__table__, _M.id == _R.motor_id)
    .order_by(_R.due.is_(None), _R.due, _M.tag)
    .limit(bindparam("most"))
)


def under_way(session: Session, most: int) -> list[RepairLine]:
    """What is ordered or away, the first promised first; without a day last."""
    return [RepairLine(*row) for row in session.execute(_UNDER_WAY, {"most": most})]


def order_of(found: Sequence[StageLine]) -> StageLine | None:
    """The order that the newest of these stages belongs to."""
    return next((one for one in found if one.kind == LifeKind.ORDERED), None)


def due_of(order: StageLine | None) -> date | None:
    """When it was promised back, where that was said."""
    said = (order.promised or {}).get("back") if order else None
    return date.fromisoformat(said) if said else None


def relist_repair(session: Session, motor_id: int) -> None:
    """The row of what is under way, as the events that stand have it; none once it is back."""
    found = stages(session, motor_id)
    row = session.get(Repair, motor_id)
    if not found or found[0].kind == LifeKind.BACK:
        if row is not None:
            session.delete(row)
        return
    if row is None:
        row = Repair(motor_id=motor_id)
        session.add(row)
    order = order_of(found)
    row.state, row.since = found[0].kind, found[0].on_day
    row.due, row.told = due_of(order), order.note if order else ""
