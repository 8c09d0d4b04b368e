"""A drying from its first reading to the day it is dry: begun, each act kept behind its gate, taken back, ended."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from pydantic_core import to_json
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from grimcoil.core.choices import LifeKind
from grimcoil.core.drying.cycle import Act, Done, Stage, Stands, shut
from grimcoil.core.drying.hookup import SCHEMES
from grimcoil.core.drying.judge import Drying, Set
from grimcoil.core.errors import FormRefused, GateClosed, RecordRefusal, Unknown
from grimcoil.core.people import Action, Actor
from grimcoil.core.points import groups_of, phases_of
from grimcoil.exchange.drying import FRAME, read_drying
from grimcoil.service.drying_figures import document_of, stands_of, worked_out
from grimcoil.service.fields import Fields, amount, short
from grimcoil.service.register import note_changes
from grimcoil.service.registered import motor_named, with_winding
from grimcoil.service.subjects import motor_file
from grimcoil.store import dryings as rows
from grimcoil.store import jobs as job_rows
from grimcoil.store import motors as motor_rows
from grimcoil.store import trail
from grimcoil.store.drying_tables import DryingEntryRow, DryingRow
from grimcoil.store.dryings import DryingEntryLine, DryingLine, DryingNow
from grimcoil.store.engine import Store
from grimcoil.store.lines import MotorLine, line_of, motor_line
from grimcoil.store.tables import NOTE, Base, LifeEvent, Motor, WindingRow

__all__ = [
    "Beginning", "DryingEntryLine", "DryingView", "Kept", "begin", "beginning", "end", "ends_of", "going_on", "keep",
    "look", "take_back",
]  # fmt: skip
Document = dict[str, Any]
# What of a motor's last signed test forbids to send current through its winding.
NO_HEAT = frozenset({"coil-open", "open-phase", "shorted-turns", "path-between-coils", "path-between-windings"})
DOING = {Stage.HEATED: "drying, heat", Stage.SHORTED: "drying, shorted to frame"}


@dataclass(frozen=True, slots=True)
class Beginning:
    """What a drying of a motor could begin with: hookups its lead scheme allows of, and what speaks against heat."""

    motor: MotorLine
    scheme: str
    hookups: Sequence[str]
    forbids: Sequence[str]
    open_id: int | None
    cold_ohm: str = ""


@dataclass(frozen=True, slots=True)
class DryingView:
    """A drying with its entries, how the winding stands, and what it shows. ends: what has to be read, in words;
    drawn: what was drawn of these very entries, kept with them.
    """

    drying: DryingLine
    motor: MotorLine
    made: Set
    entries: Sequence[DryingEntryLine]
    stands: Stands
    state: Drying
    ends: Sequence[str]
    now: datetime
    drawn: dict[str, Any]

    @property
    def last(self) -> DryingEntryLine | None:
        """The entry that can be taken back."""
        return next((one for one in reversed(self.entries) if one.taken_back_at is None), None)


def ends_of(scheme: str) -> tuple[str, ...]:
    """What has to dry: the winding to frame, and where the phases come out apart each against the next.

    >>> ends_of("three-lead"), ends_of("six-lead")[1]
    (('1-2-3~frame',), '1-4~2-5')
    """
    phases = phases_of(scheme)
    if not phases:
        return (FRAME,)
    groups = groups_of(scheme)
    leads = ["-".join(lead for number in sorted(phase) for lead in groups[number]) for phase in phases]
    every = "-".join(leads)
    return (
        f"{every}~frame",
        *(f"{a}~{b}" for a, b in ((leads[0], leads[1]), (leads[1], leads[2]), (leads[2], leads[0]))),
    )


def beginning(store: Store, tag: str) -> Beginning:
    """What could be begun. Raises Unknown."""
    with store() as session:
        motor, winding = with_winding(session, tag)
        able = [name for name, schemes in SCHEMES.items() if winding.lead_scheme in schemes]
        forbids = _forbids(session, motor.id)
        return Beginning(motor_line(motor), winding.lead_scheme, able, forbids, rows.open_of(session, motor.id))


def _forbids(session: Session, motor_id: int) -> list[str]:
    """Sentences of the last signed job's findings that forbid current through the winding."""
    return [text for code, text in motor_rows.last_findings(session, motor_id) if code in NO_HEAT]


