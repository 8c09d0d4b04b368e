"""A file as tabs of rows of cells, each cell under the letter and row that a spreadsheet program shows.

Bounds: a workbook unpacks to 200 MB at most, with so many rows, cells, styles and strings, counted as it is read and
not believed; no document types; a refusal names the row.
"""

from __future__ import annotations

import csv
import io
import re
import zipfile
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any
from xml.etree.ElementTree import ParseError, iterparse

import openpyxl
from openpyxl.utils import get_column_letter
from openpyxl.utils.datetime import WINDOWS_EPOCH
from openpyxl.utils.exceptions import InvalidFileException

from grimcoil.core.errors import RecordRefusal

MOST_UNPACKED = 200_000_000
MOST_CELLS = 2_000_000
MOST_COLUMNS = 16_384  # as many as a workbook can have
_CHUNK = 1 << 20
DELIMITERS = ";,\t|"
ENCODINGS = ("utf-8-sig", "windows-1252")
ERRORS = frozenset({"#N/A", "#VALUE!", "#REF!", "#DIV/0!", "#NUM!", "#NAME?", "#NULL!"})


@dataclass(frozen=True, slots=True)
class Cell:
    """Text as shown; day: of a date cell; broken: a formula without a stored value, or an error."""

    text: str
    day: date | None = None
    number: float | None = None
    broken: bool = False


EMPTY = Cell("")


@dataclass(slots=True)
class Tab:
    """Rows by their number, from 1; cells by column, from 0. merged: cells that a merged one above covers."""

    name: str | None
    rows: dict[int, list[Cell]] = field(default_factory=dict)
    hidden: set[int] = field(default_factory=set)
    merged: dict[tuple[int, int], tuple[int, int]] = field(default_factory=dict)

    def cell(self, row: int, column: int) -> Cell:
        """One cell; a covered one is what the merged cell shows."""
        at = self.merged.get((row, column), (row, column))
        cells = self.rows.get(at[0], [])
        return cells[at[1]] if at[1] < len(cells) else EMPTY

    @property
    def width(self) -> int:
        """Columns of the widest row."""
        return max((len(cells) for cells in self.rows.values()), default=0)


@dataclass(slots=True)
class Book:
    """All visible tabs; `sheet` None for CSV. epoch: the first day of bare serial numbers, None for CSV."""

    tabs: list[Tab]
    epoch: datetime | None = None
    encoding: str = ""
    delimiter: str = ""


def _check_size(row: int, cells: int, columns: int) -> None:
    if cells > MOST_CELLS:
        raise RecordRefusal(f"row {row}", f"{cells} cells", f"at most {MOST_CELLS} cells")
    if columns > MOST_COLUMNS:
        raise RecordRefusal(f"row {row}", f"{columns} columns", f"at most {MOST_COLUMNS} columns")


def letter(column: int) -> str:
    """`A` for 0."""
    return str(get_column_letter(column + 1))


def address(row: int, column: int) -> str:
    """`D7`."""
    return f"{letter(column)}{row}"


ZIP = b"PK\x03\x04"


def read_book(raw: bytes, name: str, encoding: str | None = None, delimiter: str | None = None) -> Book:
    """A CSV or XLSX file. Raises RecordRefusal for anything else, and for one that can't be read."""
    if raw.startswith(ZIP):
        return _workbook(raw)
    if raw[:8] == b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" or name.lower().endswith((".xls", ".ods", ".xlsb", ".numbers")):
        raise RecordRefusal("file", name, "save as XLSX or CSV")
    return _text(raw, encoding, delimiter)


def _text(raw: bytes, encoding: str | None, delimiter: str | None) -> Book:
    text, used = _decoded(raw, encoding)
    if "\x00" in text:
        row = text[: text.index("\x00")].count("\n") + 1
        raise RecordRefusal(f"row {row}", "NUL", "a text file")
    sign = delimiter or _delimiter(text)
    tab = Tab(None)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=sign, strict=True)
    number = 0
    cells = 0
    try:
        for number, record in enumerate(reader, 1):
            cells += len(record)
            _check_size(number, cells, len(record))
            if any(cell.strip() for cell in record):
                tab.rows[number] = [Cell(" ".join(cell.split())) for cell in record]
    except csv.Error as error:
        raise RecordRefusal(f"row {number + 1}", str(error), "quotes that are closed again") from None
    return Book([tab], None, used, sign)


