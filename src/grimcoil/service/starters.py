"""The sheet of a position's starter: its figures as kept, judged with the motor that stands there, its checks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from pydantic import ValidationError
from sqlalchemy.orm import Session

from grimcoil.core.choices import Starter
from grimcoil.core.errors import FormRefused, RecordRefusal, Unknown
from grimcoil.core.findings import Finding
from grimcoil.core.people import Action, Actor
from grimcoil.core.plate import Plate
from grimcoil.core.starter.checks import checks
from grimcoil.core.starter.figures import Check, StarterFigures, StarterPlace, inspect_months, judged
from grimcoil.exchange import motors as formats
from grimcoil.exchange.strict import all_refusals
from grimcoil.service.details import nested, said
from grimcoil.service.register import note_changes
from grimcoil.service.subjects import circuit_of, plate_of, position_file
from grimcoil.store import lives as rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.lines import PlaceLine, line_of
from grimcoil.store.tables import Position

FIELDS = tuple(formats.StarterSheet.model_fields)


@dataclass(frozen=True, slots=True)
class StarterView:
    """A starter's sheet. tags: what stands at its position; texts: what is kept, by field; months: between looks at
    its contacts.
    """

    place: PlaceLine
    tags: Sequence[str]
    on: StarterPlace
    texts: Mapping[str, str]
    findings: Sequence[Finding]
    checks: Sequence[Check]
    months: int


def starter_sheet(store: Store, position_id: int) -> StarterView:
    """Two queries. Raises Unknown."""
    with store() as session:
        found = _position(session, position_id)
        motors = rows.standing_at(session, position_id)
        plate = plate_of(motors[0]) if motors else None
        line = line_of(PlaceLine, found)
        file = position_file(line)
        on = _placed(file, plate)
        kept = {} if file.starter_figures is None else file.starter_figures.model_dump(exclude_none=True)
        texts = {name: _text(kept.get(name)) for name in FIELDS} | {"starter": file.starter or ""}
        months = inspect_months(on.starter, on.figures.starts_per_hour)
        return StarterView(line, [one.tag for one in motors], on, texts, judged(on), checks(on), months)


def keep_starter(store: Store, actor: Actor, position_id: int, texts: Mapping[str, str], now: datetime) -> bool:
    """Onto the position, with what it was and is in the chain; the same again changes nothing and says so.

    texts: by field of the format's `starter_figures`, and `starter`. Raises Forbidden, Unknown, FormRefused.
    """
    actor.need(Action.REGISTER_MOTOR)
    with store.begin() as session:
        position = _position(session, position_id, lock=True)
        before = position_file(position)
        given = _read(before, texts)
        if given == before:
            return False
        position.circuit = circuit_of(given)
        note_changes(session, actor, now, position)
        trail.write(session, actor, "starter kept", now, detail=position.name)
        return True


def _position(session: Session, position_id: int, lock: bool = False) -> Position:
    found = rows.position(session, position_id, lock)
    if found is None:
        raise Unknown("position", str(position_id), "a position on the register")
    return found


def _placed(file: formats.Position, plate: Plate | None) -> StarterPlace:
    sheet = file.starter_figures or formats.StarterSheet()
    return StarterPlace(
        starter=file.starter or Starter.DIRECT,  # the page says where it isn't known
        figures=StarterFigures(**sheet.model_dump()),
        plate=plate,
        overload=formats.position_of(file).overload,
        control_v=file.control_v,
        fused=file.protection == "fuses",
    )


def _read(before: formats.Position, texts: Mapping[str, str]) -> formats.Position:
    """The position with this sheet. Raises FormRefused with a sentence by field."""
    document, _ = nested({name: texts.get(name, "") for name in FIELDS})
    starter = texts.get("starter") or None
    plain = before.model_dump(mode="json", exclude_none=True, exclude={"starter_figures", "starter"})
    try:
        given = formats.Position.model_validate(plain | {"starter_figures": document or None, "starter": starter})
        StarterFigures(**(given.starter_figures or formats.StarterSheet()).model_dump())
    except ValidationError as error:
        raise FormRefused(
            {one.where.removeprefix("starter_figures."): said(one) for one in all_refusals(error)}
        ) from None
    except RecordRefusal as refusal:
        raise FormRefused({refusal.where.removeprefix("starter_figures."): said(refusal)}) from None
    return given


def _text(value: object) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return "" if value is None else f"{value:.12g}"
