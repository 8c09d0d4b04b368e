"""A proposed map of a file: what each heading seems to mean, and what it can't know is asked."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import date
from typing import Any

from grimcoil.core.tags import is_tag
from grimcoil.exchange.sheets.days import read_day, slashed_ways
from grimcoil.exchange.sheets.grid import Book, Cell, Tab, address, rows_of
from grimcoil.exchange.sheets.layout import NOTHING, column_names, is_total
from grimcoil.exchange.sheets.mapping import FORMAT, UNITS

LOOKED_AT = 400  # rows of a tab
_TAG = re.compile(
    r"(?:mot\.?|motors?|tags?|equip\.?|equipment|asset|maschinen?|antrieb|kks|ident(?:ification)?|id|drive|unit|pump)"
    r"(?:[ _-]*(?:nr|no|num|number|name|id|tag|code|#|kennz\w*|bezeichn\w*)\.?)?",
    re.IGNORECASE,
)
_DATE = re.compile(r"date|day|datum|tag der .*|tested( on)?|when|test date|messdatum", re.IGNORECASE)
_NOTE = re.compile(r"notes?|remarks?|comments?|bemerkung(en)?|anmerkung|kommentar|observations?", re.IGNORECASE)
_DERIVED = re.compile(
    r"\b(pi|dar|mean|avg|average|sum|total|unbal\w*|imbal\w*|ratio|index|spread|minimum|maximum|max|mittel\w*|verdict|"
    r"result|status|by|who|tester|operator|next|due|r40|corr\w*)\b",
    re.IGNORECASE,
)
_TEMP = re.compile(r"temp\w*|winding t|t wdg|°\s*[cf]", re.IGNORECASE)
_AMBIENT = re.compile(r"amb\w*|air|umgebung", re.IGNORECASE)
_VOLTS = re.compile(r"(test|prüf)\s*-?\s*(v|volts?|voltage|spannung)|\bkv\b|u ?prüf", re.IGNORECASE)
_HUMIDITY = re.compile(r"\brh\b|humid\w*|feuchte|% ?rh", re.IGNORECASE)
_INSULATION = re.compile(r"insul\w*|isolation\w*|\bir\b|meg\w*|mω|gω|\br?iso\b", re.IGNORECASE)
_WINDING = re.compile(r"winding|wicklung|resist\w*|ohms?|\bω\b|mω|\br\b", re.IGNORECASE)
_PAIR = re.compile(r"(?<![\w.])(?:[tTuvwUVW]|R\s*)?(\d{1,2})\s*[-/]\s*(?:[tT])?(\d{1,2})(?![\w.])")
_LETTERS = re.compile(r"\b([UVW])\s*[-/]\s*([UVW])\b")
_TO_FRAME = re.compile(
    r"(?:t|u|lead)?\s*(\d{1,2}|[UVW])\s*(?:-|to|/|→)\s*(?:e|pe|earth|frame|gnd|ground|masse|erde)\b", re.IGNORECASE
)
_UNIT = re.compile(r"(?<![A-Za-z])(GΩ|MΩ|kΩ|mΩ|µΩ|Ω|Gohm|Mohm|kohm|mohm|megohms?|ohms?|kV|V|°C|°F|%)(?![A-Za-z])")
_SPELLED = {
    "Gohm": "GΩ",
    "Mohm": "MΩ",
    "kohm": "kΩ",
    "mohm": "mΩ",
    "megohm": "MΩ",
    "megohms": "MΩ",
    "ohm": "Ω",
    "ohms": "Ω",
}
_SECONDS = re.compile(r"\b(\d{1,4})\s*(s|sec|min|m)\b", re.IGNORECASE)
_YEAR = re.compile(r"(?:19|20)\d{2}")
_TITLE = re.compile(r"(?:motor|tag|antrieb|maschine)\s*:\s*(.+)", re.IGNORECASE)
NUMBERS = {"U": "1", "V": "2", "W": "3"}


def propose(book: Book, today: date) -> dict[str, Any]:
    """`grimcoil-map/1`: headings found, columns named, decimal sign and order of days where the file shows them."""
    first = next((tab for tab in book.tabs if _headings(tab)), book.tabs[0] if book.tabs else Tab(None))
    headings = _headings(first) or ([] if _begins_with_data(first) else [1])
    names = column_names(first, headings)
    units_row = _units_row(first, headings)
    out: dict[str, Any] = {"format": FORMAT}
    if book.encoding:
        out |= {"encoding": book.encoding, "delimiter": book.delimiter}
    if book.epoch is not None:
        alike = [tab.name for tab in book.tabs if _same(tab, first, headings)]
        out["sheet"] = alike
        others = [tab.name for tab in book.tabs if tab.name not in alike]
        if others:
            out["tabs"] = dict.fromkeys(others)
    out["headings"] = headings
    if units_row:
        out["units_row"] = units_row
    decimal = _sign(first, headings)
    if decimal:
        out["decimal"] = decimal
    ask: list[dict[str, Any]] = []
    columns = {}
    for column, name in names.items():
        made = _column(first, column, name, headings, units_row, ask, today)
        if made is not None:
            columns[name] = made
    _one_each(columns)
    out["columns"] = columns
    _whose(book, first, headings, columns, out, ask)
    if any("date" in made for made in columns.values()):
        why = "the columns are years alone"
        choices = ["first", "middle", "last"]
        ask.append({"about": None, "key": "incomplete_dates", "why": why, "choices": choices})
    if not any(made.get("as") == "date" for made in columns.values()) and not any(
        "date" in m for m in columns.values()
    ):
        ask.append({"about": None, "key": "date", "why": "no column seems to hold the day", "choices": []})
    out["ask"] = ask
    return out


def _rows(tab: Tab, headings: Sequence[int]) -> list[int]:
    return [number for number, _ in rows_of(tab) if number > max(headings, default=0)][:LOOKED_AT]


def _headings(tab: Tab) -> list[int]:
    """The first row with several words in it and rows of figures or days behind; the row below where it goes on."""
    numbers = [number for number, _ in rows_of(tab)][:40]
    for i, number in enumerate(numbers):
        cells = [cell for cell in tab.rows[number] if cell.text]
        words = [cell for cell in cells if cell.number is None and cell.day is None and _is_word(cell.text)]
        years = [cell for cell in cells if _YEAR.fullmatch(cell.text)]
        if len(cells) >= 2 and len(words) + len(years) == len(cells) and words and i + 1 < len(numbers):
            if _TITLE.match(cells[0].text):
                continue
            following = numbers[i + 1]
            below = [cell for cell in tab.rows[following] if cell.text]
            named = all(cell.number is None and cell.day is None and _is_word(cell.text) for cell in below)
            units = all(_UNIT.fullmatch(cell.text.strip("[]() ")) for cell in below)
            first_free = not tab.cell(following, 0).text or (following, 0) in tab.merged
            if below and named and not units and first_free and i + 2 < len(numbers):
                return [number, following]
            return [number]
    return []


_BARE_DAY = re.compile(r"\d{1,4}[-./ ]\d{1,2}[-./ ]\d{2,4}(?:[T ][\d:.]+)?")


def _is_data(cell: Cell) -> bool:
    typed = cell.number is not None or cell.day is not None
    return typed or _figure(cell.text) or _BARE_DAY.fullmatch(cell.text) is not None


def _begins_with_data(tab: Tab) -> bool:
    """No heading row at all: the first row has a figure or a day in two cells, and the rows below are like it."""
    rows = [cells for _, cells in rows_of(tab)][:3]
    kinds = [[_is_data(cell) for cell in cells] for cells in rows]
    return bool(kinds) and sum(kinds[0]) >= 2 and all(kind[: len(kinds[0])] == kinds[0] for kind in kinds)


def _is_word(text: str) -> bool:
    """A name of a column: words, or a pair of leads."""
    return not _figure(text) or re.fullmatch(r"\d{1,2}\s*-\s*\d{1,2}", text) is not None


def _figure(text: str) -> bool:
    return re.fullmatch(r"[<>~]?\s*-?\d[\d.,/ ]*\s*\S{0,4}\+?", text) is not None


def _units_row(tab: Tab, headings: Sequence[int]) -> int | None:
    """The row below the headings where it holds nothing but units."""
    number = max(headings, default=0) + 1
    cells = [cell.text.strip("[]() ") for cell in tab.rows.get(number, []) if cell.text]
    return number if cells and all(_UNIT.fullmatch(text) or text in ("s", "-") for text in cells) else None


def _same(tab: Tab, first: Tab, headings: Sequence[int]) -> bool:
    names = set(column_names(first, headings).values())
    return names <= set(column_names(tab, headings).values())


def _sign(tab: Tab, headings: Sequence[int]) -> str | None:
    """The decimal sign that most unmistakable figures use."""
    counts = {",": 0, ".": 0}
    for number in _rows(tab, headings):
        for cell in tab.rows[number]:
            if cell.number is not None or cell.day is not None:
                continue
            for whole, sign, rest in re.findall(r"(?<![\d.,])(\d+)([.,])(\d+)(?![\d.,])", cell.text):
                if len(rest) != 3 or whole.startswith("0"):
                    counts[sign] += 1
    if counts[","] == counts["."] == 0:
        return None
    return "," if counts[","] > counts["."] else "."


def _column(  # noqa: C901 - what a heading can mean, in order
    tab: Tab, column: int, name: str, headings: Sequence[int], units_row: int | None, ask: list[dict[str, Any]],
    today: date,
) -> dict[str, Any] | None:  # fmt: skip
    bare = re.sub(r"\s*\[[A-Z]{1,3}\]$", "", name)
    texts = [t for n in _rows(tab, headings) if n != units_row and (t := tab.cell(n, column).text)]
    unit = _unit_in(bare) or (_unit_in(tab.cell(units_row, column).text) if units_row else None)
    if not bare and not texts:
        return None
    last = bare.rpartition("/")[2].strip() if " / " in bare else bare
    if _TAG.fullmatch(last):
        return {"as": "tag"}
    if _DATE.fullmatch(last) or (not headings and texts and all(_BARE_DAY.fullmatch(text) for text in texts)):
        return _day_column(name, texts, ask, today)
    if _NOTE.fullmatch(last):
        return {"as": "note"}
    found = _reading_column(bare, unit, texts)
    if found is not None:
        if "as" not in found and "parts" not in found:
            why = "the heading doesn't say what was read"
            ask.append({"about": name, "key": "as", "why": why, "choices": ["insulation", "winding_resistance"]})
        return found
    if _DERIVED.search(bare):
        return {"as": "leave_out"}
    if _HUMIDITY.search(bare):
        return {"as": "relative_humidity_percent"}
    if _VOLTS.search(bare):
        return {"as": "test_voltage_v"} | ({"unit": "kV"} if unit == "kV" else {})
    if _TEMP.search(bare) or unit in ("°C", "°F"):
        kind = "ambient_temperature_c" if _AMBIENT.search(bare) else "winding_temperature_c"
        made: dict[str, Any] = {"as": kind}
        if unit in ("°C", "°F"):
            made["unit"] = unit
        return made
    return {"as": "leave_out"} if not texts or not _mostly_figures(texts) else _unknown(name, ask)


def _unknown(name: str, ask: list[dict[str, Any]]) -> dict[str, Any]:
    ask.append({"about": name, "key": "as", "why": "figures under a heading that could be anything",
                "choices": ["insulation", "winding_resistance", "leave_out"]})  # fmt: skip
    return {}


def _mostly_figures(texts: Sequence[str]) -> bool:
    return sum(_figure(text) or text.lower() in ("ol", *NOTHING) for text in texts) > len(texts) / 2


def _unit_in(text: str) -> str | None:
    match = _UNIT.search(text.replace("\u2126", "Ω"))
    return None if match is None else _SPELLED.get(match[1], match[1])


def _reading_column(name: str, unit: str | None, texts: Sequence[str]) -> dict[str, Any] | None:
    """Insulation or winding ohms, by ends, unit or word; None where it is neither."""
    frame, pairs = _TO_FRAME.search(name), _pairs(name)
    derived = _DERIVED.search(name)
    held = {} if (time := _SECONDS.search(name)) is None else {"t_s": _seconds(time)}
    if frame is not None and not derived:
        return (
            {"as": "insulation", "from": NUMBERS.get(frame[1].upper(), frame[1]), "to": "frame"} | held | _given(unit)
        )
    if derived:
        return None
    if len(pairs) > 1:
        parts = [{"as": "winding_resistance", "pair": pair} | _given(unit) for pair in pairs]
        return {"parts": parts}
    insulating = _INSULATION.search(name) is not None or unit in ("MΩ", "GΩ")
    if pairs:
        if insulating and unit in ("MΩ", "GΩ"):
            one, other = pairs[0].split("-")
            return {"as": "insulation", "from": one, "to": other} | held | _given(unit)
        return {"as": "winding_resistance", "pair": pairs[0]} | _given(unit)
    if insulating:
        return {"as": "insulation", "from": "1-2-3", "to": "frame"} | held | _given(unit)
    if _YEAR.fullmatch(name) and _mostly_figures(texts):
        return {"as": "insulation", "from": "1-2-3", "to": "frame", "date": name}
    return None


def _given(unit: str | None) -> dict[str, str]:
    return {"unit": unit} if unit in (*UNITS["insulation"], *UNITS["winding_resistance"]) else {}


def _seconds(match: re.Match[str]) -> float:
    return float(match[1]) * (60 if match[2].lower() in ("min", "m") else 1)


def _pairs(name: str) -> list[str]:
    numbered = [f"{a}-{b}" for a, b in _PAIR.findall(name)]
    return numbered or [f"{NUMBERS[a]}-{NUMBERS[b]}" for a, b in _LETTERS.findall(name)]


def _day_column(name: str, texts: Sequence[str], ask: list[dict[str, Any]], today: date) -> dict[str, Any]:
    """The order of days with slashes where one date allows only it and none only the other."""
    made: dict[str, Any] = {"as": "date"}
    only = set()
    slashed = False
    for text in texts:
        ways = slashed_ways(text, today)
        slashed = slashed or len(set(ways.values())) > 1
        if len(ways) == 1:
            only |= set(ways)
    if len(only) == 1:
        made["order"] = only.pop()
    elif slashed:
        why = "days with slashes can be read two ways" if not only else "some days allow only one order, some the other"
        ask.append({"about": name, "key": "order", "why": why, "choices": ["dmy", "mdy"]})
    if any(read_day(text, today).asked == ("first", "middle", "last") for text in texts):
        why = "some days are a month or a year alone"
        ask.append({"about": name, "key": "incomplete_dates", "why": why, "choices": ["first", "middle", "last"]})
    return made


def _one_each(columns: dict[str, dict[str, Any]]) -> None:
    """The first tag and the first date column stand; others are left out."""
    for kind in ("tag", "date"):
        for name in [name for name, made in columns.items() if made.get("as") == kind][1:]:
            columns[name] = {"as": "leave_out"}


def _whose(
    book: Book, first: Tab, headings: Sequence[int], columns: dict[str, dict[str, Any]], out: dict[str, Any],
    ask: list[dict[str, Any]],
) -> None:  # fmt: skip
    """The motor where no column holds it: a cell above the headings, the tab's name, or columns named after motors."""
    if any(made.get("as") == "tag" for made in columns.values()):
        return
    for number, cells in rows_of(first):
        if number >= min(headings, default=1):
            break
        for column, cell in enumerate(cells):
            match = _TITLE.fullmatch(cell.text)
            if match and is_tag(match[1].strip()):
                out["tag"] = {"from": address(number, column)}
                return
    if book.epoch is not None and len(book.tabs) > 0 and any(re.search(r"\d", tab.name or "") for tab in book.tabs):
        out["tag"] = {"from": "tab"}
        return
    named = [
        (name, column) for column, name in column_names(first, headings).items()
        if is_tag(name) and re.search(r"[A-Za-z].*\d", name) and not is_total(name)
        and columns.get(name, {}).get("as") in (None, "leave_out") and not _pairs(name)
    ]  # fmt: skip
    if named and any(made.get("as") == "date" for made in columns.values()):
        for name, _ in named:
            columns[name] = {"as": "insulation", "from": "1-2-3", "to": "frame", "tag": name}
        ask[:] = [one for one in ask if one["about"] not in {name for name, _ in named}]
        return
    alike = _tag_like(first, headings, columns)
    if len(alike) == 1:
        columns[alike[0]] = {"as": "tag"}
        ask[:] = [one for one in ask if one.get("about") != alike[0]]
        return
    ask.append({"about": None, "key": "tag", "why": "no column seems to hold the motor", "choices": alike})


_LIKE_TAG = re.compile(r"[A-Za-z]{1,4}[-_ ./]?\d{1,5}[A-Za-z]?")


def _tag_like(tab: Tab, headings: Sequence[int], columns: dict[str, dict[str, Any]]) -> list[str]:
    """Columns not told yet whose cells nearly all look like tags, two or more of them different."""
    out = []
    for column, name in column_names(tab, headings).items():
        texts = [text for number in _rows(tab, headings) if (text := tab.cell(number, column).text)]
        like = [text for text in texts if _LIKE_TAG.fullmatch(text)]
        untold = columns.get(name, {}).get("as") in (None, "leave_out") and "parts" not in columns.get(name, {})
        if untold and len(set(like)) >= 2 and 4 * len(like) >= 3 * len(texts):
            out.append(name)
    return out
