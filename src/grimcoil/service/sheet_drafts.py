"""A sheet on its way in: handed over, its map and its open cells answered one by one, then taken or thrown away."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from grimcoil.core.errors import GateClosed, RecordRefusal, Unknown
from grimcoil.core.people import Action, Actor
from grimcoil.exchange.sheets.apart import read_apart
from grimcoil.exchange.sheets.grid import Book
from grimcoil.exchange.sheets.layout import column_names
from grimcoil.exchange.sheets.mapping import read_map
from grimcoil.exchange.sheets.propose import propose
from grimcoil.exchange.sheets.taken import Import
from grimcoil.exchange.sheets.understand import understand
from grimcoil.service.again import stands_in
from grimcoil.service.importing import Source, Told, put_in, quiet, register_of
from grimcoil.store import imports as import_rows
from grimcoil.store import sheets as rows
from grimcoil.store.engine import Store
from grimcoil.store.imports import CameIn
from grimcoil.store.sheet_tables import SheetDraft, SheetMapRow
from grimcoil.store.sheets import DraftLine, ImportLine

Document = dict[str, Any]
KEPT_DAYS = 30
MOST_BROUGHT = 500  # motors on the page of an import
MOST_CELLS = 60_000  # a page answers in seconds; a longer sheet comes in by the command


@dataclass(frozen=True, slots=True)
class Draft:
    """A sheet that isn't in yet: its map as a document, its cells, and how they are understood.

    left_rows: rows left out by choice, as `tab!7` or `7`.
    """

    id: int
    file_name: str
    map: Document
    book: Book
    done: Import
    left_rows: frozenset[str]


def row_key(sheet: str | None, row: int) -> str:
    """A row as a draft names it.

    >>> row_key(None, 7), row_key("2019", 7)
    ('7', '2019!7')
    """
    return str(row) if sheet is None else f"{sheet}!{row}"


def listed(store: Store, actor: Actor) -> tuple[list[DraftLine], Sequence[ImportLine]]:
    """The person's sheets that aren't in yet, and all that came in."""
    with store() as session:
        return rows.drafts_of(session, actor.login), rows.imports(session)


def begin(store: Store, actor: Actor, source: Source, token: str, now: datetime) -> int:
    """Hand a file over; its map is the one remembered for these headings, else proposed. The same token twice is once.

    Raises Forbidden, RecordRefusal.
    """
    actor.need(Action.REGISTER_MOTOR)
    book = read_apart(source.raw, source.name)
    cells = sum(len(cells) for tab in book.tabs for cells in tab.rows.values())
    if cells > MOST_CELLS:
        wanted = f"at most {MOST_CELLS} cells on a page; a longer spreadsheet comes in by `grimcoil import`"
        raise RecordRefusal("file", f"{cells} cells", wanted)
    made = propose(book, now.date())
    try:
        with store.begin() as session:
            there = rows.by_token(session, token)
            if there is not None:
                return there
            rows.forget_before(session, now - timedelta(days=KEPT_DAYS))
            known = rows.remembered(session, headings_key(book, made))
            draft = SheetDraft(token=token, login=actor.login, who=actor.who, at=now, file_name=source.name[:200])
            draft.sha256, draft.raw, draft.left_rows = source.sha256, source.raw, "[]"
            draft.map = _fitting(made, known)
            session.add(draft)
            session.flush()
            return draft.id
    except IntegrityError as error:
        if not stands_in(error, "sheet_draft"):
            raise
        with store() as session:  # the same form sent twice at once
            return rows.by_token(session, token) or 0


def headings_key(book: Book, made: Document) -> str:
    """SHA-256 over the names of the columns of the tabs that are read."""
    wanted = made.get("sheet")
    tab = next((tab for tab in book.tabs if wanted is None or tab.name in wanted), None)
    names = [] if tab is None else sorted(column_names(tab, made["headings"]).values())
    return hashlib.sha256(json.dumps(names, ensure_ascii=False).encode()).hexdigest()


def _fitting(made: Document, known: SheetMapRow | None) -> str:
    """The remembered map's columns over what this file itself shows: its encoding, its tabs."""
    if known is not None:
        kept = {name: value for name, value in json.loads(known.map).items() if name in _REMEMBERED}
        made = {name: value for name, value in made.items() if name not in _REMEMBERED} | kept | {"ask": []}
    return json.dumps(made, ensure_ascii=False)


_REMEMBERED = ("columns", "decimal", "incomplete_dates", "tag")


def look(store: Store, actor: Actor, draft_id: int, now: datetime) -> Draft:
    """The sheet with every cell as it is understood. Raises Unknown, RecordRefusal."""
    with store() as session:
        row = _own(session, actor, draft_id)
    return _understood(store, row, now)


def _own(session: Session, actor: Actor, draft_id: int, *, lock: bool = False) -> SheetDraft:
    actor.need(Action.REGISTER_MOTOR)
    row = rows.draft(session, draft_id, actor.login, lock=lock)
    if row is None:
        raise Unknown("sheet", str(draft_id), "a draft of yours that isn't imported yet")
    return row


def _understood(store: Store, row: SheetDraft, now: datetime) -> Draft:
    given = read_map(row.map)
    book = read_apart(row.raw, row.file_name, given.encoding, given.delimiter)
    left = frozenset(json.loads(row.left_rows))
    done = understand(book, given, now.date(), register_of(store))
    return Draft(row.id, row.file_name, json.loads(row.map), book, without_rows(done, left), left)


