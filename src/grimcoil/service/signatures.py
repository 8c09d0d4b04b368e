"""The chain of signatures: add a link, and show whether anything under it was changed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy.orm import Session

from grimcoil.core.people import Actor, Role
from grimcoil.exchange.signed import FORMAT, link_hash, link_text, plain, row_document
from grimcoil.store import photos as photo_rows
from grimcoil.store import signatures as rows
from grimcoil.store.digests import digests
from grimcoil.store.engine import Store
from grimcoil.store.people_tables import Signature
from grimcoil.store.tables import Job, Motor, Position, WindingRow
from grimcoil.store.trail_lanes import heads

_NOT_SIGNED = {"id", "discharge_due_at", "danger", "danger_since", "danger_words", "handed_to", "open_of", "filed_hash"}
SIGNED_OF_JOB = tuple(name for name in Job.__table__.columns.keys() if name not in _NOT_SIGNED)  # noqa: SIM118
# Long texts stand in a link by their hash.
_HASHED = ("plan", "subject", "record")
_PHOTO = ("token", "at", "who", "note", "taken_back_at", "taken_back_by")
_MOTOR = tuple(name for name in Motor.__table__.columns.keys() if name not in ("id", "position_id"))  # noqa: SIM118
_OF_REGISTER = {"id", "retired_on", "retired_by", "retired_why"}  # of the position, not of what was tested there
_PLACE = tuple(name for name in Position.__table__.columns.keys() if name not in _OF_REGISTER)  # noqa: SIM118
_WINDING = tuple(name for name in WindingRow.__table__.columns.keys() if name not in ("id", "motor_id"))  # noqa: SIM118


def rows_documents(session: Session, job_ids: Sequence[int]) -> dict[int, tuple[dict[str, Any], str]]:
    """Jobs with their entries as they stand in the database now, and the tags of their motors. Four queries."""
    found = rows.jobs_whole(session, job_ids, SIGNED_OF_JOB, _HASHED)
    entries = rows.entries_told(session, job_ids)
    pictured = photo_rows.pictured(session, job_ids)
    out = {}
    for number, (job, tag) in found.items():
        photos = photo_rows.with_real_hash(session, number) if number in pictured else ()
        row = row_document(job, SIGNED_OF_JOB)
        row |= {name: f"sha256:{row[name]}" for name in _HASHED if row[name] is not None}
        shown = [row_document(photo, _PHOTO) | {"sha256": sha} for photo, sha in photos]
        out[number] = {"job": row, "entries": entries[number], "photos": shown}, tag
    return out


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
    session: Session, job_id: int, actor: Actor, by: str, now: datetime, grounds: Grounds | None = None,
    beside: dict[str, Any] | None = None,
) -> Signature:  # fmt: skip
    """Sign a job as it stands in this transaction; with grounds, an amendment. `by`: password, pin, filed, withdrawn;
    beside: what the link tells besides, such as the file it came from.
    """
    session.flush()
    rows.locked_head(session)
    job = rows.job_whole(session, job_id)
    if job is None:
        raise ValueError(f"no job {job_id}")
    kind = "amendment" if grounds else "documents" if by == "documents" else "job"
    stands = rows_documents(session, [job_id])[job_id][0]
    body = {"plate": _plate_document(job), "rows": stands} | (beside or {})
    # A digest knows nothing of photos, and what was wrong before it was signed is to be found again.
    if not stands["photos"] and not any(rows.misbound(session, [job_id])):
        body["rows_sha512"] = digests(session, [job_id], SIGNED_OF_JOB)[job_id][0]
    return append_link(session, actor, kind, now, body, by=by, job_id=job_id, grounds=grounds)


NO_GROUNDS = Grounds("", "", "")


def append_link(
    session: Session,
    actor: Actor,
    kind: str,
    now: datetime,
    body: dict[str, Any],
    *,
    by: str = "",
    job_id: int | None = None,
    subject_key: str | None = None,
    grounds: Grounds | None = None,
) -> Signature:
    """Add a link: the canonical document of what happened, tied to the one before it. `by`: password, pin, filed, …"""
    before = rows.locked_head(session)
    told = grounds or NO_GROUNDS
    signed = {
        "by": actor.who, "login": actor.login, "at": plain(now), "with": by, "reason": told.reason,
        "changed": told.changed,
    }  # fmt: skip
    frame = {"format": FORMAT, "seq": before.seq + 1, "previous": before.hash, "kind": kind, "signed": signed}
    if stand := heads(session):
        frame["trail"] = stand
    text = link_text(frame | body)
    link = Signature(
        seq=before.seq + 1, job_id=job_id, subject_key=subject_key, kind=kind, person_id=actor.person_id,
        who=actor.who, at=now, reason=told.reason, changed=told.changed[:300], token=told.token or None,
        document=text, previous_hash=before.hash, hash=link_hash(text),
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
