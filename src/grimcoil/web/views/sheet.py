"""A sheet on its way in as its page shows it: each cell as it was typed, and below it how it is understood."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from grimcoil.core.plate_fields import FIELDS
from grimcoil.exchange.sheets.grid import Tab, address, rows_of
from grimcoil.exchange.sheets.layout import column_names
from grimcoil.exchange.sheets.mapping import UNITS
from grimcoil.service.sheet_drafts import Draft, row_key

PAGE = 20
ASKED_AT_ONCE = 12
TOPS = 6  # rows of which some may be headings
HOLDS = (
    ("tag", "the motor's tag"),
    ("date", "the day"),
    ("insulation", "insulation"),
    ("winding_resistance", "winding ohms"),
    ("winding_temperature_c", "winding temperature"),
    ("ambient_temperature_c", "air temperature"),
    ("test_voltage_v", "test voltage"),
    ("relative_humidity_percent", "relative humidity"),
    ("note", "a note"),
    *((name, one.words) for name, one in FIELDS.items()),
    ("leave_out", "nothing: leave it out"),
)
_WORDS = dict(HOLDS) | {
    "tag": "motor", "date": "day", "winding_temperature_c": "winding °C", "ambient_temperature_c": "air °C",
    "test_voltage_v": "test volts", "relative_humidity_percent": "humidity %", "note": "note", "leave_out": "left out",
}  # fmt: skip
WHY = {
    "total": "a total", "headings": "headings again", "units": "units", "remark": "no reading in it", "tab": "not read",
    "place": "no reading that spreadsheets bring", "taken-back": "undone",
    "answered": "answered otherwise",
}  # fmt: skip
ALL_UNITS = tuple(dict.fromkeys(unit for units in UNITS.values() for unit in units))
ORDERS = (("dmy", "day first"), ("mdy", "month first"), ("ymd", "year first"))


@dataclass(frozen=True, slots=True)
class Heading:
    """A column: its name in the file, what it holds in words, and its form. open: the map asks about it."""

    name: str
    holds: str
    form: Mapping[str, str]
    open: Sequence[Mapping[str, Any]] = ()


@dataclass(frozen=True, slots=True)
class Shown:
    """A cell as typed and as understood. state: understood, asked, refused, double, plain."""

    text: str
    words: str
    state: str


@dataclass(frozen=True, slots=True)
class SheetRow:
    """A row; mark: sound where all of it goes in, unproven where a cell is asked, act where one is refused; why: it is
    no test; remark: the cell by which it can be told to be one.
    """

    number: int
    key: str
    mark: str
    cells: Sequence[Shown]
    left: bool
    why: str
    remark: str = ""


@dataclass(frozen=True, slots=True)
class Top:
    """One of the first rows of a tab, and whether it is a heading."""

    number: int
    text: str
    heads: bool


@dataclass(frozen=True, slots=True)
class SheetShown:
    """A page of rows of one tab, with all that is asked."""

    tabs: Sequence[str]
    tab: str
    headings: Sequence[Heading]
    rows: Sequence[SheetRow]
    first: int
    last: int
    total: int
    asked: Sequence[Mapping[str, Any]]
    whole: Sequence[Mapping[str, Any]]
    tops: Sequence[Top]


def meaning_words(column: Mapping[str, Any]) -> str:
    """What a column holds, in a few words.

    >>> meaning_words({"as": "insulation", "from": "1-2-3", "to": "frame", "t_s": 60}), meaning_words({})
    ('insulation 1-2-3 to frame, 60 s', 'not told yet')
    """
    if column.get("parts"):
        return ", ".join(meaning_words(part) for part in column["parts"])
    held = column.get("as")
    if held is None:
        return "not told yet"
    if held == "insulation":
        hold = f", {column['t_s']:g} s" if column.get("t_s") else ""
        ends = f"{column.get('from', '1-2-3')} to {column.get('to', 'frame')}"
        return f"insulation {ends}{hold}" + (f", {column['date']}" if column.get("date") else "")
    if held == "winding_resistance":
        return f"ohms {column.get('pair', '')}"
    return _WORDS[held]


def form_of(column: Mapping[str, Any]) -> dict[str, str]:
    """The column's form, filled in."""
    points = column.get("pair") or (f"{column['from']} to {column.get('to', 'frame')}" if column.get("from") else "")
    hold = f"{column['t_s']:g}" if column.get("t_s") else ""
    return {
        "holds": column.get("as") or "", "points": points, "hold_s": hold, "unit": column.get("unit") or "",
        "order": column.get("order") or "",
    }  # fmt: skip


