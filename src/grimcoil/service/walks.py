"""A fault walk on a motor of the register, or on none: its entries live in the address, its end on the motor's life."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime

from pydantic import ValidationError

from grimcoil.core.choices import LifeKind, RootCause
from grimcoil.core.circuit.place import Place
from grimcoil.core.days import day_told
from grimcoil.core.errors import FormRefused, RecordRefusal
from grimcoil.core.people import Action, Actor
from grimcoil.core.walk.catalogue import Trial, trials
from grimcoil.core.walk.entries import Entry
from grimcoil.core.walk.history import NO_PAST, ONCE, ONCE_WORDS
from grimcoil.core.walk.once import check_once
from grimcoil.core.walk.tell import name_of_end
from grimcoil.core.walk.walk import PROVE_DEAD, Walk, walk
from grimcoil.core.walk.words import answer_words, measured_words
from grimcoil.exchange.strict import first_refusal
from grimcoil.exchange.walks import FORMAT, CircuitState, Done, WalkFile, entries_of, place_of
from grimcoil.service.fields import day_of
from grimcoil.service.register import note_changes
from grimcoil.service.registered import motor_named, with_winding
from grimcoil.service.subjects import motor_file, position_file
from grimcoil.service.walk_past import past_of
from grimcoil.store import lives, searching, trail
from grimcoil.store import motors as motor_rows
from grimcoil.store.engine import Store
from grimcoil.store.tables import NOTE, LifeEvent

MOST_TOKENS = 60
SEPARATOR = "~"
ELSEWHERE = f"job{SEPARATOR}"  # before what a job read


@dataclass(frozen=True, slots=True)
class Walked:
    """A walk as its page shows it. power: as the plate prints it; words: its entries."""

    tag: str
    name: str
    power: str
    place: Place
    tokens: tuple[str, ...]
    made: Walk
    words: tuple[str, ...] = ()

    @property
    def trials(self) -> dict[str, Trial]:
        """Every test of this position, and the proof of death."""
        return trials(self.place) | {PROVE_DEAD.name: PROVE_DEAD}


def walked(
    store: Store, tag: str, symptom: str, order: str, tokens: Sequence[str], today: date | None = None
) -> Walked:
    """With what was found at its position before, where a day is given.

    Raises Unknown for a tag that isn't on the register, RecordRefusal for a token that can't be used or hurts.
    """
    if len(tokens) > MOST_TOKENS:
        raise RecordRefusal("walk", f"{len(tokens)} entries", f"at most {MOST_TOKENS}: keep its end, begin anew")
    document: dict[str, object] = {"format": FORMAT, "symptom": symptom, "order": order}
    name = power = ""
    past = NO_PAST
    if tag:
        with store() as session:
            motor, winding = with_winding(session, tag)
            tag, power = motor.tag, motor.power_text
            name = motor.position.name if motor.position else ""
            past = NO_PAST if today is None else past_of(session, motor, today)
            document["motor"] = motor_file(motor, winding).model_dump(mode="json", exclude_none=True)
            document["position"] = position_file(motor.position, works=True).model_dump(mode="json", exclude_none=True)
    try:
        given = WalkFile.model_validate(document)
    except ValidationError as error:
        raise first_refusal(error, "walk") from None
    place = place_of(given)
    done = [_done(place, token.removeprefix(ELSEWHERE)) for token in tokens]
    entries = [
        replace(entry, elsewhere=token.startswith(ELSEWHERE))
        for token, entry in zip(tokens, entries_of(place, done), strict=True)
    ]
    words = tuple(_words(place, token, entry) for token, entry in zip(tokens, entries, strict=True))
    return Walked(tag, name, power, place, tuple(tokens), walk(place, symptom, order, entries, past), words)


def spelled(store: Store, tag: str) -> list[str]:
    """Tags on the register that may be meant: of the same letters and digits, or else those that begin alike."""
    with store() as session:
        alike = searching.spelled_alike(session, tag)
        return alike or searching.beginning(session, tag)


def _words(place: Place, token: str, entry: Entry) -> str:
    """An entry as it is listed."""
    if entry.measured is not None:
        return measured_words(place, entry.measured)
    if entry.trial is not None and entry.answer:
        where = ", motor box" if entry.where == "motor-box" else ""
        return answer_words(entry.trial, entry.answer) + where
    name, _, rest = token.partition(SEPARATOR)
    said = rest.replace(SEPARATOR, " ").replace("-", " ").strip()
    return f"Can't be done here: {said}" if name == "skip" else f"Mended: {said}" if name == "mended" else said


def _done(place: Place, token: str) -> Done:
    """`overload-look~not-tripped`, `drop-poles~0.1~0.1~416`, `prove-dead~dead~panel`, `skip~…`, `mended~…~L3`."""
    name, *rest = token.split(SEPARATOR)
    if name == "skip":
        return Done(skip=rest[0] if rest else "")
    if name == "mended":
        return Done(mended=rest[0] if rest else "", line=rest[1] if len(rest) > 1 and rest[1] else None)
    if name == PROVE_DEAD.name:
        where = rest[1] if len(rest) > 1 else "panel"
        if where not in ("panel", "motor-box"):
            raise RecordRefusal("where", where[:20], "panel or motor-box")
        return Done(test=name, answer=rest[0] if rest else "", where="panel" if where == "panel" else "motor-box")
    if name == OWN:
        return _own(rest)
    trial = trials(place).get(name)
    if trial is None:
        raise RecordRefusal("test", name[:40], "a test this position has")
    if trial.asks:
        return Done(test=name, answer=rest[0] if rest else "")
    points = points_of(trial)
    readings = {point: text for point, text in zip(points, rest, strict=False) if text.strip()}
    return Done(test=name, readings=readings)


# How the circuit was at a reading of one's own: the words asked for, the state.
OWN_STATES: dict[str, tuple[str, dict[str, str]]] = {
    "off": ("off, proved dead", {"supply": "off"}),
    "off-in": ("off, contactor pushed in", {"supply": "off", "contactor": "in"}),
    "lifted": ("off, motor lifted at its box", {"supply": "off", "motor": "lifted-at-box"}),
    "rest": ("on, start not given", {"supply": "on"}),
    "held": ("on, start held, contactor in", {"supply": "on", "contactor": "in", "at": "start"}),
    "held-out": ("on, start held, contactor out", {"supply": "on", "at": "start"}),
    "run": ("running", {"supply": "on", "contactor": "in", "at": "run"}),
}
OWN = "own"


def _own(rest: Sequence[str]) -> Done:
    """`own~ohms~off~overload-T1~earth~0.3`: a reading that the walk didn't ask for."""
    quantity, state, a, b, text = (*rest, "", "", "", "", "")[:5]
    if state not in OWN_STATES:
        raise RecordRefusal("state", state[:20], f"one of {', '.join(OWN_STATES)}")
    points = a if quantity == "amps" else f"{a}~{b}"
    return Done(quantity=quantity, state=CircuitState.model_validate(OWN_STATES[state][1]), readings={points: text})


