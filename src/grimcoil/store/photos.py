"""Queries about photos."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from grimcoil.store.people_tables import PhotoRow
from grimcoil.store.tables import columns

_P = columns(PhotoRow)


def of_job(session: Session, job_id: int) -> Sequence[PhotoRow]:
    """The photos of a job, without their pictures."""
    return session.scalars(select(PhotoRow).where(PhotoRow.job_id == job_id).order_by(PhotoRow.id)).all()


def of_plate(session: Session, motor_id: int) -> Sequence[PhotoRow]:
    """The photos of a motor's plate, without their pictures."""
    return session.scalars(select(PhotoRow).where(PhotoRow.motor_id == motor_id).order_by(PhotoRow.id)).all()


def pictured(session: Session, job_ids: Sequence[int]) -> set[int]:
    """Those of the jobs that have photos."""
    found = session.scalars(select(_P.job_id).where(_P.job_id.in_(job_ids)).distinct())
    return {number for number in found if number is not None}


def with_real_hash(session: Session, job_id: int) -> list[tuple[PhotoRow, str]]:
    """The photos of a job, each with the SHA-256 of the picture that is stored now."""
    query = select(PhotoRow, func.sha2(_P.data, 256)).where(PhotoRow.job_id == job_id).order_by(PhotoRow.id)
    return [(row, sha) for row, sha in session.execute(query)]


def by_token(session: Session, token: str) -> PhotoRow | None:
    """The photo a form already kept."""
    return session.scalar(select(PhotoRow).where(PhotoRow.token == token))


def picture(session: Session, photo_id: int) -> bytes | None:
    """The picture itself."""
    return session.scalar(select(_P.data).where(_P.id == photo_id))
