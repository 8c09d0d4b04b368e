"""Motors by filter, order and page, and by words that may be misspelt; what is read doesn't grow with their number."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta
from functools import cache
from typing import Any

from sqlalchemy import Select, bindparam, literal, select, union_all
from sqlalchemy.orm import Session

from grimcoil.core.search import asked, asked_pieces, bare, nearness
from grimcoil.store.list_tables import FILTERS, Listing, ListingTally, SearchKey, SearchTally
from grimcoil.store.tables import Motor, columns

PAGE = 50
MOST_READ = 20 * PAGE  # rows looked at for one page where filters are combined
CANDIDATES = 300
RANKED = 120  # of the candidates, those that share most pieces
_TESTED = "0002"  # keys of motors never tested come before it
_L, _T, _K, _N = columns(Listing), columns(ListingTally), columns(SearchKey), columns(SearchTally)


@dataclass(frozen=True, slots=True)
class Wanted:
    """A page of the list. filters: by name, of FILTERS; overdue_on: due before this day; after: the last page's key."""

    sort: str = "by_area"
    filters: Mapping[str, str] = field(default_factory=dict)
    overdue_on: date | None = None
    after: str = ""
    most: int = PAGE


@dataclass(frozen=True, slots=True)
class Found:
    """Motors in their order; `after` goes on where there is more; narrow: more match than were looked at."""

    motor_ids: tuple[int, ...]
    after: str | None = None
    narrow: bool = False


def spelled_alike(session: Session, tag: str) -> list[str]:
    """Tags on the register with the same letters and digits, itself too."""
    query = select(columns(Motor).tag).join(Listing.__table__, _L.motor_id == columns(Motor).id)
    return list(session.scalars(query.where(_L.tag_bare == bare(tag)).order_by(columns(Motor).tag).limit(5)))


def beginning(session: Session, tag: str) -> list[str]:
    """Tags on the register that begin with the same letters, five at most; none for what has no letters."""
    begins = re.match(r"[a-z]*", bare(tag))
    if not begins or not begins[0]:
        return []
    query = select(columns(Motor).tag).join(Listing.__table__, _L.motor_id == columns(Motor).id)
    query = query.where(_L.tag_bare.startswith(begins[0], autoescape=True)).order_by(columns(Motor).tag)
    return list(session.scalars(query.limit(5)))


_TALLIES = select(_T.field, _T.value, _T.n).where(_T.n > 0).order_by(_T.value)


def tallies(session: Session) -> dict[str, dict[str, int]]:
    """By filter and value, how many motors show it."""
    out: dict[str, dict[str, int]] = {name: {} for name in FILTERS}
    for name, value, n in session.execute(_TALLIES):
        out[name][value] = n
    return out


def page(session: Session, wanted: Wanted, counted: Mapping[str, Mapping[str, int]]) -> Found:
    """One page by the index of its rarest filter; the others are looked at row by row, and only so many rows.

    Where those hold few of them the page is short and `after` goes on behind the last row that was looked at.
    """
    rarest = min(wanted.filters, key=lambda name: counted[name].get(wanted.filters[name], 0), default=None)
    others = tuple(name for name in wanted.filters if name != rarest)
    loose = bool(others) or wanted.overdue_on is not None
    query = _page(wanted.sort, rarest, others, bool(wanted.after))
    given = {"value": wanted.filters[rarest]} if rarest else {}
    given |= {"after": wanted.after} if wanted.after else {}
    rows = list(session.execute(query, given | {"most": MOST_READ if loose else wanted.most + 1}))
    fitting = [row for row in rows if _fits(row[2:], [wanted.filters[name] for name in others], wanted.overdue_on)]
    shown = fitting[: wanted.most]
    looked_on = rows[-1][1] if loose and len(rows) == MOST_READ else None
    after = shown[-1][1] if len(fitting) > wanted.most else looked_on
    return Found(tuple(row[0] for row in shown), after)


@cache
def _page(sort: str, rarest: str | None, others: tuple[str, ...], behind: bool) -> Any:
    order = _L[sort]
    query = select(_L.motor_id, order, _L.due, *(_L[name] for name in others)).order_by(order)
    query = query if rarest is None else query.where(_L[rarest] == bindparam("value"))
    query = query.where(order > bindparam("after")) if behind else query
    return query.limit(bindparam("most"))


def _fits(row: Sequence[object], values: Sequence[str], overdue_on: date | None) -> bool:
    due = row[0]
    if overdue_on is not None and not (isinstance(due, date) and due < overdue_on):
        return False
    return all(str(have).casefold() == want.casefold() for have, want in zip(row[1:], values, strict=True))


_UP_TO = _L.by_due > _TESTED, _L.by_due < bindparam("before")
_COMING = select(_L.motor_id).where(*_UP_TO).order_by(_L.by_due).limit(bindparam("most"))
_COMING_TOO = select(_L.motor_id).where(_UP_TO[1]).order_by(_L.by_due).limit(bindparam("most"))
_IN_AREA = _L.area == bindparam("area")
_COMINGS = {  # by whether untested ones are asked for, and one area
    (False, False): _COMING, (False, True): _COMING.where(_IN_AREA),
    (True, False): _COMING_TOO, (True, True): _COMING_TOO.where(_IN_AREA),
}  # fmt: skip


