"""Tables as XLSX: figures as figures, days as days, and every text as text, whatever sign it begins with."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date, datetime
from decimal import Decimal
from io import BytesIO
from typing import Any

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter

from grimcoil.exchange.trails import csv_line

REGISTER = (
    "motor", "position", "area", "power", "rated_voltage_v", "lead_scheme", "verdict", "why", "r40_low_mohm",
    "r40_high_mohm", "unbalance_percent", "last_on", "next_on", "next_why",
)  # fmt: skip
WIDEST = 60


def register_row(row: Any) -> tuple[Any, ...]:
    """A motor of the register; what isn't known is empty, an open upper end too."""
    return (
        row.tag, row.place, row.area, row.power_text, row.rated_voltage_v, row.lead_scheme, row.verdict, row.why,
        row.r40_low_mohm, row.r40_high_mohm, row.unbalance_percent, row.last_on, row.next_on, row.next_why,
    )  # fmt: skip


def reading_row(tag: str, row: Any) -> tuple[Any, ...]:
    """A kept reading as typed, with its ends in SI."""
    return (
        tag, row.job_id, row.tested_on, row.place, row.text, row.unit, row.low, row.high, row.at, row.who,
        row.instrument, row.taken_back_at,
    )  # fmt: skip


def as_csv(header: Sequence[str], rows: Iterable[Sequence[Any]]) -> Iterable[str]:
    """The same table line by line; cells that a spreadsheet would compute are made harmless."""
    yield csv_line(header)
    for row in rows:
        yield csv_line([_text(cell) for cell in row])


def _text(cell: Any) -> str:
    if isinstance(cell, datetime | date):
        return cell.isoformat()
    return "" if cell is None else f"{cell:.15g}" if isinstance(cell, float) else str(cell)


def as_xlsx(title: str, header: Sequence[str], rows: Iterable[Sequence[Any]]) -> bytes:
    """One sheet with a heading row that stays. Moments are UTC, as a workbook knows no zones."""
    book = Workbook(write_only=True)
    sheet = book.create_sheet(title[:31])
    sheet.freeze_panes = "A2"
    for number, name in enumerate(header, 1):
        sheet.column_dimensions[get_column_letter(number)].width = min(WIDEST, max(12, len(name) + 2))
    heads = [WriteOnlyCell(sheet, name) for name in header]
    for cell in heads:
        cell.font = Font(bold=True)
    sheet.append(heads)
    for row in rows:
        sheet.append([_cell(sheet, value) for value in row])
    out = BytesIO()
    book.save(out)
    return out.getvalue()


def _cell(sheet: Any, value: Any) -> Any:
    if isinstance(value, datetime):
        return value.replace(tzinfo=None)
    if isinstance(value, Decimal):
        return float(value)
    if not isinstance(value, str):
        return value
    cell = WriteOnlyCell(sheet, value)
    cell.data_type = "s"  # a text that begins with = stays one
    return cell
