"""The end of a walk that finds nothing any more: a one-time event, watched until a day."""

from __future__ import annotations

from datetime import date

from grimcoil.core.days import day_told
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.walk.history import LONGEST_WATCH
from grimcoil.core.walk.walk import Walk


def why_not_once(made: Walk) -> tuple[str, str]:
    """Why a walk can't end as a one-time event: what stands against it, what is wanted first; empty where it may."""
    back = made.past.came_back
    if made.end is not None:
        return "a part is found faulty", "repair it first"
    if made.guard.unproved or made.guard.found_live:
        return "a proof of death is open", "prove it dead first"
    if made.guard.tripped and not made.guard.clear(made.place) and not made.guard.held:
        return "the load side isn't shown clear after a trip", "each pair and each line to earth first"
    if made.contradictions or made.twice:
        return "readings contradict each other", "read them again first"
    if not made.runs:
        return (
            "running amps of all three lines aren't read, unbalanced or over the nameplate's",
            "even running amps first",
        )
    if back is not None:
        return f"it came back within the watch that began on {day_told(back.on)}", "a cause"
    return "", ""


def check_once(made: Walk, watch_until: date) -> None:
    """Raise RecordRefusal where the walk can't end as a one-time event, or where its watch is no watch."""
    found, wanted = why_not_once(made)
    if found:
        raise RecordRefusal("end", found, wanted, "one-time-event")
    today = made.past.today
    if today is not None and not today < watch_until <= today + LONGEST_WATCH:
        raise RecordRefusal("watch_until", f"{watch_until}", "a day after today, within a year")
