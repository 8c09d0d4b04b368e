"""A sheet that came in, in the chain: one link a file, with a hash over its values as they were understood and one over
its tests as they were filed; another link where it is withdrawn.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterator, Mapping, Sequence
from datetime import datetime
from itertools import islice
from typing import Any

from sqlalchemy.orm import Session

from grimcoil.core.people import Actor
from grimcoil.exchange.signed import link_hash, plain
from grimcoil.service.signatures import append_link, rows_documents
from grimcoil.store import imports as rows
from grimcoil.store import signatures
from grimcoil.store.tables import SheetImport

KIND = "import"
BATCH = 200
Document = dict[str, Any]


def readings_hash(session: Session, import_id: int) -> tuple[int, str]:
    """How many values an import has, and the SHA-256 over all of them."""
    digest, count = hashlib.sha256(), 0
    for one in rows.readings_of(session, import_id):
        digest.update(json.dumps([plain(value) for value in one[1:]], ensure_ascii=False).encode() + b"\n")
        count += 1
    return count, digest.hexdigest()


def tests_hash(tests: Sequence[rows.FiledLine]) -> str:
    """SHA-256 over the hashes of all tests."""
    return link_hash("\n".join(f"{one.id} {one.filed_hash}" for one in tests))


def filed_hash(document: Document, tag: str) -> str:
    """SHA-256 of a test's rows as JSON with sorted keys: no person signs it, so that it needs no canonical form of
    figures beyond what this language writes, and there are many of them.
    """
    return link_hash(json.dumps(document | {"tag": tag}, sort_keys=True, ensure_ascii=False, separators=(",", ":")))


def hash_tests(session: Session, job_ids: Sequence[int]) -> None:
    """Keep what the rows of these tests are, as they are filed."""
    told = rows_documents(session, job_ids)
    rows.keep_hashes(session, [(number, filed_hash(*told[number])) for number in job_ids])


def link_import(
    session: Session, actor: Actor, made: SheetImport, now: datetime, beside: Mapping[str, Sequence[int | str]]
) -> None:  # fmt: skip
    """The link of a sheet that came in. beside: tests of before that it put other values into, motors that it made or
    whose plates it filled in, positions by name.
    """
    count, readings = readings_hash(session, made.id)
    tests = rows.filed(session, made.id)
    body = {
        "source": {"file": made.file_name, "sha256": made.sha256},
        "import": {
            "id": made.id, "readings": count, "readings_sha256": readings, "tests": len(tests),
            "tests_sha256": tests_hash(tests),
        },
    }  # fmt: skip
    told = {name: list(numbers) for name, numbers in beside.items() if numbers}
    append_link(session, actor, KIND, now, body | told, by="filed")


def link_of(session: Session, import_id: int) -> Document:
    """What the link of an import says; nothing where it came in before imports had links."""
    for link in signatures.links(session, KIND):
        told = signatures.read(link)
        if told.get("import", {}).get("id") == import_id and "source" in told:
            return told
    return {}


def link_withdrawn(session: Session, actor: Actor, import_id: int, now: datetime) -> None:
    """The link that takes it back: its rows stay."""
    append_link(session, actor, KIND, now, {"import": {"id": import_id}}, by="withdrawn")


def take_in(known: dict[int, Document], document: Mapping[str, Any]) -> None:
    """What an import's link says, over what was known before."""
    told = document.get("import", {})
    signed = document.get("signed", {})
    if signed.get("with") == "withdrawn":
        known.setdefault(told.get("id"), {}).update(withdrawn=True, undone=(signed.get("by"), signed.get("at")))
    else:
        source = document.get("source", {})
        came = (source.get("file"), source.get("sha256"), signed.get("by"), signed.get("at"))
        known[told.get("id")] = dict(told) | {"came": came}


def import_breaks(session: Session, known: Mapping[int, Document], newest: Mapping[int, int]) -> Iterator[str]:
    """What isn't as the imports' links say. newest: jobs that have a link of their own, which is asked instead."""
    for number, told in known.items():
        where, withdrawn = f"import {number}", told.get("withdrawn", False)
        yield from _import_row_breaks(session, number, told)
        if readings_hash(session, number) != (told.get("readings"), told.get("readings_sha256")):
            yield f"{where}: its values were changed after it came in"
        tests = rows.filed(session, number)
        if (len(tests), tests_hash(tests)) != (told.get("tests"), told.get("tests_sha256")):
            yield f"{where}: a test was put in, taken out or changed after it came in"
        own = iter([one for one in tests if one.id not in newest])
        while some := list(islice(own, BATCH)):
            yield from _test_breaks(session, some, withdrawn)


def _import_row_breaks(session: Session, number: int, told: Document) -> Iterator[str]:
    """Its own row: which file, by whom, when, and whether and by whom it was withdrawn."""
    made = session.get(SheetImport, number)
    if made is None:
        yield f"import {number}: its row is gone"
        return
    if "came" in told and told["came"] != (made.file_name, made.sha256, made.who, plain(made.at)):
        yield f"import {number}: its file, person or time was changed after it came in"
    undone = (made.undone_by, plain(made.undone_at)) if made.undone_at is not None else None
    if undone != told.get("undone"):
        yield f"import {number}: whether it is withdrawn, by whom or when was changed"


def _test_breaks(session: Session, some: Sequence[rows.FiledLine], withdrawn: bool) -> Iterator[str]:
    now = rows_documents(session, [one.id for one in some])
    for one in some:
        document, tag = now[one.id]
        if one.state != ("withdrawn" if withdrawn else "signed"):
            yield f"job {one.id}: state was changed after it was filed"
        document["job"]["state"] = "signed"
        if filed_hash(document, tag) != one.filed_hash:
            yield f"job {one.id}: it was changed after it was filed"
