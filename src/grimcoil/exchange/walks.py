"""`grimcoil-walk/1` in, `grimcoil-walk-state/1` out."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import AliasChoices, ConfigDict, Field, ValidationError

from grimcoil.core.choices import SupplySystem
from grimcoil.core.circuit.cable import conductor_ohm
from grimcoil.core.circuit.place import ELEMENTS, FEEDS, LINES, Place, State
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.fields import CURRENT, DEAD_VOLTAGE, DROP, INSULATION, LOW_OHM
from grimcoil.core.fields import Field as ReadingField
from grimcoil.core.walk.catalogue import ORDERS, SYMPTOMS, Trial, trials
from grimcoil.core.walk.ending import MOTOR, Standing
from grimcoil.core.walk.entries import Entry
from grimcoil.core.walk.evidence import Measured
from grimcoil.core.walk.faults import Suspect, line_up
from grimcoil.core.walk.history import ONCE, ONCE_WORDS, Earlier, Past
from grimcoil.core.walk.once import check_once
from grimcoil.core.walk.tell import element_states, end_words, findings_of, so_far
from grimcoil.core.walk.walk import PROVE_DEAD, Walk, known_suspects, walk
from grimcoil.exchange.motors import Motor, Position, plate_of, position_of
from grimcoil.exchange.strict import MOST_NAMES, Positive, ReadingText, Strict, Text, first_refusal, load_json, reading

FORMAT, RESULT = "grimcoil-walk/1", "grimcoil-walk-state/1"
MOST_DONE = 300
QUANTITIES: dict[str, ReadingField] = {
    "volts-ac": DEAD_VOLTAGE,
    "volts-ac-high-z": DEAD_VOLTAGE,
    "volts-across": DROP,
    "ohms": LOW_OHM,
    "insulation": INSULATION,
    "amps": CURRENT,
}
PLATE_AMPS_BY_WATTS = 1 / (math.sqrt(3) * 0.86 * 0.9)  # usual power factor and efficiency, common practice


SIX = (1, 2, 3, 4, 5, 6)
LEADS = {
    "six-lead": SIX, "nine-lead-wye": (*SIX, 7, 8, 9), "nine-lead-delta": (*SIX, 7, 8, 9),
    "twelve-lead": (*SIX, 7, 8, 9, 10, 11, 12), "part-winding": (1, 2, 3, 7, 8, 9),
    "two-speed-two-winding": (1, 2, 3, 11, 12, 13), "two-speed-one-winding-delta": SIX,
    "two-speed-one-winding-wye": SIX,
}  # fmt: skip


class CircuitState(Strict):
    """State of the circuit while something was measured."""

    supply: Literal["on", "off"] = "on"
    fuses: Literal["in", "out"] = "in"
    local: Literal["closed", "open", "none"] = "closed"
    contactor: Literal["in", "out"] = "out"
    at: Literal["rest", "start", "run"] = "rest"
    motor: Literal["connected", "lifted-at-starter", "lifted-at-box"] = "connected"
    load: Literal["coupled", "uncoupled"] = "coupled"


class Done(Strict):
    """One entry: a test of the catalogue, a measurement that says itself what it was, a skip, or a repair."""

    test: Text | None = None
    answer: Text | None = None
    where: Literal["panel", "motor-box"] | None = None
    quantity: Text | None = None
    state: CircuitState | None = None
    readings: Annotated[dict[Text, ReadingText], Field(max_length=MOST_NAMES)] | None = None
    skip: Text | None = None
    reason: Text | None = None
    mended: Text | None = None
    line: Text | None = None


class WalkPosition(Position):
    """A position; `jammed` and `locked` are hazards that the walk only passes on."""

    supply_v: Positive | None = None
    locked: bool | None = Field(default=None, validation_alias=AliasChoices("locked", "jammed"))


class EarlierFile(Strict):
    """Something found or done at this position before; watch_until: of a one-time event."""

    kind: Literal["walk", "job", "repair"] = "walk"
    on: date
    text: Annotated[str, Field(max_length=400)] = ""
    suspect: Text | None = None
    line: Text | None = None
    watch_until: date | None = None


class WalkFile(Strict):
    """`grimcoil-walk/1`: a position, a symptom, and what was done so far; what was found there before, and the wish to
    end it as a one-time event.
    """

    model_config = ConfigDict(extra="forbid")

    format: Literal["grimcoil-walk/1"]
    motor: Motor = Field(default_factory=Motor)
    supply_system: SupplySystem | None = None
    supply_v: Positive | None = Field(default=None, validation_alias=AliasChoices("supply_v", "system_voltage_v"))
    position: WalkPosition = Field(default_factory=WalkPosition)
    symptom: Literal[*SYMPTOMS]  # type: ignore[valid-type]
    order: Literal[*ORDERS] = "most-telling"  # type: ignore[valid-type]
    done: Annotated[list[Done], Field(max_length=MOST_DONE)] = Field(default_factory=list)
    on: date | None = None
    earlier: Annotated[list[EarlierFile], Field(max_length=MOST_DONE)] = Field(default_factory=list)
    end: Literal["one-time-event"] | None = None
    watch_until: date | None = None


def place_of(given: WalkFile) -> Place:
    """The circuit of the position, as far as it is told; what isn't is a plain motor circuit."""
    position_of(given.position)
    plate, file = plate_of(given.motor), given.position
    volts = given.supply_v or file.supply_v or file.system_voltage_v or plate.voltage_in_use_v or 480.0
    amps = plate.full_load_in_use_a or (plate.power_w or 15000.0) / volts * PLATE_AMPS_BY_WATTS
    scheme = str(given.motor.lead_scheme)
    wound = "delta" if "delta" in scheme else "wye"
    line_ohm = 0.054 * volts / (math.sqrt(3) * amps)  # usual of motors of some kilowatts, common practice
    cable = file.cable
    core = position_of(file).cable if cable is not None else None
    ohm = conductor_ohm(core) if core is not None else None
    system = given.supply_system or file.supply_system
    chain = tuple(file.control_chain) if file.control_chain else Place().chain
    protector = str(file.protector) if file.protector else "control-chain" if "protector" in chain else "none"
    return Place(
        volts=volts, amps=amps, rated_volts=plate.voltage_in_use_v or volts,
        system=str(system) if system and str(system) != "phase-converter" else "wye-earthed",
        starter=str(file.starter or "direct"), disconnect=str(file.disconnect or "none"),
        protection=str(file.protection or "fuses"), control=str(file.control_supply or "L1-L2"),
        control_volts=file.control_v or 110.0, control_fuse=file.control_fuse is not False, chain=chain[:12],
        protector=protector, brake=_brake(given), dial_amps=file.overload.dial_a if file.overload else None,
        cable_ohm=ohm or 0.05, wound=wound, leads=LEADS.get(scheme, LINES), feeds=() if file.control_supply else FEEDS,
        phase_ohm=line_ohm / 2 if wound == "wye" else line_ohm * 1.5,
        no_insulation_test=given.motor.insulation_test_forbidden,
    )  # fmt: skip


