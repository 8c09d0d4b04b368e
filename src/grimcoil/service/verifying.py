"""Is every signed record, and every row of the register, as its link says it was?"""

from __future__ import annotations

import os
from collections import deque
from collections.abc import Callable, Iterator, Mapping, Sequence
from concurrent.futures import Future, ProcessPoolExecutor, ThreadPoolExecutor
from dataclasses import dataclass, field
from multiprocessing import get_context
from typing import Any, NamedTuple, TypeVar

from sqlalchemy.orm import Session

from grimcoil.exchange.signed import link_hash, plain, read_frame, read_link
from grimcoil.service import filed_sheets
from grimcoil.service.earlier_trail import KIND, HeldLines, earlier_breaks, held_by
from grimcoil.service.register import register_breaks, take_in
from grimcoil.service.signatures import SIGNED_OF_JOB, rows_documents
from grimcoil.store import photos
from grimcoil.store import signatures as rows
from grimcoil.store.digests import digests
from grimcoil.store.engine import Store, make_engine, make_store
from grimcoil.store.shown import shown_breaks
from grimcoil.store.signatures import Head, LinkRow
from grimcoil.store.trail_lanes import Held, held_in, lane_breaks, not_held


@dataclass(frozen=True, slots=True)
class Verified:
    """What was found of the chain: how many links, its head, and each thing that isn't as it was signed.
    trail_not_held: lines of the trail newer than the newest link, which nothing holds yet.
    """

    links: int
    head: Head
    breaks: tuple[str, ...]
    trail_not_held: int = 0


def quiet(_: int) -> None:
    """Nobody wants to know how far it is."""


def verify(
    store: Store, known_head: str = "", tell: Callable[[int], None] = quiet, workers: int | None = None
) -> Verified:  # fmt: skip
    """Walk the whole chain, a long one on all processors. `known_head`: a hash noted earlier, which has to be in it
    still; tell: how many links are looked at.
    """
    with store() as session:
        rows.steady(session)
        breaks = [f"the trigger {name} is missing: links could be changed" for name in rows.lacking(session)]
        before, count, seen = Head(0, ""), 0, not known_head
        known: dict[str, dict[str, Any]] = {}
        sheets: dict[int, dict[str, Any]] = {}
        earlier: list[HeldLines] = []
        held: Held = {}
        for part in _parts(store, session, known_head, workers or os.cpu_count() or 1):
            if part.first is not None:
                breaks += [*_follows(part.first, before), *part.breaks]
                before = part.last
            for told in part.register:
                take_in(known, told)
            for told in part.sheets:
                filed_sheets.take_in(sheets, told)
            earlier += part.earlier
            held = part.trail or held
            count, seen = count + part.count, seen or part.seen
            tell(count)
        newest = rows.latest(session)
        breaks += register_breaks(session, known) if known else []
        alone = rows.unlinked(session)
        breaks += [f"job {job}: signed, but no link stands for it" for job, by in alone if by not in sheets]
        breaks += _misbound(session, [job for job, _ in alone])
        breaks += shown_breaks(session)
        breaks += lane_breaks(session, held)
        breaks += earlier_breaks(session, earlier)
        breaks += filed_sheets.import_breaks(session, sheets, newest)
        if not seen:
            breaks.append(f"the head {known_head[:16]}… noted earlier is not in the chain")
        return Verified(count, before, tuple(breaks), not_held(session, held))


def _misbound(session: Session, jobs: Sequence[int]) -> Iterator[str]:
    for some in (jobs[i : i + PIECE] for i in range(0, len(jobs), PIECE)):
        for job, seq, says in rows.misbound(session, some):
            yield f"job {job}, entry {seq}: bound says {says}, its figures say otherwise"


class Link(NamedTuple):
    """Of a link what its place in the chain is judged by."""

    seq: int
    job_id: int | None
    previous_hash: str


@dataclass
class Part:
    """Some links that follow one another, as they were found: the first, the last, what isn't as it was signed but for
    what the first follows; what links of the register, of imports and of the trail tell; how far the newest says the
    trail is; whether a head looked for is among them.
    """

    first: Link | None = None
    last: Head = Head(0, "")  # noqa: RUF009 - a tuple
    count: int = 0
    breaks: list[str] = field(default_factory=list)
    register: list[dict[str, Any]] = field(default_factory=list)
    sheets: list[dict[str, Any]] = field(default_factory=list)
    earlier: list[HeldLines] = field(default_factory=list)
    trail: Held = field(default_factory=dict)
    seen: bool = False


