"""Queries about jobs and their entries, and the way between an entry row and the core's entry."""

from __future__ import annotations

import json
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from itertools import chain, islice
from typing import Any, NamedTuple

from sqlalchemy import bindparam, func, insert, literal, null, select, union_all, update
from sqlalchemy.orm import Session, aliased, defer

from grimcoil.core.amount import Amount
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.plan.danger import Stage
from grimcoil.core.plan.entries import Entry, EntryKind
from grimcoil.core.readings import Reading, Shown
from grimcoil.store.criteria import OF_JOB
from grimcoil.store.drying_tables import DryingRow
from grimcoil.store.instruments import from_columns, range_columns
from grimcoil.store.lines import JobLine, ListedJob, MotorLine, PlaceLine, names_of
from grimcoil.store.motors import SignedJob, WindingLine
from grimcoil.store.tables import (
    WORKS_SUPPLY,
    WORKS_VOLTS,
    EntryRow,
    Instrument,
    InstrumentRangeRow,
    Job,
    Motor,
    MotorState,
    Position,
    Site,
    WindingRow,
    columns,
)

_OHM, _HOLD = aliased(InstrumentRangeRow), aliased(InstrumentRangeRow)
_OHM_METER, _HOLD_METER = aliased(Instrument), aliased(Instrument)
_ZONE = select(columns(Site).zone).limit(1).scalar_subquery()
_COLOURS = select(columns(Site).phase_colours).limit(1).scalar_subquery()
_FIRST = aliased(Job)
ACCEPTED = "return"
# The resistances of the winding's first job after which it went back to work: what later ones are held against.
_FIRST_OHMS = (
    select(func.json_extract(_FIRST.assessment, "$.winding_resistance"))
    .where(_FIRST.winding_id == Job.winding_id, _FIRST.id != Job.id, _FIRST.state == "signed")
    .where(_FIRST.r_reference_ohm.is_not(None), _FIRST.decided_action.startswith(ACCEPTED))
    .order_by(_FIRST.tested_on, _FIRST.id)
    .limit(1)
    .correlate(Job)
    .scalar_subquery()
)
_PLAIN = names_of(MotorLine)[:-1]  # its last is its position
_PARTS = (
    (*columns(Job, names_of(JobLine)),),
    (*columns(Motor, _PLAIN),),
    (*columns(Position, names_of(PlaceLine)[:-2]), WORKS_SUPPLY, WORKS_VOLTS),
    (*columns(WindingRow, WindingLine._fields),),
    (columns(MotorState).r_reference_ohm, columns(MotorState).winding_id, _ZONE, _COLOURS, OF_JOB, _FIRST_OHMS),
    range_columns(_OHM, _OHM_METER),
    range_columns(_HOLD, _HOLD_METER),
)
_JOB = (
    select(*(column.label(f"c{n}") for n, column in enumerate(chain(*_PARTS))))
    .join_from(Job, Motor, columns(Motor).id == Job.motor_id)
    .join(WindingRow, columns(WindingRow).id == Job.winding_id)
    .outerjoin(Position, columns(Position).id == columns(Motor).position_id)
    .outerjoin(MotorState.__table__, columns(MotorState).motor_id == Job.motor_id)
    .outerjoin(_OHM, _OHM.id == Job.ohm_range_id)
    .outerjoin(_OHM_METER, _OHM_METER.id == _OHM.instrument_id)
    .outerjoin(_HOLD, _HOLD.id == Job.insulation_range_id)
    .outerjoin(_HOLD_METER, _HOLD_METER.id == _HOLD.instrument_id)
    .where(Job.id == bindparam("job_id"))
)
_JOB_LOCKED = _JOB.with_for_update(of=Job)


Meters = tuple[InstrumentRange, ...]


class FirstOhms(NamedTuple):
    """Line resistances by pair of a winding's first accepted job, and the temperature they were brought to."""

    ohms: Mapping[str, float]
    temperature_c: float


class JobRow(NamedTuple):
    """A job as loaded. last_ohm: the mean ohms of its winding's last signed job; zone, colours: of the works; own: the
    works' own criteria that judge it; first: what the winding read in its first accepted job.
    """

    job: JobLine
    motor: MotorLine
    winding: WindingLine
    last_ohm: float | None
    meters: Meters
    zone: str
    first: FirstOhms | None = None
    colours: str = ""
    own: str | None = None


def accepted(job: Job | JobLine | SignedJob) -> bool:
    """Whether it read ohms and the motor went back to work: later ones can be held against it."""
    return job.r_reference_ohm is not None and (job.decided_action or "").startswith(ACCEPTED)


def first_ohms(results: Sequence[Mapping[str, Any]]) -> FirstOhms | None:
    """Out of an assessment's `winding_resistance`; None where it has no figure at a reference temperature."""
    ohms: dict[str, float] = {}
    for result in results:
        ohms |= {pair: ohm for pair, ohm in result["at_reference_ohm"].items() if ohm is not None}
    return FirstOhms(ohms, results[0]["reference_temperature_c"]) if ohms else None


