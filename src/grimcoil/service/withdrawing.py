"""A motor that was registered by mistake: off every list, its tag free again, nothing deleted."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from grimcoil.core.errors import AlreadyKept, FormRefused
from grimcoil.core.people import Action, Actor
from grimcoil.service.register import note_changes
from grimcoil.service.registered import motor_named
from grimcoil.store import motors as motor_rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.listing import unlist
from grimcoil.store.tables import NOTE, Base, Motor, Stay
from grimcoil.store.withdrawals import hanging

SHORTEST = 5


def withdraw(store: Store, actor: Actor, tag: str, why: str, now: datetime) -> None:
    """With a reason. Raises Forbidden, Unknown, FormRefused, AlreadyKept where something was done with it."""
    actor.need(Action.REGISTER_MOTOR)
    words = " ".join(why.split())
    if not SHORTEST <= len(words) <= NOTE:
        raise FormRefused({"why": f"Say why in {SHORTEST} to {NOTE} characters; it stays on the record."})
    with store.begin() as session:
        motor = motor_named(session, tag)
        motor_rows.lock(session, motor.id)
        if found := hanging(session, motor.id):
            accepted = "a motor that nothing was done with; undo that first, or leave it on the register"
            raise AlreadyKept("Withdraw", ", ".join(found), accepted)
        withdraw_in(session, actor, motor, words, now)


def withdraw_in(session: Session, actor: Actor, motor: Motor, why: str, now: datetime) -> None:
    """The same in a transaction of somebody else's, who has looked what hangs on it."""
    tag = motor.tag
    motor.withdrawn_tag, motor.withdrawn_at, motor.withdrawn_by, motor.withdrawn_why = tag, now, actor.who, why
    motor.tag, motor.position_id = f"~{motor.id}", None
    changed: list[Base] = [motor]
    for stay in session.scalars(select(Stay).where(Stay.motor_id == motor.id, Stay.until.is_(None))):
        stay.until = max(stay.since, now.date())
        changed.append(stay)
    note_changes(session, actor, now, *changed)
    unlist(session, motor.id)
    trail.write(session, actor, "motor withdrawn", now, motor.id, detail=f"{tag}: {why}")
