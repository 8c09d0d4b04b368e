"""The trail, and readings of one motor or of all, as CSV or JSON.

A cell that a spreadsheet would take for a formula gets an apostrophe in front.
"""

from __future__ import annotations

import csv
from collections.abc import Iterable, Iterator
from io import StringIO
from typing import Any

from pydantic_core import to_json

HEADER = ("at", "who", "action", "motor", "job", "detail", "origin")
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def harmless(cell: str) -> str:
    """A cell that no spreadsheet computes.

    >>> harmless("=1+1"), harmless("BW-114")
    ("'=1+1", 'BW-114')
    """
    return f"'{cell}" if cell.startswith(_FORMULA) else cell


READINGS = (
    "motor", "job", "tested_on", "place", "text", "unit", "low", "high", "at", "who", "instrument", "taken_back_at",
)  # fmt: skip


def reading_lines(rows: Iterable[tuple[str, Any]]) -> Iterator[str]:
    """Every reading with its motor's tag as it was typed, its ends in SI; what is open or isn't known is empty."""
    yield csv_line(READINGS)
    for tag, row in rows:
        cells = (row.job_id, row.tested_on, row.place, row.text, row.unit, row.low, row.high, row.at.isoformat())
        last = (row.who, row.instrument, row.taken_back_at.isoformat() if row.taken_back_at else None)
        yield csv_line([tag, *("" if cell is None else str(cell) for cell in (*cells, *last))])


def reading_documents(rows: Iterable[tuple[str, Any]]) -> Iterator[str]:
    """The same as JSON, one a line; what isn't known is null."""
    for tag, row in rows:
        values = (tag, row.job_id, row.tested_on, row.place, row.text, row.unit, row.low, row.high, row.at, row.who)
        document = dict(zip(READINGS, (*values, row.instrument, row.taken_back_at), strict=True))
        yield to_json(document, inf_nan_mode="null").decode("utf-8") + "\n"


def csv_lines(rows: Iterable[Any]) -> Iterator[str]:
    """Header and a line for each, as they come."""
    yield csv_line(HEADER)
    for row in rows:
        job = "" if row.job_id is None else str(row.job_id)
        yield csv_line((row.at.isoformat(), row.who, row.action, row.tag or "", job, row.detail, row.origin))


def csv_line(cells: Iterable[str]) -> str:
    """One line, its cells harmless."""
    out = StringIO()
    csv.writer(out).writerow([harmless(cell) for cell in cells])
    return out.getvalue()
