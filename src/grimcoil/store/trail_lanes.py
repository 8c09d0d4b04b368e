"""The trail's running digest: each host writes in lanes of its own, and every line holds what stood before it in its
lane. Lines wait until their transaction commits, so that a lane is held for its last moment only.
"""

from __future__ import annotations

import hashlib
import socket
from collections.abc import Iterator, Mapping, Sequence
from datetime import UTC
from threading import get_native_id
from typing import Any

from sqlalchemy import String, and_, cast, event, func, insert, or_, select, text, update
from sqlalchemy.orm import Session, aliased

from grimcoil.store.people_tables import Trail, TrailHead
from grimcoil.store.tables import columns

LANES = 8  # of a host: as many may commit a line at one moment
MOST_TOLD = 100
_WAITING = "trail waiting"
_T, _H = columns(Trail), columns(TrailHead)
_INSERT = insert(Trail.metadata.tables["trail"])  # no mapper: nothing is read back
_SAID = ("at", "person_id", "who", "action", "motor_id", "job_id", "detail", "origin")
_BETWEEN = "\x1f"
_NEXT = text(
    "INSERT INTO trail_head (lane, n, digest) VALUES (:lane, 1, SHA2(:said, 256))"
    " ON DUPLICATE KEY UPDATE n = n + 1, digest = SHA2(CONCAT(digest, :said), 256) RETURNING n, digest"
)
_LOCKED = text(
    "INSERT INTO trail_head (lane, n, digest) VALUES (:lane, 0, '') ON DUPLICATE KEY UPDATE n = n RETURNING n, digest"
)
Held = Mapping[str, Sequence[Any]]  # lane -> how many lines, and the digest of the last


def keep_lanes(sessions: Any) -> None:
    """Have every session of this maker write its lines of the trail just before it commits."""
    event.listen(sessions, "before_commit", put_waiting)


def wait(session: Session, line: dict[str, Any]) -> None:
    """A line that is written with this transaction."""
    session.info.setdefault(_WAITING, []).append(line)


def put_waiting(session: Session) -> None:
    """Write the lines that wait, each with the digest of what stands before it."""
    lines = session.info.pop(_WAITING, ())
    if not lines:
        return
    lane = f"{socket.gethostname()[:30]}/{get_native_id() % LANES}"
    if len(lines) == 1:  # one round trip less: nearly every change writes one
        n, digest = session.execute(_NEXT, {"lane": lane, "said": _said(lines[0])}).one()
        session.execute(_INSERT, lines[0] | {"lane": lane, "n": n, "digest": digest})
        return
    n, digest = session.execute(_LOCKED, {"lane": lane}).one()
    for line in lines:
        n, digest = n + 1, hashlib.sha256((digest + _said(line)).encode()).hexdigest()
        line |= {"lane": lane, "n": n, "digest": digest}
    session.execute(_INSERT, lines)
    session.execute(update(TrailHead).where(TrailHead.lane == lane).values(n=n, digest=digest))


def _said(line: Mapping[str, Any]) -> str:
    moment = line["at"].astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%S.%f")
    return _BETWEEN.join(["" if line[name] is None else str(line[name]) for name in _SAID[1:]] + [moment])


def _said_by(table: Any) -> Any:
    """The same by the server."""
    rest = [func.ifnull(cast(getattr(table, name), String(600)), "") for name in _SAID[1:]]
    return func.concat_ws(_BETWEEN, *rest, func.date_format(table.at, "%Y-%m-%dT%H:%i:%s.%f"))


def heads(session: Session) -> dict[str, list[Any]]:
    """How far each lane is."""
    return {lane: [n, digest] for lane, n, digest in session.execute(select(_H.lane, _H.n, _H.digest))}


def held_in(document: Mapping[str, Any]) -> dict[str, Sequence[Any]]:
    """What a link says of the lanes; nothing where it was changed into something else."""
    told = document.get("trail")
    pairs = told.items() if isinstance(told, dict) else ()
    return {lane: pair for lane, pair in pairs if isinstance(pair, list) and [type(one) for one in pair] == [int, str]}


def lane_breaks(session: Session, held: Held) -> Iterator[str]:
    """Lines that were changed, put in or taken out; held: what the newest link says of the lanes."""
    yield from _changed(session)
    query = select(_T.lane, func.max(_T.n)).where(_T.lane.is_not(None)).group_by(_T.lane)
    last = {str(lane): n for lane, n in session.execute(query)}
    for lane, (n, _) in heads(session).items():
        if last.pop(lane, 0) != n:
            yield f"trail: the newest lines of {lane} were taken out or put in"
    for lane in last:
        yield f"trail: lines of {lane}, which has no head"
    for lane, (n, digest) in held.items():
        if session.scalar(select(_T.digest).where(_T.lane == lane, _T.n == n)) != digest:
            yield f"trail: {lane} up to its line {n} isn't what the newest link holds"


def _changed(session: Session) -> Iterator[str]:
    line, before = aliased(Trail), aliased(Trail)
    lacking = and_(line.n > 1, before.id.is_(None))
    says = func.sha2(func.concat(func.ifnull(before.digest, ""), _said_by(line)), 256)
    query = (
        select(line.id, line.who, line.at, lacking)
        .outerjoin(before, and_(before.lane == line.lane, before.n == line.n - 1))
        .where(line.lane.is_not(None), or_(lacking, line.digest != says))
        .order_by(line.id)
        .limit(MOST_TOLD)
    )
    for number, who, at, gap in session.execute(query):
        told = "the one before it was taken out" if gap else "it was changed or put in"
        yield f"trail line {number} ({who}, {at:%Y-%m-%d %H:%M}): {told}"


def not_held(session: Session, held: Held) -> int:
    """How many lines are newer than what the newest link holds: a change of those doesn't show yet."""
    return sum(n - (held[lane][0] if lane in held else 0) for lane, (n, _) in heads(session).items())


def earlier_digest(session: Session, after: int, to: int | None = None) -> tuple[int, int, str]:
    """Lines from before there were lanes, behind one up to another: how many, the last, and a digest of all."""
    digest, count, last = hashlib.sha256(), 0, after
    query = select(_T.id, _said_by(_T)).where(_T.lane.is_(None), _T.id > after).order_by(_T.id)
    query = query if to is None else query.where(_T.id <= to)
    for number, said in session.execute(query.execution_options(yield_per=10_000)):
        digest.update(f"{number} {said}\n".encode())
        count, last = count + 1, number
    return count, last, digest.hexdigest()
