"""The chain of signatures: its head, its links, and the rows that a link speaks of."""

from __future__ import annotations

import json
from collections.abc import Collection, Iterator, Sequence
from datetime import datetime
from typing import Any, NamedTuple

from sqlalchemy import LargeBinary, and_, case, cast, exists, func, insert, select, text
from sqlalchemy.orm import Session, joinedload

from grimcoil.core.amount import Bound
from grimcoil.store.jobs import EntryLine
from grimcoil.store.people_tables import Person, Signature
from grimcoil.store.tables import EntryRow, Job, Motor, Site, Utc, columns, known_by

_S = columns(Signature)


BATCH = 100  # links of some 25 KB each


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


class LinkRow(NamedTuple):
    """A link as it is read: the names are its row's. document: as its bytes, which its hash is of."""

    seq: int
    job_id: int | None
    subject_key: str | None
    kind: str
    person_id: int | None
    who: str
    at: datetime
    reason: str
    changed: str
    document: bytes
    previous_hash: str
    hash: str


FIRST = -(2**31)  # forged ones too


def steady(session: Session) -> None:
    """Until its transaction ends this session sees everything as it stands at its first query."""
    session.execute(text("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ"))


def cuts(session: Session, every: int) -> list[int]:
    """Where the chain can be cut: the seq before each so many links, and the last."""
    numbered = select(_S.seq, func.row_number().over(order_by=_S.seq).label("n")).subquery()
    query = select(numbered.c.seq).where(numbered.c.n % every == 0).order_by(numbered.c.seq)
    found, last = list(session.scalars(query)), head(session).seq
    return found if found and found[-1] == last else [*found, last]


def link_batches(
    session: Session, kind: str = "", after: int = FIRST, to: int | None = None
) -> Iterator[list[LinkRow]]:  # fmt: skip
    """Every link in order, or those of one kind, some at a time: a chain is longer than memory should be. after, to: of
    these alone.
    """
    shown = (cast(c, LargeBinary) if c.name == "document" else c for c in columns(Signature, LinkRow._fields))
    query = select(*shown).order_by(_S.seq).limit(BATCH)
    query = query.where(_S.kind == kind) if kind else query
    query = query.where(_S.seq <= to) if to is not None else query
    while True:
        some = [LinkRow._make(row) for row in session.execute(query.where(_S.seq > after))]
        if some:
            yield some
        if len(some) < BATCH:
            return
        after = some[-1].seq


def logins(session: Session) -> dict[int, str]:
    """Who signs by which login, those who have left too."""
    found = session.execute(select(Person.id, Person.login))
    return {row.id: row.login for row in found}


def links(session: Session, kind: str = "") -> Iterator[LinkRow]:
    """The same one by one."""
    for some in link_batches(session, kind):
        yield from some


def has_token(session: Session, token: str) -> bool:
    """A link was added under this token already."""
    return session.execute(select(_S.seq).where(_S.token == token)).first() is not None


def latest(session: Session, job_ids: Collection[int] | None = None) -> dict[int, int]:
    """Job -> seq of its newest link; of these jobs alone where they are named."""
    query = select(_S.job_id, func.max(_S.seq)).where(_S.job_id.is_not(None)).group_by(_S.job_id)
    query = query if job_ids is None else query.where(_S.job_id.in_(job_ids))
    return {job: seq for job, seq in session.execute(query) if job is not None}


def tokens(session: Session, job_ids: Collection[int]) -> dict[int, str]:
    """What each of some jobs was begun under."""
    j = columns(Job)
    return {row.id: row.token for row in session.execute(select(j.id, j.token).where(j.id.in_(job_ids)))}


def unlinked(session: Session) -> list[tuple[int, int | None]]:
    """Signed jobs without a link of their own: number, and the import they came by."""
    j = columns(Job)
    query = select(j.id, j.import_id).where(j.state == "signed", ~exists().where(_S.job_id == j.id)).order_by(j.id)
    return [(job, import_id) for job, import_id in session.execute(query)]


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


