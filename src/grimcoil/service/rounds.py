"""Rounds walked: motors put on them, a stop at a time, done or skipped with a reason or something seen."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from grimcoil.core.errors import FormRefused, RecordRefusal, Unknown
from grimcoil.core.fields import CURRENT, TEMPERATURE, VOLTAGE
from grimcoil.core.findings import Finding
from grimcoil.core.follow_up import Origin, of_findings, of_words
from grimcoil.core.people import Action, Actor
from grimcoil.core.plate import parse_power
from grimcoil.core.readings import parse_reading
from grimcoil.core.rounds.heard import ENDS, MOST_G, grease_told, heard_in, heard_told, judge_heard
from grimcoil.core.rounds.past import Figure, judge_figure
from grimcoil.core.rounds.tasks import EVERY, Bearing, Task, coming_season, defaults, following, months_of, season_of
from grimcoil.core.side.wear import OBSERVATIONS
from grimcoil.service.again import stands_in
from grimcoil.service.fields import Fields, amount, short
from grimcoil.service.registered import motor_named
from grimcoil.service.tasks import open_for, shut_for
from grimcoil.store import motors as motor_rows
from grimcoil.store import rounds as rows
from grimcoil.store import tasks as task_rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.lines import MotorLine, motor_line
from grimcoil.store.listing import walk_order
from grimcoil.store.round_tables import RoundEntry, RoundTask
from grimcoil.store.rounds import AreaDue, FigureLine, RoundLine, StopLine, TaskLine
from grimcoil.store.tables import Motor
from grimcoil.store.tasks import TaskToDo

__all__ = [
    "AreaDue",
    "FigureLine",
    "RoundKept",
    "RoundLine",
    "Rounds",
    "Said",
    "Stop",
    "StopLine",
    "TaskLine",
    "due_days",
    "keep",
    "put_on",
    "rounds",
    "set_task",
    "stop",
    "take_back",
    "walk",
]
AHEAD = timedelta(days=7)  # what falls due within a week is done on the way
MONTH = timedelta(days=31)
LONGEST_WORDS, SHORTEST_WHY = 200, 4
FIELDS = {"temperature": TEMPERATURE, "current": CURRENT, "voltage": VOLTAGE}


@dataclass(frozen=True, slots=True)
class Rounds:
    """What is due by area, and the month ahead by day and area."""

    areas: Sequence[AreaDue]
    month: Sequence[tuple[date, str, int]]


@dataclass(frozen=True, slots=True)
class Said:
    """A kept line with what its figure says against the motor's past."""

    line: RoundLine
    finding: Finding | None


@dataclass(frozen=True, slots=True)
class Stop:
    """A motor of a round: its tasks, which of them are due, what was kept there, what is to be done besides."""

    motor: MotorLine
    tasks: Sequence[TaskLine]
    due: Sequence[TaskLine]
    said: Sequence[Said]
    todo: Sequence[TaskToDo]


def rounds(store: Store, day: date) -> Rounds:
    """Two queries."""
    with store() as session:
        return Rounds(
            rows.areas_due(session, day + AHEAD, walk_order(session)), rows.due_by_day(session, day, day + MONTH)
        )


def due_days(store: Store, actor: Actor, since: date, until: date, area: str = "") -> list[tuple[date, str, int]]:
    """Day, area and number of tasks, for a calendar; overdue ones stand on the first day. Raises Forbidden."""
    actor.need(Action.READ_DUE)
    with store() as session:
        late = [
            one
            for one in rows.areas_due(session, since - timedelta(days=1), walk_order(session))
            if area in ("", one.area)
        ]
        return [(since, one.area, one.tasks) for one in late] + rows.due_by_day(session, since, until, area)


def walk(store: Store, area: str, day: date) -> Sequence[StopLine]:
    """The motors of an area with something due, in walking order."""
    with store() as session:
        return rows.stops(session, area, day + AHEAD)


