"""The chain of signatures: its head, its links, and the rows that a link speaks of."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import datetime
from typing import NamedTuple

from sqlalchemy import insert, select
from sqlalchemy.orm import Session, joinedload

from grimcoil.store.people_tables import Signature
from grimcoil.store.tables import Job, Motor, Site, columns

_S = columns(Signature)


BATCH = 100


class Head(NamedTuple):
    """The newest link."""

    seq: int
    hash: str


def locked_head(session: Session) -> Head:
    """The newest link; nobody else can add one until this transaction ends. The works' row is the lock."""
    lock = select(Site.id).limit(1).with_for_update()
    if session.execute(lock).first() is None:
        session.execute(insert(Site).prefix_with("IGNORE").values(id=1, name="Works", zone="UTC"))
        session.execute(lock).first()
    return head(session)


def head(session: Session) -> Head:
    """The newest link, or none: 0 and no hash."""
    row = session.execute(select(_S.seq, _S.hash).order_by(_S.seq.desc()).limit(1)).first()
    return Head(0, "") if row is None else Head(*row)


def links(session: Session) -> Iterator[Signature]:
    """Every link in order, some at a time: a chain is longer than memory should be."""
    after = -(2**31)  # from the very first, forged ones too
    while True:
        query = select(Signature).where(Signature.seq > after).order_by(Signature.seq).limit(BATCH)
        some = session.scalars(query).all()
        yield from some
        if len(some) < BATCH:
            return
        after = some[-1].seq
        session.expunge_all()


def has_token(session: Session, token: str) -> bool:
    """A link was added under this token already."""
    return session.execute(select(_S.seq).where(_S.token == token)).first() is not None


def latest(session: Session) -> dict[int, int]:
    """Job -> seq of its newest link."""
    return {job: seq for job, seq in session.execute(select(_S.job_id, _S.seq).order_by(_S.seq))}  # noqa: C416


class SignedJobLine(NamedTuple):
    """A signed job in a line."""

    id: int
    signed_by: str | None
    signed_at: datetime | None
    started_at: datetime


def signed_jobs(session: Session) -> Sequence[SignedJobLine]:
    """Jobs that are signed, in the order they were signed."""
    query = select(*columns(Job, SignedJobLine._fields)).where(columns(Job).state == "signed")
    return [SignedJobLine(*row) for row in session.execute(query.order_by(columns(Job).signed_at, columns(Job).id))]


def job_whole(session: Session, job_id: int) -> Job | None:
    """A job with its motor, place and winding, assessment included."""
    return session.scalar(
        select(Job)
        .where(Job.id == job_id)
        .options(joinedload(Job.motor).joinedload(Motor.position), joinedload(Job.winding))
        .execution_options(populate_existing=True)
    )
