"""A sheet that was kept so far onto the record: filed jobs by motor and day in one transaction."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from math import isinf
from typing import Any
from uuid import uuid4

from sqlalchemy.orm import Session

from grimcoil.core.amount import Amount
from grimcoil.core.assessment import Assessment
from grimcoil.core.criteria import Criteria
from grimcoil.core.people import Action, Actor
from grimcoil.core.readings import Shown, as_text, parse_reading, say
from grimcoil.core.subject import Subject
from grimcoil.exchange.jobs import to_record, validated
from grimcoil.exchange.sheets.figures import Understood, field_of
from grimcoil.exchange.sheets.layout import tag_key
from grimcoil.exchange.sheets.mapping import HOME
from grimcoil.exchange.sheets.settle import BOTH, FILE
from grimcoil.exchange.sheets.taken import HOLD_S, Import, Plates, Register, Same, Stored, Taken
from grimcoil.service.bench import FILED
from grimcoil.service.criteria import for_documents
from grimcoil.service.filed_sheets import hash_tests, link_import
from grimcoil.service.job_files import Filing, bring_up_to_date_with, judged_job, refile, stays_of
from grimcoil.service.motor_states import state_after
from grimcoil.service.motors import register_tags
from grimcoil.service.plate_lists import plates_on_record, positions_on_record, put_plates, put_positions
from grimcoil.service.registered import with_winding
from grimcoil.service.signatures import Grounds, add_link
from grimcoil.service.subjects import motor_file
from grimcoil.store import imports as rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.sheet_tables import POINTS, TAB, TEXT
from grimcoil.store.tables import Job, SheetImport

Document = dict[str, Any]
Key = tuple[str, date]
BATCH = 200


@dataclass(frozen=True, slots=True)
class Source:
    """The file that comes in."""

    name: str
    raw: bytes

    @property
    def sha256(self) -> str:
        """Of the whole file."""
        return hashlib.sha256(self.raw).hexdigest()


def register_of(store: Store) -> Register:
    """Tags on the register, and what is stored of those that a file is about: by sheets, and tested here."""
    with store() as session:
        tags = rows.tags(session)
    spelled = {tag_key(tag): tag for tag in tags}

    def stored_of(wanted: Collection[str]) -> Stored:
        values: dict[Same, list[Understood]] = {}
        days: set[Key] = set()
        signed: set[Same] = set()
        known = sorted({spelled[key] for tag in wanted if (key := tag_key(tag)) in spelled})
        with store() as session:
            for tag, filed, text in rows.records(session, known, FILED):
                for same, read in _stored(tag, json.loads(text)):
                    values.setdefault(same, []).append(read)
                    if filed:
                        days.add((same[0], same[1]))
                    else:
                        signed.add(same)
        return Stored(values, frozenset(signed), frozenset(days))

    def plates_of(wanted: Collection[str]) -> Plates:
        known = sorted({spelled[key] for tag in wanted if (key := tag_key(tag)) in spelled})
        with store() as session:
            return plates_on_record(session, known)

    def positions_of(names: Collection[str]) -> Plates:
        with store() as session:
            return positions_on_record(session, sorted(names))

    return Register(tags, stored_of, plates_of, positions_of)


def _stored(tag: str, record: Document) -> Iterator[tuple[Same, Understood]]:
    on = (record.get("conditions") or {}).get("date")
    if on is None:
        return
    base = tag_key(tag), date.fromisoformat(on)
    for test in record.get("tests", ()):
        if test["kind"] == "winding_resistance":
            for pair, text in test.get("readings", {}).items():
                yield (*base, "winding_resistance", pair, "", "", HOLD_S), _read("winding_resistance", text)
        elif test["kind"] == "insulation":
            ends = "-".join(test.get("from", ())), "-".join(test.get("to", ()))
            for point in test.get("series", ()):
                yield (*base, "insulation", "", *ends, float(point["t_s"])), _read("insulation", point["reading"])


def _read(name: str, text: str) -> Understood:
    """A stored text: its figure as a sheet would be understood, in words that a person would type."""
    field = field_of(name)
    reading = parse_reading(text, field)
    home = reading.amount.scaled(1.0 / field.home_factor)
    amount = Amount(float(f"{home.low:.15g}"), float(f"{home.high:.15g}"))
    words = (
        f"{amount.value:g} {HOME[name]}" if reading.shown is Shown.VALUE and amount.is_exact else say(reading, field)
    )
    return Understood(reading.shown, amount, words, False)


Told = Callable[[int, int], None]


def quiet(_: int, __: int) -> None:
    """Nobody wants to know how far it is."""


def take_in(store: Store, actor: Actor, source: Source, done: Import, now: datetime, told: Told = quiet) -> int:
    """All that was understood, in one transaction; returns the import's number, 0 where nothing was left to take.
    told: how many tests are in, and of how many.

    Raises Forbidden.
    """
    actor.need(Action.REGISTER_MOTOR)
    if not done.count:
        return 0
    with store.begin() as session:
        return put_in(session, actor, source, done, now, told)


def put_in(session: Session, actor: Actor, source: Source, done: Import, now: datetime, told: Told = quiet) -> int:
    """The same within a transaction, whoever may."""
    made = SheetImport(file_name=source.name[:200], sha256=source.sha256, who=actor.who, at=now)
    made.taken = done.count
    session.add(made)
    session.flush()
    first: dict[str, date] = {}
    for one in done.taken:
        first[one.tag] = min(one.on, first.get(one.tag, one.on))
    came = register_tags(session, actor, {tag: first.get(tag, now.date()) for tag in done.new_motors}, now)
    known = {tag: _known(session, tag) for tag in sorted({one.tag for one in done.taken})}
    keep_readings(session, made.id, done.taken, {tag: one.filing.motor_id for tag, one in known.items()})
    groups = _groups([one for one in done.taken if one.against != FILE])
    ends = {tag: number for number, (tag, _, _) in enumerate(groups, 1)}
    limits = for_documents(session)
    for start in range(0, len(groups), BATCH):
        some = groups[start : start + BATCH]
        judged = [_judged(known[tag], on, mine, made.id, limits, now) for tag, on, mine in some]
        session.add_all([job for job, *_ in judged])
        session.flush()
        hash_tests(session, [job.id for job, *_ in judged])
        for number, ((tag, _, _), (job, subject, whole)) in enumerate(zip(some, judged, strict=True), start + 1):
            if number == ends[tag] and not state_after(session, job, subject, whole, known[tag].criticality):
                bring_up_to_date_with(session, job.id, now)
            told(number, len(groups))
        for job, *_ in judged:
            session.expunge(job)
    amended = _replaced(session, actor, source, done.taken, known, now)
    filled = put_plates(session, actor, [one for one in done.plates if not one.alone], now)
    placed = put_positions(session, actor, [one for one in done.plates if one.alone], now)
    link_import(session, actor, made, now, {"amended": amended, "motors": came, "filled": filled, "placed": placed})
    trail.write(
        session, actor, "sheet imported", now, detail=f"{source.name}, {done.count} values{amended_words(amended)}"
    )
    return made.id


def _replaced(
    session: Session, actor: Actor, source: Source, taken: Sequence[Taken], known: Mapping[str, _Known], now: datetime
) -> list[int]:
    """Stored values that those of the file take the place of, each test amended with a link of its own; which tests."""
    by_motor: dict[str, list[Taken]] = {}
    for one in taken:
        if one.against == FILE:
            by_motor.setdefault(one.tag, []).append(one)
    amended: list[int] = []
    for tag, mine in by_motor.items():
        wanted = {one.same: one for one in mine}
        for job_id, text in rows.records_with_ids(session, known[tag].filing.motor_id, FILED):
            record = json.loads(text)
            here = {same: (old, wanted[same]) for same, old in _stored(tag, record) if same in wanted}
            if here:
                amended.append(job_id)
                told = [f"{old.words} to {new.text}" for old, new in here.values()]
                grounds = Grounds(f"another value in {source.name}"[:500], "; ".join(told)[:300], str(uuid4()))
                refile(session, job_id, _with(record, tag, wanted), now)
                add_link(session, job_id, actor, "filed", now, grounds)
        bring_up_to_date_with(session, rows.last_of(session, known[tag].filing.motor_id), now)
    return amended


def amended_words(amended: Sequence[int]) -> str:
    """For the trail."""
    return f", {len(amended)} tests amended" if amended else ""


def _with(record: Document, tag: str, wanted: Mapping[Same, Taken]) -> Document:
    """A test's document with these values in place of its own."""
    base = tag_key(tag), date.fromisoformat(record["conditions"]["date"])
    for test in record["tests"]:
        if test["kind"] == "winding_resistance":
            for pair in test.get("readings", {}):
                new = wanted.get((*base, "winding_resistance", pair, "", "", HOLD_S))
                if new is not None and new.read is not None:
                    test["readings"][pair] = _text("winding_resistance", new.read)
        elif test["kind"] == "insulation":
            ends = "-".join(test.get("from", ())), "-".join(test.get("to", ()))
            for point in test.get("series", ()):
                new = wanted.get((*base, "insulation", "", *ends, float(point["t_s"])))
                if new is not None and new.read is not None:
                    point["reading"] = _text("insulation", new.read)
    return record