def stop(store: Store, tag: str, day: date) -> Stop:
    """A motor with its tasks. Raises Unknown."""
    with store() as session:
        motor = motor_named(session, tag)
        tasks = rows.tasks_of(session, motor.id)
        on = [one for one in tasks if one.next_on is not None]
        figures = rows.figures(session, motor.id)
        said = [Said(line, _judged(line, figures)) for line in rows.lines_of(session, motor.id)]
        due = [one for one in on if one.next_on and one.next_on <= day + AHEAD]
        return Stop(motor_line(motor), on, due, said, task_rows.open_at(session, motor.id))


def _judged(line: RoundLine | RoundEntry, figures: Sequence[FigureLine]) -> Finding | None:
    if line.task == Task.LISTEN and line.outcome == "done" and line.taken_back_at is None:
        return judge_heard(line.words)
    if line.value is None or line.taken_back_at is not None:
        return None
    earlier = [
        Figure(one.value, one.loaded)
        for one in figures
        if one.task == line.task and (one.at, one.id) < (line.at, line.id)
    ]
    return judge_figure(Task(line.task), line.value, line.loaded, earlier)


def put_on(store: Store, actor: Actor, tag: str, now: datetime) -> None:
    """Give a motor the tasks of its size, due from today; twice is once. Raises Forbidden, Unknown."""
    actor.need(Action.REGISTER_MOTOR)
    with store.begin() as session:
        motor = motor_named(session, tag)
        motor_rows.lock(session, motor.id)
        there = {one.task: one for one in rows.tasks_of(session, motor.id)}
        for task in defaults(_kw(motor)):
            if task.value not in there:
                session.add(
                    RoundTask(motor_id=motor.id, task=task.value, months=EVERY[task].months, next_on=now.date())
                )
        trail.write(session, actor, "put on the round", now, motor.id)


def _kw(motor: Motor) -> float | None:
    try:
        return parse_power(motor.power_text, "power") / 1000
    except RecordRefusal:
        return None


def set_task(store: Store, actor: Actor, tag: str, texts: Mapping[str, str], now: datetime) -> None:
    """How often, or not at all; of grease the bearings' sizes. Raises Forbidden, Unknown, FormRefused."""
    actor.need(Action.REGISTER_MOTOR)
    task = texts.get("task", "")
    if task not in set(Task):
        raise FormRefused({"task": RecordRefusal("", task, "one of " + ", ".join(Task)).sentence()})
    fields = Fields(texts)
    interval = _interval(fields)
    bearings = _bearings(fields) if task == Task.GREASE else None
    if fields.refused:
        raise FormRefused(fields.refused)
    with store.begin() as session:
        motor = motor_named(session, tag)
        motor_rows.lock(session, motor.id)
        row = rows.task_row(session, motor.id, task)
        if row is None:
            row = RoundTask(motor_id=motor.id, task=task, months=EVERY[Task(task)].months)
            session.add(row)
        if texts.get("off") == "yes":
            row.next_on = None
        else:
            if interval is not None:
                row.months, row.every_h, row.hours_a_month, row.season = interval
            if interval is not None and row.season:  # nothing was done yet: the very next one counts
                row.next_on = coming_season(now.date(), season_of(row.season))
            row.next_on = row.next_on or now.date()
            row.bearings = bearings if bearings is not None else row.bearings
        trail.write(
            session, actor, "round task kept", now, motor.id, detail=f"{task}, {row.months} months, {row.next_on}"
        )


Interval = tuple[int, int | None, int | None, str | None]