def begin(store: Store, actor: Actor, tag: str, texts: Mapping[str, str], token: str, now: datetime) -> int:
    """Begin a drying; the same token again is the same drying. Raises Forbidden, Unknown, FormRefused, GateClosed,
    RecordRefusal for a job that isn't the motor's.
    """
    actor.need(Action.START_JOB)
    try:
        with store.begin() as session:
            motor, winding = with_winding(session, tag)
            motor_rows.lock(session, motor.id)
            there = rows.by_token(session, token)
            if there is not None:
                return there
            _may_begin(session, motor)
            row = _checked(motor, winding, texts, now)
            row.open_of = motor.id
            row.token, row.started_by, row.job_id = token, actor.who, _job(session, motor, texts.get("job", ""))
            session.add(row)
            trail.write(session, actor, "drying begun", now, motor.id, row.job_id, row.hookup)
            session.flush()
            return row.id
    except IntegrityError:  # the same form sent twice at once
        with store() as session:
            there = rows.by_token(session, token)
            if there is None:
                _may_begin(session, motor_named(session, tag))
                raise
        return there


def _job(session: Session, motor: Motor, text: str) -> int | None:
    """The wet job it comes from, where it comes from one. Raises RecordRefusal."""
    if not text:
        return None
    if not (text.isascii() and text.isdigit() and job_rows.is_job_of(session, int(text), motor.id)):
        raise RecordRefusal("job", text, f"a job on {motor.tag}")
    return int(text)


def _may_begin(session: Session, motor: Motor) -> None:
    going = rows.open_of(session, motor.id)
    if going is not None:
        raise GateClosed("Drying", f"one of {motor.tag} goes on already", "one drying of a motor at a time")
    forbids = _forbids(session, motor.id)
    if forbids:
        wanted = "a winding that is neither open nor shorted: heat would burn it, not dry it"
        raise GateClosed("Drying", forbids[0].rstrip("."), wanted)


def _checked(motor: Motor, winding: WindingRow, texts: Mapping[str, str], now: datetime) -> DryingRow:
    """The row of a new drying; each figure is read as the formats read it. Raises FormRefused."""
    fields = Fields(texts)
    cold_c = fields.take("cold_c", amount(-40, 60, "°C"), required=True)
    limit = fields.take("current_limit_a", amount(0.01, 10_000, "A"))
    if fields.refused:
        raise FormRefused(fields.refused)
    row = DryingRow(
        motor_id=motor.id, state="open", hookup=texts.get("hookup", ""), cold_ohm=texts.get("cold_ohm", "").strip(),
        cold_c=float(cold_c), started_at=now, doing="",
        other_meter=texts.get("other_meter") == "yes",
        current_limit_a=None if limit is None else float(limit),
    )  # fmt: skip
    try:
        known = motor_file(motor, winding).model_dump(mode="json", exclude_none=True)
        read_drying(to_json(document_of(known, row, ())), now)
    except RecordRefusal as refusal:
        names = {"cold.ohm": "cold_ohm", "cold.temperature_c": "cold_c"}
        raise FormRefused({names.get(refusal.where, refusal.where): refusal.sentence()}) from None
    return row


def look(store: Store, drying_id: int, now: datetime) -> DryingView:
    """A drying as it stands. Raises Unknown."""
    with store() as session:
        row = rows.one(session, drying_id)
        return _view(session, row, drying_id, now)