def _brake(given: WalkFile) -> str:
    if given.position.brake is not None:
        return str(given.position.brake)
    return "none" if given.motor.brake is None else str(given.motor.brake.feed or "two-lines")


def read_walk(text: str | bytes) -> tuple[WalkFile, Place, list[Entry]]:
    """A walk. Raises RecordRefusal with path, what was found and what is accepted."""
    try:
        given = WalkFile.model_validate(load_json(text))
    except ValidationError as error:
        raise first_refusal(error, FORMAT) from None
    place = place_of(given)
    return given, place, entries_of(place, given.done)


def entries_of(place: Place, done: Sequence[Done]) -> list[Entry]:
    """What was done as the core reads it. Raises RecordRefusal with the path of what can't be used."""
    return [_entry(place, one, f"done.{i}") for i, one in enumerate(done)]


def _entry(place: Place, one: Done, path: str) -> Entry:  # noqa: C901 - each way an entry can be wrong
    if one.mended is not None:
        if one.mended not in known_suspects():
            raise RecordRefusal(f"{path}.mended", one.mended, "a possible cause by its key", "fuse-blown")
        return Entry(mended=(one.mended, _line(place, one, path)), path=path)
    known = trials(place)
    if one.skip is not None:
        if one.skip not in known:
            raise RecordRefusal(f"{path}.skip", one.skip, "a test this position has")
        return Entry(skip=one.skip, path=path)
    trial = None
    if one.test is not None:
        trial = PROVE_DEAD if one.test == "prove-dead" else known.get(one.test)
        if trial is None:
            raise RecordRefusal(f"{path}.test", one.test, "a test this position has")
    if one.readings is not None:
        measured = _measured(place, trial, one, path)
        return Entry(trial, measured=measured, where=one.where or "panel", path=path, told=one.state is not None)
    if trial is None:
        raise RecordRefusal(path, "", "a test, readings with their quantity, a skip or a repair")
    if not trial.asks:
        raise RecordRefusal(f"{path}.readings", "", f"readings: {trial.name} is measured")
    if one.answer not in trial.usual:
        raise RecordRefusal(f"{path}.answer", one.answer or "", f"one of {', '.join(trial.usual)}")
    if one.state is not None and one.state.supply == "on" and trial.quantity == "hand" and trial.circuit is not None:
        raise RecordRefusal(path, "a hand with the supply on", "danger: isolate, lock and prove dead first")
    return Entry(trial, answer=one.answer or "", where=one.where or "panel", path=path)


