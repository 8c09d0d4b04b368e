"""The next test date: criticality x condition, and never past half the way to the forecast's early edge."""

from __future__ import annotations

import calendar
from dataclasses import dataclass
from datetime import date, timedelta

from grimcoil.core.findings import Verdict

# Common practice without source: months between tests.
BASE_MONTHS = {"routine": 12, "critical": 6, "easy-spare": 24}


@dataclass(frozen=True, slots=True)
class NextTest:
    """When, and why then."""

    on: date
    why: str


def add_months(day: date, months: int) -> date:
    """The same day of a later month, or that month's last."""
    year, month = divmod(day.year * 12 + day.month - 1 + months, 12)
    month += 1
    return date(year, month, min(day.day, calendar.monthrange(year, month)[1]))


def after_rewind(since: date) -> NextTest:
    """Next date of a winding that nothing was read of yet: what the old one showed says nothing of it.

    since: day it was rewound. Handbook chapters 2 and 9: a rewind starts a new series.

    >>> after_rewind(date(2026, 3, 14)).why
    'Rewound 14 Mar 2026, nothing tested since'
    """
    return NextTest(since, f"Rewound {since.day} {since:%b %Y}, nothing tested since")


def next_test(
    last: date,
    criticality: str,
    verdict: Verdict,
    stepped: bool = False,
    early_edge: date | None = None,
    below: bool = False,
) -> NextTest:
    """Next date after a test on `last`.

    >>> next_test(date(2026, 3, 14), "routine", Verdict.WATCH).on
    datetime.date(2026, 9, 14)
    """
    months = BASE_MONTHS[criticality]
    why = {
        "routine": "yearly",
        "critical": "every 6 months, critical",
        "easy-spare": "every 24 months, spare available",
    }[criticality]
    if verdict is not Verdict.SOUND:
        months, why = months // 2, f"{why}, halved because the last result is {verdict}"
    why = f"Every {months} months: {why}" if verdict is not Verdict.SOUND else why[0].upper() + why[1:]
    if stepped:
        months, why = 1, "After 1 month: insulation fell suddenly"
    due = add_months(last, months)
    if early_edge is not None:
        half = last + timedelta(days=max(0, (early_edge - last).days // 2))
        if half < due:
            due, why = half, f"Half the way to {early_edge:%b %Y}, when it could meet the minimum"
        if early_edge <= last:
            why = "At once: it could stand at the minimum already"
    if below:
        due, why = last, "At once: below the minimum"
    return NextTest(due, why)
