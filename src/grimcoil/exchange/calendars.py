"""What is due as an iCalendar file: an entry a motor, for the whole day its next test falls on."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, datetime, timedelta
from typing import NamedTuple

from icalendar import Calendar, Event

from grimcoil.core.version import VERSION


class DueLine(NamedTuple):
    """A motor, where it stands, the day of its next test and why then."""

    tag: str
    place: str
    on: date
    why: str
    address: str


class TaskDay(NamedTuple):
    """A task at a motor, by the day it is to be done."""

    number: int
    tag: str
    what: str
    on: date
    because: str
    address: str


class RoundDay(NamedTuple):
    """An area's tasks of a day."""

    area: str
    on: date
    tasks: int
    address: str


def calendar_of(
    name: str,
    lines: Iterable[DueLine],
    now: datetime,
    rounds: Iterable[RoundDay] = (),
    tasks: Iterable[TaskDay] = (),
) -> bytes:
    """RFC 5545, lines folded and text escaped by the library. An overdue test stands on its own day."""
    made = Calendar()
    made.add("prodid", f"-//Grim Coil//{VERSION}//EN")
    made.add("version", "2.0")
    made.add("x-wr-calname", name)
    for line in lines:
        place = f", {line.place}" if line.place else ""
        made.add_component(_whole_day(line.tag, line.on, f"Test {line.tag}{place}", line.why, line.address, now))
    for one in rounds:
        area = one.area or "without an area"
        told = f"{one.tasks} task{'s' * (one.tasks != 1)} of the round"
        made.add_component(_whole_day(f"round-{area}", one.on, f"Round {area}", told, one.address, now))
    for task in tasks:
        summary = f"{task.tag}: {task.what}"
        made.add_component(_whole_day(f"task-{task.number}", task.on, summary, task.because, task.address, now))
    return bytes(made.to_ical())


def _whole_day(key: str, on: date, summary: str, description: str, address: str, now: datetime) -> Event:
    event = Event()
    event.add("uid", f"{key}-{on.isoformat()}@grimcoil")
    event.add("dtstamp", now)
    event.add("dtstart", on)
    event.add("dtend", on + timedelta(days=1))
    event.add("summary", summary)
    event.add("description", description)
    event.add("url", address)
    event.add("transp", "TRANSPARENT")
    return event
