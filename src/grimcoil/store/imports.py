"""Queries about imported sheets."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Sequence
from datetime import date
from itertools import islice
from typing import NamedTuple, cast

from pydantic_core import to_json
from sqlalchemy import Table, bindparam, func, select, text, update
from sqlalchemy.dialects import mysql
from sqlalchemy.orm import Session

from grimcoil.store.listing import touch
from grimcoil.store.people_tables import Signature
from grimcoil.store.sheet_tables import SheetReading
from grimcoil.store.tables import Job, Motor, SheetImport, columns, known_by

_J, _M, _R, _S = columns(Job), columns(Motor), columns(SheetReading), columns(Signature)
READING = tuple(SheetReading.__table__.columns.keys())
BATCH = 10_000
MOTORS = 500  # asked of at once


def tags(session: Session) -> list[str]:
    """Every tag of the register."""
    return list(session.scalars(select(_M.tag).where(_M.withdrawn_at.is_(None)).order_by(_M.tag)))


def records(session: Session, tags: Sequence[str], filed: str) -> Iterator[tuple[str, bool, str]]:
    """Tag of a motor, whether it was filed and not signed by a person, and record of each signed job of some motors."""
    query = select(_M.tag, _J.signed_by == filed, _J.record).join(Motor.__table__, _M.id == _J.motor_id)
    query = query.where(_J.state == "signed", _J.record.is_not(None)).order_by(_J.id)
    for start in range(0, len(tags), MOTORS):
        for tag, by_file, record in session.execute(query.where(_M.tag.in_(tags[start : start + MOTORS]))):
            yield tag, bool(by_file), str(record)


def records_with_ids(session: Session, motor_id: int, filed: str) -> list[tuple[int, str]]:
    """Of one motor, its jobs that were filed and not signed by a person, with their records."""
    query = select(_J.id, _J.record).where(_J.motor_id == motor_id, _J.state == "signed", _J.record.is_not(None))
    found = session.execute(query.where(_J.signed_by == filed).order_by(_J.id))
    return [(number, str(record)) for number, record in found]


def last_of(session: Session, motor_id: int) -> int:
    """The job of the last day among a motor's signed ones. Raises NoResultFound where it has none."""
    query = select(_J.id).where(_J.motor_id == motor_id, _J.state == "signed")
    number: int = session.execute(query.order_by(_J.tested_on.desc(), _J.id.desc()).limit(1)).scalar_one()
    return number


def locked(session: Session, import_id: int) -> SheetImport | None:
    """An import, held until the transaction ends."""
    return session.scalar(select(SheetImport).where(SheetImport.id == import_id).with_for_update())


def _typed(table: Table) -> str:
    """A table's columns as the server takes them out of a JSON array of arrays, in their order."""
    dialect = mysql.dialect()
    return ", ".join(
        f"{column.name} {column.type.compile(dialect)} PATH '$[{i}]'" for i, column in enumerate(table.columns)
    )


# As one JSON text a batch: the server takes it apart four times as quickly as values are quoted one by one here. What
# doesn't fit its column would come out of it as nothing, so callers cut.
_INSERT = text(
    f"INSERT INTO sheet_reading SELECT t.* FROM JSON_TABLE(:rows, '$[*]' COLUMNS ("  # noqa: S608 # nosec B608 - names of our own
    f"{_typed(cast('Table', SheetReading.__table__))})) AS t"
)


def insert_readings(session: Session, readings: Iterable[Sequence[object]]) -> None:
    """Values of a sheet, in the order of `READING`, many at a time."""
    waiting = iter(readings)
    while some := list(islice(waiting, BATCH)):
        session.execute(_INSERT, {"rows": to_json(some).decode()})


def readings_of(session: Session, import_id: int) -> Iterator[Sequence[object]]:
    """The values of an import in their order, in the order of `READING`, some in memory at a time."""
    query = select(*(getattr(_R, name) for name in READING)).where(_R.import_id == import_id).order_by(_R.number)
    after = -(2**31)
    while some := session.execute(query.where(_R.number > after).limit(BATCH)).all():
        yield from some
        after = some[-1][1]


