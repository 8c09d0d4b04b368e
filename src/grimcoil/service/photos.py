"""Photos of a job: as found, of the plate, of damage. Kept while it is open, marked when taken back, signed with it."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from grimcoil.core.errors import GateClosed, RecordRefusal, Unknown
from grimcoil.core.people import Action, Actor
from grimcoil.exchange.photos import read_photo
from grimcoil.service.again import stands_in
from grimcoil.service.bench import Bench, held, load
from grimcoil.store import photos as rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.lines import PhotoShown, line_of
from grimcoil.store.people_tables import PhotoRow

LONGEST_NOTE = 200
MOST = 40


def photos_of(store: Store, job_id: int, now: datetime) -> tuple[Bench, Sequence[PhotoShown]]:
    """A job and its photos, those taken back too. Raises Unknown."""
    with store() as session:
        photos = [line_of(PhotoShown, row) for row in rows.of_job(session, job_id)]
        return load(session, job_id, now), photos


def keep_photo(store: Store, actor: Actor, job_id: int, raw: bytes, note: str, token: str, now: datetime) -> None:
    """Keep a photo. The same token again changes nothing. Raises Forbidden, Unknown, RecordRefusal, GateClosed."""
    actor.need(Action.KEEP_ENTRY)
    row = photo_row(actor, raw, note, token, now)
    try:
        with store.begin() as session:
            bench = _open(session, job_id, now)
            if rows.by_token(session, token) is not None:
                return
            if len(rows.of_job(session, job_id)) >= MOST:
                raise RecordRefusal("photo", f"{MOST} photos", f"at most {MOST} photos a job")
            row.job_id = job_id
            session.add(row)
            trail.write(session, actor, "photo kept", now, bench.job.motor_id, job_id, told(row))
    except IntegrityError as error:
        if not stands_in(error, "photo"):
            raise
        return  # the same form sent twice at once


def photo_row(actor: Actor, raw: bytes, note: str, token: str, now: datetime) -> PhotoRow:
    """A photo to be kept, of nothing yet. Raises RecordRefusal."""
    words = " ".join(note.split())
    if len(words) > LONGEST_NOTE:
        raise RecordRefusal("note", words[:40] + "…", f"at most {LONGEST_NOTE} characters")
    photo = read_photo(raw)
    row = PhotoRow(token=token, at=now, who=actor.who, note=words, sha256=photo.sha256)
    row.data, row.width, row.height = photo.data, photo.width, photo.height
    return row


def told(row: PhotoRow) -> str:
    """What the trail says of a photo."""
    return f"{row.note or 'without a note'}, SHA-256 {row.sha256}"


def take_photo_back(store: Store, actor: Actor, job_id: int, photo_id: int, now: datetime) -> None:
    """Mark a photo as taken back; it stays on the record. Twice is once."""
    actor.need(Action.TAKE_BACK)
    with store.begin() as session:
        bench = _open(session, job_id, now)
        row = next((photo for photo in rows.of_job(session, job_id) if photo.id == photo_id), None)
        if row is None:
            raise Unknown("photo", str(photo_id), "a photo of this job")
        if row.taken_back_at is None:
            row.taken_back_at, row.taken_back_by = now, actor.who
            trail.write(session, actor, "photo taken back", now, bench.job.motor_id, job_id, row.note)


def _open(session: Session, job_id: int, now: datetime) -> Bench:
    bench = held(session, job_id, now)
    if bench.state.signed:
        raise GateClosed("Photos", "", "this job is signed; amend it with a remark")
    return bench


def picture(store: Store, photo_id: int) -> bytes:
    """The picture as JPEG. Raises Unknown."""
    with store() as session:
        data = rows.picture(session, photo_id)
    if data is None:
        raise Unknown("photo", str(photo_id), "a photo on record")
    return data
