"""The plate of a motor that came in with a sheet, by its tag alone: read later, put to what is on record."""

from __future__ import annotations

from datetime import date

from sqlalchemy import select
from sqlalchemy.orm import Session

from grimcoil.core.errors import FormRefused
from grimcoil.core.people import Actor
from grimcoil.service.register import note_changes
from grimcoil.store import motors as motor_rows
from grimcoil.store import trail
from grimcoil.store.lives import stay_rows
from grimcoil.store.tables import Base, LifeEvent, Motor, Stay, WindingRow

_ITS_OWN = frozenset({"id", "tag", "created_at", "motor_id", "position_id", "since", "reason"})


def awaits_plate(session: Session, tag: str) -> Motor | None:
    """The motor of that tag, held, where its rated voltage isn't on record; None else."""
    found = motor_rows.by_tag(session, tag)
    if found is None:
        return None
    motor_rows.lock(session, found[0].id)
    session.refresh(found[0])
    return found[0] if found[0].rated_voltage_v is None else None


def complete(
    session: Session, actor: Actor, motor: Motor, read: Motor, winding: WindingRow, position_id: int | None
) -> None:
    """Put a plate that was read to a motor that had none, in a transaction of somebody else's.

    Jobs on record stay as they were judged. Raises FormRefused where it would be younger than its first reading,
    or stand elsewhere than it does.
    """
    now = motor_rows.winding_now(session, motor.id)
    if now is None:
        raise LookupError(f"no winding of {motor.tag}")
    built = read.built_year and date(read.built_year, 1, 1)
    if built and built > now.since:
        raise FormRefused({"built_year": f"Readings of it are on record since {now.since}: a year up to that."})
    began = _began(session, motor.id) if built else []
    if built:
        now.since = built
        for event in began:
            event.on_day = built
    _put(read, motor)
    _put(winding, now)
    changed: list[Base] = [motor, now, *began]
    if position_id is not None and position_id != motor.position_id:
        if stay_rows(session, motor.id):
            raise FormRefused({"position": "Where it stands is on record already: move it on its life's page."})
        motor.position_id = position_id
        stay = Stay(motor_id=motor.id, position_id=position_id, since=now.since)
        session.add(stay)
        changed.append(stay)
    note_changes(session, actor, read.created_at, *changed)
    trail.write(session, actor, "plate read", read.created_at, motor.id)


def _began(session: Session, motor_id: int) -> list[LifeEvent]:
    return list(session.scalars(select(LifeEvent).where(LifeEvent.motor_id == motor_id, LifeEvent.kind == "built")))


def _put(source: Motor | WindingRow, target: Motor | WindingRow) -> None:
    for column in source.__mapper__.column_attrs:
        value = getattr(source, column.key)
        if column.key not in _ITS_OWN and value is not None:
            setattr(target, column.key, value)
