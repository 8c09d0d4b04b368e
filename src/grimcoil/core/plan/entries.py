"""What was kept in a job: entries in order, never overwritten; a taken-back one is marked."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from enum import StrEnum

from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.plan.steps import Plan, Step
from grimcoil.core.readings import Reading
from grimcoil.core.subject import Conditions

NOT_READ = "not read"
BEGIN_AGAIN = "begin-again"
NOT_RECONNECTED = "not-reconnected"


class EntryKind(StrEnum):
    """reading: a meter's; note: a confirmation or words; overrule: a stop passed with a reason; stamp: the second a
    mark's value was read at, which is typed after it; again: a hold is wanted once more.
    """

    READING = "reading"
    NOTE = "note"
    OVERRULE = "overrule"
    STAMP = "stamp"
    AGAIN = "again"


@dataclass(frozen=True, slots=True)
class Entry:
    """One kept entry. place: `step.slot`, `step` for a skipped one, or a word of the job's own; at: UTC.

    held_s: seconds since voltage on when the figure was read, where the page told it; else it is read off `at`.
    """

    seq: int
    place: str
    kind: EntryKind
    text: str
    at: datetime
    who: str
    reading: Reading | None = None
    taken_back: bool = False
    instrument: str | None = None
    held_s: float | None = None


@dataclass(frozen=True)
class Kept:
    """The standing entries of a job by place, with all of them in order, and the reasons given. stamps: by place, where
    the second of a value stands; again: holds wanted once more, each as often as it was said.
    """

    entries: tuple[Entry, ...]
    standing: Mapping[str, Entry]
    overruled: Mapping[str, Entry]
    stamps: Mapping[str, Entry] = field(default_factory=dict)
    again: Sequence[str] = ()

    def reading(self, place: str) -> Reading | None:
        """The standing reading of a place."""
        entry = self.standing.get(place)
        return entry.reading if entry else None

    def figure(self, place: str) -> float | None:
        """The standing exact value of a place, SI. No source but who read it: a reading, nothing computed."""
        reading = self.reading(place)
        return reading.amount.value if reading and reading.amount.is_exact else None


@dataclass(frozen=True, slots=True)
class Given:
    """What tests are built out of: a plan with what stands in it, instruments by function, conditions."""

    plan: Plan
    kept: Kept
    meters: Mapping[str, InstrumentRange]
    conditions: Conditions

    def meter(self, *functions: str) -> InstrumentRange | None:
        """The first instrument of the job that has one of these functions."""
        return next((self.meters[name] for name in functions if name in self.meters), None)

    def said(self, place: str) -> str | None:
        """What stands in a place; None where nothing was said, or that it wasn't read."""
        entry = self.kept.standing.get(place)
        return None if entry is None or entry.text == NOT_READ else entry.text

    def readings(self, step: Step) -> dict[str, Reading]:
        """The step's kept readings under the names of their parts."""
        return {
            slot.part: reading
            for slot, place in zip(step.slots, step.places, strict=True)
            if slot.part and (reading := self.kept.reading(place)) is not None
        }
