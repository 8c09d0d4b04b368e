"""What is due, what is falling, what is open."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from grimcoil.store import jobs as job_rows
from grimcoil.store import motors as motor_rows
from grimcoil.store.engine import Store
from grimcoil.store.jobs import Follow
from grimcoil.store.lines import ListedJob, SiteLine
from grimcoil.store.motors import RegisterRow

AHEAD = timedelta(days=30)


@dataclass(frozen=True, slots=True)
class Register:
    """The register as listed, with the site and the discharges that run."""

    site: SiteLine | None
    rows: Sequence[RegisterRow]
    follow: Follow


@dataclass(frozen=True, slots=True)
class Today:
    """The Today page."""

    site: SiteLine | None
    due: Sequence[RegisterRow]
    weighty: Sequence[RegisterRow]
    open_jobs: Sequence[ListedJob]
    follow: Follow


@dataclass(frozen=True, slots=True)
class Jobs:
    """The Job list."""

    open_jobs: Sequence[ListedJob]
    signed: Sequence[ListedJob]
    follow: Follow


def register(store: Store, search: str = "") -> Register:
    """Three queries."""
    with store() as session:
        lines = job_rows.open_lines(session)
        rows = motor_rows.register(session, _by_motor(lines), search)
        return Register(motor_rows.site(session), rows, job_rows.shorted(lines))


def _by_motor(lines: Sequence[job_rows.OpenJob]) -> dict[int, int]:
    return {line.motor_id: line.id for line in lines}


def today(store: Store, day: date) -> Today:
    """Four queries: what is due within 30 days, what must be acted on, what is open."""
    with store() as session:
        lines = job_rows.open_lines(session)
        rows = motor_rows.register(session, _by_motor(lines))
        due = [r for r in rows if r.next_on is not None and r.next_on <= day + AHEAD and r.open_job_id is None]
        due.sort(key=lambda r: r.next_on or day)
        weighty = [r for r in rows if r.verdict == "act"]
        return Today(motor_rows.site(session), due, weighty, job_rows.open_jobs(session), job_rows.shorted(lines))


Shorted = Follow


def discharging(store: Store) -> Shorted:
    """Windings that stand shorted to frame. One query."""
    with store() as session:
        return job_rows.discharging(session)


def jobs(store: Store) -> Jobs:
    """Three queries: open jobs and the last signed ones."""
    with store() as session:
        return Jobs(job_rows.open_jobs(session), job_rows.last_signed(session), job_rows.discharging(session))
