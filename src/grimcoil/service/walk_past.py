"""What a walk begins with: ends of walks, failures and repairs at its position, of the last two years."""

from __future__ import annotations

from datetime import date

from sqlalchemy.orm import Session

from grimcoil.core.choices import LifeKind
from grimcoil.core.walk.history import LATELY, WINDOW, Earlier, Past
from grimcoil.store import lives
from grimcoil.store.tables import Motor

# What leaves joints behind that somebody made anew.
HANDS_ON = (
    LifeKind.MOVED, LifeKind.REWOUND, LifeKind.REPAIRED, LifeKind.CABLE_CHANGED, LifeKind.MARKED, LifeKind.BACK,
)  # fmt: skip


def past_of(session: Session, motor: Motor, today: date) -> Past:
    """Three queries; of a motor in the store what was found on it itself."""
    since = today - WINDOW
    if motor.position_id is None:
        found, failed = lives.found_on(session, motor.id), []
    else:
        found, failed = lives.found_at(session, motor.position_id), lives.failures_at(session, motor.position_id)
    walks = [
        Earlier("walk", one.on_day, f"{one.tag}, {one.note.split(';')[0]}", *_found(one.found))
        for one in found if one.on_day >= since
    ]  # fmt: skip
    jobs = [
        Earlier("job", one.on, ", ".join((f"{one.tag} failed", *one.causes)))
        for one in failed if one.on >= since
    ]  # fmt: skip
    repairs = [
        Earlier("repair", one.on_day, f"{motor.tag} {one.kind}{f', {one.note}' if one.note else ''}")
        for one in lives.events(session, motor.id)
        if one.kind in HANDS_ON and not one.taken_back_by and one.on_day >= today - LATELY
    ]  # fmt: skip
    return Past((*walks, *jobs, *repairs), today)


def _found(found: dict[str, str] | None) -> tuple[str, str | None, date | None]:
    """Suspect, line and end of the watch, as they were kept."""
    told = found or {}
    until = told.get("watch_until")
    return told.get("suspect", ""), told.get("line"), date.fromisoformat(until) if until else None