def _behind(until: date) -> str:
    """The first key that lies behind a day."""
    return (until + timedelta(days=1)).isoformat()


def coming(session: Session, until: date, area: str, most: int, untested: bool = False) -> tuple[int, ...]:
    """Tested motors whose next test falls up to that day, by day; of one area or all. untested: those too, first, as
    they fall due now.
    """
    given = {"before": _behind(until), "most": most} | ({"area": area} if area else {})
    return tuple(session.scalars(_COMINGS[untested, bool(area)], given))


def foremost(session: Session, until: date, most: int) -> tuple[Found, Found]:
    """Motors to act on, and tested ones whose next test falls up to that day, the longest overdue first. One query;
    a second where most of those due are to be acted on or have a job open.

    A motor stands once: among the due ones there is none to act on and none with a job open.
    """
    act, due, whole = _foremost(session, until, most, 3 * most)
    if not whole and len(due) <= most:
        act, due, _ = _foremost(session, until, most, MOST_READ)
    return _first(act, most), _first(due, most)


Keyed = list[tuple[str, int]]
_ACT = select(_L.motor_id, literal("act").label("what"), _L.verdict, _L.standing, _L.by_worst.label("key"))
_DUE = select(_L.motor_id, literal("due"), _L.verdict, _L.standing, _L.by_due)
_FOREMOST = union_all(
    select(_ACT.where(_L.verdict == "act").order_by(_L.by_worst).limit(bindparam("act")).subquery()),
    select(_DUE.where(*_UP_TO).order_by(_L.by_due).limit(bindparam("due")).subquery()),
)


def _foremost(session: Session, until: date, most: int, read: int) -> tuple[Keyed, Keyed, bool]:
    """The same out of so many of those due; whether that was all of them."""
    groups: dict[str, Keyed] = {"act": [], "due": []}
    looked_at = 0
    given = {"before": _behind(until), "act": most + 1, "due": read}
    for number, what, verdict, standing, key in session.execute(_FOREMOST, given):
        looked_at += what == "due"
        if what == "act" or (verdict != "act" and standing != "open"):
            groups[what].append((key, number))
    return groups["act"], groups["due"], looked_at < read


def _first(keyed: Keyed, most: int) -> Found:
    keyed.sort()
    return Found(tuple(number for _, number in keyed[:most]), narrow=len(keyed) > most)


def search(session: Session, text: str, wanted: Wanted) -> Found:
    """Motors near these words, the nearest first; a whole tag however it is written comes alone. Three queries."""
    words = asked(text)
    if not words:
        return Found(())
    whole = bare(text)
    some, narrow = _candidates(session, words)
    exact = select(select(_L.motor_id).where(_L.tag_bare == whole).limit(2).subquery())
    shared = Counter(session.scalars(union_all(exact, *some)))
    candidates = [number for number, _ in shared.most_common(RANKED)]
    if not candidates:
        return Found(())
    names = list(wanted.filters)
    ranked, same = [], []
    for number, tag, own, key, *rest in session.execute(_told(tuple(names)), {"motors": candidates}):
        if not _fits(rest, list(wanted.filters.values()), wanted.overdue_on):
            continue
        if tag == whole:
            same.append(number)
        near = nearness(words, own.split())
        if near:
            ranked.append((-near, key, number))
    if len(same) == 1:
        return Found((same[0],))
    ranked.sort()
    return Found(tuple(number for *_, number in ranked[: wanted.most]), narrow=narrow or len(ranked) > wanted.most)


@cache
def _told(names: tuple[str, ...]) -> Any:
    """What candidates are ranked by, and filters they are to fit."""
    query = select(_L.motor_id, _L.tag_bare, _L.words, _L.by_area, _L.due, *(_L[name] for name in names))
    return query.where(_L.motor_id.in_(bindparam("motors", expanding=True)))


_PIECES = select(_N.piece, _N.n).where(_N.piece.in_(bindparam("pieces", expanding=True)), _N.n > 0)


def _candidates(session: Session, words: Sequence[str]) -> tuple[list[Select[tuple[int]]], bool]:
    """Queries that give at most 300 motors sharing the rarest pieces of the words, and whether there may be more."""
    by_word = [asked_pieces(word) for word in words]
    every = sorted(set().union(*by_word))
    counted = {row[0]: row[1] for row in session.execute(_PIECES, {"pieces": every})}
    chosen: dict[str, int] = {}
    narrow = False
    room = max(1, CANDIDATES // len(words))
    for own in by_word:
        left = room
        for piece in sorted((p for p in own if p in counted), key=lambda p: (counted[p], p)):
            if left <= 0:
                break
            chosen[piece] = max(chosen.get(piece, 0), min(counted[piece], left))
            narrow = narrow or (counted[piece] > left and left == room)
            left -= counted[piece]
    whole = [piece for piece, most in chosen.items() if most == counted[piece]]
    parts = [(piece, most) for piece, most in chosen.items() if most < counted[piece]]
    keys = [select(_K.motor_id).where(_K.piece == piece).limit(most).subquery() for piece, most in parts]
    all_of = [select(_K.motor_id).where(_K.piece.in_(whole))] if whole else []
    return [*all_of, *(select(one) for one in keys)], narrow