def without_rows(done: Import, left: Collection[str]) -> Import:
    """What was understood, without rows left out by choice."""
    if not left:
        return done
    taken = [one for one in done.taken if row_key(one.place.sheet, one.place.row) not in left]
    plates = [one for one in done.plates if row_key(one.place.sheet, one.place.row) not in left]
    keep = {one.tag for one in taken} | {one.tag for one in plates if not one.alone}

    def others(told: list[Document]) -> list[Document]:
        return [one for one in told if row_key(one["sheet"], one["row"]) not in left]

    new = [tag for tag in done.new_motors if tag in keep]
    return Import(
        done.rows, taken, others(done.asked), others(done.refused), done.left_out, others(done.duplicates), new, plates
    )  # fmt: skip


def change(store: Store, actor: Actor, draft_id: int, now: datetime, to: Callable[[Document], Document]) -> None:
    """Change the map. Raises Unknown, and RecordRefusal where the file can't be read by it: nothing is changed then."""
    with store.begin() as session:
        row = _own(session, actor, draft_id, lock=True)
        row.map = json.dumps(to(json.loads(row.map)), ensure_ascii=False)
        given = read_map(row.map)
        book = read_apart(row.raw, row.file_name, given.encoding, given.delimiter)
        understand(book, given, now.date(), register_of(store))


def head(store: Store, actor: Actor, draft_id: int, now: datetime, headings: Sequence[int]) -> None:
    """Other rows are its headings, or none is: what each column holds is proposed anew, but for columns of the same
    name that somebody told. Raises Unknown, RecordRefusal; nothing is changed then.
    """
    with store.begin() as session:
        row = _own(session, actor, draft_id, lock=True)
        before = json.loads(row.map)
        given = read_map(row.map)
        book = read_apart(row.raw, row.file_name, given.encoding, given.delimiter)
        made = propose(book, now.date(), headings)
        asked = {one.get("about") for one in before.get("ask", ())}
        known = {name: one for name, one in before.get("columns", {}).items() if name in made["columns"]}
        told = {name: one for name, one in known.items() if one and name not in asked}
        ask = [one for one in made["ask"] if one.get("about") not in told]
        made |= {"columns": made["columns"] | told, "ask": ask}
        made |= {name: before[name] for name in ("answers", "decimal", "incomplete_dates") if name in before}
        row.map = json.dumps(made, ensure_ascii=False)
        understand(book, read_map(row.map), now.date(), register_of(store))


def columns_mean(names: Collection[str], meaning: Document) -> Callable[[Document], Document]:
    """What these columns hold from now on; what was asked about them is answered."""

    def to(given: Document) -> Document:
        columns = given.get("columns", {}) | dict.fromkeys(names, meaning)
        ask = [one for one in given.get("ask", ()) if one.get("about") not in names]
        return given | {"columns": columns, "ask": ask}

    return to


def sheet_says(**keys: Any) -> Callable[[Document], Document]:
    """Keys of the whole sheet; a None takes a key away. What was asked about them is answered."""

    def to(given: Document) -> Document:
        kept = {name: value for name, value in (given | keys).items() if value is not None}
        return kept | {"ask": [one for one in given.get("ask", ()) if one.get("key") not in keys]}

    return to


def cell_says(key: str, text: str) -> Callable[[Document], Document]:
    """The answer to one cell; an empty one is taken back."""

    def to(given: Document) -> Document:
        answers = {name: value for name, value in given.get("answers", {}).items() if name != key}
        return given | {"answers": answers | ({key: text} if text else {})}

    return to


def leave_row(store: Store, actor: Actor, draft_id: int, key: str, leave: bool) -> None:
    """Leave a row out by choice, or take it in again. Raises Unknown."""
    with store.begin() as session:
        row = _own(session, actor, draft_id, lock=True)
        left = set(json.loads(row.left_rows)) - {key}
        row.left_rows = json.dumps(sorted(left | ({key} if leave else set())))


def take(store: Store, actor: Actor, draft_id: int, now: datetime, expected: int, told: Told = quiet) -> int:
    """All that is understood goes in, in one transaction; the map is remembered, the draft goes. expected: how many
    values the page said; told: how many tests are in, and of how many. Returns the import's number.

    Raises Unknown, Forbidden, GateClosed where there is nothing or another number than was said.
    """
    with store.begin() as session:
        row = _own(session, actor, draft_id, lock=True)  # whoever taps twice waits here, and finds it gone
        draft = _understood(store, row, now)
        if draft.done.count != expected or not expected:
            found = f"{draft.done.count} values can be taken now"
            raise GateClosed("Import", found, f"the {expected} values that were shown; look again")
        number = put_in(session, actor, Source(row.file_name, row.raw), draft.done, now, told)
        key = headings_key(draft.book, draft.map)
        session.merge(SheetMapRow(headings=key, file_name=row.file_name, who=actor.who, at=now, map=row.map))
        session.delete(row)
        return number


def brought(store: Store, import_id: int) -> tuple[ImportLine, Sequence[CameIn]]:
    """An import and the motors it has tests of. Raises Unknown."""
    with store() as session:
        made = rows.one_import(session, import_id)
        if made is None:
            raise Unknown("import", str(import_id), "the number of an import")
        return made, import_rows.came_in(session, import_id, MOST_BROUGHT)


def drop(store: Store, actor: Actor, draft_id: int) -> None:
    """Throw a sheet away that isn't in yet; twice is once."""
    with store.begin() as session:
        row = rows.draft(session, draft_id, actor.login, lock=True)
        if row is not None:
            session.delete(row)