def _decoded(raw: bytes, encoding: str | None) -> tuple[str, str]:
    if encoding is None and raw[:2] in (b"\xff\xfe", b"\xfe\xff"):
        encoding = "utf-16"
    tries = [encoding] if encoding else list(ENCODINGS)
    fault: UnicodeDecodeError | None = None
    for one in tries:
        try:
            return raw.decode("utf-8-sig" if one.lower().replace("-", "") == "utf8" else one), one.removesuffix("-sig")
        except UnicodeDecodeError as error:
            fault = fault or error
        except LookupError:
            raise RecordRefusal("encoding", one[:40], "an encoding such as utf-8, windows-1252, utf-16") from None
    row = raw[: fault.start].count(b"\n") + 1 if fault else 1
    found = raw[fault.start : fault.start + 4].hex(" ") if fault else ""
    raise RecordRefusal(f"row {row}", found, f"text in {tries[0].removesuffix('-sig')}")


def _delimiter(text: str) -> str:
    """The sign that splits the first rows into most columns, alike from row to row."""
    lines = [line for line in text.splitlines()[:30] if line.strip()]
    best, most = ",", -1.0
    for sign in DELIMITERS:
        try:
            widths = [len(row) for row in csv.reader(lines, delimiter=sign)]
        except csv.Error:
            continue
        usual = max(set(widths), key=widths.count) if widths else 1
        score = widths.count(usual) * (usual - 1)
        if score > most:
            best, most = sign, score
    return best


def _workbook(raw: bytes) -> Book:
    try:
        packed = zipfile.ZipFile(io.BytesIO(raw))
        _bounded(packed)
        book = openpyxl.load_workbook(io.BytesIO(raw), read_only=True, data_only=True)
    except RecordRefusal:
        raise
    except (zipfile.BadZipFile, InvalidFileException, KeyError, ValueError, ParseError, OSError, EOFError) as error:
        raise RecordRefusal("file", type(error).__name__, "a whole XLSX workbook") from None
    paths = _paths(packed)
    tabs = []
    try:
        for sheet in book.worksheets:
            if sheet.sheet_state == "visible":
                tabs.append(_tab(packed, paths.get(sheet.title, ""), sheet))
    except RecordRefusal:
        raise
    except (KeyError, ValueError, ParseError, TypeError, zipfile.BadZipFile, EOFError) as error:
        raise RecordRefusal("file", type(error).__name__, "a whole XLSX workbook") from None
    return Book(tabs, book.epoch or WINDOWS_EPOCH)


# What a workbook may hold of what costs time and memory while it is read, whatever it unpacks to.
MOST_OF = {
    b"row": (200_000, "rows"), b"c": (MOST_CELLS, "cells"), b"si": (1_000_000, "strings"), b"xf": (64_000, "styles"),
    b"font": (20_000, "fonts"), b"fill": (20_000, "fills"), b"border": (20_000, "borders"), b"dxf": (20_000, "styles"),
    b"numFmt": (20_000, "number formats"), b"cellStyle": (64_000, "styles"), b"mergeCell": (200_000, "merged cells"),
    b"col": (20_000, "column formats"), b"sheet": (1_000, "tabs"), b"definedName": (20_000, "names"),
    b"dataValidation": (20_000, "validations"), b"cfRule": (20_000, "rules"), b"hyperlink": (200_000, "links"),
    b"Relationship": (20_000, "relations"), b"Override": (20_000, "parts"),
}  # fmt: skip
_ELEMENT = re.compile(rb"<(?:[A-Za-z_][\w.-]*:)?(" + b"|".join(MOST_OF) + rb")(?=[\s/>])")


def _bounded(packed: zipfile.ZipFile) -> None:
    """Unpack everything once, counting; nothing is kept. Raises RecordRefusal before anything is built of it."""
    total = 0
    for info in packed.infolist():
        counted: Counter[bytes] = Counter()
        with packed.open(info) as part:
            end = b""
            while chunk := part.read(_CHUNK):
                total += len(chunk)
                if total > MOST_UNPACKED:
                    raise RecordRefusal("file", "more than 200 MB unpacked", "a workbook of at most 200 MB unpacked")
                seen = end + chunk.replace(b"\0", b"")  # without the zero bytes of UTF-16; whatever the part is called
                if b"<!DOCTYPE" in seen:
                    raise RecordRefusal("file", f"a document type in {info.filename[:60]}", "a workbook without any")
                cut = max(seen.rfind(b"<"), len(seen) - LONGEST_TAG)  # a tag that goes on in the next chunk
                _count(info.filename, seen[:cut], counted)
                end = seen[cut:]
            _count(info.filename, end, counted)


LONGEST_TAG = 200


