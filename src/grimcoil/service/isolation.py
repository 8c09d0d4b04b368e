"""The isolation card of a position: every source with where it comes from, where it is locked, what was found live."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from pydantic import ValidationError
from sqlalchemy.orm import Session

from grimcoil.core.choices import SourceKind
from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.errors import FormRefused, Unknown
from grimcoil.core.isolation import WORDS, sources_of
from grimcoil.core.people import Action, Actor
from grimcoil.core.plan.entries import Entry
from grimcoil.core.plan.steps import Slot
from grimcoil.core.subject import Source
from grimcoil.exchange import motors as formats
from grimcoil.exchange.strict import all_refusals
from grimcoil.service.details import said
from grimcoil.service.register import note_changes
from grimcoil.service.subjects import circuit_of, position_file, subject_of
from grimcoil.store import lives as rows
from grimcoil.store import motors as motor_rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.lines import PlaceLine, line_of
from grimcoil.store.tables import Position


@dataclass(frozen=True, slots=True)
class Row:
    """A row of the card as it is typed; kind empty: not on it."""

    kind: str = ""
    name: str = ""
    from_: str = ""
    lock_at: str = ""


@dataclass(frozen=True, slots=True)
class CardView:
    """The card, and what follows from the record of the motor that stands there, whether it is on the card or not."""

    place: PlaceLine
    tags: Sequence[str]
    sources: Sequence[Source]


def card(store: Store, position_id: int) -> CardView:
    """A position's card. Three queries. Raises Unknown."""
    with store() as session:
        found = _position(session, position_id)
        motors = rows.standing_at(session, position_id)
        sources = formats.position_of(position_file(found)).sources
        for motor in motors[:1]:
            winding = motor_rows.winding_now(session, motor.id)
            if winding is not None:
                sources = sources_of(subject_of(motor, winding, found, FIELD_GENERAL))
        return CardView(line_of(PlaceLine, found), [one.tag for one in motors], sources or (Source(SourceKind.MAIN),))


def keep_card(store: Store, actor: Actor, position_id: int, typed: Sequence[Row], now: datetime) -> bool:
    """Onto the position, with what it was and is in the chain; the same again changes nothing and says so. What was
    found live stays on its source, and its source on the card.

    Raises Forbidden, Unknown, FormRefused with a sentence by row.
    """
    actor.need(Action.REGISTER_MOTOR)
    with store.begin() as session:
        position = _position(session, position_id, lock=True)
        before = position_file(position)
        given = _read(before, typed)
        if given == before:
            return False
        _put(session, actor, position, given, now, "isolation card kept")
        return True


def note_find(
    session: Session, actor: Actor, place: PlaceLine | None, slot: Slot, entry: Entry, now: datetime
) -> None:  # fmt: skip
    """Volts found where it should have been dead go onto the card by themselves, by whom and when, in the chain."""
    if place is None or entry.reading is None:
        return
    position = _position(session, place.id, lock=True)
    file = position_file(position)
    kind = next((end for end in slot.ends if end in set(SourceKind)), SourceKind.MAIN)
    find = {"found_v": entry.reading.amount.low, "found_at": f"{entry.at.date()}", "found_by": entry.who}
    sources = list(file.sources)
    alike = [i for i, one in enumerate(sources) if one.source == kind]
    named = (i for i in alike if sources[i].name == slot.label)  # of several of a kind the one that the point names
    at = next(named, alike[0] if alike else None)
    if at is None:
        sources.append(formats.IsolationSource.model_validate({"source": kind} | find))
    else:
        sources[at] = sources[at].model_copy(update=find)
    if len(sources) <= formats.MOST_SOURCES:
        given = file.model_copy(update={"sources": sources})
        _put(session, actor, position, given, now, f"found live: {entry.text} V")


def _put(session: Session, actor: Actor, position: Position, given: formats.Position, now: datetime, word: str) -> None:
    position.circuit = circuit_of(given)
    note_changes(session, actor, now, position)
    trail.write(session, actor, word, now, detail=position.name)


def _position(session: Session, position_id: int, lock: bool = False) -> Position:
    found = rows.position(session, position_id, lock)
    if found is None:
        raise Unknown("position", str(position_id), "a position on the register")
    return found


def _read(before: formats.Position, typed: Sequence[Row]) -> formats.Position:
    """The position with the card as typed: rows without a source are off it. Raises FormRefused."""
    standing: dict[str, list[formats.IsolationSource]] = {}
    for one in before.sources:
        standing.setdefault(one.source, []).append(one)
    refused: dict[str, str] = {}
    made: list[formats.IsolationSource] = []
    for number, row in enumerate(typed):
        if not row.kind:
            continue
        was = standing.get(row.kind, [])
        old = was.pop(0) if was else None
        found = old.model_dump(include={"found_v", "found_at", "found_by"}, exclude_none=True) if old else {}
        plain = {"source": row.kind, "name": row.name, "from": row.from_, "lock_at": row.lock_at}
        try:
            kept = {key: text for key, text in plain.items() if text}
            made.append(formats.IsolationSource.model_validate(kept | found))
        except ValidationError as error:
            refused[str(number)] = said(all_refusals(error)[0])
    for left in (one for some in standing.values() for one in some if one is not None and one.found_v is not None):
        what = f"{left.found_v:g} V was found live on it" + (f" on {left.found_at}" if left.found_at else "")
        refused["0"] = (
            f"{left.name or WORDS[left.source]}: {what}; it stays on the card. Say in its name what became of it."
        )
    if len(made) > formats.MOST_SOURCES:
        refused["0"] = f"{len(made)} sources were given; at most {formats.MOST_SOURCES} go on a card."
    if refused:
        raise FormRefused(refused)
    return before.model_copy(update={"sources": made})
