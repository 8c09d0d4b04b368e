"""Plates and places that come by a list: what is on record of them, and what goes onto the record."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from datetime import datetime
from decimal import Decimal

from sqlalchemy.orm import Session

from grimcoil.core.people import Actor
from grimcoil.core.plate_fields import FIELDS, PLATE, POSITION
from grimcoil.exchange.sheets.layout import tag_key
from grimcoil.exchange.sheets.taken import PlateCell, Plates
from grimcoil.service.motor_states import restate
from grimcoil.service.plates import ON_MOTOR, ON_WINDING, plate_texts
from grimcoil.service.register import note_changes
from grimcoil.service.registered import place_in_use, with_winding
from grimcoil.store import lives, trail
from grimcoil.store import motors as motor_rows
from grimcoil.store.tables import Base, Motor, Position, Stay, WindingRow

_NUMBERS = frozenset(one.form for one in FIELDS.values() if one.unit) | {"service_factor", "power_factor"}
_TOLD = {"service_factor": "1", "winding": "random", "insulation_system": "thermosetting", "conductor": "copper"}
_PLACE = ("area", "criticality", "supply_system", "system_voltage_v")


def plates_on_record(session: Session, tags: Collection[str]) -> Plates:
    """By motor and field, what is on record; a motor of which nothing but its tag is known has no plate."""
    out = {}
    for tag in tags:
        motor, winding = with_winding(session, tag)
        texts = plate_texts(motor, winding)
        bare = motor.rated_voltage_v is None
        for name, one in FIELDS.items():
            text = texts.get(one.form, "") if name.startswith(PLATE) else ""
            if text and not (bare and text in (_TOLD.get(one.form), "three-lead")):
                out[tag_key(tag), name] = text
        place = motor.position
        if place is not None:
            out |= {(tag_key(tag), field): text for field, text in _told_of(place)}
    return out


def positions_on_record(session: Session, names: Collection[str]) -> Plates:
    """By position and field, what is on record of positions that a list is about."""
    out: dict[tuple[str, str], str] = {}
    for name in names:
        place = motor_rows.position_named(session, name)
        if place is not None:
            out |= {(f"\n{name.casefold()}", field): text for field, text in _told_of(place)}
    return out


def _told_of(place: Position) -> Iterator[tuple[str, str]]:
    yield f"{POSITION}name", place.name
    told = {name: getattr(place, name) for name in _PLACE}
    told["criticality"] = None if place.criticality == "routine" else place.criticality
    for name, value in told.items():
        if value:
            yield f"{POSITION}{name}", f"{value.normalize():f}" if isinstance(value, Decimal) else str(value)


def put_positions(session: Session, actor: Actor, cells: Sequence[PlateCell], now: datetime) -> list[str]:
    """Fields of a list of positions onto the register, new ones made; returns their names. Each change is in the chain,
    and what stands there is due by what its place is now.
    """
    by_name: dict[str, dict[str, str]] = {}
    for one in cells:
        by_name.setdefault(one.tag, {})[one.field.removeprefix(POSITION)] = one.value
    out = []
    for name, fields in by_name.items():
        place = place_in_use(session, name)
        if place is None:
            place = Position(name=name, area="")
            session.add(place)
        _say(place, fields)
        note_changes(session, actor, now, place)
        for motor in lives.standing_at(session, place.id):
            restate(session, motor.id, now)
        told = ", ".join(f"{FIELDS[POSITION + field].words} {text}" for field, text in fields.items())
        trail.write(session, actor, "position filled in", now, detail=told)
        out.append(place.name)
    return out


def _say(place: Position, fields: Mapping[str, str]) -> None:
    for field in _PLACE:
        if field in fields:
            setattr(place, field, Decimal(fields[field]) if field == "system_voltage_v" else fields[field])


def put_plates(session: Session, actor: Actor, cells: Sequence[PlateCell], now: datetime) -> list[int]:
    """Fields of plates and places onto their motors, which are there; returns whose. Each change is in the chain."""
    by_motor: dict[str, dict[str, str]] = {}
    for one in cells:
        by_motor.setdefault(one.tag, {})[one.field] = one.value
    changed = []
    for tag, fields in sorted(by_motor.items()):
        motor, winding = with_winding(session, tag)
        motor_rows.lock(session, motor.id)
        place = {name.removeprefix(POSITION): text for name, text in fields.items() if name.startswith(POSITION)}
        stay = _placed(session, actor, motor, winding, place, now)
        _plate(motor, winding, {FIELDS[name].form: text for name, text in fields.items() if name.startswith(PLATE)})
        note_changes(session, actor, now, *stay, motor, winding)
        told = ", ".join(f"{FIELDS[name].words} {text}" for name, text in fields.items())
        trail.write(session, actor, "plate filled in", now, motor.id, detail=told)
        if place and motor.position_id is not None:
            for there in lives.standing_at(session, motor.position_id):
                restate(session, there.id, now)
        changed.append(motor.id)
    return changed


def _plate(motor: Motor, winding: WindingRow, fields: Mapping[str, str]) -> None:
    for name, text in fields.items():
        value = Decimal(text) if name in _NUMBERS else int(text) if name == "built_year" else text
        if name in ON_WINDING:
            setattr(winding, name, value)
        else:
            setattr(motor, ON_MOTOR[name], value)


def _placed(
    session: Session, actor: Actor, motor: Motor, winding: WindingRow, fields: Mapping[str, str], now: datetime
) -> list[Base]:
    """The position it stands at, made where there is none of that name, with what the list says of it."""
    if not fields:
        return []
    name = fields.get("name")
    place = session.get(Position, motor.position_id) if motor.position_id else None
    if place is None and name is not None:
        place = place_in_use(session, name)
        if place is None:
            place = Position(name=name, area="")
            session.add(place)
    if place is None:
        return []
    _say(place, fields)
    note_changes(session, actor, now, place)
    if motor.position_id is not None:
        return []
    motor.position_id = place.id
    stay = Stay(motor_id=motor.id, position_id=place.id, since=winding.since)
    session.add(stay)
    return [stay]
