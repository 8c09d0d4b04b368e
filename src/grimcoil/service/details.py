"""What is on record of a motor beyond its plain plate: ratings, accessories, brake, maker's plate, baseline, and the
circuit of its position. One form, its fields named as the open formats name them (`motor.ratings.0.speed`).
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from pydantic import ValidationError
from sqlalchemy.orm import Session

from grimcoil.core.errors import FormRefused, RecordRefusal
from grimcoil.core.people import Action, Actor
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.recipes import build as build_plan
from grimcoil.core.points import groups_of
from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.exchange import motors as formats
from grimcoil.exchange.strict import all_refusals
from grimcoil.service.motor_states import restate
from grimcoil.service.register import note_changes
from grimcoil.service.registered import place_in_use, with_winding
from grimcoil.service.subjects import DOCUMENTS, OWN, motor_file, position_file, put_circuit, take_in
from grimcoil.store import motors as motor_rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.tables import Motor, Position, Stay, WindingRow

ON_MOTOR = ("mounting", "enclosure", *DOCUMENTS, *OWN)
MAPS = frozenset({"lead_names", "lead_colours"})  # by the leads' numbers, which count nothing
LISTS = frozenset({"leads", "control_chain", "protectors", "relays"})
FIGURES = frozenset({"rated_voltage_v", "full_load_current_a"})
WHOLE = frozenset({"trip_class", "generators"})  # one of some numbers: a text isn't one of them
Texts = dict[str, str]


@dataclass(frozen=True, slots=True)
class Details:
    """What stands there as a form's texts by field, and the pairs of leads a baseline is read between."""

    tag: str
    place: str
    texts: Texts
    pairs: Sequence[str]
    leads: Sequence[str] = ()


def details(store: Store, tag: str) -> Details:
    """As on record. Raises Unknown."""
    with store() as session:
        motor, winding = with_winding(session, tag)
        kept = motor_file(motor, winding).model_dump(mode="json", include=set(ON_MOTOR), exclude_none=True)
        texts = flat("motor", {key: value for key, value in kept.items() if value})
        texts |= flat("position", position_file(motor.position).model_dump(mode="json", exclude_none=True))
        place = motor.position.name if motor.position else ""
        leads = [lead for group in groups_of(winding.lead_scheme) for lead in group]
        return Details(motor.tag, place, texts, pairs_of(winding.lead_scheme), leads)


def pairs_of(scheme: str) -> list[str]:
    """The pairs that a routine job reads on this lead scheme."""
    plan = build_plan(Brief(scheme if scheme in SCHEMES else "three-lead"))
    steps = [step for step in plan.steps if step.kind == "winding_resistance"]
    return list(
        dict.fromkeys(slot.part for step in steps for slot in step.slots if re.fullmatch(r"\d+-\d+", slot.part))
    )


def keep_details(store: Store, actor: Actor, tag: str, texts: Mapping[str, str], now: datetime) -> bool:
    """Onto the register, with the rows before and after in the chain; the same again changes nothing and says so.

    Raises Forbidden, Unknown, FormRefused with a sentence by field.
    """
    actor.need(Action.REGISTER_MOTOR)
    with store.begin() as session:
        motor, winding = with_winding(session, tag)
        motor_rows.lock(session, motor.id)
        given, place = _read(motor, winding, texts)
        before = motor_file(motor, winding), position_file(motor.position)
        take_in(given, motor, winding)
        position = _placed(session, actor, motor, place, now)
        if (motor_file(motor, winding), position_file(position)) == before:
            return False
        changed: list[Motor | WindingRow | Position] = [motor, winding]
        homeless = motor.position_id is None
        note_changes(session, actor, now, *changed, *([position] if position else []))
        if homeless and position is not None:
            stay = Stay(motor_id=motor.id, position_id=position.id, since=now.date())
            session.add(stay)
            note_changes(session, actor, now, stay)
            restate(session, motor.id, now)  # when it is due hangs on what its place is worth
        trail.write(session, actor, "record changed", now, motor.id)
        return True


def put_build(session: Session, actor: Actor, tag: str, texts: Mapping[str, str], now: datetime) -> None:
    """Ratings, brake and the like of a motor that has just come onto the register, in the same transaction. Raises
    FormRefused.
    """
    motor, winding = with_winding(session, tag)
    given, _ = _read(motor, winding, texts)
    take_in(given, motor, winding)
    note_changes(session, actor, now, motor, winding)


