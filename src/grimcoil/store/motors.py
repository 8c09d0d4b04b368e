"""Queries about motors, their windings, positions and what the register shows of them."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any, NamedTuple

from sqlalchemy import Date, bindparam, exists, func, select, text
from sqlalchemy.orm import Session, aliased, joinedload

from grimcoil.store.lines import SiteLine, names_of
from grimcoil.store.list_tables import Listing
from grimcoil.store.tables import Job, Motor, MotorState, Position, Site, Utc, WindingRow, columns


@dataclass(frozen=True, slots=True)
class RegisterRow:
    """One line of the register. Everything after `open_job_id` is None until a first job is signed."""

    tag: str
    power_text: str
    rated_voltage_v: Decimal | None
    place: str | None
    area: str | None
    winding: str | None
    lead_scheme: str | None
    open_job_id: int | None
    verdict: str | None
    soon: bool | None
    why: str | None
    r40_low_mohm: float | None
    r40_high_mohm: float | None
    unbalance_percent: float | None
    unbalance_percent_lowest: float | None
    unbalance_percent_highest: float | None
    balance: str | None
    minimum_mohm: float | None
    last_on: date | None
    next_on: date | None
    next_why: str | None
    spark: str | None


_SITE = select(*columns(Site, names_of(SiteLine))).limit(1)


def site(session: Session) -> SiteLine | None:
    """The works."""
    row = session.execute(_SITE).first()
    return None if row is None else SiteLine(*row)


_MOTOR, _PLACE, _WINDING, _STATE = columns(Motor), columns(Position), columns(WindingRow), columns(MotorState)
_OPEN_ID = select(columns(Job).id).where(columns(Job).motor_id == _MOTOR.id, columns(Job).state == "open").limit(1)
_REGISTER = (
    select(
        _MOTOR.id, _WINDING.since, _MOTOR.tag, _MOTOR.power_text, _MOTOR.rated_voltage_v, _PLACE.name, _PLACE.area,
        _WINDING.winding, _WINDING.lead_scheme, _OPEN_ID.correlate(Motor.__table__).scalar_subquery(), _STATE.verdict,
        _STATE.soon, _STATE.why, _STATE.r40_low_mohm, _STATE.r40_high_mohm, _STATE.unbalance_percent,
        _STATE.unbalance_percent_lowest, _STATE.unbalance_percent_highest, _STATE.balance,
        _STATE.minimum_mohm, _STATE.last_on, _STATE.next_on,
        _STATE.next_why, _STATE.spark,
    )
    .outerjoin(MotorState.__table__, _STATE.motor_id == _MOTOR.id)
    .outerjoin(WindingRow.__table__, _WINDING.motor_id == _MOTOR.id)
    .outerjoin(Position.__table__, _PLACE.id == _MOTOR.position_id)
    .where(_MOTOR.id.in_(bindparam("motors", expanding=True)))
)  # fmt: skip


def register(session: Session, motor_ids: Sequence[int]) -> list[RegisterRow]:
    """These motors with what their last signed job showed, in the order given. One query, plain columns.

    The newest winding is picked here: the database sorts rows that carry figures on disk.
    """
    newest: dict[int, tuple[Any, ...]] = {}
    if motor_ids:
        for row in session.execute(_REGISTER, {"motors": list(motor_ids)}):
            other = newest.get(row[0])
            if other is None or row[1] > other[1]:
                newest[row[0]] = tuple(row)
    return [RegisterRow(*newest[number][2:]) for number in motor_ids if number in newest]


_OPEN_JOB = (
    select(func.max(Job.id)).where(Job.motor_id == Motor.id, Job.state == "open").correlate(Motor).scalar_subquery()
)
_BY_TAG = (
    select(Motor, MotorState, _OPEN_JOB)
    .outerjoin(MotorState, MotorState.motor_id == Motor.id)
    .where(Motor.tag == bindparam("tag"))
    .options(joinedload(Motor.position))
)
_PLACED = select(Motor).where(Motor.id == bindparam("motor")).options(joinedload(Motor.position))


def lock(session: Session, motor_id: int) -> None:
    """Nobody else may start a job of this motor, or change its row, until this transaction ends."""
    session.execute(select(Motor.id).where(Motor.id == motor_id).with_for_update())


def by_tag(session: Session, tag: str) -> tuple[Motor, MotorState | None, int | None] | None:
    """A motor with its state and the id of its open job. One query."""
    row = session.execute(_BY_TAG, {"tag": tag}).first()
    return None if row is None else (row[0], row[1], row[2])


def placed(session: Session, motor_id: int) -> Motor | None:
    """A motor with its position. One query."""
    return session.scalar(_PLACED, {"motor": motor_id})


def winding_now(session: Session, motor_id: int) -> WindingRow | None:
    """The newest winding."""
    query = select(WindingRow).where(WindingRow.motor_id == motor_id).order_by(WindingRow.since.desc()).limit(1)
    return session.scalar(query)


def with_windings(session: Session, tags: Sequence[str]) -> dict[str, tuple[Motor, WindingRow]]:
    """Motors with their positions and newest windings, by tag. One query."""
    query = (
        select(Motor, WindingRow)
        .join(WindingRow, WindingRow.motor_id == Motor.id)
        .where(Motor.tag.in_(tags))
        .order_by(WindingRow.since)
        .options(joinedload(Motor.position))
    )
    return {motor.tag: (motor, winding) for motor, winding in session.execute(query)}


def rewound_since(session: Session) -> Sequence[MotorState]:
    """States that tell of a winding that another has taken the place of, on the day of its last test or after it."""
    another = (_WINDING.motor_id == _STATE.motor_id) & (_WINDING.id != _STATE.winding_id)
    return session.scalars(select(MotorState).where(exists().where(another, _WINDING.since >= _STATE.last_on))).all()


class LifeLine(NamedTuple):
    """Something that happened to a motor, as it is read."""

    on_day: date
    kind: str
    note: str


class WindingLine(NamedTuple):
    """A winding as it is read; the names are its row's."""

    id: int
    since: date
    reason: str
    winding: str
    insulation_system: str
    conductor: str
    lead_scheme: str
    insulation_test_forbidden: bool
    ratings: list[Any] | None = None
    accessories: list[Any] | None = None
    brake: dict[str, Any] | None = None
    maker_plate: dict[str, Any] | None = None
    baseline: dict[str, Any] | None = None
    own: dict[str, Any] | None = None