def _line(place: Place, one: Done, path: str) -> str | None:
    lines = {suspect.line for suspect in line_up(place) if suspect.name == one.mended}
    if one.line is None or one.line in lines:
        return one.line
    accepted = ", ".join(sorted(line for line in lines if line)) or "no line: it is of the whole circuit"
    raise RecordRefusal(f"{path}.line", one.line, accepted)


def _measured(place: Place, trial: Trial | None, one: Done, path: str) -> Measured:  # noqa: C901, PLR0912 - each way a reading can be wrong
    quantity = one.quantity or (trial.quantity if trial and not trial.asks else None)
    if quantity not in QUANTITIES:
        raise RecordRefusal(f"{path}.quantity", quantity or "", f"one of {', '.join(QUANTITIES)}")
    if one.state is not None:
        state = State(**one.state.model_dump())
    elif trial is not None and trial.circuit is not None:
        state = trial.circuit
    else:
        raise RecordRefusal(f"{path}.state", "", "the state of the circuit it was measured in")
    if place.disconnect != "local":
        state = State(state.supply, state.fuses, "none", state.contactor, state.at, state.motor, state.load)
    points = place.points()
    readings = []
    for name, text in (one.readings or {}).items():
        at = f"{path}.readings.{name}"
        a, tilde, b = (part.strip() for part in name.partition("~"))
        if quantity == "amps":
            if name not in ("L1", "L2", "L3"):
                raise RecordRefusal(at, name, "a line: L1, L2 or L3")
        else:
            for point in (a, b):
                if point not in points:
                    accepted = "two points of this position with ~ between" if not tilde else "a point of this position"
                    raise RecordRefusal(at, point or name, accepted, "overload-T1~overload-T2")
            if a == b:
                raise RecordRefusal(at, name, "two different points", "chain-1~control-N")
        shown = reading(text, QUANTITIES[quantity], at)
        readings.append((a, b, shown))
    if not readings:
        raise RecordRefusal(f"{path}.readings", "", "at least one reading")
    if quantity.startswith("volts") and not state.live:
        raise RecordRefusal(f"{path}.state.supply", "off", "on: volts are read live; dead is proved by prove-dead")
    return Measured(quantity, state, tuple(readings))


def _place(suspect: Suspect) -> str | None:
    """Where a loose joint is, or which of two disconnects is off."""
    if suspect.name == "disconnect-off":
        return "local" if suspect.element == "local" else "panel"
    return suspect.element if suspect.name == "joint-loose" else None


def _suspect(one: Standing) -> dict[str, Any]:
    out: dict[str, Any] = {"suspect": one.suspect.name, "line": one.suspect.line}
    if place := _place(one.suspect):
        out["place"] = place
    return out | {"state": one.state, "belief": one.belief, "by": list(one.by)}