def jobs_whole(
    session: Session, job_ids: Sequence[int], names: Sequence[str], hashed: Sequence[str]
) -> dict[int, tuple[Any, str]]:
    """Named columns of several jobs, long texts as their SHA-256, and the tags of their motors. One query."""
    j, m = columns(Job), columns(Motor)
    shown = [
        func.sha2(column, 256).label(name) if name in hashed else column
        for name, column in zip(names, columns(Job, names), strict=True)
    ]
    query = select(j.id, known_by(), *shown).join(Motor.__table__, m.id == j.motor_id)
    return {row[0]: (row, row[1]) for row in session.execute(query.where(j.id.in_(job_ids)))}


def _iso(moment: Any) -> Any:
    """A stored moment as a link tells it: written by the server, as there are millions to compare."""
    seconds, ticks = "%Y-%m-%dT%H:%i:%s+00:00", "%Y-%m-%dT%H:%i:%s.%f+00:00"
    return func.if_(func.microsecond(moment) == 0, func.date_format(moment, seconds), func.date_format(moment, ticks))


ENTRY = tuple(EntryLine.__slots__)
_ENTRIES = select(
    columns(EntryRow).job_id,
    *(_iso(column) if isinstance(column.type, Utc) else column for column in columns(EntryRow, ENTRY)),
)


def entries_told(session: Session, job_ids: Sequence[int]) -> dict[int, list[dict[str, Any]]]:
    """All entries of several jobs as a link tells them, each job's in order. One query."""
    e = columns(EntryRow)
    out: dict[int, list[dict[str, Any]]] = {number: [] for number in job_ids}
    for number, *row in session.execute(_ENTRIES.where(e.job_id.in_(job_ids)).order_by(e.job_id, e.seq)).all():
        out[number].append(dict(zip(ENTRY, row, strict=True)))
    return out


def read(link: Signature | LinkRow) -> dict[str, Any]:
    """A link's document; empty where it can't be read."""
    try:
        found = json.loads(link.document)
    except ValueError:
        return {}
    return found if isinstance(found, dict) else {}


TRIGGERS = tuple(f"{table}_no_{verb}" for table in ("signature", "trail") for verb in ("update", "delete"))


def lacking(session: Session) -> list[str]:
    """Triggers that should guard links and trail, and don't."""
    query = text("SELECT trigger_name FROM information_schema.triggers WHERE trigger_schema = DATABASE()")
    there = {name for (name,) in session.execute(query)}
    return [name for name in TRIGGERS if name not in there]


def misbound(session: Session, job_ids: Collection[int]) -> Iterator[tuple[int, int, str]]:
    """Entries of these jobs whose `bound` isn't what their low and high ends are: job, seq, what it says. The server
    looks through them; a test holds it to `Amount.bound`.
    """
    e = columns(EntryRow)
    says = case(
        (e.low > func.coalesce(e.high, e.low), "no such thing"),
        (e.low == e.high, Bound.EXACT),
        (and_(e.high.is_(None), e.low > 0), Bound.ABOVE),
        (e.high.is_(None), Bound.NOTHING),
        (e.low == 0, Bound.BELOW),
        else_=Bound.BETWEEN,
    )
    query = select(e.job_id, e.seq, e.bound).where(e.job_id.in_(job_ids), e.low.is_not(None))
    query = query.where(func.coalesce(e.bound, "") != says)
    for job, seq, bound in session.execute(query.order_by(e.id)):
        yield job, seq, bound or "nothing"


def without_subject(session: Session) -> list[int]:
    """Jobs signed before a job kept its own documents."""
    j = columns(Job)
    return list(session.scalars(select(j.id).where(j.state == "signed", j.subject.is_(None)).order_by(j.id)))


def first_of(session: Session, job_id: int) -> Signature | None:
    """The link a job was signed with."""
    return session.scalar(select(Signature).where(Signature.job_id == job_id).order_by(Signature.seq).limit(1))