class LinkLine(NamedTuple):
    """A link of the chain of signatures, without its document. kind: `job`, or `amendment` with its reason."""

    seq: int
    job_id: int
    kind: str
    who: str
    at: datetime
    reason: str
    changed: str
    hash: str


class PhotoLine(NamedTuple):
    """A photo without its picture."""

    id: int
    job_id: int
    who: str
    at: datetime
    note: str
    taken_back_by: str


@dataclass(frozen=True, slots=True)
class TaskAtMotor:
    """An open task as a motor's page shows it."""

    id: int
    what: str
    because: str
    by_day: date
    whom: str
    origin: str
    opened_at: datetime
    opened_by: str
    state: str = "open"


@dataclass(frozen=True, slots=True)
class History:
    """A motor's windings, what happened to it, the links and photos of one of its jobs, each oldest first; and its open
    tasks, the earliest first.
    """

    windings: Sequence[WindingLine]
    events: Sequence[LifeLine]
    links: Sequence[LinkLine]
    photos: Sequence[PhotoLine]
    todo: Sequence[TaskAtMotor] = ()

    def links_of(self, job_id: int) -> list[LinkLine]:
        """Of one job."""
        return [link for link in self.links if link.job_id == job_id]

    def photos_of(self, job_id: int) -> list[PhotoLine]:
        """Of one job, those that stand."""
        return [photo for photo in self.photos if photo.job_id == job_id and not photo.taken_back_by]


