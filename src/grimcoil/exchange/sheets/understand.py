"""Every cell of a file by its map: understood, asked back, refused, left out, or there already."""

from __future__ import annotations

import re
from bisect import bisect_left
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from typing import Any

from grimcoil.core.amount import Amount
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.lines import hides, shown_as_such
from grimcoil.core.tags import checked_tag, looks_like, without_accents
from grimcoil.exchange.sheets.days import ACCEPTED, Day, read_day
from grimcoil.exchange.sheets.figures import SEVERAL, Outcome, Question, Refused, Understood, pieces, read_cell
from grimcoil.exchange.sheets.grid import Book, Cell, Tab, rows_of
from grimcoil.exchange.sheets.layout import NOTHING, column_names, tag_key
from grimcoil.exchange.sheets.mapped import MappedTab
from grimcoil.exchange.sheets.mapping import CONDITIONS, READINGS, Column, Part, SheetMap, merged_map
from grimcoil.exchange.sheets.taken import Import, Place, Register, Taken

LEAVE_OUT = "leave out"
MARKED_AS_TEXT = re.compile(r"'\s*[<>≥≤~]?\s*[\d.,]")  # a spreadsheet's own mark before what shall stay text
LINE_ENDS = str.maketrans("\t\r\n", "   ")
FAR, FARTHER = 700.0, 1400.0  # a bare figure so many times its neighbours is in another unit
_Doubts = dict[Taken, tuple[str, tuple[str, ...]]]


def understand(book: Book, given: SheetMap, today: date, known: Register) -> Import:
    """Read the file. Raises RecordRefusal where the map names what the file hasn't got."""
    reader = _Reader(book, given, today, known)
    for tab in reader.tabs():
        reader.tab(tab)
    reader.settle()
    return reader.out


