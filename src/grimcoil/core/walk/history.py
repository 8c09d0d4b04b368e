"""What was found before at a walk's position, and the end of a walk that finds nothing any more."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from grimcoil.core.days import day_told
from grimcoil.core.findings import Finding, watch
from grimcoil.core.walk.entries import Entry
from grimcoil.core.walk.faults import Suspect

ONCE = "one-time-event"
ONCE_WORDS = "A one-time event: it runs, and nothing wrong was read"
WINDOW = timedelta(days=730)
LATELY = timedelta(days=90)
# How much likelier a suspect is than by its complaint alone, no unit (common practice without source: what failed here
# before fails here again, what had hands on it last is looked at first).
AGAIN, AGAIN_INSIDE, HANDS_ON = 3.0, 2.0, 3.0
INSIDE = frozenset({"winding", "cable"})
JOINED = frozenset({"connection-wrong", "phase-reversed", "joint-loose"})
EVEN, OVER_PLATE = 0.10, 1.05
LONGEST_WATCH = timedelta(days=366)
TOLD = 3  # so many lines of the past are told, the newest


@dataclass(frozen=True, slots=True)
class Earlier:
    """Something found or done at this position. kind: `walk`, `job` or `repair`; suspect: of a walk's end.

    watch_until: until when a one-time event was to be watched.
    """

    kind: str
    on: date
    text: str
    suspect: str = ""
    line: str | None = None
    watch_until: date | None = None


def _weight(earlier: Sequence[Earlier], suspect: Suspect, today: date | None) -> float:
    """What the past makes of a suspect's odds: factor, no unit, 1 where it says nothing. Common practice, no source."""
    factor = 1.0
    for one in earlier:
        age = timedelta(0) if today is None else today - one.on
        if age > WINDOW or age < timedelta(0):
            continue
        if one.kind == "walk" and one.suspect == suspect.name and one.line in (None, suspect.line):
            factor = max(factor, AGAIN)
        if one.kind == "job" and suspect.element in INSIDE:
            factor = max(factor, AGAIN_INSIDE)
        if one.kind == "repair" and age <= LATELY and suspect.name in JOINED:
            factor = max(factor, HANDS_ON)
    return factor


@dataclass(frozen=True, slots=True)
class Past:
    """What was found at this position before, and the day from which it is looked at; without a day all of it is of
    late.
    """

    earlier: tuple[Earlier, ...] = ()
    today: date | None = None

    def weight(self, suspect: Suspect) -> float:
        """What the past makes of a suspect's odds: factor, no unit. Common practice without source."""
        return _weight(self.earlier, suspect, self.today)

    @property
    def came_back(self) -> Earlier | None:
        """The one-time event that was still being watched; nothing where none was."""
        for one in self.earlier:
            until = one.watch_until
            if one.suspect == ONCE and until and (self.today is None or one.on <= self.today <= until):
                return one
        return None


NO_PAST = Past()


def told(past: Past) -> list[Finding]:
    """What the walk begins with, newest first, as findings."""
    newest = sorted(past.earlier, key=lambda one: one.on, reverse=True)
    out = [watch("walk-earlier", f"Here before, {day_told(one.on)}: {one.text}.") for one in newest[:TOLD]]
    back = past.came_back
    if back is not None and back.watch_until is not None:
        said = (
            f"It was called a one-time event on {day_told(back.on)} and watched until {day_told(back.watch_until)}: "
            "it came back, so it has a cause."
        )
        out.insert(0, watch("walk-came-back", said))
    return out


def runs_even(entries: Sequence[Entry], plate_a: float) -> bool:
    """Whether the last running amps were read on all three lines, lie within a tenth of their mean and not over the
    plate's. plate_a: A. Common practice: the trade's limit of current unbalance; a twentieth over is the meter's.
    """
    for entry in reversed(entries):
        read = entry.measured
        if read is None or read.quantity != "amps" or read.state.at != "run" or read.state.load != "coupled":
            continue
        shown = [reading.amount for _, _, reading in read.readings]
        if len(shown) < 3 or any(amount.high is None or amount.low is None or amount.low <= 0 for amount in shown):
            return False
        read_a = [amount.high for amount in shown if amount.high is not None]
        mean = sum(read_a) / len(read_a)
        return max(read_a) <= OVER_PLATE * plate_a and all(abs(one - mean) <= EVEN * mean for one in read_a)
    return False
