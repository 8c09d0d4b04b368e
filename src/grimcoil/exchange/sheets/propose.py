"""A proposed map of a file: what each heading seems to mean, and what it can't know is asked."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import date
from typing import Any

from grimcoil.core.plate_fields import FIELDS, PLATE, POSITION
from grimcoil.core.tags import is_tag
from grimcoil.exchange.sheets.days import read_day, slashed_ways
from grimcoil.exchange.sheets.grid import Book, Tab, address, rows_of
from grimcoil.exchange.sheets.heading_words import (
    AMBIENT,
    BARE_DAY,
    DATE,
    DERIVED,
    HUMIDITY,
    INSULATED,
    INSULATION,
    LETTERS,
    NOTE,
    NUMBERS,
    PAIR,
    SECONDS,
    TAG,
    TEMP,
    TO_FRAME,
    VOLTS,
    YEAR,
    figure,
    lead_named,
    plate_field,
    unit_in,
)
from grimcoil.exchange.sheets.headings import begins_with_data, headings_of, motor_told, units_row_of
from grimcoil.exchange.sheets.layout import NOTHING, column_names, is_total
from grimcoil.exchange.sheets.long_table import OWN_READINGS
from grimcoil.exchange.sheets.mapping import FORMAT, READINGS, UNITS
from grimcoil.exchange.workbooks import REGISTER

LOOKED_AT = 400  # rows of a tab


def propose(book: Book, today: date, told: Sequence[int] | None = None) -> dict[str, Any]:
    """`grimcoil-map/1`: headings found, columns named, decimal sign and order of days where the file shows them.
    told: which rows are headings, where a person says so; none where it is empty.
    """
    first = next((tab for tab in book.tabs if headings_of(tab)), book.tabs[0] if book.tabs else Tab(None))
    headings = headings_of(first) or ([] if begins_with_data(first) else [1])
    headings = headings if told is None else sorted(set(told))
    names = column_names(first, headings)
    units_row = units_row_of(first, headings)
    out: dict[str, Any] = {"format": FORMAT}
    if book.encoding:
        out |= {"encoding": book.encoding, "delimiter": book.delimiter}
    if book.epoch is not None:
        each = {tab.name: _same(tab, first, headings) for tab in book.tabs}
        out["sheet"] = [name for name, rows in each.items() if rows is not None]
        apart = {name: rows and {"headings": rows} for name, rows in each.items() if rows != headings}
        if apart:
            out["tabs"] = apart
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
    if not any(made.get("as") in READINGS or "parts" in made for made in columns.values()):
        _list_of_motors(columns, ask)
    if own := _own(list(names.values())):
        columns = own
        ask.clear()
    _one_each(columns)
    out["columns"] = columns
    _whose(book, first, headings, columns, out, ask)
    _days_open(columns, ask)
    out["ask"] = ask
    return out


# Our own register as CSV and XLSX: its verdicts and figures are judged from readings, not taken.
OWN_REGISTER: dict[str, dict[str, Any]] = {
    "motor": {"as": "tag"}, "position": {"as": "position.name"}, "area": {"as": "position.area"},
    **{name: {"as": f"plate.{name}"} for name in ("power", "rated_voltage_v", "lead_scheme")},
}  # fmt: skip


def _own(names: Sequence[str]) -> dict[str, dict[str, Any]]:
    """The columns of a file that we wrote; nothing of another."""
    if set(REGISTER) <= set(names):
        return {name: OWN_REGISTER.get(name, {"as": "leave_out"}) for name in names}
    return {name: dict(made) for name, made in OWN_READINGS.items()} if set(names) == set(OWN_READINGS) else {}


def _days_open(columns: dict[str, dict[str, Any]], ask: list[dict[str, Any]]) -> None:
    """What the file leaves open about its days."""
    if any("date" in made for made in columns.values()):
        why = "the columns are years alone"
        choices = ["first", "middle", "last"]
        ask.append({"about": None, "key": "incomplete_dates", "why": why, "choices": choices})
    dated = any(made.get("as") == "date" or "date" in made for made in columns.values())
    if not dated and not any(made.get("as") in FIELDS for made in columns.values()):
        ask.append({"about": None, "key": "date", "why": "no column seems to hold the day", "choices": []})


def _list_of_motors(columns: dict[str, dict[str, Any]], ask: list[dict[str, Any]]) -> None:
    """Without any reading it is a list of motors: what it says of plates and places, where a column is one of them."""
    taken = set()
    for name, made in list(columns.items()):
        found = (
            plate_field(re.sub(r" \[[A-Z]+\]$", "", name)) if made.get("as") not in ("tag", "date", "note") else None
        )
        if found is not None and found[0] not in taken:
            taken.add(found[0])
            columns[name] = {"as": found[0]} | ({"unit": found[1]} if found[1] else {})
            ask[:] = [one for one in ask if one["about"] != name]


def _rows(tab: Tab, headings: Sequence[int]) -> list[int]:
    return [number for number, _ in rows_of(tab) if number > max(headings, default=0)][:LOOKED_AT]


def _same(tab: Tab, first: Tab, headings: Sequence[int]) -> Sequence[int] | None:
    """The heading rows of a tab with the same columns, wherever they stand in it; None where it has others."""
    names = set(column_names(first, headings).values())
    for rows in (headings, headings_of(tab)):
        if names <= set(column_names(tab, rows).values()):
            return rows
    return None


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
    bare = _under(tab, column, headings) or re.sub(r"\s*\[[A-Z]{1,3}\]$", "", name)
    texts = [t for n in _rows(tab, headings) if n != units_row and (t := tab.cell(n, column).text)]
    unit = unit_in(bare) or (unit_in(tab.cell(units_row, column).text) if units_row else None)
    if not bare and not texts:
        return None
    last = bare.rpartition("/")[2].strip() if " / " in bare else bare
    if TAG.fullmatch(last) or TAG.fullmatch(bare.replace(" / ", " ")):
        return {"as": "tag"}
    if DATE.fullmatch(last) or (not headings and texts and all(BARE_DAY.fullmatch(text) for text in texts)):
        return _day_column(name, texts, ask, today)
    if NOTE.fullmatch(last):
        return {"as": "note"}
    found = _reading_column(bare, unit, texts)
    if found is not None:
        if "as" not in found and "parts" not in found:
            why = "the heading doesn't say what was read"
            ask.append({"about": name, "key": "as", "why": why, "choices": ["insulation", "winding_resistance"]})
        return found
    if DERIVED.search(bare):
        return {"as": "leave_out"}
    if HUMIDITY.search(bare):
        return {"as": "relative_humidity_percent"}
    if VOLTS.search(bare):
        return {"as": "test_voltage_v"} | ({"unit": "kV"} if unit == "kV" else {})
    if TEMP.search(bare) or unit in ("°C", "°F"):
        kind = "ambient_temperature_c" if AMBIENT.search(bare) else "winding_temperature_c"
        made: dict[str, Any] = {"as": kind}
        if unit in ("°C", "°F"):
            made["unit"] = unit
        return made
    return {"as": "leave_out"} if not texts or not _mostlyfigures(texts) else _unknown(name, ask)


def _under(tab: Tab, column: int, headings: Sequence[int]) -> str:
    """A second line under a gap of the first goes with what stands to its left: `Megger` over T1, T2, T3."""
    if len(headings) != 2:
        return ""
    first, second = headings
    below = tab.cell(second, column).text
    if tab.cell(first, column).text or not below:
        return ""
    left = next((one for one in range(column - 1, -1, -1) if tab.cell(first, one).text), None)
    return "" if left is None or not tab.cell(second, left).text else f"{tab.cell(first, left).text} / {below}"


def _unknown(name: str, ask: list[dict[str, Any]]) -> dict[str, Any]:
    ask.append({"about": name, "key": "as", "why": "figures under a heading that could be anything",
                "choices": ["insulation", "winding_resistance", "leave_out"]})  # fmt: skip
    return {}


def _mostlyfigures(texts: Sequence[str]) -> bool:
    return sum(figure(text) or text.lower() in ("ol", *NOTHING) for text in texts) > len(texts) / 2


def _reading_column(name: str, unit: str | None, texts: Sequence[str]) -> dict[str, Any] | None:
    """Insulation or winding ohms, by ends, unit or word; None where it is neither."""
    frame, pairs = TO_FRAME.search(name), _pairs(name)
    derived = DERIVED.search(name)
    held = {} if (time := SECONDS.search(name)) is None else {"t_s": _seconds(time)}
    if frame is not None and not derived:
        return (
            {"as": "insulation", "from": NUMBERS.get(frame[1].upper(), frame[1]), "to": "frame"} | held | _given(unit)
        )
    if derived:
        return None
    if len(pairs) > 1:
        parts = [{"as": "winding_resistance", "pair": pair} | _given(unit) for pair in pairs]
        return {"parts": parts}
    insulating = INSULATION.search(name) is not None or unit in ("MΩ", "GΩ")
    lead = lead_named(name.rpartition("/")[2])
    if lead is not None and (unit in ("MΩ", "GΩ") or INSULATED.search(name)):
        return {"as": "insulation", "from": lead, "to": "frame"} | held | _given(unit)
    if pairs:
        if unit in ("MΩ", "GΩ") or INSULATED.search(name):
            one, other = pairs[0].split("-")
            return {"as": "insulation", "from": one, "to": other} | held | _given(unit)
        return {"as": "winding_resistance", "pair": pairs[0]} | _given(unit)
    if insulating:
        return {"as": "insulation", "from": "1-2-3", "to": "frame"} | held | _given(unit)
    if YEAR.fullmatch(name) and _mostlyfigures(texts):
        return {"as": "insulation", "from": "1-2-3", "to": "frame", "date": name}
    return None


def _given(unit: str | None) -> dict[str, str]:
    return {"unit": unit} if unit in (*UNITS["insulation"], *UNITS["winding_resistance"]) else {}


def _seconds(match: re.Match[str]) -> float:
    return float(match[1]) * (60 if match[2].lower() in ("min", "m") else 1)


def _pairs(name: str) -> list[str]:
    numbered = [f"{a}-{b}" for a, b in PAIR.findall(name)]
    return numbered or [f"{NUMBERS[a]}-{NUMBERS[b]}" for a, b in LETTERS.findall(name)]


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
    held = {str(made.get("as")) for made in columns.values()}
    if f"{POSITION}name" in held and not any(one in READINGS or one.startswith(PLATE) for one in held):
        return  # a list of positions is about no motor
    for number, cells in rows_of(first):
        if number >= min(headings, default=1):
            break
        if (column := motor_told(cells)) is not None:
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
