"""Queries about the works' own criteria."""

from __future__ import annotations

from datetime import date
from typing import Any, NamedTuple

from sqlalchemy import bindparam, func, select
from sqlalchemy.orm import Session

from grimcoil.store.criteria_tables import OwnCriteria
from grimcoil.store.tables import Job, Motor, columns

_O, _J = columns(OwnCriteria), columns(Job)
_NEWEST = select(_O.name, func.max(_O.version).label("version")).group_by(_O.name).subquery()
# What a job is judged by, where it is the works' own: to be put beside the job's own columns.
OF_JOB = (
    select(_O.document)
    .where(_O.name == Job.criteria, _O.version == Job.criteria_version)
    .correlate(Job)
    .scalar_subquery()
)


class OwnLine(NamedTuple):
    """One version, without who kept what it was copied from."""

    name: str
    version: int
    document: str
    kept_by: str


def newest(session: Session, name: str = "") -> list[OwnLine]:
    """The newest version of each, by name; of one name only where it is given."""
    query = (
        select(_O.name, _O.version, _O.document, _O.kept_by)
        .join(_NEWEST, (_NEWEST.c.name == _O.name) & (_NEWEST.c.version == _O.version))
        .order_by(_O.name)
    )
    return [OwnLine(*row) for row in session.execute(query.where(_O.name == name) if name else query)]


def lock(session: Session, name: str) -> int:
    """Nobody else keeps a version of this name until the transaction ends; returns the newest so far, 0 for none."""
    held = select(_O.version).where(_O.name == name).order_by(_O.version.desc()).limit(1).with_for_update()
    return session.scalar(held) or 0


class Judged(NamedTuple):
    """A signed job with the documents it was judged on."""

    job_id: int
    tag: str
    tested_on: date | None
    subject: str
    record: str


_JUDGED = (
    select(_J.id, columns(Motor).tag, _J.tested_on, _J.subject, _J.record)
    .join(Motor.__table__, columns(Motor).id == _J.motor_id)
    .where(_J.state == "signed", _J.criteria == bindparam("name"))
    .where(_J.subject.is_not(None), _J.record.is_not(None))
    .order_by(_J.signed_at.desc(), _J.id.desc())
)


def judged_by(session: Session, name: str, most: int) -> list[Judged]:
    """The newest signed jobs that were judged by criteria of this name, any version."""
    rows: Any = session.execute(_JUDGED.limit(most), {"name": name})
    return [Judged(*row) for row in rows]
