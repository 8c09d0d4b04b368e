"""The register in the chain: each lawful change of a motor, its life, other tests, a drying that ended, the works and
its people writes, in its own transaction, a link with the row before and after. A row that differs from its newest link
was changed behind our back.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import datetime
from typing import Any

from sqlalchemy import inspect, select
from sqlalchemy.orm import Session

from grimcoil.core.people import Actor, Role
from grimcoil.exchange.signed import link_hash, link_text, plain, row_document
from grimcoil.service.signatures import append_link
from grimcoil.store import dryings
from grimcoil.store import signatures as rows
from grimcoil.store.criteria_tables import OwnCriteria
from grimcoil.store.drying_tables import DryingRow
from grimcoil.store.dryings import DryingEntryLine
from grimcoil.store.engine import Store
from grimcoil.store.people_tables import Person
from grimcoil.store.side_tables import SideSheet
from grimcoil.store.tables import (
    Base,
    Instrument,
    InstrumentRangeRow,
    LifeEvent,
    Motor,
    Position,
    Site,
    Stay,
    WindingRow,
)

KINDS: dict[str, type[Base]] = {
    "position": Position,
    "motor": Motor,
    "winding": WindingRow,
    "stay": Stay,
    "instrument": Instrument,
    "range": InstrumentRangeRow,
    "person": Person,
    "criteria": OwnCriteria,
    "event": LifeEvent,
    "side-sheet": SideSheet,
    "drying": DryingRow,
    "works": Site,
}
ENTRY = tuple(DryingEntryLine.__slots__)
_NAMES = {made: name for name, made in KINDS.items()}
SECRET = frozenset({"password_hash", "pin_hash"})
# What a person keeps for themselves, what a drying is about just now, and when the last backup was, is no part of the
# record.
OWN = frozenset({"views", "due_at", "doing", "backed_up_at"})
BATCH = 200
COMMAND_LINE = Actor(None, "command line", Role.ADMINISTRATOR, origin="command line")
Document = dict[str, Any]


def columns_of(made: type[Base]) -> list[str]:
    """The columns a link names: all but the secrets and what a person keeps for themselves."""
    return [name for name in made.__table__.columns.keys() if name not in SECRET | OWN]  # noqa: SIM118


def key_of(row: Base) -> str:
    """`motor/7`."""
    return f"{_NAMES[type(row)]}/{row.id}"  # type: ignore[attr-defined]


def document_of(row: Base) -> Document:
    """The row as it stands."""
    return {name: plain(getattr(row, name)) for name in columns_of(type(row))}


def _whole(session: Session, rows_of: Iterable[Base]) -> Iterator[Document]:
    """The same of several; a drying with what was done and read in it."""
    for row in rows_of:
        document = document_of(row)
        if isinstance(row, DryingRow):
            told = [row_document(entry, ENTRY) for entry in dryings.entries(session, row.id)]
            document["entries_sha256"] = link_hash(link_text({"entries": told}))
        yield document


def _before(row: Base) -> Document | None:
    """The row as it was loaded; None for a new one."""
    at = inspect(row)
    if not at.persistent:
        return None
    out = {}
    for name in columns_of(type(row)):
        history = at.attrs[name].history
        out[name] = plain(history.deleted[0] if history.deleted else getattr(row, name))
    return out


def note_changes(session: Session, actor: Actor, now: datetime, *changed: Base) -> None:
    """Put what these rows were and now are into the chain; nothing where nothing differs."""
    before = [_before(row) for row in changed]
    session.flush()
    _read_back(session, changed)
    changes = [
        {"row": key_of(row), "before": was, "after": after}
        for row, was, after in zip(changed, before, _whole(session, changed), strict=True)
        if after != was
    ]
    if changes:
        _append(session, actor, now, changes)


def _read_back(session: Session, changed: Sequence[Base]) -> None:
    """These rows as the database keeps them, not as they were given."""
    by_table: dict[type[Base], list[int]] = {}
    for row in changed:
        by_table.setdefault(type(row), []).append(row.id)  # type: ignore[attr-defined]
    for made, numbers in by_table.items():
        query = select(made).where(made.id.in_(numbers))  # type: ignore[attr-defined]
        session.scalars(query.execution_options(populate_existing=True)).all()


def note_removed(session: Session, actor: Actor, now: datetime, row: Base) -> None:
    """Take a row out of the register again, with the chain's word on what it was."""
    change = {"row": key_of(row), "before": document_of(row), "after": None}
    session.delete(row)
    session.flush()
    _append(session, actor, now, [change])


def _append(session: Session, actor: Actor, now: datetime, changes: Sequence[Document]) -> None:
    key = changes[0]["row"] if len(changes) == 1 else None
    append_link(session, actor, "register", now, {"changes": list(changes)}, subject_key=key)


def link_register(store: Store, now: datetime) -> int:
    """Give rows that no link speaks of yet theirs, some at a time; returns how many there were."""
    with store.begin() as session:
        known = newest(session)
        if not session.execute(select(Position.id).limit(1)).first() and not known:
            return 0
        lacking = [(key, after) for key, after in standing(session) if key not in known]
        for start in range(0, len(lacking), BATCH):
            some = [{"row": k, "before": None, "after": after} for k, after in lacking[start : start + BATCH]]
            _append(session, COMMAND_LINE, now, some)
        return len(lacking)


def standing(session: Session) -> Iterator[tuple[str, Document]]:
    """Every row of the register by its key, as it stands in the database now."""
    for made in KINDS.values():
        query = select(made).execution_options(populate_existing=True)
        if made is DryingRow:
            query = query.where(DryingRow.state == dryings.ENDED)
        for row in session.scalars(query):
            yield key_of(row), next(_whole(session, [row]))


def newest(session: Session) -> dict[str, Document]:
    """The newest link's word on each row."""
    out: dict[str, Document] = {}
    for link in rows.links(session, "register"):
        take_in(out, rows.read(link))
    return out


def take_in(known: dict[str, Document], document: Mapping[str, Any]) -> None:
    """A register link's changes over what was known before."""
    for change in document.get("changes", ()):
        if not (isinstance(change, dict) and "row" in change):
            continue
        if change.get("after") is None:
            known.pop(change["row"], None)
        else:
            known[change["row"]] = change["after"]


_DEFAULTS = {name: column.default for name, column in Site.__table__.c.items()}
# The works' row before anybody said anything of it.
UNSAID = {
    "works/1": {n: d.arg if d else None for n, d in _DEFAULTS.items() if n not in OWN} | {"id": 1, "name": "Works"}
}


def register_breaks(session: Session, known: Mapping[str, Document]) -> Iterator[str]:
    """Rows of the register that aren't as their newest link says, by the columns it names."""
    left = dict(known)
    for key, now in standing(session):
        was = left.pop(key, None)
        name = key.replace("/", " ")
        if was is None and now != UNSAID.get(key):
            yield f"{name}: put into the register with no link that speaks of it"
        if was is None:
            continue
        differing = [column for column, value in was.items() if now.get(column) != value]
        if differing:
            yield f"{name}: {', '.join(differing)} was changed outside the register"
    for key in left:
        yield f"{key.replace('/', ' ')}: taken out of the register"
