"""Queries about imported sheets."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from grimcoil.store.people_tables import Signature
from grimcoil.store.tables import Job, Motor, SheetImport, columns

_J, _M, _S = columns(Job), columns(Motor), columns(Signature)


def tags(session: Session) -> list[str]:
    """Every tag of the register."""
    return list(session.scalars(select(_M.tag).order_by(_M.tag)))


def imported_records(session: Session) -> Iterator[tuple[str, str]]:
    """Tag and record of each filed job that stands."""
    query = select(_M.tag, _J.record).join(Motor.__table__, _M.id == _J.motor_id)
    for tag, record in session.execute(query.where(_J.import_id.is_not(None), _J.state == "signed")):
        if record:
            yield tag, record


def locked(session: Session, import_id: int) -> SheetImport | None:
    """An import, held until the transaction ends."""
    return session.scalar(select(SheetImport).where(SheetImport.id == import_id).with_for_update())


def jobs_of(session: Session, import_id: int) -> list[Job]:
    """The jobs that came with it."""
    return list(session.scalars(select(Job).where(Job.import_id == import_id).order_by(Job.id)))


def amended(session: Session, job_ids: Sequence[int]) -> list[int]:
    """Those of the jobs that have an amendment."""
    query = select(_S.job_id).where(_S.job_id.in_(job_ids), _S.kind == "amendment")
    return [number for number in session.scalars(query) if number is not None]
