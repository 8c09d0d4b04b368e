"""A motor by the tag that was typed or scanned: it is on the register, or the tag is refused."""

from __future__ import annotations

from sqlalchemy.orm import Session

from grimcoil.core.days import day_told
from grimcoil.core.errors import RecordRefusal, Unknown
from grimcoil.store import motors as rows
from grimcoil.store.tables import Motor, MotorState, Position, WindingRow


def found(session: Session, tag: str) -> tuple[Motor, MotorState | None, int | None]:
    """A motor with its state and the id of its open job. One query. Raises Unknown."""
    row = rows.by_tag(session, tag)
    if row is None:
        raise _unknown(tag)
    return row


def motor_named(session: Session, tag: str) -> Motor:
    """The motor alone. Raises Unknown."""
    return found(session, tag)[0]


def with_winding(session: Session, tag: str) -> tuple[Motor, WindingRow]:
    """A motor and the winding it has now. Raises Unknown, also where no winding is on record."""
    motor = motor_named(session, tag)
    return motor, winding_of(session, motor)


def winding_of(session: Session, motor: Motor) -> WindingRow:
    """The winding it has now. Raises Unknown."""
    winding = rows.winding_now(session, motor.id)
    if winding is None:
        raise _unknown(motor.tag)
    return winding


def place_in_use(session: Session, name: str) -> Position | None:
    """The position of that name where there is one. Raises RecordRefusal where it is used no more."""
    place = rows.position_named(session, name)
    if place is not None and place.retired_on is not None:
        told = f"“{place.name}” is used no more since {day_told(place.retired_on)}"
        raise RecordRefusal("position", "", f"{told}: use it again first, or name another")
    return place


def _unknown(tag: str) -> Unknown:
    return Unknown("motor", tag, "the tag of a motor on the register")
