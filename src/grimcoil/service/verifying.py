"""Is every signed record, and every row of the register, as its link says it was?"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any, TypeVar

from sqlalchemy.orm import Session

from grimcoil.exchange.signed import link_hash, plain, read_link
from grimcoil.service import filed_sheets
from grimcoil.service.register import register_breaks, take_in
from grimcoil.service.signatures import rows_documents
from grimcoil.store import signatures as rows
from grimcoil.store.engine import Store
from grimcoil.store.signatures import Head, LinkRow


@dataclass(frozen=True, slots=True)
class Verified:
    """What was found of the chain: how many links, its head, and each thing that isn't as it was signed."""

    links: int
    head: Head
    breaks: tuple[str, ...]


def quiet(_: int) -> None:
    """Nobody wants to know how far it is."""


def verify(store: Store, known_head: str = "", tell: Callable[[int], None] = quiet) -> Verified:
    """Walk the whole chain. `known_head`: a hash noted earlier, which has to be in it still; tell: how many links are
    looked at.
    """
    with store() as session:
        newest = rows.latest(session)
        breaks: list[str] = [f"the trigger {name} is missing: links could be changed" for name in rows.lacking(session)]
        before, count, seen = Head(0, ""), 0, not known_head
        known: dict[str, dict[str, Any]] = {}
        sheets: dict[int, dict[str, Any]] = {}
        for some, stand in ahead(_as_they_stand(session, newest)):
            for link in some:
                told = read_link(link.document)
                breaks += _link_breaks(link, told, before)
                if link.kind == "register":
                    take_in(known, told)
                elif link.kind == filed_sheets.KIND:
                    filed_sheets.take_in(sheets, told)
                elif link.job_id is not None and newest.get(link.job_id) == link.seq:
                    breaks += _row_breaks(told, link.job_id, stand.get(link.job_id))
                before, count = Head(link.seq, link.hash), count + 1
                seen = seen or link.hash == known_head
            tell(count)
        breaks += register_breaks(session, known) if known else []
        breaks += [f"job {job}: signed, but no link stands for it" for job in _unlinked(session, newest, sheets)]
        breaks += filed_sheets.import_breaks(session, sheets, newest)
        odd = rows.misbound(session)
        breaks += [f"job {job}, entry {seq}: bound says {says}, its figures say otherwise" for job, seq, says in odd]
        if not seen:
            breaks.append(f"the head {known_head[:16]}… noted earlier is not in the chain")
        return Verified(count, before, tuple(breaks))


T = TypeVar("T")
_Stand = Mapping[int, tuple[dict[str, Any], str]]


def _as_they_stand(session: Session, newest: Mapping[int, int]) -> Iterator[tuple[list[LinkRow], _Stand]]:
    """Links, some at a time, with the rows that the newest link of each job speaks of."""
    for some in rows.link_batches(session):
        current = [link.job_id for link in some if link.job_id and newest.get(link.job_id) == link.seq]
        yield some, rows_documents(session, current) if current else {}


def ahead(batches: Iterator[T]) -> Iterator[T]:
    """The same, the next being read from the database while one is worked through."""
    with ThreadPoolExecutor(1) as reader:
        coming = reader.submit(next, batches, None)
        while (batch := coming.result()) is not None:
            coming = reader.submit(next, batches, None)
            yield batch


def _unlinked(session: Session, newest: dict[int, int], sheets: Mapping[int, Any]) -> Iterator[int]:
    """Signed, without a link of its own and of no import that has one."""
    return (job.id for job in rows.signed_jobs(session) if job.id not in newest and job.import_id not in sheets)


def _link_breaks(link: LinkRow, told: dict[str, Any], before: Head) -> Iterator[str]:
    where = f"link {link.seq} (job {link.job_id})"
    if link.seq != before.seq + 1:
        yield f"{where}: links {before.seq + 1} to {link.seq - 1} are missing"
    if link.previous_hash != before.hash:
        yield f"{where}: does not follow the link before it"
    if link_hash(link.document) != link.hash:
        yield f"{where}: its document was changed"
    signed = told.get("signed", {})
    said = (told.get("seq"), told.get("previous"), told.get("kind"), signed.get("by"), signed.get("at"))
    if said != (link.seq, link.previous_hash, link.kind, link.who, plain(link.at)):
        yield f"{where}: who signed, when or what differs from its document"
    changes = told.get("changes", [])
    if link.kind == "register" and link.subject_key != (changes[0]["row"] if len(changes) == 1 else None):
        yield f"{where}: what it speaks of differs from its document"
    if (signed.get("reason"), signed.get("changed", "")[:300]) != (link.reason, link.changed):
        yield f"{where}: its reason differs from its document"


_GONE = object()


def _row_breaks(
    document: dict[str, Any], job_id: int, stands: tuple[dict[str, Any], str] | None
) -> Iterator[str]:  # fmt: skip
    signed, signed_plate = document.get("rows", {}), document.get("plate", {})
    if stands is None or not signed:
        yield f"job {job_id}: gone, or its document can't be read"
        return
    now, its_tag = stands
    tag = signed_plate.get("motor", {}).get("tag")
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
