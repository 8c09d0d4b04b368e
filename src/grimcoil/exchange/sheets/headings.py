"""Which rows of a tab are its headings: below titles and what a page says of itself, one line, two, or none."""

from __future__ import annotations

import re
from collections.abc import Sequence

from grimcoil.core.tags import is_tag
from grimcoil.exchange.sheets.grid import Cell, Tab, rows_of
from grimcoil.exchange.sheets.heading_words import (
    BARE_DAY,
    DATE,
    DERIVED,
    HUMIDITY,
    INSULATION,
    LEAD,
    NOTE,
    PAIR,
    SECONDS,
    TAG,
    TEMP,
    TITLE,
    TO_FRAME,
    UNIT,
    VOLTS,
    WINDING,
    YEAR,
    figure,
    is_word,
)

LOOKED_AT = 40
_WHOLE = (TAG, DATE, NOTE, LEAD, YEAR)
_SOMEWHERE = (INSULATION, WINDING, PAIR, TO_FRAME, TEMP, VOLTS, HUMIDITY, UNIT, DERIVED, SECONDS)
_LIKE_TAG = re.compile(r"[A-Za-z]{1,5}(?:[-_ ./]\w*\d\w*|\d{2,}\w*)")
_BELOW = re.compile(r"nr\.?|no\.?|num(ber)?|name|code|id|#|of test|tested|phase|line|volts?|reading", re.IGNORECASE)


def headings_of(tab: Tab) -> list[int]:
    """The first row that reads like headings and has figures or days behind it; the row below where it goes on; none
    where there is no such row.
    """
    numbers = [number for number, _ in rows_of(tab)][:LOOKED_AT]
    worded: list[int] = []
    for i, number in enumerate(numbers):
        if i + 1 < len(numbers) and _all_words(tab.rows[number]):
            worded.append(number)
        elif worded and sum(is_data(cell) for cell in tab.rows[number]) >= 2:
            break
    if not worded:
        return []
    best = max(worded, key=lambda number: (min(_known(tab.rows[number]), 2), -number))
    following = numbers[numbers.index(best) + 1]
    return [best, following] if _goes_on(tab, following, numbers) else [best]


def _all_words(cells: Sequence[Cell]) -> bool:
    """Two cells or more, words or years, and not one that only says which motor it is about."""
    told = [cell for cell in cells if cell.text]
    words = [cell for cell in told if cell.number is None and cell.day is None and is_word(cell.text)]
    years = [cell for cell in told if YEAR.fullmatch(cell.text)]
    whole = len(told) >= 2 and len(words) + len(years) == len(told) and bool(words)
    return whole and TITLE.match(told[0].text) is None and motor_told(cells) is None


def motor_told(cells: Sequence[Cell]) -> int | None:
    """Where a row names the motor of its tab and no column: `Motor: PP-122`, or a word for it with the tag beside."""
    told = [(column, cell.text) for column, cell in enumerate(cells) if cell.text]
    for at, (column, text) in enumerate(told):
        match = TITLE.fullmatch(text)
        if match and is_tag(match[1].strip()):
            return column
        beside = told[at + 1][1] if at + 1 < len(told) else ""
        if TAG.fullmatch(text.rstrip(" :")) and _LIKE_TAG.fullmatch(beside) and is_tag(beside):
            return told[at + 1][0]
    return None


def _known(cells: Sequence[Cell]) -> int:
    """How many of its cells are words that stand over columns."""
    texts = [cell.text for cell in cells if cell.text]
    return sum(
        any(words.fullmatch(text) for words in _WHOLE) or any(words.search(text) for words in _SOMEWHERE)
        for text in texts
    )


def _goes_on(tab: Tab, following: int, numbers: Sequence[int]) -> bool:
    """Whether the row below is a second line of the headings: under gaps of the first, or of such words alone."""
    below = [cell for cell in tab.rows[following] if cell.text]
    named = bool(below) and all(cell.number is None and cell.day is None and is_word(cell.text) for cell in below)
    if not named or numbers[-1] == following or all(UNIT.fullmatch(cell.text.strip("[]() ")) for cell in below):
        return False
    if not tab.cell(following, 0).text or (following, 0) in tab.merged:
        return True
    return all(_BELOW.fullmatch(cell.text.strip("[]() ")) or _known([cell]) for cell in below)


def is_data(cell: Cell) -> bool:
    """A figure or a day."""
    typed = cell.number is not None or cell.day is not None
    return typed or (bool(cell.text) and (figure(cell.text) or BARE_DAY.fullmatch(cell.text) is not None))


def begins_with_data(tab: Tab) -> bool:
    """No heading row at all: the first row has a figure or a day in two cells, and the rows below are like it."""
    rows = [cells for _, cells in rows_of(tab)][:3]
    kinds = [[is_data(cell) for cell in cells] for cells in rows]
    return bool(kinds) and sum(kinds[0]) >= 2 and all(kind[: len(kinds[0])] == kinds[0] for kind in kinds)


def units_row_of(tab: Tab, headings: Sequence[int]) -> int | None:
    """The row below the headings where it holds nothing but units."""
    number = max(headings, default=0) + 1
    cells = [cell.text.strip("[]() ") for cell in tab.rows.get(number, []) if cell.text]
    return number if cells and all(UNIT.fullmatch(text) or text in ("s", "-") for text in cells) else None
