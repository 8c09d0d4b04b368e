"""Positions: listed, put on the register, changed, used no more and used again."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from pydantic import ValidationError
from sqlalchemy.orm import Session

from grimcoil.core.choices import Criticality
from grimcoil.core.errors import AlreadyKept, FormRefused, RecordRefusal, Unknown
from grimcoil.core.people import Action, Actor
from grimcoil.exchange import motors as formats
from grimcoil.exchange.strict import all_refusals
from grimcoil.service.details import Texts, field_of, flat, nested, said
from grimcoil.service.fields import Fields, one_of, short
from grimcoil.service.motor_states import restate
from grimcoil.service.register import note_changes
from grimcoil.service.subjects import position_file, put_circuit
from grimcoil.store import lives, places, trail
from grimcoil.store import motors as motor_rows
from grimcoil.store.engine import Store
from grimcoil.store.places import PAGE, ListedPlace
from grimcoil.store.tables import NOTE, Position

CRITICALITY = "position.criticality"  # of the register alone; the other fields are the formats'


@dataclass(frozen=True, slots=True)
class PlaceList:
    """A page of positions, the areas there are; after: so many come before the next page, None where there is none."""

    rows: Sequence[ListedPlace]
    areas: Sequence[str]
    after: int | None


@dataclass(frozen=True, slots=True)
class PlaceForm:
    """A position as a form's texts; number None: one to be put on the register."""

    number: int | None
    name: str
    texts: Texts
    motors: Sequence[str]
    retired_on: date | None = None


def listed(store: Store, area: str = "", words: str = "", after: int = 0) -> PlaceList:
    """A page of them."""
    with store() as session:
        found = places.listed(session, area, " ".join(words.split()), after)
        more = after + PAGE if len(found) > PAGE else None
        return PlaceList(found[:PAGE], places.areas(session), more)


def place_form(store: Store, number: int) -> PlaceForm:
    """As on record. Raises Unknown."""
    with store() as session:
        row = _place(session, number)
        texts = flat("position", position_file(row).model_dump(mode="json", exclude_none=True))
        texts[CRITICALITY] = row.criticality
        motors = [one.tag for one in lives.standing_at(session, number)]
        return PlaceForm(number, row.name, texts, motors, row.retired_on)


def keep_place(store: Store, actor: Actor, number: int | None, texts: Mapping[str, str], now: datetime) -> int:
    """Onto the register, a new one or over what stands there, with the rows before and after in the chain; returns its
    number. The motors that stand there are due by what it is now.

    Raises Forbidden, Unknown, FormRefused with a sentence by field.
    """
    actor.need(Action.REGISTER_MOTOR)
    given, criticality = _read(texts)
    with store.begin() as session:
        same = motor_rows.position_named(session, given.name)
        if same is not None and same.id != number:
            again = " It is used no more: use it again." if same.retired_on else ""
            raise FormRefused({"position.name": f"“{same.name}” is on the register already.{again}"})
        row = Position(name=given.name) if number is None else _place(session, number, lock=True)
        before = position_file(row) if number else None, row.criticality
        session.add(row)
        row.name, row.area, row.criticality = given.name, given.area or "", criticality
        put_circuit(row, given)
        if (position_file(row) if number else None, row.criticality) == before and number:
            return number
        note_changes(session, actor, now, row)
        for motor in lives.standing_at(session, row.id):
            restate(session, motor.id, now)
        what = "position changed" if number else "position registered"
        trail.write(session, actor, what, now, detail=row.name)
        return row.id


def retire(store: Store, actor: Actor, number: int, why: str, now: datetime) -> None:
    """A position that is used no more: off the lists to pick from, its past stays. Twice is once.

    Raises Forbidden, Unknown, FormRefused without a reason, AlreadyKept where a motor stands there.
    """
    actor.need(Action.REGISTER_MOTOR)
    fields = Fields({"why": why})
    reason = fields.take("why", short(NOTE), required=True)
    if fields.refused:
        raise FormRefused(fields.refused)
    with store.begin() as session:
        row = _place(session, number, lock=True)
        if row.retired_on is not None:
            return
        if there := lives.standing_at(session, number):
            tags = ", ".join(one.tag for one in there)
            raise AlreadyKept("Use no more", f"{tags} stands there", "move it to another position or the store first")
        row.retired_on, row.retired_by, row.retired_why = now.date(), actor.who, reason
        note_changes(session, actor, now, row)
        trail.write(session, actor, "position retired", now, detail=f"{row.name}: {reason}")


def use_again(store: Store, actor: Actor, number: int, now: datetime) -> None:
    """A retired position is used again. Twice is once. Raises Forbidden, Unknown."""
    actor.need(Action.REGISTER_MOTOR)
    with store.begin() as session:
        row = _place(session, number, lock=True)
        if row.retired_on is None:
            return
        row.retired_on = row.retired_by = row.retired_why = None
        note_changes(session, actor, now, row)
        trail.write(session, actor, "position used again", now, detail=row.name)


def _place(session: Session, number: int, lock: bool = False) -> Position:
    found = lives.position(session, number, lock)
    if found is None:
        raise Unknown("position", str(number), "a position on the register")
    return found


def _read(texts: Mapping[str, str]) -> tuple[formats.Position, str]:
    fields = Fields(texts)
    criticality = fields.take(CRITICALITY, one_of(*Criticality)) or Criticality.ROUTINE.value
    fields.take("position.name", short(100), required=True)
    fields.take("position.area", short(100))
    document, names = nested({name: text for name, text in texts.items() if name != CRITICALITY})
    refused, given = dict(fields.refused), None
    try:
        told: dict[str, Any] = document.get("position", {})
        given = formats.Position.model_validate(told)
        formats.position_of(given)
    except ValidationError as error:
        found = {f"position.{one.where}": said(one) for one in all_refusals(error)}
        refused = {field_of(where, names): sentence for where, sentence in found.items()} | refused
    except RecordRefusal as refusal:
        refused = {field_of(refusal.where, names): said(refusal)} | refused
    if refused or given is None:
        raise FormRefused(refused)
    return given, criticality
