"""Workbooks that are small as files and large as they unpack: refused by what is counted, before anything is built."""

import io
import zipfile

import pytest
from openpyxl import Workbook

from grimcoil.core.errors import RecordRefusal
from grimcoil.exchange.sheets.grid import LONGEST_TAG, MOST_OF, read_book


def packed(part, change):
    """A sound workbook with one part changed."""
    book = Workbook()
    for row in (["Tag", "Date", "MΩ"], ["BW-114", "2026-04-02", 550]):
        book.active.append(row)
    raw, out = io.BytesIO(), io.BytesIO()
    book.save(raw)
    source = zipfile.ZipFile(raw)
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=9) as target:
        for name in source.namelist():
            text = source.read(name)
            target.writestr(name, change(text) if name.endswith(part) else text)
    return out.getvalue()


def before(end, filling):
    return lambda text: text.replace(end, filling + end)


ROWS = (before(b"</sheetData>", b'<row r="9"/>' * 200_001), "sheet1.xml", "rows")
CELLS = (before(b"</sheetData>", (b'<row r="9">' + b"<c/>" * 20_000 + b"</row>") * 101), "sheet1.xml", "cells")
STYLES = (before(b"</cellXfs>", b'<xf numFmtId="0"/>' * 64_001), "styles.xml", "styles")
FONTS = (before(b"</fonts>", b'<font><sz val="11"/></font>' * 20_001), "styles.xml", "fonts")
PREFIXED = (before(b"</sheetData>", b'<x:row xmlns:x="y"/>' * 200_001), "sheet1.xml", "rows")
MERGED = (before(b"</worksheet>", b'<mergeCell ref="A1:B1"/>' * 200_001), "sheet1.xml", "merged cells")


@pytest.mark.parametrize(
    ("change", "part", "what"), [ROWS, CELLS, STYLES, FONTS, PREFIXED, MERGED], ids=lambda one: str(one)[:12]
)
def test_what_unpacks_to_too_much_is_refused_by_its_count(change, part, what):
    raw = packed(part, change)
    assert len(raw) < 600_000
    with pytest.raises(RecordRefusal) as refused:
        read_book(raw, "list.xlsx")
    assert f"{what} in xl/" in refused.value.found
    assert what in refused.value.accepted


def test_as_many_as_may_be_are_read():
    book = read_book(packed("styles.xml", before(b"</fonts>", b"<font/>" * 300)), "list.xlsx")
    assert [cell.text for cell in book.tabs[0].rows[2]] == ["BW-114", "2026-04-02", "550"]


def test_a_tag_across_two_chunks_counts_once(monkeypatch):
    """Whatever the length of a chunk, the count is the same."""
    most = dict.fromkeys(MOST_OF, (10**9, "")) | {b"row": (500, "rows")}
    monkeypatch.setattr("grimcoil.exchange.sheets.grid.MOST_OF", most)
    for chunk in (LONGEST_TAG + 1, 1009, 4096):
        monkeypatch.setattr("grimcoil.exchange.sheets.grid._CHUNK", chunk)
        read_book(packed("sheet1.xml", before(b"</sheetData>", b'<row r="9"/>' * 498)), "list.xlsx")
        with pytest.raises(RecordRefusal, match="more than 500 rows"):
            read_book(packed("sheet1.xml", before(b"</sheetData>", b'<row r="9"/>' * 499)), "list.xlsx")