def job(session: Session, job_id: int, lock: bool = False) -> JobRow | None:
    """A job with motor, position and winding, the last mean ohms of its winding, and its instruments. One query.

    lock: nobody else may change this job until the transaction ends.
    """
    row = session.execute(_JOB_LOCKED if lock else _JOB, {"job_id": job_id}).first()
    if row is None:
        return None
    values = iter(row)
    found, plain, place, winding, beside, ohm, hold = ([*islice(values, len(part))] for part in _PARTS)
    ohm_mean, ohm_winding, zone, colours, own, first = beside
    job = JobLine(*found)
    return JobRow(
        job,
        MotorLine(*plain, *[None if place[0] is None else PlaceLine(*place)]),
        WindingLine(*winding),
        ohm_mean if ohm_winding == job.winding_id else None,
        tuple(meter for meter in (from_columns(ohm), from_columns(hold)) if meter is not None),
        zone or "UTC",
        first_ohms(json.loads(first)) if first else None,
        colours or "",
        own,
    )


def row_of(session: Session, job_id: int) -> Job:
    """A job's own row, to be changed."""
    return session.get_one(Job, job_id, options=[defer(Job.record, raiseload=True)])


def follow(session: Session, job_id: int, values: Mapping[str, Any]) -> None:
    """Onto a job's row what its entries bring."""
    session.execute(update(Job).where(Job.id == job_id).values(**values))


def by_token(session: Session, token: str) -> Job | None:
    """The job a start form already made."""
    return session.scalar(select(Job).where(Job.token == token))


def open_of(session: Session, motor_id: int) -> Job | None:
    """The open job of a motor."""
    return session.scalar(select(Job).where(Job.motor_id == motor_id, Job.state == "open").limit(1))


def records_of(session: Session, motor_id: int) -> list[tuple[int, str]]:
    """Closed jobs of a motor that have a record of their own: id and document."""
    query = select(Job.id, Job.record).where(Job.motor_id == motor_id, Job.record.is_not(None)).order_by(Job.id)
    return [(number, record or "") for number, record in session.execute(query)]


def first_day(session: Session, motor_id: int) -> date | None:
    """The day of a motor's first signed test; None where it has none."""
    return session.scalar(select(func.min(Job.tested_on)).where(Job.motor_id == motor_id, Job.state == "signed"))


def without_compares(session: Session) -> list[int]:
    """Signed jobs with a value at 40 °C and nothing said of how it compares."""
    query = select(Job.id).where(Job.state == "signed", Job.r40_low_mohm.is_not(None), Job.compares.is_(None))
    return list(session.scalars(query.where(Job.record.is_not(None)).order_by(Job.id)))


def set_compares(session: Session, job_id: int, compares: Mapping[str, Any]) -> None:
    """How a job's insulation compares with others."""
    session.execute(update(Job).where(Job.id == job_id).values(compares=compares))


def record_text(session: Session, job_id: int) -> str:
    """The document a closed job keeps; empty where it has none."""
    return session.scalar(select(Job.record).where(Job.id == job_id)) or ""


_J, _M, _P = columns(Job), columns(Motor), columns(Position)


def _by(state: str, order: Any) -> Any:
    """Some jobs by the index of their state and a moment, newest first; their motors are looked up afterwards."""
    some = select(_J.id).where(_J.state == state).order_by(order.desc()).limit(bindparam("most")).subquery()
    return (
        select(
            _J.id, _M.tag, _P.name, _J.started_by, _J.started_at, _J.verdict, _J.decided_action, _J.signed_by,
            _J.tested_on, _J.handed_to,
        )
        .select_from(some)
        .join(Job.__table__, _J.id == some.c.id)
        .join(Motor.__table__, _M.id == _J.motor_id)
        .outerjoin(Position.__table__, _P.id == _M.position_id)
        .order_by(order.desc())
    )  # fmt: skip


_OPEN, _SIGNED = _by("open", _J.started_at), _by("signed", _J.signed_at)


def open_jobs(session: Session, most: int = 200) -> list[ListedJob]:
    """Open jobs, newest first, some at most."""
    return [ListedJob(*row) for row in session.execute(_OPEN, {"most": most})]


def every_open(session: Session) -> list[int]:
    """Numbers of all open jobs."""
    return list(session.scalars(select(Job.id).where(Job.signed_at.is_(None)).order_by(Job.id)))


def last_signed(session: Session, most: int = 12) -> list[ListedJob]:
    """The jobs signed last."""
    return [ListedJob(*row) for row in session.execute(_SIGNED, {"most": most})]


class Running(NamedTuple):
    """What can hurt at a motor and is told on every page: of a job, or of a drying. due: when what runs is over, None
    where it stands until somebody ends it; since: when it began; danger: of a job's stages, `heat` or `shorted` of a
    drying.
    """

    number: int
    tag: str
    due: datetime | None
    words: str
    drying: bool
    danger: str = ""
    since: datetime | None = None


