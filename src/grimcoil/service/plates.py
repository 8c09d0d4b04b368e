"""A motor's plate later on: judged as it is typed, changed with a reason, photographed. Signed jobs keep theirs."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from grimcoil.core.errors import FormRefused, RecordRefusal, Unknown
from grimcoil.core.findings import Finding
from grimcoil.core.people import Action, Actor
from grimcoil.service.again import stands_in
from grimcoil.service.fields import Fields
from grimcoil.service.motors import plate_findings, read_plate
from grimcoil.service.photos import photo_row, told
from grimcoil.service.register import note_changes
from grimcoil.service.registered import motor_named, with_winding
from grimcoil.service.subjects import plate_of, without_names
from grimcoil.store import motors as motor_rows
from grimcoil.store import photos as photo_rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.jobs import first_day
from grimcoil.store.lines import PhotoShown, line_of
from grimcoil.store.people_tables import PhotoRow
from grimcoil.store.tables import Base, LifeEvent, Motor, WindingRow
from grimcoil.store.trail import TrailLine

# A form's name -> the column, of the motor or of its winding.
ON_MOTOR = {
    "serial": "serial", "rated_voltage_v": "rated_voltage_v", "rated_voltage_2_v": "rated_voltage_2_v",
    "connected_voltage_v": "connected_voltage_v", "full_load_current_a": "full_load_current_a",
    "full_load_current_2_a": "full_load_current_2_a", "frequency_hz": "frequency_hz", "power": "power_text",
    "speed_rpm": "speed_rpm", "service_factor": "service_factor", "insulation_class": "insulation_class",
    "built_year": "built_year", "frame_size": "frame_size", "bearings": "bearings",
    "efficiency_percent": "efficiency_percent", "power_factor": "power_factor",
}  # fmt: skip
ON_WINDING = ("winding", "insulation_system", "conductor", "lead_scheme", "insulation_test_forbidden")
LONGEST_WHY, SHORTEST_WHY, MOST_PHOTOS = 200, 4, 12


@dataclass(frozen=True, slots=True)
class PlateView:
    """A plate as a form's texts; seen: what stands for exactly these, to notice that somebody else changed them;
    changes: the newest lines of the trail about it.
    """

    tag: str
    place: str
    texts: Mapping[str, str]
    seen: str
    photos: Sequence[PhotoShown]
    changes: Sequence[TrailLine]


@dataclass(frozen=True, slots=True)
class PlateTyped:
    """What was typed so far: doubts in words, and a sentence for each field that can't be read yet."""

    findings: Sequence[Finding]
    refused: Mapping[str, str]


def plate_texts(motor: Motor, winding: WindingRow) -> dict[str, str]:
    """The plate on record as it was typed."""
    texts = {name: _text(getattr(motor, column)) for name, column in ON_MOTOR.items()}
    return texts | {name: _text(getattr(winding, name)) for name in ON_WINDING}


def _text(value: object) -> str:
    if isinstance(value, Decimal):
        return f"{value.normalize():f}"
    return "" if value is None or value is False else "yes" if value is True else str(value)


def _seen(texts: Mapping[str, str]) -> str:
    return hashlib.sha256(json.dumps(sorted(texts.items())).encode()).hexdigest()[:24]


def plate_view(store: Store, tag: str) -> PlateView:
    """As on record. Raises Unknown."""
    with store() as session:
        motor, winding = with_winding(session, tag)
        texts = plate_texts(motor, winding)
        photos = [line_of(PhotoShown, row) for row in photo_rows.of_plate(session, motor.id)]
        place = motor.position.name if motor.position else ""
        about = [line for line in trail.lines(session, tag=motor.tag) if line.action in ("plate changed", "plate read")]
        return PlateView(motor.tag, place, texts, _seen(texts), photos, about)


def typed_plate(texts: Mapping[str, str], now: datetime) -> PlateTyped:
    """What is typed so far, judged: an empty field is no mistake while typing goes on."""
    f = Fields(texts)
    motor, winding = read_plate(f, "", now)
    refused = {name: said for name, said in f.refused.items() if texts.get(name, "").strip()}
    if refused or motor.rated_voltage_v is None:
        return PlateTyped((), refused)
    system = Fields(texts)
    volts = system.take("system_voltage_v", lambda text: float(text.replace(",", ".")) if text else None)
    return PlateTyped(tuple(plate_findings(plate_of(motor), winding.lead_scheme, volts)), refused)


