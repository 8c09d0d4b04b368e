"""The rows that lists are read from, kept with every change in its own transaction.

Whatever a session changes of motors, windings, positions, states and the beginning or end of jobs is listed anew when
it commits; nothing that changes a motor has to think of it. Statements that go past the mapper call `relist`.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable, Mapping, Sequence
from datetime import date
from decimal import Decimal
from typing import Any, NamedTuple

from sqlalchemy import bindparam, delete, event, func, inspect, select, update
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session

from grimcoil.core.search import bare, pieces, plain, words_of
from grimcoil.store.list_tables import FILTERS, NONE, Listing, ListingTally, SearchKey, SearchTally
from grimcoil.store.round_tables import RoundTally, RoundTask
from grimcoil.store.tables import Base, Job, Motor, MotorState, Position, Site, WindingRow, columns

BATCH = 500
_TOUCHED = "motors to list anew"
RANKS = {"act": 0, "watch": 1, "unproven": 2, "sound": 3}
MATTERS = {"critical": 0, "routine": 1, "easy-spare": 2}
BAD = ("act", "watch")
SOON = "~"  # before the day: after all of its verdict that ask for action now
LEAST_FALL = 2.0  # insulation scatters by less from test to test; common practice without source
_FIRST_DAY = date(1, 1, 1)
_R = columns(RoundTask)
_M, _P, _S, _J, _W = columns(Motor), columns(Position), columns(MotorState), columns(Job), columns(WindingRow)


class Facts(NamedTuple):
    """What a motor's row is made of."""

    motor_id: int
    tag: str
    serial: str
    place: str | None
    area: str | None
    power: str
    volts: Decimal | None
    volts_2: Decimal | None
    scheme: str | None
    verdict: str | None
    due: date | None
    r40: float | None
    open_job: int | None
    criticality: str | None
    built_year: int | None
    windings: int
    r40_high: float | None
    r40_before: float | None
    soon: bool | None = None


_E, _B = WindingRow.__table__.alias("ever").c, Job.__table__.alias("before").c
_BEFORE = (  # of the winding it has now, which comes last
    select(_B.r40_low_mohm)
    .where(_B.motor_id == _M.id, _B.state == "signed", _B.winding_id == _W.id, _B.r40_low_mohm.is_not(None))
    .order_by(_B.tested_on.desc(), _B.id.desc())
    .limit(1)
    .offset(1)
    .correlate(Motor.__table__, WindingRow.__table__)
    .scalar_subquery()
)
_FACTS = (
    select(
        _M.id, _M.tag, _M.serial, _P.name, _P.area, _M.power_text, _M.rated_voltage_v, _M.rated_voltage_2_v,
        _W.lead_scheme, _S.verdict, _S.next_on, _S.r40_low_mohm,
        select(_J.id).where(_J.motor_id == _M.id, _J.state == "open").limit(1).correlate(Motor.__table__)
        .scalar_subquery(),
        _P.criticality, _M.built_year,
        select(func.count()).where(_E.motor_id == _M.id).correlate(Motor.__table__).scalar_subquery(),
        _S.r40_high_mohm, _BEFORE, _S.soon,
    )
    .outerjoin(Position.__table__, _P.id == _M.position_id)
    .outerjoin(MotorState.__table__, _S.motor_id == _M.id)
    .outerjoin(WindingRow.__table__, _W.motor_id == _M.id)
    .order_by(_M.id, _W.since)
)  # fmt: skip


def keep_listed(sessions: Any) -> None:
    """Have every session of this maker list what it changed before it commits."""
    event.listen(sessions, "after_flush", _note)
    event.listen(sessions, "before_commit", _list_noted)


def touch(session: Session, motor_ids: Collection[int]) -> None:
    """Have these motors listed anew with this transaction: rows of theirs were changed where no session saw it."""
    session.info.setdefault(_TOUCHED, set()).update(motor_ids)


def _note(session: Session, _context: object) -> None:
    touched: set[int] = session.info.setdefault(_TOUCHED, set())
    for row in (*session.new, *session.dirty, *session.deleted):
        touched |= _motors_of(session, row)


def _motors_of(session: Session, row: object) -> set[int]:
    match row:
        case Motor():
            return {row.id}
        case WindingRow() | MotorState() | RoundTask():
            return {row.motor_id}
        case Job() if inspect(row).attrs.state.history.has_changes():
            return {row.motor_id}
        case Position():
            return set(session.scalars(select(_M.id).where(_M.position_id == row.id)))
    return set()