Follow = Sequence[Running]
HEAT = "heat"  # a cycle of a drying
_D = columns(DryingRow)
_RUNNING = union_all(
    select(_J.id, columns(Motor).tag, _J.discharge_due_at, _J.danger_words, literal(0), _J.danger, _J.danger_since)
    .join(Motor.__table__, columns(Motor).id == _J.motor_id)
    .where(_J.state == "open", _J.danger.is_not(None)),
    select(_D.id, columns(Motor).tag, _D.due_at, _D.doing, literal(1), literal(HEAT), null())
    .join(Motor.__table__, columns(Motor).id == _D.motor_id)
    .where(_D.state == "open", _D.due_at.is_not(None)),
)


def discharging(session: Session) -> Follow:
    """What can hurt at a motor now: volts on a winding before all else, then volts found, charge, straps, heat, locks;
    of each what began first. One query.
    """
    lines = [
        Running(number, tag, _aware(due), words, bool(drying), _of_drying(words) if drying else danger, _aware(since))
        for number, tag, due, words, drying, danger, since in session.execute(_RUNNING)
    ]
    return sorted(lines, key=lambda line: (_RANK[line.danger], line.since or NEVER, line.due or NEVER))


NEVER = datetime.max.replace(tzinfo=UTC)
_RANK = {stage: rank for rank, stage in enumerate((*list(Stage)[:-1], HEAT, Stage.LOCKED))}


def _of_drying(words: str) -> str:
    return Stage.SHORTED if words.endswith("shorted to frame") else HEAT


def _aware(moment: datetime | None) -> datetime | None:
    return None if moment is None else moment.replace(tzinfo=UTC) if moment.tzinfo is None else moment


@dataclass(frozen=True, slots=True)
class EntryLine:
    """An entry as it is read: plain columns, as there are dozens to a job."""

    seq: int
    token: str
    place: str
    kind: str
    text: str
    unit: str | None
    shown: str | None
    low: float | None
    high: float | None
    digit: float | None
    at: datetime
    who: str
    instrument: str | None
    held_s: float | None
    taken_back_at: datetime | None
    taken_back_by: str | None


_ENTRIES = (
    select(*columns(EntryRow, EntryLine.__slots__))
    .where(columns(EntryRow).job_id == bindparam("job_id"))
    .order_by(columns(EntryRow).seq)
)


def entry_lines(session: Session, job_id: int) -> list[EntryLine]:
    """All entries of a job in order, taken-back ones too."""
    return [EntryLine(*row) for row in session.execute(_ENTRIES, {"job_id": job_id})]


def mark_taken_back(session: Session, job_id: int, seq: int, who: str, at: datetime) -> None:
    """Mark one entry, once."""
    session.execute(
        update(EntryRow)
        .where(EntryRow.job_id == job_id, EntryRow.seq == seq, EntryRow.taken_back_at.is_(None))
        .values(taken_back_at=at, taken_back_by=who)
    )


def to_entry(row: EntryLine) -> Entry:
    """Row to the core's entry."""
    reading = None
    if row.shown is not None:
        amount = Amount(0.0 if row.low is None else row.low, math.inf if row.high is None else row.high)
        reading = Reading(row.text, Shown(row.shown), amount, row.digit)
    return Entry(
        row.seq,
        row.place,
        EntryKind(row.kind),
        row.text,
        row.at,
        row.who,
        reading,
        row.taken_back_at is not None,
        row.instrument,
        row.held_s,
    )


def to_line(entry: Entry, token: str, unit: str | None) -> EntryLine:
    """The core's entry as it will be read back."""
    reading = entry.reading
    amount = reading.amount if reading else None
    return EntryLine(
        seq=entry.seq,
        token=token,
        place=entry.place,
        kind=entry.kind.value,
        text=entry.text,
        unit=unit,
        shown=reading.shown.value if reading else None,
        low=amount.low if amount else None,
        high=None if amount is None or amount.high == math.inf else amount.high,
        digit=reading.count if reading else None,
        at=entry.at,
        who=entry.who,
        instrument=entry.instrument,
        held_s=entry.held_s,
        taken_back_at=None,
        taken_back_by=None,
    )


def columns_of(line: EntryLine, entry: Entry, job_id: int) -> dict[str, object]:
    """A line's columns, to be inserted."""
    bound = entry.reading.amount.bound.value if entry.reading else None
    return {name: getattr(line, name) for name in EntryLine.__slots__} | {"job_id": job_id, "bound": bound}


_INSERT_ENTRY = insert(EntryRow.metadata.tables["entry"])  # no mapper: nothing is read back


def insert_entries(session: Session, job_id: int, pairs: Sequence[tuple[EntryLine, Entry]]) -> None:
    """Insert entries in one statement."""
    session.execute(_INSERT_ENTRY, [columns_of(line, entry, job_id) for line, entry in pairs])


def is_job_of(session: Session, job_id: int, motor_id: int) -> bool:
    """Whether a job is on this motor."""
    return session.scalar(select(_J.id).where(_J.id == job_id, _J.motor_id == motor_id)) is not None