LONG = 8000  # links; a shorter chain is walked about as soon as other processes have begun
PIECE = 500
AHEAD = 3  # pieces a worker, walked and not yet taken in: what is held in memory, however long the chain


def _parts(store: Store, session: Session, known_head: str, workers: int) -> Iterator[Part]:
    ends = rows.cuts(session, PIECE)
    pieces = list(zip([rows.FIRST, *ends], ends, strict=False))
    if workers == 1 or len(pieces) * PIECE <= LONG:
        for after, to in pieces:
            yield _walked(session, after, to, known_head)
        return
    url = store.kw["bind"].url.render_as_string(hide_password=False)
    with ProcessPoolExecutor(workers, get_context("spawn"), initializer=_begin, initargs=(url,)) as pool:
        coming: deque[Future[Part]] = deque()
        for after, to in pieces:
            coming.append(pool.submit(_walked_apart, after, to, known_head))
            if len(coming) > workers * AHEAD:
                yield coming.popleft().result()
        for one in coming:
            yield one.result()


_STORES: list[Store] = []  # of a worker: the one it reads by


def _begin(url: str) -> None:
    _STORES.append(make_store(make_engine(url, pool_size=1)))


def _walked_apart(after: int, to: int, known_head: str) -> Part:
    with _STORES[0]() as session:
        return _walked(session, after, to, known_head)


def _walked(session: Session, after: int, to: int, known_head: str) -> Part:
    """The links behind one up to another, with the rows that the newest link of each job speaks of."""
    part, logins = Part(), rows.logins(session)
    for some, stand, odd in ahead(_as_they_stand(session, after, to)):
        part.breaks += odd
        for link, told in some:
            if part.first is None:
                part.first = Link(link.seq, link.job_id, link.previous_hash)
            else:
                part.breaks += _follows(Link(link.seq, link.job_id, link.previous_hash), part.last)
            part.breaks += _link_breaks(link, told, logins)
            if link.kind == "register":
                part.register.append(told)
            elif link.kind == KIND:
                part.earlier.append(held_by(told))
            elif link.kind == filed_sheets.KIND:
                part.sheets.append(told)
            elif link.job_id is not None and link.seq in stand:
                part.breaks += _row_breaks(read_link(link.document), link.job_id, stand[link.seq])
            part.trail = held_in(told) or part.trail
            part.last, part.count = Head(link.seq, link.hash), part.count + 1
            part.seen = part.seen or link.hash == known_head
    return part


T = TypeVar("T")
# By seq, of links that are the newest of their job: how its rows stand and its motor's tag; None where they are gone.
_Stand = Mapping[int, tuple[dict[str, Any], str] | None]
_Told = list[tuple[LinkRow, dict[str, Any]]]


def _as_they_stand(session: Session, after: int, to: int) -> Iterator[tuple[_Told, _Stand, list[str]]]:
    """Some links with what they tell, the rows of those whose digest isn't what they say, and bounds of theirs that
    are wrong.
    """
    for some in rows.link_batches(session, after=after, to=to):
        told = [(link, read_frame(link.document)) for link in some]
        of_jobs = {link.seq: link.job_id for link in some if link.job_id is not None}
        newest = rows.latest(session, set(of_jobs.values())) if of_jobs else {}
        current = {seq: job for seq, job in of_jobs.items() if newest.get(job) == seq}
        odd = _moved(session, {seq: job for seq, job in of_jobs.items() if seq not in current}, some)
        same = _same(session, {current[link.seq]: frame for link, frame in told if link.seq in current})
        current = {seq: job for seq, job in current.items() if job not in same}
        stand = rows_documents(session, list(current.values())) if current else {}
        odd += _misbound(session, list(current.values()))
        yield told, {seq: stand.get(job) for seq, job in current.items()}, odd


def _moved(session: Session, earlier: Mapping[int, int], some: Sequence[LinkRow]) -> list[str]:
    """Links that aren't the newest of their job, by the job's own token: which job they were signed for."""
    if not earlier:
        return []
    tokens = rows.tokens(session, list(earlier.values()))
    told = {link.seq: read_link(link.document) for link in some if link.seq in earlier}
    signed = {seq: _token(document) for seq, document in told.items()}
    return [
        f"link {seq} (job {job}): signed for another job"
        for seq, job in earlier.items()
        if signed[seq] != tokens.get(job)
    ]


