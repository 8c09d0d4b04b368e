"""Queries about sheets on their way in, maps remembered, and what came in."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import NamedTuple

from sqlalchemy import delete, select
from sqlalchemy.orm import Session, undefer

from grimcoil.store.sheet_tables import SheetDraft, SheetMapRow
from grimcoil.store.tables import SheetImport, columns

_D, _I = columns(SheetDraft), columns(SheetImport)


class DraftLine(NamedTuple):
    """A sheet that isn't in yet."""

    id: int
    file_name: str
    at: datetime


class ImportLine(NamedTuple):
    """A sheet that came in, and whether it went again."""

    id: int
    file_name: str
    who: str
    at: datetime
    taken: int
    undone_at: datetime | None
    undone_by: str | None


def drafts_of(session: Session, login: str) -> list[DraftLine]:
    """A person's sheets that aren't in yet, newest first."""
    query = select(*columns(SheetDraft, DraftLine._fields)).where(_D.login == login).order_by(_D.id.desc())
    return [DraftLine(*row) for row in session.execute(query)]


def draft(session: Session, draft_id: int, login: str, *, lock: bool = False) -> SheetDraft | None:
    """A person's own, with its file; lock: held until the transaction ends."""
    query = select(SheetDraft).where(SheetDraft.id == draft_id, SheetDraft.login == login)
    return session.scalar((query.with_for_update() if lock else query).options(undefer(SheetDraft.raw)))


def by_token(session: Session, token: str) -> int | None:
    """The draft that a form already made."""
    return session.scalar(select(_D.id).where(_D.token == token))


def forget_before(session: Session, moment: datetime) -> None:
    """Sheets that nobody went on with."""
    session.execute(delete(SheetDraft).where(SheetDraft.at < moment))


def remembered(session: Session, headings: str) -> SheetMapRow | None:
    """The map that a sheet with these headings was read by."""
    return session.get(SheetMapRow, headings)


def one_import(session: Session, import_id: int) -> ImportLine | None:
    """One by its number."""
    row = session.execute(select(*columns(SheetImport, ImportLine._fields)).where(_I.id == import_id)).first()
    return None if row is None else ImportLine(*row)


def imports(session: Session, most: int = 100) -> Sequence[ImportLine]:
    """What came in, newest first."""
    query = select(*columns(SheetImport, ImportLine._fields)).order_by(_I.id.desc()).limit(most)
    return [ImportLine(*row) for row in session.execute(query)]
