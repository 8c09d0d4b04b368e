"""Tasks: opened by a finding, a decision, a round or a person, with a day; done or dropped with a word."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from grimcoil.core.errors import AlreadyKept, FormRefused, RecordRefusal, Unknown
from grimcoil.core.follow_up import LONGEST_WHAT, FollowUp, Origin, TaskState, check_word, need_close
from grimcoil.core.people import MAY, Action, Actor, Role
from grimcoil.service.again import key_of
from grimcoil.service.fields import Fields, day_of, one_of, short
from grimcoil.service.registered import motor_named
from grimcoil.store import motors as motor_rows
from grimcoil.store import people as people_rows
from grimcoil.store import tasks as rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.task_tables import FollowUpTask
from grimcoil.store.tasks import TaskToDo

__all__ = [
    "TaskToDo",
    "Tasks",
    "add",
    "close",
    "every_task",
    "may_do",
    "open_for",
    "shut_for",
    "tasks",
    "tasks_due",
    "tasks_of",
]
LONGEST_BECAUSE = 500
FARTHEST = timedelta(days=3 * 366)
AT_ONCE = 500


@dataclass(frozen=True, slots=True)
class Tasks:
    """What is open, and the last that were closed."""

    open: Sequence[TaskToDo]
    closed: Sequence[TaskToDo]


def tasks(store: Store, area: str = "") -> Tasks:
    """Two queries."""
    with store() as session:
        return Tasks(rows.open_tasks(session, area=area), rows.closed(session))


def tasks_due(store: Store, until: date, area: str = "", tags: Sequence[str] = ()) -> list[TaskToDo]:
    """Open ones up to a day. One query."""
    with store() as session:
        return rows.open_tasks(session, until, area, tags)


def tasks_of(store: Store, tag: str) -> list[TaskToDo]:
    """A motor's, open ones first. Two queries. Raises Unknown."""
    with store() as session:
        return rows.of_motor(session, motor_named(session, tag).id)


def every_task(store: Store) -> Iterator[TaskToDo]:
    """All of them, some at a time."""
    after = 0
    while True:
        with store() as session:
            found = rows.every_task(session, after, AT_ONCE)
        yield from found
        if len(found) < AT_ONCE:
            return
        after = found[-1].id


def _key(motor_id: int, what: str) -> str:
    """One open task of these words at one motor."""
    return f"{motor_id}-{hashlib.sha256(what.casefold().encode()).hexdigest()[:40]}"


def open_for(
    session: Session, actor: Actor, motor_id: int, asked: Sequence[FollowUp], origin: Origin, origin_id: int,
    now: datetime,
) -> None:  # fmt: skip
    """What something asks for, within its transaction; what is open at this motor already stays as it is."""
    if not asked:
        return
    by_key = {_key(motor_id, one.what): one for one in asked}
    there = rows.standing(session, by_key)
    for key, one in by_key.items():
        if key in there:
            continue
        session.add(
            FollowUpTask(
                motor_id=motor_id, open_of=key, what=one.what, because=one.because[:LONGEST_BECAUSE],
                by_day=one.by(now.date()), whom="", origin=origin.value, origin_id=origin_id, opened_at=now,
                opened_by=actor.who, state=TaskState.OPEN.value, word="",
            )
        )  # fmt: skip
        trail.write(session, actor, "task opened", now, motor_id, detail=one.what)
    session.flush()


def shut_for(session: Session, actor: Actor, motor_id: int, origin: Origin, origin_id: int, now: datetime) -> None:
    """What was opened by something that is taken back goes with it, where nobody closed it yet."""
    for row in rows.opened_by(session, motor_id, origin.value, origin_id):
        _shut(row, TaskState.DROPPED, f"The {origin.value} it came from was undone", actor, now)
        trail.write(session, actor, "task dropped", now, motor_id, detail=row.what)


def _shut(row: FollowUpTask, state: TaskState, word: str, actor: Actor, now: datetime) -> None:
    row.state, row.word, row.closed_by, row.closed_at, row.open_of = state.value, word, actor.who, now, None


def may_do(store: Store) -> list[tuple[str, str]]:
    """Sign-in name and name of those whom a task may be for, without those who are removed. One query."""
    with store() as session:
        people = people_rows.everyone(session)
    here = (one for one in people if one.removed_at is None)
    return [(one.login, one.name) for one in here if Action.KEEP_TASKS in MAY[Role(one.role)]]


def add(store: Store, actor: Actor, tag: str, texts: Mapping[str, str], token: str, now: datetime) -> bool:
    """A person's task: what, by, for, because; once by token. Raises Forbidden, Unknown, FormRefused."""
    actor.need(Action.KEEP_TASKS)
    fields = Fields(texts)
    what = fields.take("what", short(LONGEST_WHAT), required=True)
    because = fields.take("because", short(LONGEST_BECAUSE)) or ""
    by = fields.take("by", lambda text: _day_ahead(text, now.date()), required=True)
    whom = fields.take("for", one_of(*(login for login, _ in may_do(store)))) or ""
    if fields.refused:
        raise FormRefused(fields.refused)
    try:
        with store.begin() as session:
            motor = motor_named(session, tag)
            motor_rows.lock(session, motor.id)
            if rows.has_token(session, token):
                return False
            key = _key(motor.id, what)
            if rows.standing(session, [key]):
                raise FormRefused({"what": f"It is open at {motor.tag} already: close that one first."})
            session.add(
                FollowUpTask(
                    motor_id=motor.id, token=token, open_of=key, what=what, because=because, by_day=by, whom=whom,
                    origin=Origin.PERSON.value, opened_at=now, opened_by=actor.who, state=TaskState.OPEN.value, word="",
                )
            )  # fmt: skip
            trail.write(session, actor, "task opened", now, motor.id, detail=what)
            return True
    except IntegrityError as error:
        if key_of(error) != "uq_follow_up_task_token":
            raise  # the same words by somebody else at once: done again, it is refused with them
        return False  # the same form sent twice at once


def _day_ahead(text: str, today: date) -> date:
    day = day_of(text)
    if not today <= day <= today + FARTHEST:
        raise RecordRefusal("", text, "a day from today on, within three years", (today + timedelta(7)).isoformat())
    return day


def close(store: Store, actor: Actor, number: int, state: str, word: str, now: datetime) -> str:
    """Done or dropped, with a word; the same again changes nothing. Its motor's tag.

    Raises Forbidden, Unknown, FormRefused, AlreadyKept where somebody closed it otherwise meanwhile.
    """
    actor.need(Action.KEEP_TASKS)
    with store.begin() as session:
        found = rows.row(session, number)
        if found is None:
            raise Unknown("task", str(number), "a task of a motor")
        need_close(actor, found.whom)
        if state not in (TaskState.DONE, TaskState.DROPPED):
            raise FormRefused({"state": RecordRefusal("", state, "done or dropped").sentence()})
        words = check_word(word)
        motor = motor_rows.placed(session, found.motor_id)
        if motor is None:
            raise Unknown("motor", str(found.motor_id), "a motor on the register")
        if found.state != TaskState.OPEN:
            if (found.state, found.word, found.closed_by) != (state, words, actor.who):
                raise AlreadyKept("Task", f"{found.state} by {found.closed_by} meanwhile", "nothing more is needed")
            return motor.tag
        _shut(found, TaskState(state), words, actor, now)
        trail.write(session, actor, f"task {state}", now, found.motor_id, detail=f"{found.what}: {words}")
        return motor.tag