def _view(session: Session, row: DryingRow | None, drying_id: int, now: datetime) -> DryingView:
    motor = motor_rows.placed(session, row.motor_id) if row else None
    if row is None or motor is None:
        raise Unknown("drying", str(drying_id), "a drying on record")
    winding = motor_rows.winding_now(session, motor.id)
    if winding is None:
        raise Unknown("winding", motor.tag, "a motor with a winding on record")
    ends = ends_of(winding.lead_scheme)
    known = to_json(motor_file(motor, winding).model_dump(mode="json", exclude_none=True))
    drying = line_of(DryingLine, row)
    worked = worked_out(session, known, drying, ends)
    return DryingView(
        drying, motor_line(motor), worked.made, worked.entries, worked.stands, worked.state, ends, now,
        worked.drawn,
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Kept:
    """An act as it was typed. at: when it was, where that isn't now."""

    act: Act
    amps: str = ""
    volts: str = ""
    insulation: str = ""
    t_s: float | None = None
    ends: str = ""
    rotated_to: str = ""
    at: datetime | None = None


def keep(store: Store, actor: Actor, drying_id: int, given: Kept, token: str, now: datetime) -> DryingView:
    """Keep an act or a reading behind its gate. The same token again changes nothing.

    Raises Forbidden, Unknown, GateClosed, RecordRefusal at the field.
    """
    actor.need(Action.KEEP_ENTRY)
    with store.begin() as session:
        row = _open(session, drying_id)
        if rows.has_token(session, drying_id, token):
            return _view(session, row, drying_id, now)
        before = _view(session, row, drying_id, now)
        at = _moment(before, given, now)
        closed = shut(
            before.stands, Done(given.act, now if given.act is Act.FREED else at, given.t_s or 0.0, given.ends)
        )
        if closed is not None:
            raise GateClosed("Drying", closed.found, closed.accepted)
        entry = DryingEntryRow(
            drying_id=drying_id, seq=rows.next_seq(session, drying_id), token=token, act=given.act.value, at=at,
            kept_at=now, who=actor.who, amps=given.amps or None, volts=given.volts or None,
            insulation=given.insulation or None, t_s=given.t_s, ends=given.ends or None,
            rotated_to=given.rotated_to or None,
        )  # fmt: skip
        session.add(entry)
        session.flush()
        try:
            after = _view(session, row, drying_id, now)
        except RecordRefusal as refusal:
            where = refusal.where.rpartition(".")[2]
            field = where if where in ("amps", "volts", "insulation", "rotated_to") else "amps"
            raise RecordRefusal(field, refusal.found, refusal.accepted, refusal.example) from None
        _follow(row, after.stands)
        trail.write(session, actor, "drying entry", now, row.motor_id, row.job_id, given.act.value)
        return after


def _open(session: Session, drying_id: int) -> DryingRow:
    row = rows.locked(session, drying_id)
    if row is None:
        raise Unknown("drying", str(drying_id), "a drying on record")
    if row.state != "open":
        raise GateClosed("Drying", "it was ended", "a drying that goes on")
    return row


def _moment(before: DryingView, given: Kept, now: datetime) -> datetime:
    """When it was: now, or as typed, between the last entry and now; readings of one hold share its start."""
    if given.act is Act.READ and before.stands.stage is Stage.CHARGED and before.stands.since is not None:
        return before.stands.since
    if given.at is None:
        return now if given.act is not Act.READ else _start(before, now - timedelta(seconds=given.t_s or 0.0))
    if given.at > now:
        raise RecordRefusal("when", given.at.isoformat(timespec="minutes"), "a moment up to now")
    last = before.stands.latest
    if last is not None and given.at < last:
        raise RecordRefusal(
            "when", given.at.isoformat(timespec="minutes"), f"not before the last entry at {last:%H:%M}"
        )
    return given.at


def _start(before: DryingView, start: datetime) -> datetime:
    """A hold that was begun before the last entry was kept begins with it."""
    last = before.stands.latest
    return start if last is None else max(start, last)


def _follow(row: DryingRow, now: Stands) -> None:
    row.due_at, row.doing = (now.due, DOING[now.stage]) if now.stage in DOING else (None, "")


def take_back(store: Store, actor: Actor, drying_id: int, entry_id: int, now: datetime) -> None:
    """The last entry goes again, by its number: a second tap finds another last one and changes nothing.

    Raises Forbidden, Unknown, GateClosed.
    """
    actor.need(Action.TAKE_BACK)
    with store.begin() as session:
        row = _open(session, drying_id)
        kept = rows.entries(session, drying_id)
        standing = [one for one in kept if one.taken_back_at is None]
        if not standing or standing[-1].id != entry_id:
            return
        entry = session.get(DryingEntryRow, entry_id)
        if entry is not None:
            entry.taken_back_at, entry.taken_back_by = now, actor.who
            session.flush()
            _follow(row, stands_of(rows.entries(session, drying_id)))
            trail.write(session, actor, "drying entry taken back", now, row.motor_id, row.job_id, entry.act)


def end(store: Store, actor: Actor, drying_id: int, why: str, now: datetime) -> None:
    """End it: where it is dry that is a line of the motor's life; else a reason is asked. Twice is once.

    Raises Forbidden, Unknown, GateClosed while it is heated, charged or shorted, RecordRefusal without a reason.
    """
    actor.need(Action.DECIDE)
    words = short(NOTE)(" ".join(why.split()))
    with store.begin() as session:
        row = rows.locked(session, drying_id)
        if row is not None and row.state != "open":
            return
        view = _view(session, row, drying_id, now)
        assert row is not None  # noqa: S101 - `_view` has refused it
        if view.stands.stage is not Stage.FREE:
            raise GateClosed("End", "the winding isn't free", "heat off, shorted to frame and let go again")
        if not view.state.done and len(words) < 5:
            raise RecordRefusal("why", words, f"why it is ended before it is dry: {view.state.why}")
        row.state, row.ended_at, row.ended_by, row.end_why = rows.ENDED, now, actor.who, words or None
        row.due_at, row.doing, row.open_of = None, "", None
        changed: list[Base] = [row]
        if view.state.done:
            note = f"dry after {view.stands.cycles} cycles of heat"
            life = LifeEvent(motor_id=row.motor_id, kind=LifeKind.DRIED, on_day=now.date(), note=note)
            life.who, life.at = actor.who, now
            session.add(life)
            changed.append(life)
        note_changes(session, actor, now, *changed)
        trail.write(session, actor, "drying ended", now, row.motor_id, row.job_id, words or "dry")


def going_on(store: Store) -> Sequence[DryingNow]:
    """Every drying that goes on."""
    with store() as session:
        return rows.going_on(session)