def change_plate(
    store: Store, actor: Actor, tag: str, texts: Mapping[str, str], why: str, seen: str, now: datetime
) -> bool:
    """Put what the metal really shows on record; False where nothing differs. Raises Forbidden, Unknown, FormRefused:
    by field, without a reason, or where somebody changed it since it was seen.
    """
    actor.need(Action.REGISTER_MOTOR)
    f = Fields(texts)
    reason = " ".join(why.split())
    with store.begin() as session:
        motor, winding = with_winding(session, tag)
        motor_rows.lock(session, motor.id)
        session.refresh(motor)
        session.refresh(winding)
        read, wound = read_plate(f, motor.tag, now)
        before, given = plate_texts(motor, winding), plate_texts(read, wound)
        differs = [name for name in before if before[name] != given[name]]
        if differs and seen != _seen(before):
            said = "Somebody changed it meanwhile: on record now is "
            f.refused |= {name: f"{said}{before[name] or 'nothing'}." for name in differs if name not in f.refused}
            f.refused.setdefault("why", "The plate was changed while this page was open: look at it again.")
        if differs and not SHORTEST_WHY <= len(reason) <= LONGEST_WHY:
            f.refused.setdefault("why", f"What was wrong, in {SHORTEST_WHY} to {LONGEST_WHY} characters.")
        began = _rebuild(session, motor, read.built_year, f) if not f.refused and "built_year" in differs else []
        if f.refused:
            raise FormRefused(f.refused)
        if not differs:
            return False
        for column in ON_MOTOR.values():
            setattr(motor, column, getattr(read, column))
        for column in ON_WINDING:
            setattr(winding, column, getattr(wound, column))
        if "lead_scheme" in differs:
            winding.own = without_names(winding.own)
        note_changes(session, actor, now, *dict.fromkeys((motor, winding, *began)))
        what = ", ".join(f"{name} {before[name] or 'empty'} to {given[name] or 'empty'}" for name in differs)
        trail.write(session, actor, "plate changed", now, motor.id, detail=f"{reason}: {what}")
        return True


def _rebuild(session: Session, motor: Motor, year: int | None, f: Fields) -> list[Base]:
    """The first winding and the beginning of its life follow the year it was built in; returns what was changed."""
    first = first_day(session, motor.id)
    if year and first and date(year, 1, 1) > first:
        f.refused["built_year"] = f"Readings of it are on record since {first}: a year up to that."
        return []
    windings = session.query(WindingRow).filter_by(motor_id=motor.id).order_by(WindingRow.since).all()
    if not year or windings[0].reason != "built":
        return []
    since = date(year, 1, 1)
    if len(windings) > 1 and since >= windings[1].since:
        f.refused["built_year"] = f"It was rewound on {windings[1].since}: a year up to that."
        return []
    windings[0].since = since
    events = session.query(LifeEvent).filter_by(motor_id=motor.id, kind="built").all()
    for event in events:
        event.on_day = since
    return [windings[0], *events]


def keep_plate_photo(store: Store, actor: Actor, tag: str, raw: bytes, note: str, token: str, now: datetime) -> None:
    """Keep a photo of the plate. The same token again changes nothing. Raises Forbidden, Unknown, RecordRefusal."""
    actor.need(Action.KEEP_ENTRY)
    row = photo_row(actor, raw, note, token, now)
    try:
        with store.begin() as session:
            motor = motor_named(session, tag)
            if photo_rows.by_token(session, token) is not None:
                return
            if len(photo_rows.of_plate(session, motor.id)) >= MOST_PHOTOS:
                raise RecordRefusal("photo", f"{MOST_PHOTOS} photos", f"at most {MOST_PHOTOS} photos of a plate")
            row.motor_id = motor.id
            session.add(row)
            trail.write(session, actor, "plate photographed", now, motor.id, detail=told(row))
    except IntegrityError as error:
        if not stands_in(error, "photo"):
            raise
        return  # the same form sent twice at once


def take_plate_photo_back(store: Store, actor: Actor, tag: str, photo_id: int, now: datetime, reason: str = "") -> None:
    """Mark a photo as taken back; it stays on record. Twice is once. Raises Forbidden, Unknown, FormRefused."""
    actor.need(Action.TAKE_BACK)
    with store.begin() as session:
        motor = motor_named(session, tag)
        row = session.get(PhotoRow, photo_id, with_for_update=True)
        if row is None or row.motor_id != motor.id:
            raise Unknown("photo", str(photo_id), "a photo of this plate")
        if row.taken_back_at is None:
            why = actor.need_take_back(row.who, row.at, now, reason)
            row.taken_back_at, row.taken_back_by = now, actor.who
            told = ": ".join(part for part in (row.note, why) if part)
            trail.write(session, actor, "photo taken back", now, motor.id, detail=told)
