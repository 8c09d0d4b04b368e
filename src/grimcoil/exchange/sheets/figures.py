"""A cell of readings by the meter's grammar: the file's decimal sign, the column's unit, several in one cell."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.errors import ReadingRefusal, UnclearReading
from grimcoil.core.fields import Field
from grimcoil.core.readings import Reading, Shown, parse_reading, say
from grimcoil.exchange.sheets.grid import Cell
from grimcoil.exchange.sheets.mapping import CONDITIONS, HOME, READINGS, UNITS, Part, unit_of

_NUMBER = re.compile(r"\d[\d.,']*")
_BARE = re.compile(r"[<>≥≤~]?\s*-?[\d.,]+\s*\+?(\s*(?:-|–|to)\s*[\d.,]+)?")
_PIECES = re.compile(r"[/|;]|\s+|(?<=\S)-(?=\S)")
WHICH_SIGN = "is the sign a decimal one or one of thousands?"
SEVERAL = "several readings in one cell: which is which?"


@dataclass(frozen=True, slots=True)
class Understood:
    """A reading: its amount in the home unit, how it was shown, in words."""

    shown: Shown
    amount: Amount
    words: str
    bare: bool

    def document(self, field: str) -> dict[str, object]:
        """As `read_as` tells it."""
        bound = self.amount.bound
        out: dict[str, object] = {
            "value": self.amount.value,
            "bound": bound.value,
            "unit": HOME[field],
            "words": self.words,
        }
        if self.shown is Shown.OVER_RANGE:
            out |= {"value": None if bound is Bound.NOTHING else self.amount.low, "bound": "above"}
        elif self.shown in (Shown.BEEP, Shown.NO_BEEP):
            out |= {"value": None, "bound": "nothing"}
        elif bound is Bound.BETWEEN:
            out |= {"value": self.amount.low, "high": self.amount.high}
        return out


@dataclass(frozen=True, slots=True)
class Question:
    """A cell that can be read in more than one way."""

    text: str
    choices: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Refused:
    """A cell that can't be read; what would do."""

    accepted: str


Outcome = Understood | Question | Refused


def field_of(name: str) -> Field:
    """The grammar's field of a column."""
    return READINGS.get(name) or CONDITIONS[name]


def read_cell(cell: Cell, one: Part, decimal: str | None) -> Outcome:
    """One reading of one cell."""
    name = one.as_ or ""
    if cell.broken:
        return Refused("a value: a formula without a stored one, or an error, is none")
    if cell.day is not None:
        return Question("a day, or readings that a program turned into one?", (cell.text, "leave out"))
    if cell.number is not None:
        return _bounded(f"{cell.number:.15g}", one)
    text = cell.text
    if name == "insulation" and text.lower() in ("beep", "beeps"):
        return Refused("megohms, or OL: a beep is no insulation reading")
    if _several(text):
        return Question(SEVERAL, ("leave out",))
    plain = _decimal(text, decimal)
    if isinstance(plain, Question):
        return plain
    return _bounded(plain, one)


# A letter in the place of the point, as on a component: 0R476, 1G2.
_LETTER_POINT = re.compile(r"[<>]?\s*\d*[RkKMGTm]\d+")


def _several(text: str) -> bool:
    """More figures than one reading has; two with a dash between are a band, a letter may stand for the point."""
    figures = _NUMBER.findall(text)
    if len(figures) < 2 or _LETTER_POINT.fullmatch(text):
        return False
    return not (len(figures) == 2 and re.fullmatch(r"[^\d]*[\d.,]+\s*\S{0,4}\s*(-|–|to)\s*[\d.,]+\s*\S{0,4}", text))


def _decimal(text: str, decimal: str | None) -> str | Question:
    """Text with points for decimal signs."""
    sign = decimal or "."
    other = "," if sign == "." else "."

    def one(match: re.Match[str]) -> str:
        number = match[0].replace("'", "")
        tail = "," if number.endswith(",") else "." if number.endswith(".") else ""
        number = number.removesuffix(tail) if tail else number
        if sign in number and other in number:
            return number.replace(other, "").replace(sign, ".")
        if number.count(sign) > 1:
            return number.replace(sign, "")
        if sign in number:
            return number.replace(sign, ".")
        if number.count(other) > 1:
            return number.replace(other, "")
        if other in number:
            whole, _, rest = number.partition(other)
            if len(rest) == 3 and 1 <= len(whole) <= 3 and not whole.startswith("0"):
                raise _Unsure(f"{whole}.{rest}", f"{whole}{rest}")
            return number.replace(other, ".")
        return number

    try:
        return _NUMBER.sub(one, text)
    except _Unsure as unsure:
        return Question(WHICH_SIGN, (*unsure.ways, "leave out"))


class _Unsure(Exception):
    def __init__(self, *ways: str) -> None:
        self.ways = ways
        super().__init__()


def _bounded(plain: str, one: Part) -> Outcome:
    """By the grammar; a bare figure in the column's unit."""
    name = one.as_ or ""
    field, unit, home = field_of(name), unit_of(one), HOME[name]
    bare = _BARE.fullmatch(plain.strip()) is not None
    zero = re.fullmatch(r"0+(?:\.0+)?(?:\s*[kMG]?Ω)?|zero", plain.strip(), re.IGNORECASE) is not None
    if name == "insulation" and zero:
        return Question("a dead short, or nothing shown?", ("short", "OL", "leave out"))
    factor = UNITS[name].get(unit, 1.0)
    if bare and unit == "°F":
        plain = f"{plain} °F"
    try:
        reading = parse_reading(plain, field)
    except UnclearReading as unclear:
        return Question(unclear.accepted, (*unclear.choices, "leave out"))
    except ReadingRefusal as refusal:
        return Refused(refusal.accepted)
    if bare and unit not in (home, "°F", ""):
        reading = _scaled(reading, factor)
    return _told(reading, field, bare, factor_of(field))


def factor_of(field: Field) -> float:
    """Home units in an SI unit."""
    return 1.0 / field.home_factor


def _scaled(reading: Reading, factor: float) -> Reading:
    amount = reading.amount
    return Reading(reading.text, reading.shown, Amount(amount.low * factor, amount.high * factor), reading.count)


def _told(reading: Reading, field: Field, bare: bool, home: float) -> Understood:
    amount = reading.amount
    made = Amount(_tidy(amount.low * home), amount.high if math.isinf(amount.high) else _tidy(amount.high * home))
    words = say(reading, field)
    return Understood(reading.shown, made, words[:1].lower() + words[1:], bare)


def _tidy(value: float) -> float:
    """The decimal figure that was typed, without the last bits of a change of unit."""
    return float(f"{value:.15g}")


def pieces(text: str, many: int) -> list[str] | None:
    """A cell split where that gives as many readings as there are parts; None where no way does."""
    for sign in ("/", "|", ";", " ", "-"):
        parts = [part.strip() for part in (text.split() if sign == " " else text.split(sign))]
        if len(parts) == many and all(parts):
            return parts
    parts = [part for part in _PIECES.split(text) if part.strip()]
    return [part.strip() for part in parts] if len(parts) == many else None