class _Reader:
    """One pass over the tabs; then the rules that look at several cells at once."""

    def __init__(self, book: Book, given: SheetMap, today: date, known: Register) -> None:
        self.book, self.given, self.today, self.known = book, given, today, known
        self.out = Import()
        self.spelled = {tag_key(tag): tag for tag in known.tags}
        self.registered = frozenset(self.spelled)
        self.looks = {looks_like(key): tag for key, tag in self.spelled.items()}
        self.alike: dict[str, str | None] = {}
        self.was: dict[str, tuple[str, Amount]] = {}  # what stood in a cell that was answered
        self.candidates: list[Taken] = []

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
        if number == sheet.keys["units_row"]:
            return self._leave(sheet, number, "units", said)
        if sheet.repeats_headings(cells):
            return self._leave(sheet, number, "headings", said)
        readings = [
            column for column, one in sheet.mapped.items()
            if sheet.reads(one) and sheet.tab.cell(number, column).text.lower() not in NOTHING
        ]  # fmt: skip
        if sheet.is_total(number):
            return self._leave(sheet, number, "total", said)
        extras = [
            column for column, one in sheet.mapped.items()
            if one.as_ in (*CONDITIONS, "note") and sheet.tab.cell(number, column).text.lower() not in NOTHING
        ]  # fmt: skip
        if not readings:
            if number < max(sheet.headings, default=0):
                return None
            if not (sheet.names_motor(number) and sheet.names_day(number)) or not extras:
                return self._leave(sheet, number, "remark", said)
        else:
            self.out.rows += 1
        tag, on = self._tag(sheet, number, bool(readings)), self._day(sheet, number, bool(readings))
        for column in [*readings, *extras]:
            self._cell(sheet, number, column, tag, on)
        return None

    def _leave(self, sheet: MappedTab, number: int, why: str, said: str) -> None:
        self.out.left_out.append({"sheet": sheet.tab.name, "row": number, "why": why, "found": said})

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
        day = None if on is None else on.isoformat()
        told = {"tag": tag, "date": day, "found": found, "question": question, "choices": list(choices)}
        self.out.asked.append(place.document() | told)

    def _refuse(self, place: Place, found: str, accepted: str) -> None:
        self.out.refused.append(place.document() | {"found": found, "accepted": accepted})

    def _hides(self, place: Place, cell: Cell) -> bool:
        """Whether something in it can't be seen; it is refused, written out."""
        if not any(hides(sign) for sign in cell.text.translate(LINE_ENDS)):
            return False
        self._refuse(place, shown_as_such(cell.text), "text in which every character can be seen")
        return True

    def _cell(self, sheet: MappedTab, number: int, column: int, row_tag: str | None, row_day: date | None) -> None:
        one, place = sheet.mapped[column], sheet.place(number, column)
        tag = self._meant(place, one.tag) if one.tag else row_tag
        on = self._column_day(one, sheet, row_day, place) if tag is not None else None
        if tag is None or on is None:
            return  # the row waits for its motor and its day
        shown, answer = sheet.tab.cell(number, column), self._answered(place)
        cell = self._as_told(place, shown, one, sheet.keys["decimal"])
        if cell is None:
            return
        if one.as_ == "note":
            self.candidates.append(Taken(place, None, tag, on, one, cell.text, None))
            return
        parts = one.parts or [one]
        decimal = "." if answer is not None else sheet.keys["decimal"]
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
            return [(cell.text, read_cell(cell, parts[0], decimal))]
        if cell.day is not None:
            return Question("a day, or readings that a program turned into one?", (LEAVE_OUT,))
        texts = pieces(cell.text, len(parts))
        if texts is None:
            return Question(SEVERAL, (LEAVE_OUT,))
        return [(text, read_cell(Cell(text), part, decimal)) for text, part in zip(texts, parts, strict=True)]

    def _column_day(self, one: Column, sheet: MappedTab, row_day: date | None, place: Place) -> date | None:
        if one.date is None:
            return row_day
        made = read_day(one.date, self.today, one.order, sheet.keys["incomplete_dates"], self.book.epoch)
        if made.on is None and made.asked:
            self._ask(place, None, None, one.date, made.question, (*made.asked, LEAVE_OUT))
        elif made.on is None:
            raise RecordRefusal(f"columns.{place.column}.date", one.date, ACCEPTED)
        return made.on

    def settle(self) -> None:
        """Figures in another unit, tests with two values, what is stored; then what is new."""
        doubtful = self._far() | self._two_values()
        by_cell: dict[str, tuple[str, tuple[str, ...]]] = {}
        for taken, doubt in doubtful.items():
            by_cell.setdefault(taken.place.key, doubt)
        first: dict[tuple[Any, ...], Taken] = {}
        asked_cells: set[str] = set()
        for one in self.candidates:
            key = one.place.key
            if key not in by_cell:
                self._settle_one(one, first)
            elif key not in asked_cells:
                asked_cells.add(key)
                self._ask(one.place, one.tag, one.on, one.text, *by_cell[key])
        new = dict.fromkeys(one.tag for one in self.out.taken if tag_key(one.tag) not in self.registered)
        self.out.new_motors = list(new)

    def _settle_one(self, one: Taken, first: dict[tuple[Any, ...], Taken]) -> None:
        """Stored already, said twice in the file, or in; first: what is in, by what makes it one test."""
        if one.one.as_ not in READINGS:
            if (tag_key(one.tag), one.on) in self.known.days:
                self._double(one, "stored")
            else:
                self.out.taken.append(one)
            return
        if one.read is None:
            return
        stored, earlier = self.known.stored.get(one.same), first.get(one.same)
        if stored is not None and stored.amount == one.read.amount:
            self._double(one, "stored")
        elif stored is not None:
            choices = (one.text, stored.words, LEAVE_OUT)
            self._ask(one.place, one.tag, one.on, one.text, "another value is stored: which is right?", choices)
        elif earlier is not None:
            self._double(one, earlier.place.cell)
        else:
            first[one.same] = one
            self.out.taken.append(one)

    def _double(self, one: Taken, same_as: str) -> None:
        told = {"tag": one.tag, "date": one.on.isoformat(), "field": one.one.as_, "same_as": same_as}
        self.out.duplicates.append(one.place.document() | told)

    def _far(self) -> _Doubts:
        """A bare winding figure a thousand times above or below the same motor's others."""
        by_motor: dict[str, list[Taken]] = defaultdict(list)
        for one in self.candidates:
            if one.one.as_ == "winding_resistance" and one.read is not None and one.read.amount.is_exact:
                by_motor[tag_key(one.tag)].append(one)
        out: _Doubts = {}
        for mine in by_motor.values():
            values = sorted(one.read.amount.value for one in mine if one.read is not None)
            for one in mine:
                if one.read is None or not one.read.bare or one.read.amount.value <= 0 or len(values) < 3:
                    continue
                usual = median_without(values, one.read.amount.value)
                if usual <= 0:
                    continue
                ratio = one.read.amount.value / usual
                if FAR <= ratio <= FARTHER or FAR <= 1 / ratio <= FARTHER:
                    out[one] = "a thousand times its neighbours: which unit?", (
                        f"{one.text} mΩ", f"{one.text} Ω", LEAVE_OUT,
                    )  # fmt: skip
        return out

    def _two_values(self) -> _Doubts:
        """One test with two values in the file: all its cells are asked."""
        by_test: dict[tuple[Any, ...], list[Taken]] = defaultdict(list)
        for one in self.candidates:
            if one.read is not None and one.one.as_ in READINGS:
                by_test[one.same].append(one)
        out: _Doubts = {}
        for same in by_test.values():
            values = {(one.read.amount, one.read.shown) for one in same if one.read is not None}
            if len(values) > 1 and not self._chosen(same):
                texts = dict.fromkeys(self._stood(one)[0] for one in same)
                for one in same:
                    out[one] = "one test with two values: which is right?", (*texts, LEAVE_OUT)
        return out

    def _chosen(self, same: Sequence[Taken]) -> bool:
        """One answer at any of these cells settles all of them; one that is none of their values settles nothing."""
        answered = [one for one in same if self._answered(one.place)]
        shown = {self._stood(one)[1] for one in same}
        said = {one.read.amount for one in answered if one.read}
        if len(said) != 1 or not said <= shown:
            return False
        for one in same:
            if one.read is not None and one.read.amount not in said:
                self.candidates.remove(one)
                self._left_out(one)
        return True

    def _stood(self, one: Taken) -> tuple[str, Amount | None]:
        """What its cell showed before any answer."""
        return self.was.get(one.place.key, (one.text, one.read.amount if one.read else None))

    def _left_out(self, one: Taken) -> None:
        told = {"sheet": one.place.sheet, "row": one.place.row, "why": "answered", "found": one.text}
        self.out.left_out.append(told)


def median_without(ordered: Sequence[float], value: float) -> float:
    """The median of ordered figures without one of them, which is there; without going through all of them."""
    out, left = bisect_left(ordered, value), len(ordered) - 1
    at = [ordered[i + (i >= out)] for i in ((left - 1) // 2, left // 2)]
    return (at[0] + at[1]) / 2