def _placed(session: Session, actor: Actor, motor: Motor, given: formats.Position, now: datetime) -> Position | None:
    """The motor's position with what was typed; a motor without any gets the one that was named."""
    position = motor.position
    if position is None:
        if not given.name:
            return None
        try:
            position = place_in_use(session, given.name)
        except RecordRefusal as refusal:
            raise FormRefused({"position.name": f"{refusal.accepted}."}) from None
        if position is None:
            position = Position(name=given.name, area=given.area or "", criticality="routine")
            session.add(position)
            note_changes(session, actor, now, position)
        motor.position = position
    put_circuit(position, given)
    return position


def _read(motor: Motor, winding: WindingRow, texts: Mapping[str, str]) -> tuple[formats.Motor, formats.Position]:
    document, names = nested(texts)
    plain = motor_file(motor, winding).model_dump(mode="json", exclude_none=True, exclude=set(ON_MOTOR))
    place = {"name": motor.position.name} if motor.position else {}
    refused: dict[str, str] = {}
    given = position = None
    try:
        given = formats.Motor.model_validate(plain | document.get("motor", {}))
        formats.checked(given)
    except ValidationError as error:
        refused |= {f"motor.{one.where}": said(one) for one in all_refusals(error)}
    except RecordRefusal as refusal:
        refused[refusal.where] = said(refusal)
    try:
        position = formats.Position.model_validate(document.get("position", {}) | place)
        formats.position_of(position)
    except ValidationError as error:
        refused |= {f"position.{one.where}": said(one) for one in all_refusals(error)}
    except RecordRefusal as refusal:
        refused[refusal.where] = said(refusal)
    if refused or given is None or position is None:
        raise FormRefused({field_of(where, names): sentence for where, sentence in refused.items()})
    return given, position


def said(refusal: RecordRefusal) -> str:
    """The sentence beside the field itself, which needn't name it."""
    return RecordRefusal("", refusal.found, refusal.accepted, refusal.example).sentence()


def field_of(where: str, names: Mapping[str, str]) -> str:
    """The form's field of a path: rows left empty don't count in a document."""
    for path, name in names.items():
        if where == path or where.startswith(path + "."):
            return name + where[len(path) :]
    return where


def nested(texts: Mapping[str, str]) -> tuple[dict[str, Any], dict[str, str]]:
    """A form's texts as a document, empty fields and rows left out; and the form's name of each row's path."""
    out: dict[str, Any] = {}
    for name, text in texts.items():
        words = " ".join(text.split())
        if words:
            _put(out, name.split("."), _value(name.rpartition(".")[2], words))
    names: dict[str, str] = {}
    return _rows_to_lists(out, "", "", names), names


def _put(out: dict[str, Any], path: Sequence[str], value: Any) -> None:
    for part in path[:-1]:
        out = out.setdefault(part, {})
        if not isinstance(out, dict):
            raise FormRefused({".".join(path): "one field can't be a value and hold others"})
    out[path[-1]] = value


def _value(key: str, words: str) -> Any:
    if key in LISTS:
        return re.split(r"[\s,]+", words)
    if key in WHOLE and words.isdecimal():
        return int(words)
    words = re.sub(r"^(\d+),(\d+)$", r"\1.\2", words)
    return re.split(r"\s*/\s*", words) if key in FIGURES and "/" in words else words


def _rows_to_lists(value: Any, path: str, name: str, names: dict[str, str]) -> Any:
    if not isinstance(value, dict):
        return value
    if value and all(key.isdigit() for key in value) and path.rpartition(".")[2] not in MAPS:
        rows = []
        for i, key in enumerate(sorted(value, key=int)):
            names[f"{path}.{i}"] = f"{name}.{key}"
            rows.append(_rows_to_lists(value[key], f"{path}.{i}", f"{name}.{key}", names))
        return rows
    return {key: _rows_to_lists(one, _joint(path, key), _joint(name, key), names) for key, one in value.items()}


def _joint(base: str, key: str) -> str:
    return f"{base}.{key}" if base else key


def flat(path: str, value: Any) -> Texts:
    """A document as a form's texts by field."""
    return dict(_leaves(path, value))


def _leaves(path: str, value: Any) -> Iterator[tuple[str, str]]:
    if isinstance(value, dict):
        for key, one in value.items():
            yield from _leaves(f"{path}.{key}", one)
    elif isinstance(value, list) and path.rpartition(".")[2] not in LISTS | FIGURES:
        for i, one in enumerate(value):
            yield from _leaves(f"{path}.{i}", one)
    elif isinstance(value, list):
        yield path, (" " if path.rpartition(".")[2] in LISTS else "/").join(_text(one) for one in value)
    else:
        yield path, _text(value)


def _text(value: object) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:.12g}" if isinstance(value, float) else str(value)