_HISTORY = text(
    "SELECT 'w' AS what, id, since AS day, NULL AS at, reason AS a, winding AS b, insulation_system AS c,"
    " conductor AS d, lead_scheme AS e, insulation_test_forbidden AS n,"
    " JSON_OBJECT('ratings', JSON_COMPACT(ratings), 'accessories', JSON_COMPACT(accessories),"
    " 'brake', JSON_COMPACT(brake), 'maker_plate', JSON_COMPACT(maker_plate), 'baseline', JSON_COMPACT(baseline),"
    " 'own', JSON_COMPACT(own))"
    " AS documents"
    " FROM winding WHERE motor_id = :motor_id"
    " UNION ALL SELECT 'e', id, on_day, NULL, kind, note, '', '', '', 0, ''"
    " FROM life_event"
    " WHERE motor_id = :motor_id AND taken_back_at IS NULL"
    " UNION ALL SELECT 's', s.seq, NULL, s.at, s.kind, s.who, s.reason, s.changed, s.hash, s.job_id, ''"
    " FROM job j JOIN signature s ON s.job_id = j.id WHERE j.id = :job_id AND j.motor_id = :motor_id"
    " UNION ALL SELECT 'p', p.id, NULL, p.at, p.who, p.note, COALESCE(p.taken_back_by, ''), '', '', p.job_id, ''"
    " FROM job j JOIN photo p ON p.job_id = j.id WHERE j.id = :job_id AND j.motor_id = :motor_id"
    " UNION ALL SELECT 't', id, by_day, opened_at, what, because, whom, origin, opened_by, 0, ''"
    " FROM follow_up_task WHERE motor_id = :motor_id AND state = 'open'"
    " ORDER BY what, day, id"
).columns(at=Utc, day=Date)


def history(session: Session, motor_id: int, job_id: int = 0) -> History:
    """All that happened to a motor but its tests, its open tasks, links and photos of one of its jobs. One query."""
    windings, events, links, photos, todo = [], [], [], [], []
    for what, number, day, at, a, b, c, d, e, n, documents in session.execute(
        _HISTORY, {"motor_id": motor_id, "job_id": job_id}
    ):
        if what == "w":
            windings.append(WindingLine(number, day, a, b, c, d, e, bool(n), **json.loads(documents)))
        elif what == "e":
            events.append(LifeLine(day, a, b))
        elif what == "t":
            todo.append(TaskAtMotor(number, a, b, day, c, d, at, e))
        elif what == "p":
            photos.append(PhotoLine(number, n, a, at, b, c))
        else:
            links.append(LinkLine(number, n, a, b, at, c, d, e))
    return History(windings, events, links, photos, todo)


def position_named(session: Session, name: str) -> Position | None:
    """A position by its name; where none is called just so, the one that is but for marks and blanks between words."""
    found = session.scalar(select(Position).where(Position.name == name))
    if found is not None:
        return found
    words = re.sub(r"[^\w]+", " ", name.replace("_", " ")).strip()
    spaced = func.trim(func.regexp_replace(Position.name, "[^[:alnum:]]+", " "))
    near = session.scalars(select(Position).where(spaced == words).limit(2)).all() if words else ()
    return near[0] if len(near) == 1 else None


class SignedJob(NamedTuple):
    """A signed job as lists and trends read it: plain columns, as there are many to a motor."""

    id: int
    winding_id: int
    tested_on: date | None
    verdict: str | None
    r40_low_mohm: float | None
    r40_high_mohm: float | None
    unbalance_percent: float | None
    unbalance_percent_lowest: float | None
    unbalance_percent_highest: float | None
    r_reference_ohm: float | None
    decided_action: str | None
    signed_by: str | None
    criteria: str
    compares: dict[str, Any] | None


_SIGNED = (
    select(*columns(Job, SignedJob._fields))
    .where(columns(Job).motor_id == bindparam("motor_id"), columns(Job).state == "signed")
    .order_by(columns(Job).tested_on, columns(Job).id)
)
_J = columns(Job)
NEWEST = 24  # tests of one page
_EARLY = aliased(Job)
_FIRST_OHM = (
    select(_EARLY.r_reference_ohm)
    .where(_EARLY.winding_id == _J.winding_id, _EARLY.state == "signed", _EARLY.r_reference_ohm.is_not(None))
    .where(_EARLY.decided_action.startswith("return"))
    .order_by(_EARLY.tested_on, _EARLY.id)
    .limit(1)
    .correlate(Job.__table__)
    .scalar_subquery()
)


