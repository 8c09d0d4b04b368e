"""Where a motor stood and when: stays that never overlap, moves checked before they are made, failures by position."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import pairwise

from grimcoil.core.days import day_told
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.findings import Finding, Verdict

# Actions after which a motor did not go on as it was: what counts as a failure at its position.
FAILED = frozenset({"send-repair", "rewind-or-replace", "rewind", "replace", "remove-now"})
WITHIN = timedelta(days=730)


@dataclass(frozen=True, slots=True)
class Stay:
    """From a day until another, which isn't in it; until None: it stands there now. place None: the store."""

    place: int | None
    since: date
    until: date | None = None

    def holds(self, day: date) -> bool:
        """Whether that day falls into it."""
        return self.since <= day and (self.until is None or day < self.until)


def overlapping(stays: Sequence[Stay]) -> tuple[Stay, Stay] | None:
    """The first two that share a day; None where none do."""
    ordered = sorted(stays, key=lambda stay: stay.since)
    for one, other in pairwise(ordered):
        if one.until is None or one.until > other.since:
            return one, other
    return None


def place_on(stays: Sequence[Stay], day: date) -> int | None:
    """Where it stood that day; None: in the store, or nothing on record."""
    return next((stay.place for stay in stays if stay.holds(day)), None)


def check_day(on: date, today: date, built_year: int | None) -> None:
    """Raise RecordRefusal for a day in the future or before the motor was built."""
    if on > today:
        raise RecordRefusal("day", on.isoformat(), f"a day up to today, {day_told(today)}")
    if built_year is not None and on.year < built_year:
        raise RecordRefusal("day", on.isoformat(), f"a day since it was built, {built_year}")


def check_move(stays: Sequence[Stay], to: int | None, on: date, today: date, built_year: int | None) -> None:
    """Raise RecordRefusal where a move to that place (None: the store) on that day can't have been."""
    check_day(on, today, built_year)
    if not stays:
        return
    last = max(stays, key=lambda stay: stay.since)
    if last.place == to:
        raise RecordRefusal("where to", "the place where it is now", "another position, or the store")
    if on < last.since:
        raise RecordRefusal("day", on.isoformat(), f"a day since its last move, {day_told(last.since)}: undo that")


def moved(stays: Sequence[Stay], to: int | None, on: date) -> list[Stay]:
    """The stays after a move that `check_move` let pass: the last one ends, one of no days falls away."""
    out = sorted(stays, key=lambda stay: stay.since)
    if out and out[-1].until is None:
        last = out.pop()
        if last.since < on:
            out.append(Stay(last.place, last.since, on))
    return [*out, Stay(to, on)]


@dataclass(frozen=True, slots=True)
class Failure:
    """A motor that failed at a position: its tag, the day, what was decided, the causes that were named."""

    tag: str
    on: date
    action: str
    causes: tuple[str, ...] = ()


def repeat_failures(failures: Sequence[Failure], today: date) -> Finding | None:
    """Whether the position itself should be looked at: two failures within two years are watch, three act."""
    recent = [failure for failure in failures if today - WITHIN <= failure.on <= today]
    if len(recent) < 2:
        return None
    months = max(1, round((max(f.on for f in recent) - min(f.on for f in recent)).days / 30.44))
    shared = [cause for cause in dict.fromkeys(c for f in recent for c in f.causes) if _times(cause, recent) > 1]
    also = f"; {', '.join(shared)} more than once" if shared else ""
    words = f"{len(recent)} failed in {months} month{'s' if months > 1 else ''}{also}"
    act = len(recent) > 2
    text = f"Look at the position, not the motor: {words}" if act else f"A second failure here: {words}"
    return Finding("repeat-failures", Verdict.ACT if act else Verdict.WATCH, text)


def _times(cause: str, failures: Sequence[Failure]) -> int:
    return sum(cause in failure.causes for failure in failures)