def _interval(fields: Fields) -> Interval | None:
    """Months, or running hours with how many a month has, or the day it is due before each year; None as it was."""
    months = fields.take("months", amount(1, 120, "months"))
    every_h = fields.take("every_h", amount(1, 100_000, "h"))
    a_month = fields.take("hours_a_month", amount(1, 744, "h"), required=every_h is not None)
    season = fields.take("season", season_of)
    if every_h is not None and season is not None:
        fields.refused["season"] = "By running hours or before a season, not both."
    if fields.refused:
        return None
    if season is not None:
        return 12, None, None, f"{season[0]:02}-{season[1]:02}"
    if every_h is not None:
        return min(months_of(float(every_h), float(a_month)), 120), int(every_h), int(a_month), None
    return None if months is None else (int(months), None, None, None)


def _bearings(fields: Fields) -> dict[str, dict[str, float]] | None:
    """Outside, width and bore of each end, as `85 x 19 x 45`."""
    out = {}
    for end in ENDS:
        made = fields.take(f"bearing_{end}", _sizes)
        if made is not None:
            out[end] = made
    return out or None


def _sizes(text: str) -> dict[str, float]:
    parts = text.lower().replace("×", "x").replace(",", ".").split("x")
    try:
        outside, width, bore = (float(part) for part in parts)
    except ValueError:
        raise RecordRefusal("", text, "outside x width x bore, mm", "85 x 19 x 45") from None
    Bearing(outside, width, bore)
    return {"outside_mm": outside, "width_mm": width, "bore_mm": bore}


@dataclass(frozen=True, slots=True)
class RoundKept:
    """What is kept at a stop. text: the figure as typed; at: when it was, where that isn't now; ends: by bearing, what
    was heard or the grams it got; grease: which.
    """

    task: str
    outcome: str
    text: str = ""
    words: str = ""
    loaded: bool | None = None
    at: datetime | None = None
    ends: Mapping[str, str] = field(default_factory=dict)
    grease: str = ""


def keep(store: Store, actor: Actor, tag: str, given: RoundKept, token: str, now: datetime) -> bool:
    """Keep what was done, skipped or seen; once by token. Raises Forbidden, Unknown, FormRefused."""
    actor.need(Action.KEEP_ENTRY)
    value, words = _checked(given, now)
    words = _answered(given) or words
    try:
        with store.begin() as session:
            motor = motor_named(session, tag)
            motor_rows.lock(session, motor.id)
            if rows.has_token(session, token):
                return False
            row = rows.task_row(session, motor.id, given.task) if given.outcome != "observed" else None
            if row is None and given.outcome != "observed":
                raise Unknown("task", given.task, f"a task of {motor.tag}")
            made = RoundEntry(
                motor_id=motor.id, task=given.task, token=token, at=given.at or now, kept_at=now, who=actor.who,
                outcome=given.outcome, text=given.text.strip(), value=value, loaded=given.loaded, words=words,
                was_next=row.next_on if row else None,
            )  # fmt: skip
            newest = rows.newest_of_task(session, motor.id, given.task)
            session.add(made)
            if row is not None and (newest is None or newest <= made.at):  # paper entered late calls nothing back
                season = season_of(row.season) if row.season else None
                row.next_on = following((given.at or now).date(), row.months, season)
            trail.write(session, actor, f"round {given.outcome}", now, motor.id, detail=f"{given.task} {words}".strip())
            _follow_up(session, actor, motor.id, made, now)
            return True
    except IntegrityError as error:
        if not stands_in(error, "round_entry"):
            raise
        return False  # the same form sent twice at once


def _follow_up(session: Session, actor: Actor, motor_id: int, made: RoundEntry, now: datetime) -> None:
    """The tasks that what was seen, or a figure far from its usual, asks for."""
    said = [made.words] if made.outcome == "observed" else []
    said += heard_in(made.words).values() if made.task == Task.LISTEN and made.outcome == "done" else []
    asked = of_words(said)
    if made.value is not None:
        session.flush()
        figures = rows.figures(session, motor_id)
        asked += of_findings([one] if (one := _judged(made, figures)) else [])
    if asked:
        session.flush()  # its number
        open_for(session, actor, motor_id, asked, Origin.ROUND, made.id, now)


