"""What was kept in a job: entries in order, never overwritten; a taken-back one is marked."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from grimcoil.core.readings import Reading

RESTORED = "supply_voltage.restored"
NOT_READ = "not read"


class EntryKind(StrEnum):
    """reading: a meter's; note: a confirmation or words; overrule: a stop passed with a reason."""

    READING = "reading"
    NOTE = "note"
    OVERRULE = "overrule"


@dataclass(frozen=True, slots=True)
class Entry:
    """One kept entry. place: `step.slot`, or `step` for an overrule; at: UTC."""

    seq: int
    place: str
    kind: EntryKind
    text: str
    at: datetime
    who: str
    reading: Reading | None = None
    taken_back: bool = False
    instrument: str | None = None

    @property
    def step(self) -> str:
        """Key of its step."""
        return self.place.partition(".")[0]


@dataclass(frozen=True)
class Kept:
    """The standing entries of a job by place, with all of them in order."""

    entries: tuple[Entry, ...]
    standing: dict[str, Entry]
    overruled: dict[str, Entry]

    def reading(self, place: str) -> Reading | None:
        """The standing reading of a place."""
        entry = self.standing.get(place)
        return entry.reading if entry else None

    def figure(self, place: str) -> float | None:
        """The standing exact value of a place, SI."""
        reading = self.reading(place)
        return reading.amount.value if reading and reading.amount.is_exact else None


def keep(entries: Iterable[Entry]) -> Kept:
    """Sort entries into what stands and what was overruled.

    Power restored by mistake and taken back voids what was proved before it: isolation and dead proof start anew.
    """
    ordered = tuple(sorted(entries, key=lambda entry: entry.seq))
    void_before = max((e.seq for e in ordered if e.place == RESTORED and e.taken_back), default=-1)
    standing: dict[str, Entry] = {}
    overruled: dict[str, Entry] = {}
    for entry in ordered:
        if entry.taken_back or (entry.step in ("isolate", "prove_dead") and entry.seq < void_before):
            continue
        (overruled if entry.kind is EntryKind.OVERRULE else standing)[entry.place] = entry
    return Kept(ordered, standing, overruled)
