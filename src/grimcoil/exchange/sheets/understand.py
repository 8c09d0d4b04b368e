"""Every cell of a file by its map: understood, asked back, refused or left out."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from typing import Any

from grimcoil.core.amount import Amount
from grimcoil.core.errors import RecordRefusal, UnclearReading
from grimcoil.core.lines import hides, shown_as_such
from grimcoil.core.plate_fields import FIELDS, POSITION, read_fields
from grimcoil.core.plate_text import figures
from grimcoil.core.tags import checked_tag, looks_like, without_accents
from grimcoil.exchange.sheets.days import ACCEPTED, Day, read_day
from grimcoil.exchange.sheets.figures import SEVERAL, Outcome, Question, Refused, Understood, pieces, read_cell
from grimcoil.exchange.sheets.grid import Book, Cell, Tab, rows_of
from grimcoil.exchange.sheets.layout import NOTHING, column_names, tag_key
from grimcoil.exchange.sheets.long_table import column_of
from grimcoil.exchange.sheets.mapped import MappedTab
from grimcoil.exchange.sheets.mapping import CONDITIONS, Column, Part, SheetMap, merged_map
from grimcoil.exchange.sheets.settle import BOTH, FILE, LEAVE_OUT, STORED, Answered, settle
from grimcoil.exchange.sheets.taken import Import, Place, PlateCell, Register, Taken

MARKED_AS_TEXT = re.compile(r"'\s*[<>≥≤~]?\s*[\d.,]")  # a spreadsheet's own mark before what shall stay text
REMARK = "remark"  # what a row without a reading may be told to be, at its first cell
_NOTE = Part.model_validate({"as": "note"})
LINE_ENDS = str.maketrans("\t\r\n", "   ")
MOST_REMEMBERED = 20_000  # texts whose reading is kept, as a sheet repeats its figures


def understand(book: Book, given: SheetMap, today: date, known: Register) -> Import:
    """Read the file. Raises RecordRefusal where the map names what the file hasn't got."""
    reader = _Reader(book, given, today, known)
    for tab in reader.tabs():
        reader.tab(tab)
    answered = Answered(given.answers, reader.was, reader.against)
    settle(reader.candidates, reader.plates, reader.out, known, answered)
    return reader.out