def _groups(taken: Sequence[Taken]) -> list[tuple[str, date, list[Taken]]]:
    """By motor and day; what stands beside a stored value is a test of its own."""
    by_key: dict[tuple[date, str, bool], list[Taken]] = {}
    for one in taken:
        by_key.setdefault((one.on, one.tag, one.against == BOTH), []).append(one)
    return [(tag, on, by_key[on, tag, beside]) for on, tag, beside in sorted(by_key)]


@dataclass(frozen=True, slots=True)
class _Known:
    """A motor as the formats write it, and where its tests are filed."""

    filing: Filing
    motor: Document
    criticality: str


def _known(session: Session, tag: str) -> _Known:
    on_register, winding = with_winding(session, tag)
    stays = stays_of(session, on_register.id)
    motor = motor_file(on_register, winding).model_dump(mode="json", exclude_none=True)
    matters = on_register.position.criticality if on_register.position else "routine"
    filing = Filing(on_register.id, winding.id, stays)
    return _Known(filing, motor | {"tag": on_register.tag}, matters)


def keep_readings(session: Session, import_id: int, taken: Sequence[Taken], motors: Mapping[str, int]) -> None:
    """What was understood, value by value. motors: number by tag."""
    rows.insert_readings(
        session, (_reading(import_id, number, motors[one.tag], one) for number, one in enumerate(taken, 1))
    )