def _token(document: Mapping[str, Any]) -> Any:
    rows_of = document.get("rows")
    job = rows_of.get("job") if isinstance(rows_of, dict) else None
    return job.get("token") if isinstance(job, dict) else None


def _same(session: Session, frames: Mapping[int, dict[str, Any]]) -> set[int]:
    """Jobs whose rows and whose motor's tag are what their link says, by the digest alone."""
    pictured = photos.pictured(session, list(frames)) if frames else set()
    asked = [job for job, frame in frames.items() if frame.get("rows_sha512") and job not in pictured]
    found = digests(session, asked, SIGNED_OF_JOB) if asked else {}
    said = {job: (frames[job]["rows_sha512"], _tag(frames[job])) for job in asked}
    return {job for job, stands in found.items() if stands == said[job]}


def _tag(document: Mapping[str, Any]) -> Any:
    plate = document.get("plate")
    return plate.get("motor", {}).get("tag") if isinstance(plate, dict) else None


def ahead(batches: Iterator[T]) -> Iterator[T]:
    """The same, the next being read from the database while one is worked through."""
    with ThreadPoolExecutor(1) as reader:
        coming = reader.submit(next, batches, None)
        while (batch := coming.result()) is not None:
            coming = reader.submit(next, batches, None)
            yield batch


def _follows(link: Link, before: Head) -> Iterator[str]:
    where = f"link {link.seq} (job {link.job_id})"
    if link.seq != before.seq + 1:
        yield f"{where}: links {before.seq + 1} to {link.seq - 1} are missing"
    if link.previous_hash != before.hash:
        yield f"{where}: does not follow the link before it"


def _link_breaks(link: LinkRow, told: dict[str, Any], logins: Mapping[int, str]) -> Iterator[str]:
    where = f"link {link.seq} (job {link.job_id})"
    if link_hash(link.document) != link.hash:
        yield f"{where}: its document was changed"
    signed = told.get("signed", {})
    said = (told.get("seq"), told.get("previous"), told.get("kind"), signed.get("by"), signed.get("at"))
    if said != (link.seq, link.previous_hash, link.kind, link.who, plain(link.at)):
        yield f"{where}: who signed, when or what differs from its document"
    if signed.get("login") and logins.get(link.person_id or 0) != signed["login"]:
        yield f"{where}: whose it is differs from its document"
    changes = told.get("changes", [])
    if link.kind == "register" and link.subject_key != (changes[0]["row"] if len(changes) == 1 else None):
        yield f"{where}: what it speaks of differs from its document"
    if (signed.get("reason"), signed.get("changed", "")[:300]) != (link.reason, link.changed):
        yield f"{where}: its reason differs from its document"


_GONE = object()


def _row_breaks(
    document: dict[str, Any], job_id: int, stands: tuple[dict[str, Any], str] | None
) -> Iterator[str]:  # fmt: skip
    signed, tag = document.get("rows", {}), _tag(document)
    if stands is None or not signed:
        yield f"job {job_id}: gone, or its document can't be read"
        return
    now, its_tag = stands
    if tag is not None and tag != its_tag:
        yield f"job {job_id}: it was signed for {tag}, its motor was changed after signing"
    for name, value in signed.get("job", {}).items():
        if now["job"].get(name, _GONE) != value:
            yield f"job {job_id}: {name} was changed after signing"
    if signed.get("photos", []) != now["photos"]:
        yield f"job {job_id}: a photo was changed, put in or taken out after signing"
    yield from _entry_breaks(signed.get("entries", []), now["entries"], job_id)


def _entry_breaks(signed: list[dict[str, Any]], stands: list[dict[str, Any]], job_id: int) -> Iterator[str]:
    if signed == stands:
        return
    then = {entry.get("seq"): entry for entry in signed}
    for entry in stands:
        was = then.pop(entry["seq"], None)
        if was is None:
            yield f"job {job_id}, entry {entry['seq']}: put in after signing"
        elif names := ", ".join(name for name, value in was.items() if entry.get(name, _GONE) != value):
            yield f"job {job_id}, entry {entry['seq']}: {names} was changed after signing"
    for seq in then:
        yield f"job {job_id}, entry {seq}: taken out after signing"
