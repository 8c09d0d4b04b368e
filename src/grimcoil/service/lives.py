"""A motor's life as it is kept: moved, rewound, dried, cleaned, repaired; each entered once, and taken back again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from sqlalchemy.orm import Session

from grimcoil.core.choices import LifeKind
from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.days import day_told
from grimcoil.core.errors import AlreadyKept, FormRefused, RecordRefusal, Unknown
from grimcoil.core.findings import Finding, telling
from grimcoil.core.people import Action, Actor
from grimcoil.core.position import check_position
from grimcoil.core.stays import Failure, Stay, check_day, check_move, repeat_failures
from grimcoil.service.bench import load
from grimcoil.service.fields import Fields, amount, day_of, one_of, short
from grimcoil.service.motor_states import await_tests, refresh_state, restate
from grimcoil.service.register import note_changes, note_removed
from grimcoil.service.registered import motor_named
from grimcoil.service.subjects import subject_of
from grimcoil.service.trends import trend_with
from grimcoil.store import lives as rows
from grimcoil.store import motors as motor_rows
from grimcoil.store import tables, trail
from grimcoil.store.engine import Store
from grimcoil.store.lines import PlaceLine, line_of
from grimcoil.store.lives import EventLine, FoundLine, StayLine
from grimcoil.store.repairs import STAGES, relist_repair, stages
from grimcoil.store.tables import NOTE, LifeEvent, Motor, MotorState, WindingRow

STORE = "the store"
TO_STORE, HERE = "yes", "here"  # where what stands there goes: away, or in exchange to where this one stood
ENTERED = (
    LifeKind.REWOUND,
    LifeKind.DRIED,
    LifeKind.CLEANED,
    LifeKind.REPAIRED,
    LifeKind.CABLE_CHANGED,
    LifeKind.TRIPPED,
)


@dataclass(frozen=True, slots=True)
class LifeView:
    """What happened to a motor and where it stood, newest first; positions to pick from. built: its year is known,
    else its first event is only where its record begins, on the day it was registered.
    """

    tag: str
    built: bool
    place: str
    events: Sequence[EventLine]
    stays: Sequence[StayLine]
    places: Sequence[str]
    registered: date


@dataclass(frozen=True, slots=True)
class PositionView:
    """A position with who stood there, what failed or was found there and what that says. findings: by tag, what
    stands there beside what the position calls for.
    """

    place: PlaceLine
    stays: Sequence[StayLine]
    failures: Sequence[Failure]
    repeats: Finding | None
    found: Sequence[FoundLine] = ()
    retired_on: date | None = None
    retired_why: str = ""
    findings: Sequence[tuple[str, Finding]] = ()

    @property
    def now(self) -> list[str]:
        """Tags of what stands there now."""
        return [stay.tag for stay in self.stays if stay.until is None]


def life(store: Store, tag: str) -> LifeView:
    """Raises Unknown."""
    with store() as session:
        motor = motor_named(session, tag)
        place = place_of(motor)
        names = rows.position_names(session)
        events, stays = rows.events(session, motor.id), rows.stays_of(session, motor.id)
        return LifeView(motor.tag, motor.built_year is not None, place, events, stays, names, motor.created_at.date())


def position(store: Store, position_id: int, today: date) -> PositionView:
    """Five queries, and one more a motor that stands there. Raises Unknown."""
    with store() as session:
        found = rows.position(session, position_id)
        if found is None:
            raise Unknown("position", str(position_id), "a position on the register")
        failures = rows.failures_at(session, position_id)
        stays = rows.stays_at(session, position_id)
        repeats = repeat_failures(failures, today)
        walked, gone = rows.found_at(session, position_id), (found.retired_on, found.retired_why or "")
        told = [
            (one.tag, each) for one in rows.standing_at(session, position_id) for each in _beside(session, one, found)
        ]
        return PositionView(line_of(PlaceLine, found), stays, failures, repeats, walked, *gone, told)


def _beside(session: Session, motor: Motor, place: tables.Position) -> Sequence[Finding]:
    """What a motor is beside what the position calls for."""
    winding = motor_rows.winding_now(session, motor.id)
    if winding is None:
        return ()
    return telling(check_position(subject_of(motor, winding, place, FIELD_GENERAL)))


def move(store: Store, actor: Actor, tag: str, texts: dict[str, str], token: str, now: datetime) -> bool:
    """To another position or the store, from a day on. What stands there goes where `swap` says: to the store, or in
    exchange to where this one stood. Both are due by what their places are now.

    texts: to, on, note, swap. Once by token. Raises Forbidden, Unknown, FormRefused.
    """
    actor.need(Action.REGISTER_MOTOR)
    fields = Fields(texts)
    to = fields.take("to", short(100), required=True)
    on = fields.take("on", day_of, required=True)
    note = fields.take("note", short(NOTE)) or ""
    swap = fields.take("swap", one_of(TO_STORE, HERE))
    if fields.refused:
        raise FormRefused(fields.refused)
    with store.begin() as session:
        motor = motor_named(session, tag)
        motor_rows.lock(session, motor.id)
        if rows.event_by_token(session, token) is not None:
            return False
        target = _target(session, to)
        there = [one for one in rows.standing_at(session, target.id) if one.id != motor.id] if target else []
        if there and not swap:
            raise FormRefused({"swap": f"{there[0].tag} stands there: say where it goes, or move it first."})
        away, whither = (motor.position_id, place_of(motor)) if swap == HERE else (None, STORE)
        try:
            undo = [_moved(session, actor, other, away, on, now) for other in there]
            undo.append(_moved(session, actor, motor, target.id if target else None, on, now))
        except RecordRefusal as refusal:
            raise FormRefused({"on" if refusal.where == "day" else "to": refusal.sentence()}) from None
        told = f"to {target.name if target else STORE}" + "".join(f", {one.tag} to {whither}" for one in there)
        kind, told = LifeKind.MOVED.value, f"{told}; {note}" if note else told
        if len(told) > NOTE:
            raise FormRefused({"note": f"Say it in {len(told) - NOTE} letters less: where it went stands before it."})
        made = LifeEvent(kind=kind, on_day=on, note=told, token=token, undo={"moves": undo})
        put_event(session, actor, motor, made, now)
        for other in there:
            note = f"to {whither}, in exchange for {motor.tag}"
            put_event(session, actor, other, LifeEvent(kind=kind, on_day=on, note=note), now)
        for one in (motor, *there):
            restate(session, one.id, now)
        return True


def place_of(motor: Motor) -> str:
    """Where it stands, in words."""
    return motor.position.name if motor.position else STORE


def _target(session: Session, to: str) -> tables.Position | None:
    if to.casefold() in ("store", STORE):
        return None
    found = motor_rows.position_named(session, to)
    if found is None:
        raise FormRefused({"to": f"No position is called “{to}”: pick one from the list, or {STORE}."})
    if found.retired_on is not None:
        raise FormRefused({"to": f"“{found.name}” is used no more: use it again first, or pick another."})
    return rows.position(session, found.id, lock=True)  # of two who move there at once the second sees the first


def moved_away(session: Session, actor: Actor, motor: Motor, on: date, now: datetime) -> dict[str, Any]:
    """It leaves its position, if it stands at one; returns what taking that back has to put right. Raises RecordRefusal
    where the day can't be.
    """
    return {} if motor.position_id is None else {"moves": [_moved(session, actor, motor, None, on, now)]}


def _moved(
    session: Session, actor: Actor, motor: Motor, to: int | None, on: date, now: datetime
) -> dict[str, int | str | None]:
    kept = rows.stay_rows(session, motor.id)
    check_move([Stay(s.position_id, s.since, s.until) for s in kept], to, on, now.date(), motor.built_year)
    was = motor.position_id
    last = kept[-1] if kept and kept[-1].until is None else None
    if last is not None:
        last.until = on
    made = tables.Stay(motor_id=motor.id, position_id=to, since=on)
    session.add(made)
    motor.position_id = to
    note_changes(session, actor, now, motor, made, *([last] if last else []))
    return {"motor": motor.id, "from": was, "stay": made.id, "ended": last.id if last else None}


def happened(store: Store, actor: Actor, tag: str, texts: dict[str, str], token: str, now: datetime) -> bool:
    """Rewound, dried, cleaned, repaired, another cable: on a day, with a note and what it cost. Once by token.

    A rewind starts a new winding with a baseline to come. Raises Forbidden, Unknown, FormRefused.
    """
    actor.need(Action.REGISTER_MOTOR)
    fields = Fields(texts)
    kind = fields.take("kind", one_of(*ENTERED), required=True)
    on = fields.take("on", day_of, required=True)
    note = fields.take("note", short(NOTE)) or ""
    cost = fields.take("cost", amount(0, 1e9, ""))
    if fields.refused:
        raise FormRefused(fields.refused)
    with store.begin() as session:
        motor = motor_named(session, tag)
        motor_rows.lock(session, motor.id)
        if rows.event_by_token(session, token) is not None:
            return False
        try:
            check_day(on, now.date(), motor.built_year)
            undo = _rewound(session, actor, motor, on, now) if kind == LifeKind.REWOUND else {}
        except RecordRefusal as refusal:
            raise FormRefused({"on": refusal.sentence()}) from None
        made = LifeEvent(kind=kind, on_day=on, note=note, token=token, undo=undo, cost=cost)
        put_event(session, actor, motor, made, now)
        return True


def _rewound(session: Session, actor: Actor, motor: Motor, on: date, now: datetime) -> dict[str, int]:
    old = motor_rows.winding_now(session, motor.id)
    if old is None or on <= old.since:
        since = "" if old is None else day_told(old.since)
        raise RecordRefusal("day", on.isoformat(), f"a day after its winding of {since} began")
    same = ("winding", "insulation_system", "conductor", "lead_scheme", "insulation_test_forbidden")
    kept = {name: getattr(old, name) for name in (*same, "ratings", "accessories", "brake", "maker_plate", "own")}
    made = WindingRow(motor_id=motor.id, since=on, reason=LifeKind.REWOUND.value, **kept)
    session.add(made)
    note_changes(session, actor, now, made)
    state = session.get(MotorState, motor.id)
    if state is not None:
        await_tests(session, state)
    return {"winding": made.id}


def put_event(session: Session, actor: Actor, motor: Motor, event: LifeEvent, now: datetime) -> None:
    """Keep an event of a motor's life, with its line of the trail, in a transaction of somebody else's."""
    event.motor_id, event.who, event.at = motor.id, actor.who, now
    session.add(event)
    note_changes(session, actor, now, event)
    told = f"{event.on_day.isoformat()} {event.note}".strip()
    trail.write(session, actor, f"{event.kind} kept", now, motor.id, detail=told)


def take_back(store: Store, actor: Actor, tag: str, event_id: int, now: datetime) -> None:
    """What was entered of a motor's life goes again, and what it changed is put right. Twice is once.

    Raises Forbidden, Unknown, and AlreadyKept where something was built on it since.
    """
    actor.need(Action.REGISTER_MOTOR)
    with store.begin() as session:
        motor = motor_named(session, tag)
        motor_rows.lock(session, motor.id)
        event = rows.event_row(session, motor.id, event_id)
        if event is None or event.undo is None:
            raise Unknown("event", str(event_id), "one that was entered by a person and stands for itself")
        if event.taken_back_at is not None:
            return
        if event.kind in STAGES and (newest := stages(session, motor.id)[0]).id != event.id:
            raise AlreadyKept("Undo", f"{newest.kind} was saved since", "undo that first")
        undo = rows.undo_of(event)
        for one in reversed(undo.get("moves", ())):
            _moved_back(session, actor, one, event, now)
        if "winding" in undo:
            _unwound(session, actor, undo["winding"], now)
        events = [event, *rows.beside(session, event)]
        for one in events:
            one.taken_back_at, one.taken_back_by = now, actor.who
        note_changes(session, actor, now, *events)
        relist_repair(session, motor.id)
        trail.write(session, actor, f"{event.kind} taken back", now, motor.id, detail=event.on_day.isoformat())


def _moved_back(session: Session, actor: Actor, one: dict[str, int], event: LifeEvent, now: datetime) -> None:
    motor = session.get(Motor, one["motor"])
    made = session.get(tables.Stay, one["stay"])
    if motor is None or made is None:
        raise Unknown("move", str(event.id), "one whose stay is on record")
    if made.until is not None or (event.at and rows.jobs_since(session, motor.id, event.at)):
        found = f"{motor.tag} was moved or tested since"
        raise AlreadyKept("Undo", found, "undo that first, or enter the move that is right")
    taken = one["from"] is not None and [m for m in rows.standing_at(session, one["from"]) if m.id != motor.id]
    others = {move["motor"] for move in rows.undo_of(event).get("moves", ())}
    if taken and not {m.id for m in taken} <= others:
        raise AlreadyKept("Undo", f"{taken[0].tag} stands there now", "move that one first")
    back = rows.position(session, one["from"]) if one["from"] else None
    if back is not None and back.retired_on is not None:
        raise AlreadyKept("Undo", f"{back.name} is used no more", "use it again first")
    motor.position_id = one["from"]
    ended = session.get(tables.Stay, one["ended"]) if one["ended"] else None
    if ended is not None:
        ended.until = None
    note_changes(session, actor, now, motor, *([ended] if ended else []))
    note_removed(session, actor, now, made)
    restate(session, motor.id, now)


def _unwound(session: Session, actor: Actor, winding_id: int, now: datetime) -> None:
    winding = session.get(WindingRow, winding_id)
    if winding is None:
        return
    if rows.jobs_on(session, winding_id):
        raise AlreadyKept("Undo", "a job stands on the new winding", "a rewind that nothing was tested on since")
    state = session.get(MotorState, winding.motor_id)
    if state is None or state.last_job_id is None:
        note_removed(session, actor, now, winding)
        return
    bench = load(session, state.last_job_id, now)
    state.winding_id = bench.job.winding_id
    note_removed(session, actor, now, winding)
    refresh_state(session, trend_with(session, bench))
