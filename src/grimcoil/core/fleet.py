"""Where each motor of a fleet stands: insulation over its own minimum, and the years until that margin is used up."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from grimcoil.core.trend.fit import YEAR_DAYS

AHEAD_YEARS = 10.0  # of the picture; what lasts longer stands beside it
CRITICAL_TIMES = 0.5  # a critical place counts as if it had half the time; our own choice


class Place(StrEnum):
    """Where a motor stands in the picture."""

    BELOW = "below"
    FALLING = "falling"
    LASTING = "lasting"
    NO_SLOPE = "no-slope"
    UNPROVEN = "unproven"


@dataclass(frozen=True, slots=True)
class Margin:
    """A motor's insulation at 40 °C over its minimum, with what it could be, and when it meets it.

    r40_low_mohm, r40_high_mohm: MΩ, an open high end is None; minimum_mohm: None where no voltage is on record.
    earliest, on, latest: 90 % band of the meeting, None where it is open. fitted: a line could be laid through its
    tests. why: what its verdict says.
    """

    tag: str
    position: str
    area: str
    verdict: str
    critical: bool
    r40_low_mohm: float | None
    r40_high_mohm: float | None
    minimum_mohm: float | None
    fitted: bool = False
    earliest: date | None = None
    on: date | None = None
    latest: date | None = None
    due: date | None = None
    why: str = ""

    @property
    def times(self) -> tuple[float, float] | None:
        """Least and most insulation over the minimum, no unit (computed); the most may be infinite, None is unknown.

        >>> Margin("A", "", "", "sound", False, 50.0, None, 5.0).times
        (10.0, inf)
        """
        if self.r40_low_mohm is None or not self.minimum_mohm:
            return None
        high = math.inf if self.r40_high_mohm is None else self.r40_high_mohm / self.minimum_mohm
        return self.r40_low_mohm / self.minimum_mohm, high

    @property
    def below(self) -> bool:
        """Surely under its minimum."""
        return self.times is not None and self.times[1] < 1

    def place(self, today: date) -> Place:
        """Which part of the picture it stands in. Below the minimum is said before anything else."""
        if self.below:
            return Place.BELOW
        if self.times is None or self.verdict == "unproven":
            return Place.UNPROVEN
        if not self.fitted:
            return Place.NO_SLOPE
        years = self.years(today)
        return Place.LASTING if years is None or years[0] >= AHEAD_YEARS else Place.FALLING

    def years(self, today: date) -> tuple[float, float | None, float | None] | None:
        """Years from today to the early edge, the line itself and the late edge of the meeting (computed): never less
        than none; an open edge is None. None where the line doesn't meet the minimum.
        """
        if self.earliest is None:
            return None
        early, middle, late = (
            None if day is None else max(0.0, (day - today).days / YEAR_DAYS)
            for day in (self.earliest, self.on, self.latest)
        )
        return (early or 0.0, middle, late)

    def need(self, today: date, stop: date | None = None) -> tuple[float, ...]:
        """What orders by need, the neediest first: below its minimum, then what may not last to the next stop, then by
        the early edge, a critical place as if it had half the time; then unproven, overdue before not. No unit of its
        own, years inside (common practice without source).
        """
        place, years = self.place(today), self.years(today)
        left = AHEAD_YEARS * 2 if years is None else years[0]
        counted = left * CRITICAL_TIMES if self.critical else left
        before = stop is not None and self.earliest is not None and self.earliest < stop
        overdue = self.due is not None and self.due < today
        group = {Place.BELOW: 0, Place.FALLING: 1 if before else 2, Place.UNPROVEN: 3}.get(place, 4)
        if group >= 3:
            return (group, 0.0 if self.critical else 1.0, 0.0 if overdue else 1.0, counted)
        return (group, counted, 0.0, 0.0)


def by_need(margins: Iterable[Margin], today: date, stop: date | None = None) -> list[Margin]:
    """The neediest first; alike ones by their tag."""
    return sorted(margins, key=lambda one: (one.need(today, stop), one.tag))


@dataclass(frozen=True, slots=True)
class Area:
    """An area's motors by verdict, the worst first."""

    name: str
    verdicts: Sequence[str]


def areas_of(margins: Iterable[Margin]) -> list[Area]:
    """Every area with its motors' verdicts, in the order the areas come.

    >>> areas_of([Margin("A", "", "Yard", v, False, None, None, None) for v in ("sound", "act")])
    [Area(name='Yard', verdicts=['act', 'sound'])]
    """
    rank = {"act": 0, "watch": 1, "unproven": 2, "sound": 3}
    found: dict[str, list[str]] = {}
    for one in margins:
        found.setdefault(one.area, []).append(one.verdict)
    return [Area(name, sorted(some, key=lambda verdict: rank.get(verdict, 2))) for name, some in found.items()]
