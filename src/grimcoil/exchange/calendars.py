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


def calendar_of(name: str, lines: Iterable[DueLine], now: datetime) -> bytes:
    """RFC 5545, lines folded and text escaped by the library. An overdue test stands on its own day."""
    made = Calendar()
    made.add("prodid", f"-//Grim Coil//{VERSION}//EN")
    made.add("version", "2.0")
    made.add("x-wr-calname", name)
    for line in lines:
        event = Event()
        event.add("uid", f"{line.tag}-{line.on.isoformat()}@grimcoil")
        event.add("dtstamp", now)
        event.add("dtstart", line.on)
        event.add("dtend", line.on + timedelta(days=1))
        event.add("summary", f"Test {line.tag}" + (f", {line.place}" if line.place else ""))
        event.add("description", line.why)
        event.add("url", line.address)
        event.add("transp", "TRANSPARENT")
        made.add_component(event)
    return bytes(made.to_ical())
