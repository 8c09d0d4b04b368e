"""Reading the trail."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta

from grimcoil.core.people import Action, Actor
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.trail import TrailLine

PAGE = 100
BATCH = 2000


@dataclass(frozen=True, slots=True)
class Asked:
    """Of a motor, a job, a person, or all; UTC days from `since` through `until`; before a line of an earlier page."""

    tag: str = ""
    job_id: int | None = None
    login: str = ""
    since: date | None = None
    until: date | None = None
    before: int | None = None


def read_trail(store: Store, actor: Actor, asked: Asked, most: int = PAGE) -> list[TrailLine]:
    """Newest first. Raises Forbidden."""
    actor.need(Action.READ_TRAIL)
    since = None if asked.since is None else datetime(*asked.since.timetuple()[:3], tzinfo=UTC)
    until = None if asked.until is None else datetime(*asked.until.timetuple()[:3], tzinfo=UTC) + timedelta(days=1)
    with store() as session:
        return trail.lines(session, asked.tag, asked.job_id, asked.login, since, until, asked.before, most)


def every_line(store: Store, actor: Actor, asked: Asked) -> Iterator[TrailLine]:
    """All of them, newest first, some at a time. Raises Forbidden before the first."""
    first = read_trail(store, actor, asked, BATCH)
    return _on(store, actor, asked, first)


def _on(store: Store, actor: Actor, asked: Asked, lines: list[TrailLine]) -> Iterator[TrailLine]:
    while lines:
        yield from lines
        if len(lines) < BATCH:
            return
        lines = read_trail(store, actor, replace(asked, before=lines[-1].id), BATCH)
