"""The chain of signatures: add a link, and show whether anything under it was changed."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy.orm import Session

from grimcoil.core.people import Actor, Role
from grimcoil.exchange.signed import FORMAT, link_hash, link_text, plain, read_link, row_document
from grimcoil.store import jobs as job_rows
from grimcoil.store import photos as photo_rows
from grimcoil.store import signatures as rows
from grimcoil.store.engine import Store
from grimcoil.store.jobs import EntryLine
from grimcoil.store.people_tables import Signature
from grimcoil.store.signatures import Head
from grimcoil.store.tables import Job, Motor, Position, WindingRow

_NOT_SIGNED = {"id", "motor_id", "winding_id", "ohm_range_id", "insulation_range_id", "discharge_due_at"}
_JOB = tuple(name for name in Job.__table__.columns.keys() if name not in _NOT_SIGNED)  # noqa: SIM118
_PHOTO = ("token", "at", "who", "note", "taken_back_at", "taken_back_by")
_MOTOR = tuple(name for name in Motor.__table__.columns.keys() if name not in ("id", "position_id"))  # noqa: SIM118
_PLACE = tuple(name for name in Position.__table__.columns.keys() if name != "id")  # noqa: SIM118
_WINDING = tuple(name for name in WindingRow.__table__.columns.keys() if name not in ("id", "motor_id"))  # noqa: SIM118


def rows_document(session: Session, job: Job) -> dict[str, Any]:
    """A job and its entries as they stand in the database now."""
    entries = [row_document(line, EntryLine.__slots__) for line in job_rows.entry_lines(session, job.id)]
    photos = [
        row_document(photo, _PHOTO) | {"sha256": sha} for photo, sha in photo_rows.with_real_hash(session, job.id)
    ]
    return {"job": row_document(job, _JOB), "entries": entries, "photos": photos}


def _plate_document(job: Job) -> dict[str, Any]:
    place = job.motor.position
    return {
        "motor": row_document(job.motor, _MOTOR),
        "position": row_document(place, _PLACE) if place else None,
        "winding": row_document(job.winding, _WINDING),
    }


@dataclass(frozen=True, slots=True)
class Grounds:
    """Why a signed job is amended, and what it changed. `token` tells one amendment from the next."""

    reason: str
    changed: str
    token: str


def add_link(
    session: Session, job_id: int, actor: Actor, by: str, now: datetime, grounds: Grounds | None = None
) -> Signature:
    """Sign a job as it stands in this transaction; with grounds, an amendment. `by`: password, pin, or filed."""
    session.flush()
    before = rows.locked_head(session)
    job = rows.job_whole(session, job_id)
    if job is None:
        raise ValueError(f"no job {job_id}")
    kind = "amendment" if grounds else "job"
    reason, changed = (grounds.reason, grounds.changed) if grounds else ("", "")
    signed = {"by": actor.who, "login": actor.login, "at": plain(now), "with": by, "reason": reason, "changed": changed}
    document = {
        "format": FORMAT,
        "seq": before.seq + 1,
        "previous": before.hash,
        "kind": kind,
        "signed": signed,
        "plate": _plate_document(job),
        "rows": rows_document(session, job),
    }
    text = link_text(document)
    link = Signature(
        seq=before.seq + 1, job_id=job_id, kind=kind, person_id=actor.person_id, who=actor.who, at=now, reason=reason,
        changed=changed[:300], token=grounds.token if grounds else None, document=text,
        previous_hash=before.hash, hash=link_hash(text),
    )  # fmt: skip
    session.add(link)
    session.flush()
    return link


def link_earlier(store: Store) -> int:
    """Give the jobs that were signed before there was a chain their links, once: only while the chain is empty."""
    with store.begin() as session:
        if rows.locked_head(session).seq:
            return 0
        jobs = rows.signed_jobs(session)
        for job in jobs:
            actor = Actor(None, job.signed_by or "unknown", Role.ELECTRICIAN)
            add_link(session, job.id, actor, "filed", job.signed_at or job.started_at)
        return len(jobs)


@dataclass(frozen=True, slots=True)
class Verified:
    """What was found of the chain: how many links, its head, and each thing that isn't as it was signed."""

    links: int
    head: Head
    breaks: tuple[str, ...]


def verify(store: Store, known_head: str = "") -> Verified:
    """Walk the whole chain. `known_head`: a hash noted earlier, which has to be in it still."""
    with store() as session:
        newest = rows.latest(session)
        breaks: list[str] = []
        before, count, seen = Head(0, ""), 0, not known_head
        for link in rows.links(session):
            breaks += _link_breaks(link, before)
            if link.job_id is not None and newest.get(link.job_id) == link.seq:
                breaks += _row_breaks(session, link, link.job_id)
            before, count = Head(link.seq, link.hash), count + 1
            seen = seen or link.hash == known_head
        breaks += [f"job {job}: signed, but no link stands for it" for job in _unlinked(session, newest)]
        if not seen:
            breaks.append(f"the head {known_head[:16]}… noted earlier is not in the chain")
        return Verified(count, before, tuple(breaks))


def _unlinked(session: Session, newest: dict[int, int]) -> Iterator[int]:
    return (job.id for job in rows.signed_jobs(session) if job.id not in newest)


def _link_breaks(link: Signature, before: Head) -> Iterator[str]:
    where = f"link {link.seq} (job {link.job_id})"
    if link.seq != before.seq + 1:
        yield f"{where}: links {before.seq + 1} to {link.seq - 1} are missing"
    if link.previous_hash != before.hash:
        yield f"{where}: does not follow the link before it"
    if link_hash(link.document) != link.hash:
        yield f"{where}: its document was changed"
    told = read_link(link.document)
    signed = told.get("signed", {})
    said = (told.get("seq"), told.get("previous"), told.get("kind"), signed.get("by"), signed.get("at"))
    if said != (link.seq, link.previous_hash, link.kind, link.who, plain(link.at)):
        yield f"{where}: who signed, when or what differs from its document"
    if (signed.get("reason"), signed.get("changed", "")[:300]) != (link.reason, link.changed):
        yield f"{where}: its reason differs from its document"


def _row_breaks(session: Session, link: Signature, job_id: int) -> Iterator[str]:
    job = rows.job_whole(session, job_id)
    signed = read_link(link.document).get("rows", {})
    if job is None or not signed:
        yield f"job {link.job_id}: gone, or its document can't be read"
        return
    now = rows_document(session, job)
    for name, value in now["job"].items():
        if signed.get("job", {}).get(name) != value:
            yield f"job {link.job_id}: {name} was changed after signing"
    if signed.get("photos", []) != now["photos"]:
        yield f"job {link.job_id}: a photo was changed, put in or taken out after signing"
    then = {entry.get("seq"): entry for entry in signed.get("entries", [])}
    for entry in now["entries"]:
        was = then.pop(entry["seq"], None)
        if was is None:
            yield f"job {link.job_id}, entry {entry['seq']}: put in after signing"
        elif was != entry:
            names = ", ".join(name for name, value in entry.items() if was.get(name) != value)
            yield f"job {link.job_id}, entry {entry['seq']}: {names} was changed after signing"
    for seq in then:
        yield f"job {link.job_id}, entry {seq}: taken out after signing"