def _answered(given: RoundKept) -> str:
    """What was answered by bearing, as one line; empty where nothing was. Raises FormRefused at the answer's field."""
    said = {end: text.strip() for end, text in given.ends.items() if text.strip()}
    if given.outcome != "done":
        return ""
    if given.task == Task.LISTEN:
        try:
            return heard_told(said)
        except RecordRefusal as refusal:
            raise FormRefused({"heard": refusal.sentence()}) from None
    if given.task != Task.GREASE:
        return ""
    fields = Fields({f"grams_{end}": text for end, text in said.items()} | {"grease": given.grease})
    grams = {end: float(g) for end in ENDS if (g := fields.take(f"grams_{end}", amount(0.1, MOST_G, "g"))) is not None}
    kind = fields.take("grease", short(40)) or ""
    if fields.refused:
        raise FormRefused(fields.refused)
    return grease_told(grams, kind)


def _checked(given: RoundKept, now: datetime) -> tuple[float | None, str]:
    words = " ".join(given.words.split())
    if given.task not in set(Task) and given.outcome != "observed":
        raise FormRefused({"task": RecordRefusal("", given.task, "one of " + ", ".join(Task)).sentence()})
    if given.outcome not in ("done", "skipped", "observed"):
        raise FormRefused({"outcome": RecordRefusal("", given.outcome, "done, skipped or observed").sentence()})
    if len(words) > LONGEST_WORDS:
        raise FormRefused({"words": RecordRefusal("", words[:40] + "…", "at most 200 characters").sentence()})
    if given.at is not None and given.at > now:
        raise FormRefused({"when": RecordRefusal("", f"{given.at:%Y-%m-%d %H:%M}", "a moment up to now").sentence()})
    if given.outcome == "skipped" and len(words) < SHORTEST_WHY:
        raise FormRefused({"words": "Say why it is skipped; it comes again at its next day."})
    if given.outcome == "observed" and words not in OBSERVATIONS:
        raise FormRefused({"words": RecordRefusal("", words, "one of " + ", ".join(OBSERVATIONS)).sentence()})
    kind = EVERY.get(Task(given.task)) if given.task in set(Task) else None
    if given.outcome != "done" or kind is None or not kind.field:
        return None, words
    try:
        reading = parse_reading(given.text, FIELDS[kind.field])
    except ValueError as refused:
        raise FormRefused({"text": str(refused)}) from None
    if not reading.amount.is_exact:
        raise FormRefused({"text": RecordRefusal("", given.text, f"a figure in {kind.unit}", "47").sentence()})
    return reading.amount.value, words


def take_back(store: Store, actor: Actor, tag: str, entry_id: int, now: datetime, reason: str = "") -> None:
    """What was kept goes again, and its task is due as it was; only the task's newest.

    Raises Forbidden, Unknown, FormRefused where someone else's goes without a reason.
    """
    actor.need(Action.TAKE_BACK)
    with store.begin() as session:
        motor = motor_named(session, tag)
        entry = rows.entry(session, motor.id, entry_id)
        if entry is None:
            raise Unknown("entry", str(entry_id), f"what was saved at {motor.tag}")
        if entry.taken_back_at is not None:
            return
        why = actor.need_take_back(entry.who, entry.kept_at, now, reason)
        row = rows.task_row(session, motor.id, entry.task) if entry.outcome != "observed" else None
        if row is not None and row.next_on is not None and rows.last_of_task(session, motor.id, entry.task) == entry.id:
            row.next_on = entry.was_next
        entry.taken_back_at, entry.taken_back_by, entry.taken_back_why = now, actor.who, why or None
        shut_for(session, actor, motor.id, Origin.ROUND, entry.id, now)
        told = ": ".join(part for part in (entry.task, why) if part)
        trail.write(session, actor, "round taken back", now, motor.id, detail=told)