def points_of(trial: Trial) -> list[str]:
    """The names its readings go by: pairs of points, or lines."""
    return [f"{a}~{b}" for a, b in trial.between] or ["L1", "L2", "L3"]


@dataclass(frozen=True, slots=True)
class Kept:
    """What is kept of a walk's end. cause: of the cause; changed: so that it doesn't come back; watch_until: as typed,
    where it ends as a one-time event.
    """

    cause: str
    changed: str
    watch_until: str = ""


def keep_end(store: Store, actor: Actor, done: Walked, kept: Kept, token: str, now: datetime) -> None:
    """The end of a walk onto the motor's life: part or one-time event, cause of the cause, what is changed. Once by
    token.

    Raises Forbidden, Unknown, FormRefused.
    """
    actor.need(Action.DECIDE)
    refused: dict[str, str] = {}
    end, found = _end(done, kept.watch_until.strip(), refused)
    if kept.cause not in [one.value for one in RootCause]:
        refused["cause"] = "Name the cause of the cause: without it it comes back."
    changed = " ".join(kept.changed.split())
    note = f"{end}; {kept.cause}; changed: {changed}"
    if not changed:
        refused["changed"] = "Say in a sentence what is changed so that it doesn't come back."
    elif len(note) > NOTE:
        refused["changed"] = f"Say it in {len(note) - NOTE} letters less: it stands on one line of the motor's life."
    if refused:
        raise FormRefused(refused)
    with store.begin() as session:
        motor = motor_named(session, done.tag)
        motor_rows.lock(session, motor.id)
        if lives.event_by_token(session, token) is not None:
            return
        event = LifeEvent(motor_id=motor.id, on_day=now.date(), kind=LifeKind.WALKED.value, note=note, found=found)
        event.token, event.who, event.at, event.undo = token, actor.who, now, {}
        session.add(event)
        note_changes(session, actor, now, event)
        trail.write(session, actor, "walk kept", now, motor.id, detail=note)


def _end(done: Walked, watch_until: str, refused: dict[str, str]) -> tuple[str, dict[str, str]]:
    """The end in words and by name; what stands against it goes into `refused`."""
    if not watch_until:
        if done.made.end is None:
            refused["end"] = "Troubleshooting has no end yet."
            return "", {}
        line = done.made.end.line
        return name_of_end(done.made), {"suspect": done.made.end.suspect.name} | ({"line": line} if line else {})
    try:
        until = day_of(watch_until)
        check_once(done.made, until)
    except RecordRefusal as refusal:
        refused[refusal.where or "watch_until"] = f"Not a one-time event: {refusal.found}; {refusal.accepted}."
        return "", {}
    return f"{ONCE_WORDS[0].lower()}{ONCE_WORDS[1:]}; watched until {day_told(until)}", {
        "suspect": ONCE, "watch_until": f"{until}",
    }  # fmt: skip
