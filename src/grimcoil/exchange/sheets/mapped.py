"""A tab seen through its map: which column holds what, and what a row says of itself."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from grimcoil.exchange.sheets.grid import Cell, Tab, address
from grimcoil.exchange.sheets.layout import is_total
from grimcoil.exchange.sheets.mapping import CELL, READINGS, Column
from grimcoil.exchange.sheets.taken import Place

SAME_AS_ABOVE = frozenset({'"', "''", "”", "〃", "do.", "ditto"})


@dataclass(frozen=True, slots=True)
class MappedTab:
    """A tab with its keys, names and mapped columns."""

    tab: Tab
    keys: Mapping[str, Any]
    headings: Sequence[int]
    names: Mapping[int, str]
    mapped: Mapping[int, Column]

    def column_of(self, kind: str) -> int | None:
        """The column that holds tag or date."""
        return next((column for column, one in self.mapped.items() if one.as_ == kind), None)

    def place(self, number: int, column: int) -> Place:
        """A cell by its names."""
        where = address(number, column)
        return Place(self.tab.name, number, where, self.names[column], number in self.tab.hidden)

    def first_told(self, number: int) -> Place | None:
        """The first cell of a row in which something stands."""
        column = next((column for column in self.names if self.tab.cell(number, column).text), None)
        return None if column is None else self.place(number, column)

    def of_positions(self, number: int) -> str:
        """The position that a row of a list of positions is about; nothing where a motor is named in some way."""
        return "" if self.column_of("tag") is not None or self.tab_tag() else self.text_of(number, "position.name")

    def text_of(self, number: int, kind: str) -> str:
        """What a row says in the column of a kind; nothing where there is none."""
        column = self.column_of(kind)
        return "" if column is None else self.tab.cell(number, column).text.strip()

    def reads(self, one: Column) -> bool:
        """Whether a column holds readings."""
        return one.as_ in READINGS or bool(one.parts) or one.as_ == "reading"

    def inherited(self, number: int, column: int) -> str:
        """A cell's text; a ditto sign means the one above."""
        text = self.tab.cell(number, column).text
        row = number
        while text in SAME_AS_ABOVE and row > 1:
            row -= 1
            text = self.tab.cell(row, column).text
        return text

    def no_row(self, number: int, cells: Sequence[Cell]) -> str:
        """Why a row is none of the table's: its units, its headings once more, a total; nothing where it is one."""
        if number == self.keys["units_row"]:
            return "units"
        if self.repeats_headings(cells):
            return "headings"
        return "total" if self.is_total(number) else ""

    def is_total(self, number: int) -> bool:
        """Tag, day or first cell says so."""
        columns = {self.column_of("tag"), self.column_of("date"), 0} - {None}
        return any(is_total(self.tab.cell(number, column).text) for column in columns if column is not None)

    def repeats_headings(self, cells: Sequence[Cell]) -> bool:
        """A heading row once more, as at the head of a printed page."""
        texts = [cell.text for cell in cells]
        for row in self.headings:
            names = [cell.text for cell in self.tab.rows.get(row, [])]
            if any(names) and [t for t in texts if t] == [n for n in names if n]:
                return True
        return False

    def names_motor(self, number: int) -> bool:
        """Whether a row tells its motor."""
        column = self.column_of("tag")
        return bool(self.tab_tag()) if column is None else bool(self.tab.cell(number, column).text)

    def names_day(self, number: int) -> bool:
        """Whether a row tells its day."""
        column = self.column_of("date")
        return column is not None and bool(self.tab.cell(number, column).text)

    def tab_tag(self) -> str:
        """The motor that the whole tab is about."""
        source = self.keys["tag"]
        if source is None:
            return ""
        if source.is_:
            return str(source.is_)
        if source.from_ == "tab":
            return self.tab.name or ""
        if source.from_ and CELL.fullmatch(source.from_):
            return self._named_in(source.from_)
        return ""

    def _named_in(self, where: str) -> str:
        letters = where.rstrip("0123456789")
        column = next((c for c in range(self.tab.width) if address(1, c) == f"{letters}1"), None)
        text = "" if column is None else self.tab.cell(int(where[len(letters) :]), column).text
        return text.rpartition(":")[2].strip()
