"""What is done on a round, how often, and why so: defaults by kind and size of motor, each with its standing."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.side.wear import GREASE

TRADE = "common practice without source"
GREASE_RULE = "bearing makers' rules for grams, and for hours by speed and bore (standard, from memory)"
MONTH_H = 730.0
BALL = 10.0  # the rule's factor for ball bearings; rollers have 5 or 1
MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
DAYS = (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)
LEAST_H, MOST_H = 100.0, 30_000.0


class Task(StrEnum):
    """Something done to a motor on a round."""

    LISTEN = "listen"
    FRAME = "frame temperature"
    VENTS = "vents and fan"
    BOX = "box and glands"
    GREASE = "grease"
    CLEAN = "clean"
    AMPS = "running amps"
    VOLTS = "running volts"
    BRUSHES = "brushes"
    STARTER = "starter contacts"


@dataclass(frozen=True, slots=True)
class Kind:
    """A task: months between, which motors have it, how the hands do it, what is read, and its standing."""

    months: int
    how: str
    standing: str = TRADE
    field: str = ""
    unit: str = ""
    least_kw: float = 0.0


KINDS: Mapping[Task, Kind] = {
    Task.LISTEN: Kind(1, "Both ends, through a rod to the ear: even, rough, rumbling, rubbing?"),
    Task.FRAME: Kind(
        1,
        "Drive side of the frame, the same spot each round; probe on bare metal, 10 s.",
        field="temperature",
        unit="°C",
    ),
    Task.VENTS: Kind(3, "Inlets and fan cover free, fan whole. Wipe or vacuum; compressed air drives dirt in."),
    Task.BOX: Kind(6, "Lid and glands tight; tape dried out, a burn, water, loose conduit?"),
    Task.GREASE: Kind(
        6,
        "Clean the fitting first; motor warm and running; the grams below, never more; wipe.",
        GREASE_RULE,
        least_kw=5.0,
    ),
    Task.CLEAN: Kind(12, "Wipe off; a blanket of dust keeps the heat in."),
    Task.AMPS: Kind(
        3,
        "Clamp at the starter, each line, load as usual. Live: arc-rated gear, one hand.",
        field="current",
        unit="A",
        least_kw=5.0,
    ),
    Task.VOLTS: Kind(
        12, "Line to line at the starter, load side. Live: arc-rated gear.", field="voltage", unit="V", least_kw=5.0
    ),
}
# Only where the motor has them; kept on by hand.
EXTRA: Mapping[Task, Kind] = {
    Task.BRUSHES: Kind(3, "Length against new, springs, dust; one at half or less: the whole set."),
    Task.STARTER: Kind(
        12, "Isolated, locked, proved dead: contacts, screws, interlock, by the starter data and checks."
    ),
}
EVERY: Mapping[Task, Kind] = {**KINDS, **EXTRA}


@dataclass(frozen=True, slots=True)
class Bearing:
    """A bearing by its sizes, mm."""

    outside_mm: float
    width_mm: float
    bore_mm: float

    def __post_init__(self) -> None:
        for name in ("outside_mm", "width_mm", "bore_mm"):
            value = getattr(self, name)
            if not 1 <= value <= 1000:
                raise RecordRefusal(name, f"{value:g}", "1 to 1000 mm", "85")
        if self.bore_mm >= self.outside_mm:
            raise RecordRefusal(
                "bore_mm", f"{self.bore_mm:g}", f"less than its outside of {self.outside_mm:g} mm", "40"
            )


def grease_g(bearing: Bearing) -> float:
    """Grams at a time: 0.005 D B, D and B in mm (bearing makers' rule, standard, from memory).

    >>> round(grease_g(Bearing(85, 19, 45)), 1)
    8.1
    """
    return GREASE * bearing.outside_mm * bearing.width_mm


def grease_hours(bearing: Bearing, speed_rpm: float, celsius: float = 70.0) -> float:
    """Hours between greasings of a ball bearing on a level shaft: 10 (14·10⁶ / (n √d) - 4 d), halved each 15 K above
    70 °C (bearing makers' rule, standard, from memory); 100 to 30 000. Raises RecordRefusal for a speed that is none.

    >>> round(grease_hours(Bearing(85, 19, 45), 1765))
    10024
    """
    if not 10 <= speed_rpm <= 30_000:
        raise RecordRefusal("speed_rpm", f"{speed_rpm:g}", "10 to 30000 r/min", "1765")
    hours: float = BALL * (14e6 / (speed_rpm * bearing.bore_mm**0.5) - 4 * bearing.bore_mm)
    if celsius > 70.0:
        hours *= 0.5 ** ((celsius - 70.0) / 15.0)
    return min(max(hours, LEAST_H), MOST_H)


def months_of(hours: float, hours_per_month: float) -> int:
    """Whole months that so many running hours take, at least one (computed)."""
    return max(1, int(hours / hours_per_month))


SEASON_DAYS = 120  # before its day within which what is done counts for that season; our own figure


def season_of(text: str) -> tuple[int, int]:
    """Month and day of a season, as `08-15`, `15 Aug` or `15.8.`. Raises RecordRefusal.

    >>> season_of("15 Aug"), season_of("08-15")
    ((8, 15), (8, 15))
    """
    words = text.strip().lower()
    if found := re.fullmatch(r"(\d{1,2})-(\d{1,2})", words):
        month, day = int(found[1]), int(found[2])
    elif (found := re.fullmatch(r"(\d{1,2})\.? ?([a-z]{3})[a-z]*", words)) and found[2] in MONTHS:
        month, day = MONTHS.index(found[2]) + 1, int(found[1])
    elif found := re.fullmatch(r"(\d{1,2})\. ?(\d{1,2})\.", words):
        month, day = int(found[2]), int(found[1])
    else:
        raise RecordRefusal("", text, "a day of the year", "15 Aug")
    if not 1 <= month <= 12 or not 1 <= day <= DAYS[month - 1]:
        raise RecordRefusal("", text, "a day that every year has", "15 Aug")
    return month, day


def next_season(done_on: date, season: tuple[int, int]) -> date:
    """The day of the first season that what was done on a day doesn't count for. season: month and day (own rule).

    >>> next_season(date(2026, 8, 10), (8, 15)), next_season(date(2026, 2, 1), (8, 15))
    (datetime.date(2027, 8, 15), datetime.date(2026, 8, 15))
    """
    return coming_season(done_on + timedelta(days=SEASON_DAYS + 1), season)


def coming_season(day: date, season: tuple[int, int]) -> date:
    """The season's day from a day on, that one too. season: month and day (computed).

    >>> coming_season(date(2026, 8, 15), (8, 15)), coming_season(date(2026, 8, 16), (8, 15))
    (datetime.date(2026, 8, 15), datetime.date(2027, 8, 15))
    """
    this = date(day.year, *season)
    return this if this >= day else date(day.year + 1, *season)


def following(done_on: date, months: int, season: tuple[int, int] | None) -> date:
    """When a task is due next: before its season, else so many months on. months: 1 to 120 (computed)."""
    return next_day(done_on, months) if season is None else next_season(done_on, season)


def defaults(power_kw: float | None) -> tuple[Task, ...]:
    """The tasks of a motor of this rated power; all of them where it isn't known.

    KW (common practice without source).
    """
    return tuple(task for task, kind in KINDS.items() if power_kw is None or power_kw >= kind.least_kw)


def next_day(done_on: date, months: int) -> date:
    """The same day some months on, or the last one of that month. months: 1 to 120.

    >>> next_day(date(2026, 1, 31), 1)
    datetime.date(2026, 2, 28)
    """
    if not 1 <= months <= 120:
        raise RecordRefusal("months", str(months), "1 to 120 months between", "6")
    year, month = divmod(done_on.month - 1 + months, 12)
    following = date(done_on.year + year + (month == 11), (month + 1) % 12 + 1, 1)
    last = (following - date.resolution).day
    return date(done_on.year + year, month + 1, min(done_on.day, last))