def _trial(trial: Trial, where: str, state: State | None, place: Place) -> dict[str, Any]:
    shown = None if state is None else _state(state, place)
    return {
        "test": trial.name, "quantity": trial.quantity, "question": trial.question or None,
        "answers": list(trial.usual), "where": where, "instrument": trial.instrument, "state": shown,
        "between": None if trial.quantity == "amps" else [list(pair) for pair in trial.between],
        "expect": trial.expect or None, "why": trial.why, "caution": trial.caution or None, "minutes": trial.minutes,
    }  # fmt: skip


def _state(state: State, place: Place) -> dict[str, str]:
    local = "none" if place.disconnect != "local" else state.local
    return {
        "supply": state.supply, "fuses": state.fuses, "local": local, "contactor": state.contactor, "at": state.at,
        "motor": state.motor, "load": state.load,
    }  # fmt: skip


def walk_document(made: Walk, watch_until: date | None = None) -> dict[str, Any]:
    """The state of a walk as a document. watch_until: it ends as a one-time event."""
    order = sorted(made.standings, key=lambda one: (one.state == "cleared", -one.belief))
    following, end = (None if watch_until else made.next), made.end
    verdict = None
    if end is not None:
        kind = end.suspect.kind
        verdict = {
            "suspect": kind.name, "line": end.line,
            "place": _place(end.suspect),
            "element": end.suspect.element, "text": end_words(made),
            "by": list(end.by),
            "alternatives": [{"suspect": o.name, "line": o.line, "why": why} for o, why in end.alternatives],
            "root_causes": list(kind.causes), "action": kind.action,
        }  # fmt: skip
    if watch_until is not None:
        verdict = {
            "suspect": ONCE, "line": None, "place": None, "element": None, "text": ONCE_WORDS,
            "watch_until": f"{watch_until}", "by": [], "alternatives": [], "root_causes": ["unknown"],
            "action": "return-retest",
        }  # fmt: skip
    over = [{"suspect": o.suspect.name, "line": o.suspect.line, "belief": o.belief} for o in made.hand_over]
    inside = bool(over) and all(one.suspect.element in MOTOR for one in made.hand_over)
    return {
        "format": RESULT,
        "suspects": [_suspect(one) for one in order],
        "elements": [
            {"element": name, "state": state, "by": by} for name, (state, by) in element_states(made, ELEMENTS).items()
        ],
        "next": None if following is None else _trial(following.trial, following.where, following.state, made.place),
        "others": [_trial(one.trial, one.trial.where, one.trial.circuit, made.place) for one in made.others],
        "hand_over": {"to": "dead-tests", "suspects": over} if inside else None,
        "verdict": verdict,
        "so_far": so_far(made),
        "contradictions": [*(f"{one.first}, then {one.second}" for one in made.twice), *made.contradictions],
        "findings": [
            {"code": f.code, "text": f.text, "source": f.source, "severity": f.severity.value}
            for f in findings_of(made)
        ],
    }


def walked(text: str | bytes) -> dict[str, Any]:
    """One walk answered. Raises RecordRefusal."""
    given, place, entries = read_walk(text)
    past = past_of(given)
    made = walk(place, given.symptom, given.order, entries, past)
    if given.end == ONCE:
        if given.watch_until is None:
            raise RecordRefusal("watch_until", "", "a day until which it is watched", "2026-12-15")
        check_once(made, given.watch_until)
        return walk_document(made, given.watch_until)
    return walk_document(made)


def past_of(given: WalkFile) -> Past:
    """What a walk begins with, as the core reads it. Raises RecordRefusal for a suspect that there isn't."""
    known = known_suspects() | {ONCE}
    for i, one in enumerate(given.earlier):
        if one.suspect and one.suspect not in known:
            raise RecordRefusal(f"earlier.{i}.suspect", one.suspect, "a possible cause by its key, or one-time-event")
    return Past(
        tuple(Earlier(o.kind, o.on, o.text, o.suspect or "", o.line, o.watch_until) for o in given.earlier), given.on
    )
