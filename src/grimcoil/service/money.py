"""Rewind or replace for a motor on the register: what its record says of the inputs, and cases kept."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from pydantic_core import to_json
from sqlalchemy.exc import IntegrityError

from grimcoil.core.decision.money import judge_money
from grimcoil.core.errors import Unknown
from grimcoil.core.people import Action, Actor
from grimcoil.exchange.money import read_money
from grimcoil.service.again import stands_in
from grimcoil.service.registered import motor_named
from grimcoil.store import jobs as job_rows
from grimcoil.store import money as rows
from grimcoil.store import motors as motor_rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.lines import MotorLine, motor_line
from grimcoil.store.money import MoneyLine
from grimcoil.store.money_tables import MoneyRow


@dataclass(frozen=True, slots=True)
class MoneyFacts:
    """A motor, how often it was rewound, spares of its power and voltage in the store, and the cases kept."""

    motor: MotorLine
    rewinds: int
    spares: Sequence[str]
    kept: Sequence[MoneyLine]


def facts(store: Store, tag: str) -> MoneyFacts:
    """What the record says. Raises Unknown."""
    with store() as session:
        motor = motor_named(session, tag)
        windings = motor_rows.history(session, motor.id).windings
        rewinds = sum(one.reason != "built" for one in windings)
        return MoneyFacts(motor_line(motor), rewinds, rows.spares(session, motor), rows.kept(session, motor.id))


def keep_case(
    store: Store, actor: Actor, tag: str, given: dict[str, Any], job_id: int | None, token: str, now: datetime
) -> None:
    """Keep a case (`grimcoil-money/1`) with its motor, and with a job of it. The same token again changes nothing.

    Raises Forbidden, Unknown, RecordRefusal.
    """
    actor.need(Action.START_JOB)
    text = to_json(given).decode()
    says = judge_money(read_money(text)).says
    try:
        with store.begin() as session:
            motor = motor_named(session, tag)
            if job_id is not None and not job_rows.is_job_of(session, job_id, motor.id):
                raise Unknown("job", str(job_id), f"a job on {motor.tag}")
            if rows.has_token(session, token):
                return
            session.add(
                MoneyRow(token=token, motor_id=motor.id, job_id=job_id, at=now, who=actor.who, says=says, given=text)
            )
            trail.write(session, actor, "money kept", now, motor.id, job_id, says)
    except IntegrityError as error:
        if not stands_in(error, "money"):
            raise
        return  # the same form sent twice at once
