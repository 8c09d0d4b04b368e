"""The trail as CSV. A cell that a spreadsheet would take for a formula gets an apostrophe in front."""

from __future__ import annotations

import csv
from collections.abc import Iterable, Iterator
from io import StringIO
from typing import Any

HEADER = ("at", "who", "action", "motor", "job", "detail", "origin")
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def harmless(cell: str) -> str:
    """A cell that no spreadsheet computes.

    >>> harmless("=1+1"), harmless("BW-114")
    ("'=1+1", 'BW-114')
    """
    return f"'{cell}" if cell.startswith(_FORMULA) else cell


def csv_lines(rows: Iterable[Any]) -> Iterator[str]:
    """Header and a line for each, as they come."""
    yield _line(HEADER)
    for row in rows:
        job = "" if row.job_id is None else str(row.job_id)
        yield _line((row.at.isoformat(), row.who, row.action, row.tag or "", job, row.detail, row.origin))


def _line(cells: Iterable[str]) -> str:
    out = StringIO()
    csv.writer(out).writerow([harmless(cell) for cell in cells])
    return out.getvalue()