def sheet_shown(draft: Draft, tab_name: str, first: int) -> SheetShown:
    """A page of one tab, from the nth of its rows. A tab that isn't there is the first."""
    read = [tab for tab in draft.book.tabs if _is_read(draft, tab)]
    tab = next((tab for tab in read if tab.name == tab_name), read[0] if read else Tab(None))
    own = (draft.map.get("tabs") or {}).get(tab.name) or {}
    told = own.get("headings", draft.map.get("headings"))
    headings: Sequence[int] = [1] if told is None else told
    columns = own.get("columns") or draft.map.get("columns") or {}
    names = column_names(tab, headings)
    asks = list(draft.map.get("ask", ()))
    shown = [
        Heading(
            name, meaning_words(columns.get(name, {"as": "leave_out"})), form_of(columns.get(name, {})),
            [one for one in asks if one.get("about") == name],
        )
        for name in names.values()
    ]  # fmt: skip
    numbers = [number for number, _ in rows_of(tab) if number not in headings]
    first = min(max(first, 0), max(len(numbers) - 1, 0))
    cells = _by_cell(draft, tab.name)
    why = {number: "above the headings" for number in numbers if number < max(headings, default=0)}
    why |= {one["row"]: WHY[one["why"]] for one in draft.done.left_out if one["sheet"] == tab.name}
    page = [_row(draft, tab, number, names, cells, why) for number in numbers[first : first + PAGE]]
    return SheetShown(
        [tab.name or "" for tab in read], tab.name or "", shown, page, first, first + len(page), len(numbers),
        draft.done.asked[:ASKED_AT_ONCE], [one for one in asks if one.get("about") not in names.values()],
        _tops(tab, headings),
    )  # fmt: skip


def _tops(tab: Tab, headings: Sequence[int]) -> list[Top]:
    numbers = sorted({*[number for number, _ in rows_of(tab)][:TOPS], *headings})
    texts = {number: " | ".join(cell.text for cell in tab.rows.get(number, []) if cell.text) for number in numbers}
    return [Top(number, texts[number][:80], number in headings) for number in numbers]


def _is_read(draft: Draft, tab: Tab) -> bool:
    tabs, wanted = draft.map.get("tabs") or {}, draft.map.get("sheet")
    if tab.name in tabs:
        return tabs[tab.name] is not None
    return wanted is None or tab.name in wanted


def _by_cell(draft: Draft, sheet: str | None) -> dict[tuple[int, str], tuple[str, str]]:
    """By row and column's name, how a cell is understood, and its state."""
    out: dict[tuple[int, str], tuple[str, str]] = {}
    for one in draft.done.taken:
        if one.place.sheet == sheet:
            words = one.read.words if one.read is not None else "as written"
            before = out.get((one.place.row, one.place.column))
            out[one.place.row, one.place.column] = (f"{before[0]}; {words}" if before else words), "understood"
    for cell in draft.done.plates:
        if cell.place.sheet == sheet:
            said = f"{cell.value} {FIELDS[cell.field].unit}".strip()
            first = out.get((cell.place.row, cell.place.column))  # a plate that prints two with a stroke
            out[cell.place.row, cell.place.column] = (f"{first[0]}; {said}" if first else said), "understood"
    for told, state, key in (
        (draft.done.duplicates, "double", "same_as"),
        (draft.done.asked, "asked", "question"),
        (draft.done.refused, "refused", "accepted"),
    ):
        for row in told:
            if row["sheet"] == sheet:
                words = row[key] if state != "double" else f"saved already ({row[key]})"
                out[row["row"], row["column"]] = words, state
    return out


def _row(
    draft: Draft, tab: Tab, number: int, names: Mapping[int, str], cells: Mapping[tuple[int, str], tuple[str, str]],
    why: Mapping[int, str],
) -> SheetRow:  # fmt: skip
    key = row_key(tab.name, number)
    left = key in draft.left_rows
    whose = _whose(draft, tab.name, number)
    shown, states = [], set()
    for column in names:
        words, state = ("", "plain") if left else cells.get((number, names[column]), ("", "plain"))
        held = (draft.map.get("columns") or {}).get(names[column], {}).get("as")
        if state == "plain" and held in ("tag", "date") and not left:
            words = whose.get(held, "")
        states.add(state)
        shown.append(Shown(tab.cell(number, column).text, words, state))
    mark = "act" if "refused" in states else "unproven" if "asked" in states else ""
    said = "left out by you" if left else why.get(number, "") if not states - {"plain"} else ""
    told = next((column for column in names if tab.cell(number, column).text), None)
    remark = "" if said != WHY["remark"] or told is None else row_cell(tab.name, number, told)
    return SheetRow(number, key, mark or ("sound" if "understood" in states else ""), shown, left, said, remark)


def row_cell(sheet: str | None, number: int, column: int) -> str:
    """A cell as an answer names it."""
    where = address(number, column)
    return where if sheet is None else f"{sheet}!{where}"


def _whose(draft: Draft, sheet: str | None, number: int) -> dict[str, str]:
    for one in draft.done.taken:
        if one.place.sheet == sheet and one.place.row == number:
            return {"tag": one.tag, "date": f"{one.on.day} {one.on:%b %Y}"}
    return {}
