"""Rows that stayed outside, as a file of their own to be mended and handed over again."""

from __future__ import annotations

from collections.abc import Iterator

from grimcoil.exchange.sheets.taken import Import
from grimcoil.exchange.trails import csv_line

HEADER = ("sheet", "row", "column", "cell", "found", "reason")


def returned_lines(done: Import) -> Iterator[str]:
    """Refused and asked cells as CSV, each with its reason."""
    yield csv_line(HEADER)
    for one in [*done.refused, *done.asked]:
        reason = one.get("accepted") or one.get("question")
        yield csv_line(
            str(cell) for cell in (one["sheet"] or "", one["row"], one["column"], one["cell"], one["found"], reason)
        )
