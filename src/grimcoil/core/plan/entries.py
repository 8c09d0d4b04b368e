"""What was kept in a job: entries in order, never overwritten; a taken-back one is marked."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from grimcoil.core.readings import Reading

NOT_READ = "not read"
BEGIN_AGAIN = "begin-again"
NOT_RECONNECTED = "not-reconnected"


class EntryKind(StrEnum):
    """reading: a meter's; note: a confirmation or words; overrule: a stop passed with a reason."""

    READING = "reading"
    NOTE = "note"
    OVERRULE = "overrule"


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
    """The standing entries of a job by place, with all of them in order, and the reasons given."""

    entries: tuple[Entry, ...]
    standing: Mapping[str, Entry]
    overruled: Mapping[str, Entry]

    def reading(self, place: str) -> Reading | None:
        """The standing reading of a place."""
        entry = self.standing.get(place)
        return entry.reading if entry else None

    def figure(self, place: str) -> float | None:
        """The standing exact value of a place, SI. No source but who read it: a reading, nothing computed."""
        reading = self.reading(place)
        return reading.amount.value if reading and reading.amount.is_exact else None
