"""An import taken back: what it made goes, what something was built on stays and is named."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy.orm import Session

from grimcoil.core.errors import AlreadyKept, Unknown
from grimcoil.core.people import Action, Actor
from grimcoil.service.filed_sheets import link_of, link_withdrawn
from grimcoil.service.job_files import bring_up_to_date_with
from grimcoil.service.signatures import add_link
from grimcoil.service.withdrawing import withdraw_in
from grimcoil.store import imports as rows
from grimcoil.store import motors as motor_rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.tables import MotorState
from grimcoil.store.withdrawals import hanging

Document = dict[str, Any]


@dataclass(frozen=True, slots=True)
class Undone:
    """What an import's undo took back: how many tests, which motors; what stays, each with why."""

    tests: int
    withdrawn: Sequence[str] = ()
    stays: Sequence[tuple[str, str]] = ()

    def document(self) -> Document:
        """As the command says it."""
        return {"withdrawn": list(self.withdrawn), "stays": [{"tag": tag, "why": why} for tag, why in self.stays]}


def undo(store: Store, actor: Actor, import_id: int, now: datetime) -> Undone:
    """A whole import goes again: its jobs stand withdrawn, with a link that says so, and with them the motors that it
    made and nothing else hangs on. Twice is once.

    Raises Forbidden, Unknown, AlreadyKept where something was built on it.
    """
    actor.need(Action.REGISTER_MOTOR)
    with store.begin() as session:
        made = rows.locked(session, import_id)
        if made is None:
            raise Unknown("import", str(import_id), "the number of an import")
        if made.undone_at is not None:
            return Undone(0)
        tests = rows.filed(session, import_id)
        amended = rows.amended(session, [one.id for one in tests])
        if amended:
            found = f"job {amended[0]} was amended since"
            raise AlreadyKept("Undo", found, "an import that nothing was built on")
        rows.withdraw(session, import_id, tests)
        session.expire_all()
        _withdrawn(session, actor, import_id, tests, now)
        for motor_id in {one.motor_id for one in tests}:
            _restate(session, motor_id, now)
        link = link_of(session, import_id)
        gone, stays = _motors_back(session, actor, import_id, link.get("motors", ()), now)
        replaced = rows.tags_of(session, link.get("amended", ()))
        stays += [(tag, "a value of the spreadsheet took a stored one's place") for tag in replaced]
        filled = rows.motors_of(session, link.get("filled", ()))
        stays += [
            (motor.tag, "the spreadsheet filled in its nameplate")
            for motor in filled
            if motor.id not in link.get("motors", ())
        ]
        stays += [(name, "the spreadsheet filled in this position") for name in link.get("placed", ())]
        made.undone_at, made.undone_by = now, actor.who
        told = f"{made.file_name}, {len(tests)} jobs" + (f", {len(gone)} motors" if gone else "")
        trail.write(session, actor, "import undone", now, detail=told)
        return Undone(len(tests), gone, stays)


def _motors_back(
    session: Session, actor: Actor, import_id: int, motors: Collection[int], now: datetime
) -> tuple[list[str], list[tuple[str, str]]]:  # fmt: skip
    """Motors that the import made go; those that something else hangs on stay."""
    gone, stays = [], []
    for motor in rows.motors_of(session, motors):
        motor_rows.lock(session, motor.id)
        if found := hanging(session, motor.id):
            stays.append((motor.tag, ", ".join(found)))
        else:
            gone.append(motor.tag)
            withdraw_in(session, actor, motor, f"import {import_id} was undone", now)
    return gone, stays


def _withdrawn(
    session: Session, actor: Actor, import_id: int, tests: Sequence[rows.FiledLine], now: datetime
) -> None:  # fmt: skip
    """One link for the import; one a test where it came in before imports had links."""
    linked = [one.id for one in tests if one.filed_hash is None]
    for number in linked:
        add_link(session, number, actor, "withdrawn", now)
    if len(linked) < len(tests) or not tests:
        link_withdrawn(session, actor, import_id, now)


def _restate(session: Session, motor_id: int, now: datetime) -> None:
    """The register's line without the tests that went: none where no other is left, else as its last one makes it."""
    state = session.get(MotorState, motor_id)
    if state is None:
        return
    session.delete(state)
    session.flush()
    if left := motor_rows.signed_jobs(session, motor_id):
        bring_up_to_date_with(session, left[-1].id, now)
