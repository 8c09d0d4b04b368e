"""Outside a job: what a person said of the leads before touching any: locked and proved dead here, or at a desk."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.people import Actor
from grimcoil.store import trail
from grimcoil.store.engine import Store

DEAD, DESK = "locked, proved dead here", "at a desk"
ANSWERS = (DEAD, DESK)
LONGEST = 100


@dataclass(frozen=True, slots=True)
class Said:
    """An answer that still stands. where: the place it was said of."""

    dead: bool
    at: datetime
    where: str


def said(store: Store, actor: Actor, now: datetime) -> Said | None:
    """The last answer, while it stands: a desk for its day, a proof for as long as a job's would. One query.

    now: in the works' zone.
    """
    with store() as session:
        found = trail.last_of(session, actor, ANSWERS)
    if found is None:
        return None
    at, answer, where = found
    if at.astimezone(now.tzinfo).date() != now.date():
        return None
    if answer == DEAD and now - at > timedelta(hours=FIELD_GENERAL.proof_hours.value):
        return None
    return Said(answer == DEAD, at, where)


def say(store: Store, actor: Actor, answer: str, where: str, now: datetime) -> None:
    """Keep an answer in the trail. Raises RecordRefusal for another, or a proof that names no place."""
    if answer not in ANSWERS:
        raise RecordRefusal("answer", answer[:40], f"one of: {', '.join(ANSWERS)}")
    place = " ".join(where.split())
    if answer == DEAD and not 1 <= len(place) <= LONGEST:
        raise RecordRefusal("where", place[:40], f"the motor or box it was proved dead at, 1 to {LONGEST} characters")
    with store.begin() as session:
        trail.write(session, actor, answer, now, detail=place if answer == DEAD else "")