class NewestJobs(NamedTuple):
    """Some of a motor's signed jobs, oldest of them first; mean ohms of their windings' first accepted jobs, which may
    be older; whether there are older ones.
    """

    jobs: Sequence[SignedJob]
    firsts: Mapping[int, float]
    more: bool


def newest_jobs(session: Session, motor_id: int, before: tuple[date, int] | None = None) -> NewestJobs:
    """The signed jobs of a motor tested last; `before`: day and number of one to go on behind. One query."""
    query = select(*columns(Job, SignedJob._fields), _FIRST_OHM).where(_J.motor_id == motor_id, _J.state == "signed")
    if before is not None:
        day, number = before
        query = query.where((_J.tested_on < day) | ((_J.tested_on == day) & (_J.id < number)))
    query = query.order_by(_J.tested_on.desc(), _J.id.desc()).limit(NEWEST + 1)
    rows = list(session.execute(query))[::-1]
    jobs = [SignedJob(*row[:-1]) for row in rows]
    firsts = {job.winding_id: row[-1] for job, row in zip(jobs, rows, strict=True) if row[-1] is not None}
    return NewestJobs(jobs[-NEWEST:], firsts, len(jobs) > NEWEST)


def signed_jobs(session: Session, motor_id: int) -> list[SignedJob]:
    """Signed jobs of a motor, oldest first."""
    return [SignedJob(*row) for row in session.execute(_SIGNED, {"motor_id": motor_id})]


def without_balance(session: Session) -> Iterator[tuple[MotorState, list[Any] | None]]:
    """Register lines that show an unbalance and no verdict on it, with what their job's resistances were judged."""
    query = select(MotorState, Job.assessment).join(Job, Job.id == MotorState.last_job_id)
    for row in session.execute(query.where(MotorState.balance.is_(None), MotorState.unbalance_percent.is_not(None))):
        yield row[0], (row[1] or {}).get("winding_resistance")


def ids_of(session: Session, tags: Sequence[str]) -> list[int]:
    """Motors by their tags, in the order given; those that aren't on the register are left out."""
    found = {
        tag.casefold(): number
        for number, tag in session.execute(select(_MOTOR.id, _MOTOR.tag).where(_MOTOR.tag.in_(tags)))
    }
    return [found[tag.casefold()] for tag in dict.fromkeys(tags) if tag.casefold() in found]


def drawn_sparks(session: Session) -> list[MotorState]:
    """Register lines whose small trend is still kept as it was drawn, not as its figures."""
    return list(session.scalars(select(MotorState).where(MotorState.spark.startswith("<"))))


def unlisted(session: Session) -> list[int]:
    """Motors that no list shows yet."""
    listed = columns(Listing).motor_id
    query = select(_MOTOR.id).outerjoin(Listing.__table__, listed == _MOTOR.id).where(listed.is_(None))
    return list(session.scalars(query))


def last_job_id(session: Session, motor_id: int) -> int | None:
    """The job that the register's line of a motor hangs on."""
    return session.scalar(select(MotorState.last_job_id).where(MotorState.motor_id == motor_id))


def last_findings(session: Session, motor_id: int) -> list[tuple[str, str]]:
    """Code and sentence of every finding on the winding's ohms in the newest signed job that read any."""
    query = select(_J.assessment).where(_J.motor_id == motor_id, _J.state == "signed")
    for document in session.scalars(query.order_by(_J.tested_on.desc(), _J.id.desc()).limit(10)):
        results = [
            one for kind in ("winding_resistance", "winding_to_winding") for one in (document or {}).get(kind, ())
        ]
        if results:
            return [(found["code"], found["text"]) for one in results for found in one.get("findings", ())]
    return []
