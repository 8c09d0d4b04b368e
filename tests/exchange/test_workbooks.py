"""Tables out as XLSX and CSV: read back they say the same, and no spreadsheet computes a cell of them."""

import csv
import io
from datetime import UTC, date, datetime
from decimal import Decimal

import openpyxl
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.exchange.workbooks import as_csv, as_xlsx

HEADER = ("motor", "on", "at", "low", "volts", "none")
ROW = ("=1+1", date(2026, 11, 24), datetime(2026, 11, 24, 8, 12, tzinfo=UTC), 0.1, Decimal("460.5"), None)


def read(raw):
    return openpyxl.load_workbook(io.BytesIO(raw), data_only=False).active


def test_figures_days_and_texts_come_back_as_such():
    sheet = read(as_xlsx("Readings of one", HEADER, [ROW]))
    assert [cell.value for cell in sheet[1]] == list(HEADER)
    assert (sheet["A2"].value, sheet["A2"].data_type) == ("=1+1", "s")
    assert sheet["B2"].value.date() == date(2026, 11, 24)
    assert sheet["C2"].value == datetime(2026, 11, 24, 8, 12)
    assert (sheet["D2"].value, sheet["E2"].value, sheet["F2"].value) == (0.1, 460.5, None)
    assert sheet.freeze_panes == "A2"


@given(st.lists(st.text(st.characters(exclude_categories=("Cs", "Cc")), max_size=30), min_size=1, max_size=4))
def test_no_text_becomes_a_formula(texts):
    sheet = read(as_xlsx("T", ("a",) * len(texts), [texts]))
    for cell, text in zip(sheet[2], texts, strict=True):
        assert cell.data_type != "f"
        assert (cell.value or "") == text


def test_the_same_as_csv():
    header, row = csv.reader(io.StringIO("".join(as_csv(HEADER, [ROW]))))
    assert header == list(HEADER)
    assert row == ["'=1+1", "2026-11-24", "2026-11-24T08:12:00+00:00", "0.1", "460.5", ""]