class _Reader:
    """One pass over the tabs; then the rules that look at several cells at once."""

    def __init__(self, book: Book, given: SheetMap, today: date, known: Register) -> None:
        self.book, self.given, self.today, self.known = book, given, today, known
        self.out = Import()
        self.spelled = {tag_key(tag): tag for tag in known.tags}
        self.looks = {looks_like(key): tag for key, tag in self.spelled.items()}
        self.alike: dict[str, str | None] = {}
        self.was: dict[str, tuple[str, Amount]] = {}  # what stood in a cell that was answered
        self.against: dict[str, str] = {}  # cells answered by which of two values stands
        self.candidates: list[Taken] = []
        self.plates: list[PlateCell] = []
        self.above: tuple[str, date] | None = (
            None  # motor and day of the last row of readings; none while they are asked
        )
        self.by_place: dict[tuple[str, str], Column | None] = {}
        self._read: dict[tuple[Any, ...], Outcome] = {}

    def tabs(self) -> list[Tab]:
        """Those the map wants, or every one with its headings; the others are said."""
        wanted = self.given.sheet
        if self.book.epoch is None:
            return self.book.tabs
        names = {tab.name for tab in self.book.tabs}
        listed = [wanted] if isinstance(wanted, str) else wanted
        for name in [*(listed or ()), *self.given.tabs]:
            if name not in names:
                raise RecordRefusal(f"sheet {name}", name, "a visible tab of the file")
        out = []
        for tab in self.book.tabs:
            off = tab.name in self.given.tabs and self.given.tabs[tab.name] is None
            if (
                off
                or (listed is not None and tab.name not in listed)
                or (listed is None and tab.name not in self.given.tabs and not self._has_headings(tab))
            ):
                self.out.left_out.append({"sheet": tab.name, "row": None, "why": "tab", "found": tab.name})
            else:
                out.append(tab)
        return out

    def _keys(self, tab: Tab) -> dict[str, Any]:
        return merged_map(self.given, self.given.tabs.get(tab.name or ""))

    def _has_headings(self, tab: Tab) -> bool:
        keys = self._keys(tab)
        names = set(column_names(tab, keys["headings"] if keys["headings"] is not None else [1]).values())
        return bool(keys["columns"]) and set(keys["columns"]) <= names

    def tab(self, tab: Tab) -> None:
        """All rows of one tab."""
        self._read.clear()
        self.above = None
        keys = self._keys(tab)
        headings = keys["headings"] if keys["headings"] is not None else [1]
        names = column_names(tab, headings)
        columns: dict[str, Column] = keys["columns"] or {}
        by_name = {name: column for column, name in names.items()}
        for name in columns:
            if name not in by_name:
                raise RecordRefusal(f"columns.{name}", name, f"a column of the file: {', '.join(names.values())[:200]}")
        mapped = {by_name[name]: one for name, one in columns.items()}
        sheet = MappedTab(tab, keys, headings, names, mapped)
        self._named(sheet, columns)
        for number, cells in rows_of(tab):
            if number not in headings:
                self._row(sheet, number, cells)

    @staticmethod
    def _named(sheet: MappedTab, columns: dict[str, Column]) -> None:
        """Raise RecordRefusal where readings have no motor or no day at all: none of them could be taken."""
        read = {name: one for name, one in columns.items() if sheet.reads(one)}
        for what, words in (("tag", "the motor"), ("date", "the day")):
            bare = [name for name, one in read.items() if getattr(one, what) is None]
            if bare and sheet.column_of(what) is None and not (what == "tag" and sheet.tab_tag()):
                accepted = f"a column as {what}, or a {what} with each column of readings"
                raise RecordRefusal(f"columns.{bare[0]}", f"nothing that names {words}", accepted)

    def _row(self, sheet: MappedTab, number: int, cells: Sequence[Cell]) -> None:
        said = " | ".join(cell.text for cell in cells if cell.text)
        if not said:
            return None
        if why := sheet.no_row(number, cells):
            return self._leave(sheet, number, why, said)
        filled = [column for column in sheet.mapped if sheet.tab.cell(number, column).text.lower() not in NOTHING]
        readings = [column for column in filled if sheet.reads(sheet.mapped[column])]
        extras = [column for column in filled if sheet.mapped[column].as_ in (*CONDITIONS, "note")]
        plates = [column for column in filled if sheet.mapped[column].as_ in FIELDS]
        above = number < max(sheet.headings, default=0)
        if above:  # a title, or what the page says of itself
            return self._leave(sheet, number, "remark", said) if readings or plates else None
        if not readings and plates:
            self._plate_row(sheet, number, plates, self._tag(sheet, number, True), sheet.of_positions(number))
            return None
        if not readings and not (extras and sheet.names_motor(number) and sheet.names_day(number)):
            return self._leave(sheet, number, "remark", said)
        told = {column: self._column(sheet, number, column) for column in (*readings, *extras)}
        strange = next((one for one in told.values() if isinstance(one, str)), None)
        if strange is not None:
            return self._leave(sheet, number, strange, said)
        self.out.rows += bool(readings)
        tag, on = self._tag(sheet, number, bool(readings)), self._day(sheet, number, bool(readings))
        self.above = (tag, on) if tag is not None and on is not None else None
        for column, one in told.items():
            if isinstance(one, Column):
                self._cell(sheet, (number, column), one, tag, on)
        self._plate_row(sheet, number, plates, tag)
        return None

    def _plate_row(
        self, sheet: MappedTab, number: int, columns: Sequence[int], tag: str | None, position: str = ""
    ) -> None:
        """What a row says of its motor's plate and place, or in a list of positions of one; it waits where the motor is
        asked.
        """
        for column in columns if tag is not None or position else ():
            place, cell = sheet.place(number, column), sheet.tab.cell(number, column)
            answer = self._answered(place)
            if answer in (STORED, FILE, BOTH):
                self.against[place.key], answer = answer, None
            text = cell.text if answer is None else answer
            unit = sheet.mapped[column].unit
            text = f"{text} {unit}" if unit and figures(text) else text
            if answer == LEAVE_OUT or self._hides(place, Cell(text)):
                continue
            if cell.broken:
                self._refuse(place, text, "a value: a formula without a stored one, or an error, is none")
                continue
            if tag is None and not (sheet.mapped[column].as_ or "").startswith(POSITION):
                self._refuse(place, text, "the motor whose plate it is")
                continue
            try:
                for name, value in read_fields(sheet.mapped[column].as_ or "", text, self.today.year).items():
                    self.plates.append(PlateCell(place, tag or position, name, text, value, alone=tag is None))
            except UnclearReading as unclear:
                self._ask(place, tag, None, text, unclear.accepted, (*unclear.choices, LEAVE_OUT))
            except RecordRefusal as refusal:
                self._refuse(place, text, refusal.accepted)

    def _leave(self, sheet: MappedTab, number: int, why: str, said: str) -> None:
        if why == "remark" and self._kept_as_remark(sheet, number, said):
            return
        self.out.left_out.append({"sheet": sheet.tab.name, "row": number, "why": why, "found": said})

    def _kept_as_remark(self, sheet: MappedTab, number: int, said: str) -> bool:
        """Whether a row without a reading was told to be a remark, of the motor and the day that stand above it."""
        place = sheet.first_told(number)
        if place is None or self.above is None or self._answered(place) != REMARK or self._hides(place, Cell(said)):
            return False
        tag, on = self.above
        self.candidates.append(Taken(place, None, tag, on, _NOTE, said, None))
        return True

    def _answered(self, place: Place) -> str | None:
        return self.given.answers.get(place.key)

    def _tag(self, sheet: MappedTab, number: int, needed: bool) -> str | None:
        """The motor of a row; None where it is asked or refused."""
        column = sheet.column_of("tag")
        if column is None:
            return self._meant(sheet.place(number, 0), sheet.tab_tag()) if sheet.tab_tag() else None
        place = sheet.place(number, column)
        answer, text = self._answered(place), sheet.inherited(number, column)
        if answer == LEAVE_OUT:
            if tag_key(text) not in self.spelled:  # a motor that was asked about, and not this row alone
                self.alike[" ".join(text.split())] = None
            return None
        if not text and not answer:
            if needed:
                self._ask(place, None, None, "", "which motor?", (LEAVE_OUT,))
            return None
        return self._meant(place, text)

    def _meant(self, place: Place, text: str) -> str | None:
        """The motor that is called so. One that looks like another is asked, once for all its rows; None until then."""
        written, answer = " ".join(text.split()), self._answered(place)
        if written in self.alike and not answer:
            return self.alike[written]
        try:
            tag = checked_tag(" ".join((answer or written).split()))
        except RecordRefusal as refusal:
            self._refuse(place, refusal.found, refusal.accepted)
            return None
        key = tag_key(tag)
        other = self.looks.get(looks_like(key))
        if answer or key in self.spelled or other is None:
            if answer and written:
                self.alike[written] = self._spelled(tag)
            return self._spelled(tag)
        self.alike[written] = None
        # The register holds no two whose letters differ by an accent alone.
        apart = without_accents(key) != without_accents(tag_key(other))
        self._ask(place, None, None, text, f"is it {other}?", (other, *([tag] if apart else ()), LEAVE_OUT))
        return None

    def _spelled(self, tag: str) -> str:
        self.looks.setdefault(looks_like(tag_key(tag)), tag)
        return self.spelled.setdefault(tag_key(tag), tag)

    def _day(self, sheet: MappedTab, number: int, needed: bool) -> date | None:
        """The day of a row; None where it is asked or refused."""
        column = sheet.column_of("date")
        if column is None:
            return None
        one, place = sheet.mapped[column], sheet.place(number, column)
        answer = self._answered(place)
        cell = sheet.tab.cell(number, column)
        text = answer or sheet.inherited(number, column)
        if text == LEAVE_OUT:
            return None
        if cell.day is not None and answer is None:
            made = read_day(cell.day.isoformat(), self.today)
        else:
            made = read_day(text, self.today, one.order, sheet.keys["incomplete_dates"], self.book.epoch)
        return self._settled_day(made, place, text, needed)

    def _settled_day(self, made: Day, place: Place, text: str, needed: bool) -> date | None:
        if made.on is None and made.asked:
            self._ask(place, None, None, text, made.question, (*made.asked, LEAVE_OUT))
        elif made.on is None and (text or needed):
            self._refuse(place, text, ACCEPTED)
        return made.on

    def _ask(
        self, place: Place, tag: str | None, on: date | None, found: str, question: str, choices: Sequence[str]
    ) -> None:
        self.out.ask(place, tag, on, found, question, choices)

    def _refuse(self, place: Place, found: str, accepted: str) -> None:
        self.out.refused.append(place.document() | {"found": found, "accepted": accepted})

    def _hides(self, place: Place, cell: Cell) -> bool:
        """Whether something in it can't be seen; it is refused, written out."""
        plain = cell.text.isascii() and cell.text.isprintable()  # nearly all are
        if plain or not any(hides(sign) for sign in cell.text.translate(LINE_ENDS)):
            return False
        self._refuse(place, shown_as_such(cell.text), "text in which every character can be seen")
        return True

    def _column(self, sheet: MappedTab, number: int, column: int) -> Column | str:
        """What a cell of readings is, in a table of one reading a row by the row's place; else why it is left out."""
        one = sheet.mapped[column]
        if one.as_ != "reading":
            return one
        place, unit, gone = (sheet.text_of(number, kind) for kind in ("place", "unit", "taken_back"))
        if (place, unit) not in self.by_place:  # kept, as what was read before goes by the column itself
            self.by_place[place, unit] = column_of(place, unit)
        return "taken-back" if gone else self.by_place[place, unit] or "place"

    def _cell(
        self, sheet: MappedTab, at: tuple[int, int], one: Column, row_tag: str | None, row_day: date | None
    ) -> None:
        place = sheet.place(*at)
        tag = self._meant(place, one.tag) if one.tag else row_tag
        on = self._column_day(one, sheet, row_day, place) if tag is not None else None
        if tag is None or on is None:
            return  # the row waits for its motor and its day
        shown, answer = sheet.tab.cell(*at), self._answered(place)
        cell = self._as_told(place, shown, one, sheet.keys["decimal"])
        if cell is None:
            return
        if one.as_ == "note":
            self.candidates.append(Taken(place, None, tag, on, one, cell.text, None))
            return
        parts = one.parts or [one]
        decimal = "." if answer is not None and place.key not in self.against else sheet.keys["decimal"]
        outcomes = self._outcomes(cell, parts, decimal, bool(one.parts))
        if isinstance(outcomes, Question):
            self._ask(place, tag, on, cell.text, outcomes.text, outcomes.choices)
            return
        wrong = next((made for _, made in outcomes if not isinstance(made, Understood)), None)
        if isinstance(wrong, Question) or (wrong is not None and one.parts):
            text, choices = (wrong.text, wrong.choices) if isinstance(wrong, Question) else (SEVERAL, (LEAVE_OUT,))
            self._ask(place, tag, on, cell.text, text, choices)
            return
        if isinstance(wrong, Refused):
            if answer is None:
                self._refuse(place, cell.text, wrong.accepted)
            else:
                self._ask(place, tag, on, shown.text, f"“{answer}” is no value of it: {wrong.accepted}", (LEAVE_OUT,))
            return
        for i, (piece, made) in enumerate(outcomes, 1):
            if isinstance(made, Understood):
                part = i if one.parts else None
                self.candidates.append(Taken(place, part, tag, on, parts[i - 1], piece, made))

    def _as_told(self, place: Place, cell: Cell, one: Column, decimal: str | None) -> Cell | None:
        """The cell as it is read: its answer where there is one; nothing where it is left out or hides something."""
        answer = self._answered(place)
        if answer == LEAVE_OUT:
            return None
        if answer in (STORED, FILE, BOTH):
            self.against[place.key] = answer
            answer = None
        if answer is not None:
            made = None if one.parts or one.as_ == "note" else read_cell(cell, one, decimal)
            if isinstance(made, Understood):
                self.was[place.key] = cell.text, made.amount
            cell = Cell(answer)
        elif MARKED_AS_TEXT.match(cell.text):
            cell = replace(cell, text=cell.text.lstrip("'"))
        return None if self._hides(place, cell) else cell

    def _outcomes(
        self, cell: Cell, parts: Sequence[Part], decimal: str | None, split: bool
    ) -> list[tuple[str, Outcome]] | Question:
        if not split:
            return [(cell.text, self._outcome(cell, parts[0], decimal))]
        if cell.day is not None:
            return Question("a day, or readings that a program turned into one?", (LEAVE_OUT,))
        texts = pieces(cell.text, len(parts))
        if texts is None:
            return Question(SEVERAL, (LEAVE_OUT,))
        return [(text, self._outcome(Cell(text), part, decimal)) for text, part in zip(texts, parts, strict=True)]

    def _outcome(self, cell: Cell, part: Part, decimal: str | None) -> Outcome:
        """One reading; the same text under the same heading of this tab may have been read before."""
        key = id(part), decimal, cell.text, cell.number, cell.day, cell.broken
        made = self._read.get(key)
        if made is None:
            if len(self._read) >= MOST_REMEMBERED:
                self._read.clear()
            made = self._read[key] = read_cell(cell, part, decimal)
        return made

    def _column_day(self, one: Column, sheet: MappedTab, row_day: date | None, place: Place) -> date | None:
        if one.date is None:
            return row_day
        made = read_day(one.date, self.today, one.order, sheet.keys["incomplete_dates"], self.book.epoch)
        if made.on is None and made.asked:
            self._ask(place, None, None, one.date, made.question, (*made.asked, LEAVE_OUT))
        elif made.on is None:
            raise RecordRefusal(f"columns.{place.column}.date", one.date, ACCEPTED)
        return made.on