def _list_noted(session: Session) -> None:
    session.flush()
    touched = session.info.pop(_TOUCHED, None)
    if touched:
        relist(session, touched)


def relist(session: Session, motor_ids: Collection[int] | None = None) -> int:
    """List these motors as they stand, all by default; returns how many. Tallies are written in one order, so that two
    who list at once wait for each other instead of standing in each other's way.
    """
    every = select(_M.id).where(_M.withdrawn_at.is_(None)).order_by(_M.id)
    wanted = list(session.scalars(every)) if motor_ids is None else sorted(motor_ids)
    for start in range(0, len(wanted), BATCH):
        some = wanted[start : start + BATCH]
        _relist(session, some)
        recount(session, some)
    return len(wanted)


def recount(session: Session, motor_ids: Collection[int]) -> None:
    """Count the round's tasks of these motors where they fall due now; what stands right already isn't touched."""
    listed = columns(Listing)
    query = (
        select(_R.id, _R.next_on, _R.counted_area, _R.counted_on, listed.area)
        .join(Listing.__table__, listed.motor_id == _R.motor_id)
        .where(_R.motor_id.in_(motor_ids))
    )
    tallies: Counter[tuple[str, date]] = Counter()
    moved = []
    for number, on, counted_area, counted_on, area in session.execute(query):
        if (on, area if on else None) == (counted_on, counted_area if counted_on else None):
            continue
        if counted_on is not None:
            tallies[counted_area or "", counted_on] -= 1
        if on is not None:
            tallies[area, on] += 1
        moved.append({"number": number, "area": area if on else None, "on": on})
    if moved:
        change = update(RoundTask.__table__).where(_R.id == bindparam("number"))  # type: ignore[arg-type]
        session.execute(change.values(counted_area=bindparam("area"), counted_on=bindparam("on")), moved)
    _count(session, RoundTally, [{"area": a, "next_on": d, "n": n} for (a, d), n in sorted(tallies.items()) if n])


def walk_order(session: Session) -> dict[str, int]:
    """The place of each area in the walk through the works, of those that have one."""
    return {area: at for at, area in enumerate(session.scalar(select(columns(Site).areas).limit(1)) or ())}


def unlist(session: Session, motor_id: int) -> None:
    """Off every list and out of what they count, its round too."""
    for task in session.scalars(select(RoundTask).where(RoundTask.motor_id == motor_id)):
        task.next_on = None
    session.flush()
    recount(session, [motor_id])
    listed = columns(Listing)
    row = session.execute(select(*listed).where(listed.motor_id == motor_id)).first()
    if row is None:
        return
    found = sorted(_pieces(row.words))
    _count(session, ListingTally, [{"field": one, "value": getattr(row, one), "n": -1} for one in sorted(FILTERS)])
    _count(session, SearchTally, [{"piece": piece, "n": -1} for piece in found])
    session.execute(delete(SearchKey).where(SearchKey.motor_id == motor_id))
    session.execute(delete(Listing).where(listed.motor_id == motor_id))


def reorder(session: Session, areas: Sequence[str]) -> None:
    """List the motors of every area at its place in the walk; one statement an area, whatever it holds."""
    listed, places = columns(Listing), {area: at for at, area in enumerate(areas)}
    for area in session.scalars(select(listed.area).distinct()).all():
        key = func.concat(_place(places.get(area)), func.substr(listed.by_area, PLACE + 1))
        session.execute(update(Listing.__table__).where(listed.area == area).values(by_area=key))  # type: ignore[arg-type]


def _relist(session: Session, some: list[int]) -> None:
    rows: dict[int, dict[str, Any]] = {}
    order = walk_order(session)
    for found in session.execute(_FACTS.where(_M.id.in_(some), _M.withdrawn_at.is_(None))):
        facts = Facts._make(found)
        rows[facts.motor_id] = row_of(facts, order)  # the newest winding comes last
    listed = columns(Listing)
    before = {
        row.motor_id: row._asdict() for row in session.execute(select(*listed).where(listed.motor_id.in_(list(rows))))
    }
    changed = {number: row for number, row in rows.items() if before.get(number) != row}
    if changed:
        _write(session, before, changed)


