"""Side sheets: judged as they are typed, kept with a motor on demand, taken back again."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, get_args

from pydantic import ValidationError
from sqlalchemy.exc import IntegrityError

from grimcoil.core.errors import FormRefused, RecordRefusal, Unknown
from grimcoil.core.findings import Result
from grimcoil.core.follow_up import Origin, of_sheet
from grimcoil.core.people import Action, Actor
from grimcoil.core.side.kinds import SIDE_KINDS
from grimcoil.exchange.side import READERS
from grimcoil.exchange.strict import all_refusals
from grimcoil.service.again import stands_in
from grimcoil.service.details import WHOLE, said
from grimcoil.service.register import note_changes
from grimcoil.service.registered import motor_named
from grimcoil.service.tasks import open_for, shut_for
from grimcoil.store import motors as motor_rows
from grimcoil.store import side_sheets as rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.lines import MotorLine, motor_line
from grimcoil.store.side_sheets import SideLine
from grimcoil.store.side_tables import SideSheet

_MODELS: Mapping[str, Any] = {get_args(made.model_fields["kind"].annotation)[0]: made for made in READERS}  # type: ignore[attr-defined]
CHOSEN = "words"  # of a list, any number


@dataclass(frozen=True, slots=True)
class SideKept:
    """A sheet that was kept, judged by today's rules."""

    line: SideLine
    result: Result


@dataclass(frozen=True, slots=True)
class SideView:
    """A motor with its side sheets, newest first."""

    motor: MotorLine
    kept: Sequence[SideKept]


def side_view(store: Store, tag: str) -> SideView:
    """Two queries. Raises Unknown."""
    with store() as session:
        motor = motor_named(session, tag)
        lines = rows.of_motor(session, motor.id)
        return SideView(motor_line(motor), [SideKept(line, _judged(line.kind, line.document)) for line in lines])


def judge_side(kind: str, texts: Mapping[str, str], chosen: Sequence[str] = ()) -> tuple[dict[str, Any], Result]:
    """The sheet as the open format writes it, and what it shows. texts: by field, as a form names them
    (`holders.1`); chosen: words of a list.

    Raises Unknown for a kind that there isn't, FormRefused with a sentence by field.
    """
    _known(kind)
    document = _document(texts, chosen)
    try:
        return document, _judged(kind, document)
    except ValidationError as error:
        raise FormRefused({_field(one.where): said(one) for one in all_refusals(error)}) from None
    except RecordRefusal as refusal:
        raise FormRefused({_field(refusal.where): said(refusal)}) from None


def _document(texts: Mapping[str, str], chosen: Sequence[str]) -> dict[str, Any]:
    """A form's texts by the format's names, empty ones left out: `holders.1` stands in `holders` under `1`."""
    out: dict[str, Any] = {CHOSEN: list(chosen)} if chosen else {}
    for name, text in texts.items():
        words = re.sub(r"^(\d+),(\d+)$", r"\1.\2", " ".join(text.split()))
        if not words:
            continue
        group, _, key = name.partition(".")
        if key:
            out.setdefault(group, {})[key] = words
        else:
            out[name] = int(words) if name in WHOLE and words.isdecimal() else words
    return out


def _known(kind: str) -> None:
    if kind not in SIDE_KINDS:
        raise Unknown("other test", kind[:40], "one of " + ", ".join(SIDE_KINDS))


def _field(where: str) -> str:
    """The form's field of a path; of a list the list."""
    path = where.removeprefix("sheet.")
    return CHOSEN if path.startswith(CHOSEN) else path


def _judged(kind: str, document: Mapping[str, Any]) -> Result:
    given = _MODELS[kind].model_validate({"kind": kind, **document})
    _, judge = SIDE_KINDS[kind]
    return judge(READERS[type(given)](given, "sheet"))


def _words_of(document: Mapping[str, Any]) -> list[str]:
    return [*document.get(CHOSEN, ()), *document.get("listening", {}).values()]


def keep_side(
    store: Store, actor: Actor, tag: str, kind: str, texts: Mapping[str, str], chosen: Sequence[str], token: str,
    now: datetime,
) -> None:  # fmt: skip
    """Keep a sheet with its motor; the same token again changes nothing. Raises Forbidden, Unknown, FormRefused."""
    actor.need(Action.KEEP_ENTRY)
    document, result = judge_side(kind, texts, chosen)
    if not document:
        raise FormRefused({"form": "Nothing is typed yet."})
    try:
        with store.begin() as session:
            motor = motor_named(session, tag)
            if rows.has_token(session, token):
                return
            verdict = result.verdict.value
            made = SideSheet(motor_id=motor.id, token=token, kind=kind, document=document, verdict=verdict, at=now)
            made.who = actor.who
            session.add(made)
            note_changes(session, actor, now, made)
            trail.write(session, actor, "side sheet kept", now, motor.id, detail=f"{kind.replace('_', ' ')}: {verdict}")
            asked = of_sheet(_words_of(document), result.findings)
            open_for(session, actor, motor.id, asked, Origin.SIDE_SHEET, made.id, now)
    except IntegrityError as error:
        if not stands_in(error, "side_sheet"):
            raise
        return  # the same form sent twice at once


def take_back_side(store: Store, actor: Actor, tag: str, number: int, now: datetime, reason: str = "") -> None:
    """Mark a sheet as taken back, once. Raises Forbidden, Unknown, FormRefused."""
    actor.need(Action.TAKE_BACK)
    with store.begin() as session:
        motor = motor_named(session, tag)
        motor_rows.lock(session, motor.id)
        found = rows.row(session, motor.id, number)
        if found is None:
            raise Unknown("other test", str(number), f"another test of {motor.tag}")
        if found.taken_back_at is None:
            why = actor.need_take_back(found.who, found.at, now, reason)
            found.taken_back_at, found.taken_back_by = now, actor.who
            note_changes(session, actor, now, found)
            shut_for(session, actor, motor.id, Origin.SIDE_SHEET, found.id, now)
            told = ": ".join(part for part in (found.kind.replace("_", " "), why) if part)
            trail.write(session, actor, "side sheet taken back", now, motor.id, detail=told)
