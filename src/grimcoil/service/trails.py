"""Reading the trail."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.people import Action, Actor
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.trail import TrailLine

PAGE = 100
MOST = 20_000


@dataclass(frozen=True, slots=True)
class Asked:
    """Of a motor, a job, a person, or all; before a line of an earlier page."""

    tag: str = ""
    job_id: int | None = None
    login: str = ""
    before: int | None = None


def read_trail(store: Store, actor: Actor, asked: Asked, most: int = PAGE) -> list[TrailLine]:
    """Newest first. Raises Forbidden."""
    actor.need(Action.READ_TRAIL)
    with store() as session:
        return trail.lines(session, asked.tag, asked.job_id, asked.login, asked.before, most)