def _write(session: Session, before: Mapping[int, dict[str, Any]], rows: Mapping[int, dict[str, Any]]) -> None:
    tallies: Counter[tuple[str, str]] = Counter()
    found: Counter[str] = Counter()
    gone, come = [], []
    for number, row in rows.items():
        was = before.get(number)
        for one in FILTERS:
            if was is None or was[one] != row[one]:
                tallies[one, row[one]] += 1
                if was is not None:
                    tallies[one, was[one]] -= 1
        old = _pieces(was["words"]) if was else set()
        new = _pieces(row["words"])
        gone += [(number, piece) for piece in old - new]
        come += [{"piece": piece, "motor_id": number} for piece in new - old]
        found.update(new - old)
        found.subtract(old - new)
    statement = insert(Listing)
    given = {name: statement.inserted[name] for name in Listing.__table__.columns.keys() if name != "motor_id"}  # noqa: SIM118
    session.execute(statement.on_duplicate_key_update(given), list(rows.values()))
    for number, piece in gone:
        session.execute(delete(SearchKey).where(SearchKey.motor_id == number, SearchKey.piece == piece))
    if come:
        session.execute(insert(SearchKey), come)
    _count(session, ListingTally, [{"field": f, "value": v, "n": n} for (f, v), n in sorted(tallies.items()) if n])
    _count(session, SearchTally, [{"piece": piece, "n": n} for piece, n in sorted(found.items()) if n])


def _count(session: Session, table: type[Base], rows: list[dict[str, Any]]) -> None:
    if rows:
        statement = insert(table)
        kept = table.__table__.c.n
        session.execute(statement.on_duplicate_key_update(n=kept + statement.inserted.n), rows)


def _pieces(words: str) -> set[str]:
    return {piece for word in words.split() for piece in pieces(word)}


PLACE = 3  # digits of an area's place in the walk, at the head of its key


def _place(at: int | None) -> str:
    """One without a place comes after all that have one."""
    return f"{min(at, 998):0{PLACE}d}" if at is not None else "9" * PLACE


def row_of(facts: Facts, order: Mapping[str, int]) -> dict[str, Any]:
    """A motor's row, by column. order: the place of each area in the walk. Sorts end in the tag, which is unique; a
    motor never tested comes first by its day, one without a figure last by it.
    """
    f, area, due, r40 = facts, facts.area or "", facts.due, facts.r40
    shown = f.verdict or "unproven"
    day = (due or _FIRST_DAY).isoformat()
    matters = MATTERS.get(f.criticality or "", 1)
    rank, urgent = RANKS[shown], f"{SOON if f.soon and shown == 'act' else ''}{day}"
    last = plain(f.tag)[:60]
    figure = "~" if r40 is None else f"{r40:018.6f}"
    volts = (f"{float(v):g}" for v in (f.volts, f.volts_2) if v)
    return {
        "motor_id": f.motor_id,
        "tag_bare": bare(f.tag)[:40],
        "area": area,
        "verdict": shown,
        "standing": "open" if f.open_job else "untested" if due is None else "tested",
        "scheme": f.scheme or "",
        "due": due,
        "due_month": due.isoformat()[:7] if due else "",
        "r40_mohm": r40,
        "by_area": f"{_place(order.get(area))}{plain(area)[:120] or '~'}\t{last}",
        "by_worst": f"{rank}{matters}{urgent}\t{last}",
        "by_due": f"{day}\t{last}",
        "by_insulation": f"{figure}\t{last}",
        "criticality": f.criticality or "",
        "built_year": f.built_year,
        "rewinds": max(0, f.windings - 1),
        "r40_high_mohm": f.r40_high,
        "r40_before_mohm": f.r40_before,
        "by_matter": f"{matters}{rank}{urgent}\t{last}" if shown in BAD else NONE,
        "by_fall": _fall_key(f.r40_before, f.r40_high, last),
        "by_age": f"{f.built_year}\t{last}" if f.built_year else NONE,
        "by_rewinds": f"{99 - min(99, f.windings - 1):02d}\t{last}" if f.windings > 1 else NONE,
        "words": _cut(words_of((f.tag, f.serial, f.place or "", area, f.power, *volts, f.scheme or ""))),
    }


def _fall_key(before: float | None, now: float | None, last: str) -> str:
    """The furthest fall first: how many times as high it was at the test before, at least; a fall to half or less
    counts. before: the least it can have been; now: the most it can be, None where that is open.
    """
    if not before or not now or before < LEAST_FALL * now:
        return NONE
    return f"{1e9 - min(1e9, before / now):014.4f}\t{last}"


def _cut(words: Iterable[str], most: int = 600) -> str:
    text = " ".join(word[:40] for word in words)
    return text if len(text) <= most else text[:most].rpartition(" ")[0]