def _count(name: str, seen: bytes, counted: Counter[bytes]) -> None:
    counted.update(_ELEMENT.findall(seen))
    for element, number in counted.items():
        most, what = MOST_OF[element]
        if number > most:
            raise RecordRefusal(
                "file", f"more than {most} {what} in {name[:60]}", f"a workbook of at most {most} {what}"
            )


def _paths(packed: zipfile.ZipFile) -> dict[str, str]:
    """Name of a tab -> its part, by the workbook's own list."""
    relations = {}
    with packed.open("xl/_rels/workbook.xml.rels") as part:
        for _, one in iterparse(part):  # noqa: S314 # nosec B314 - no document type gets here
            if one.tag.endswith("Relationship"):
                relations[one.get("Id", "")] = one.get("Target", "")
    out = {}
    with packed.open("xl/workbook.xml") as part:
        for _, one in iterparse(part):  # noqa: S314 # nosec B314 - no document type gets here
            if one.tag.endswith("}sheet"):
                reference = next((value for key, value in one.attrib.items() if key.endswith("}id")), "")
                target = relations.get(reference, "")
                out[one.get("name", "")] = target.lstrip("/") if target.startswith("/") else f"xl/{target}"
    return out


def _tab(packed: zipfile.ZipFile, path: str, sheet: Any) -> Tab:
    tab = Tab(sheet.title)
    broken = _marks(packed, path, tab)
    cells = 0
    sheet.reset_dimensions()  # a stray far cell would have every row filled up to it
    for number, row in enumerate(sheet.iter_rows(), 1):
        made: list[Cell] = []
        for column, one in enumerate(row):
            made.append(_cell(one.value, address(number, column) in broken))
        while made and made[-1] is EMPTY:
            made.pop()
        cells += len(made)
        if cells > MOST_CELLS:
            raise RecordRefusal(f"row {number}", f"{cells} cells", f"at most {MOST_CELLS} cells")
        if made:
            tab.rows[number] = made
    return tab


def _cell(value: Any, broken: bool) -> Cell:
    if broken:
        return Cell("(formula)", broken=True)
    if value is None:
        return EMPTY
    if isinstance(value, bool):
        return Cell("TRUE" if value else "FALSE")
    if isinstance(value, datetime):
        return Cell(value.date().isoformat(), day=value.date())
    if isinstance(value, date):
        return Cell(value.isoformat(), day=value)
    if isinstance(value, int | float):
        return Cell(f"{value:.15g}", number=float(value))
    text = " ".join(str(value).split())
    if text in ERRORS:
        return Cell(text, broken=True)
    return Cell(text.removeprefix("'")) if text else EMPTY


def _marks(packed: zipfile.ZipFile, path: str, tab: Tab) -> set[str]:
    """Hidden rows and merged cells into the tab; addresses of formulas without a stored value."""
    broken: set[str] = set()
    if path not in packed.namelist():
        return broken
    with packed.open(path) as part:
        for _, one in iterparse(part):  # noqa: S314 # nosec B314 - no document type gets here
            kind = one.tag.rpartition("}")[2]
            if kind == "c":
                names = {child.tag.rpartition("}")[2]: child for child in one}
                stored = names.get("v")
                if "f" in names and (stored is None or not (stored.text or "").strip()):
                    broken.add(one.get("r", ""))
            elif kind == "row":
                if one.get("hidden") in ("1", "true"):
                    tab.hidden.add(int(one.get("r", "0")))
                one.clear()
            elif kind == "mergeCell":
                _merge(tab, one.get("ref", ""))
    return broken


_RANGE = re.compile(r"([A-Z]{1,3})(\d{1,7}):([A-Z]{1,3})(\d{1,7})")
MOST_MERGED = 200_000


def _merge(tab: Tab, reference: str) -> None:
    match = _RANGE.fullmatch(reference)
    if match is None:
        return
    first, last = _number(match[1]), _number(match[3])
    top, bottom = int(match[2]), int(match[4])
    if (bottom - top + 1) * (last - first + 1) + len(tab.merged) > MOST_MERGED:
        raise RecordRefusal("file", reference, "fewer merged cells")
    for row in range(top, bottom + 1):
        for column in range(first, last + 1):
            if (row, column) != (top, first):
                tab.merged[row, column] = top, first


def _number(name: str) -> int:
    out = 0
    for sign in name:
        out = out * 26 + ord(sign) - ord("A") + 1
    return out - 1


def rows_of(tab: Tab) -> Iterator[tuple[int, list[Cell]]]:
    """Rows that hold anything, in order."""
    yield from sorted(tab.rows.items())