def _reading(import_id: int, number: int, motor_id: int, one: Taken) -> Sequence[object]:
    """In the order of the table's columns."""
    part, read, place = one.one, one.read, one.place
    points, hold = part.pair or "", None
    if part.as_ == "insulation":
        points, hold = f"{part.from_ or '1-2-3'}~{part.to or 'frame'}", part.t_s or HOLD_S
    amount = None if read is None else read.amount
    return (
        import_id, number, motor_id, one.on, part.as_ or "", points[:POINTS], hold, one.text[:TEXT],
        None if read is None else read.shown.value,
        None if amount is None else amount.low, None if amount is None or isinf(amount.high) else amount.high,
        None if place.sheet is None else place.sheet[:TAB], place.row, place.cell,
    )  # fmt: skip


def _judged(
    known: _Known,
    on: date,
    mine: Sequence[Taken],
    import_id: int,
    limits: Mapping[str, Criteria],
    now: datetime,
) -> tuple[Job, Subject, Assessment]:
    given = validated({"format": "grimcoil-job/1", "motor": known.motor, **_tests(on, mine)})
    record = to_record(given, limits)
    job, whole = judged_job(known.filing, given, record, now)
    job.import_id = import_id
    return job, record.subject, whole


def _tests(on: date, mine: Sequence[Taken]) -> Document:
    """Readings of one motor and day as tests of a job document."""
    ohms: dict[str, str] = {}
    holds: dict[tuple[str, str], list[Document]] = {}
    conditions: Document = {"date": on.isoformat()}
    notes: list[str] = []
    volts: float | None = None
    for one in mine:
        field, read = one.one.as_ or "", one.read
        if read is None:
            notes.append(one.text)
        elif field == "winding_resistance":
            ohms[one.one.pair or ""] = _text(field, read)
        elif field == "insulation":
            ends = one.one.from_ or "1-2-3", one.one.to or "frame"
            holds.setdefault(ends, []).append({"t_s": one.one.t_s or HOLD_S, "reading": _text(field, read)})
        elif field == "test_voltage_v":
            volts = read.amount.value
        else:
            conditions[field] = read.amount.value
    tests: list[Document] = [{"kind": "winding_resistance", "readings": ohms}] if ohms else []
    for (first, second), series in holds.items():
        test = {"kind": "insulation", "from": first.split("-"), "to": second.split("-")}
        ordered = sorted(series, key=lambda point: float(point["t_s"]))
        tests.append(test | {"series": ordered} | ({"test_voltage_v": volts} if volts else {}))
    out: Document = {"conditions": conditions, "tests": tests}
    return out | ({"as_found": {"note": "; ".join(notes)[:300]}} if notes else {})


def _text(name: str, read: Understood) -> str:
    if read.shown is not Shown.VALUE:
        return {Shown.OVER_RANGE: "OL", Shown.BEEP: "beep", Shown.NO_BEEP: "no beep"}[read.shown]
    field = field_of(name)
    return as_text(read.amount.scaled(field.home_factor), field)