class FiledLine(NamedTuple):
    """A test of an import: its motor, how it stands, and the hash of its rows as they were filed."""

    id: int
    motor_id: int
    state: str
    filed_hash: str | None


def filed(session: Session, import_id: int) -> list[FiledLine]:
    """The tests that came with an import, in the order of their numbers."""
    query = select(*columns(Job, FiledLine._fields)).where(_J.import_id == import_id).order_by(_J.id)
    return [FiledLine._make(row) for row in session.execute(query)]


class Origin(NamedTuple):
    """The file a filed test came from, and its values there: field, points, hold in seconds, text, row and cell."""

    file_name: str
    sha256: str
    values: Sequence[tuple[str, str, float | None, str, int, str]]

    @property
    def rows(self) -> list[int]:
        """Its rows of the sheet."""
        return sorted({value[4] for value in self.values})


def origin(session: Session, job_id: int) -> Origin | None:
    """Of a test that came with a sheet; values are empty where it came before they were kept. One query."""
    i = columns(SheetImport)
    here = (_R.import_id == _J.import_id) & (_R.motor_id == _J.motor_id) & (_R.on_day == _J.tested_on)
    query = (
        select(i.file_name, i.sha256, _R.field, _R.points, _R.t_s, _R.text, _R.row, _R.cell)
        .join(SheetImport.__table__, i.id == _J.import_id)
        .outerjoin(SheetReading.__table__, here)
        .where(_J.id == job_id)
        .order_by(_R.number)
    )
    found = session.execute(query).all()
    values = [(one[2], *one[3:]) for one in found if one[2] is not None]
    return Origin(found[0][0], found[0][1], values) if found else None


def keep_hashes(session: Session, hashes: Iterable[tuple[int, str]]) -> None:
    """The hash of each test's rows, as they were filed."""
    table = cast("Table", Job.__table__)
    query = update(table).where(table.c.id == bindparam("job")).values(filed_hash=bindparam("hash"))
    session.execute(query, [{"job": number, "hash": sha} for number, sha in hashes])


def withdraw(session: Session, import_id: int, tests: Iterable[FiledLine]) -> None:
    """Its tests stand withdrawn, and their motors are listed anew."""
    touch(session, {one.motor_id for one in tests})
    session.execute(update(cast("Table", Job.__table__)).where(_J.import_id == import_id).values(state="withdrawn"))


def motors_of(session: Session, motor_ids: Collection[int]) -> list[Motor]:
    """Those of some motors that aren't withdrawn, in the order of their tags."""
    query = select(Motor).where(Motor.id.in_(motor_ids), Motor.withdrawn_at.is_(None))
    return list(session.scalars(query.order_by(Motor.tag)))


class CameIn(NamedTuple):
    """Of a motor what an import brought: how many tests, from when to when."""

    tag: str
    tests: int
    first: date
    last: date


def came_in(session: Session, import_id: int, most: int) -> list[CameIn]:
    """By motor, so many of them in the order of their tags. One query."""
    query = select(known_by(), func.count(), func.min(_J.tested_on), func.max(_J.tested_on))
    query = query.join(Motor.__table__, _M.id == _J.motor_id).where(_J.import_id == import_id).group_by(known_by())
    return [CameIn._make(row) for row in session.execute(query.order_by(known_by()).limit(most))]


def tags_of(session: Session, job_ids: Collection[int]) -> list[str]:
    """Tags of the motors of some jobs."""
    query = select(_M.tag).join(Job.__table__, _J.motor_id == _M.id).where(_J.id.in_(job_ids))
    return list(session.scalars(query.distinct().order_by(_M.tag)))


def amended(session: Session, job_ids: Sequence[int]) -> list[int]:
    """Those of the jobs that have an amendment."""
    query = select(_S.job_id).where(_S.job_id.in_(job_ids), _S.kind == "amendment")
    return [number for number in session.scalars(query) if number is not None]
