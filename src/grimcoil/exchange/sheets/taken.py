"""What a sheet gave: readings with their cells, what was asked, refused and left out; and what was known before."""

from __future__ import annotations

import json
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from itertools import chain
from typing import Any

from grimcoil.core.plate_fields import FIELDS
from grimcoil.exchange.sheets.figures import Understood
from grimcoil.exchange.sheets.layout import tag_key
from grimcoil.exchange.sheets.mapping import Part

Same = tuple[str, date, str | None, str, str, str, float]  # motor, day, field, pair, from, to, hold
HOLD_S = 60.0  # what a reading without its hold is taken as


@dataclass(frozen=True, slots=True)
class Place:
    """A cell: its tab (None for CSV), row, address and column's name."""

    sheet: str | None
    row: int
    cell: str
    column: str
    hidden: bool = False

    def document(self) -> dict[str, Any]:
        """As the answer tells it."""
        return {"sheet": self.sheet, "row": self.row, "column": self.column, "cell": self.cell}

    @property
    def key(self) -> str:
        """As an answer names it."""
        return self.cell if self.sheet is None else f"{self.sheet}!{self.cell}"


@dataclass(frozen=True, slots=True, eq=False)
class Taken:
    """One reading, condition or note that goes in."""

    place: Place
    part: int | None
    tag: str
    on: date
    one: Part
    text: str
    read: Understood | None
    against: str = ""  # another value that is stored: `file` takes its place, `both` stand

    @property
    def same(self) -> Same:
        """What makes it one test: motor, day, field, points, hold."""
        one = self.one
        if one.as_ != "insulation":
            return tag_key(self.tag), self.on, one.as_, one.pair or "", "", "", HOLD_S
        ends = one.from_ or "1-2-3", one.to or "frame"
        return tag_key(self.tag), self.on, one.as_, "", *ends, one.t_s or HOLD_S

    def document(self) -> dict[str, Any]:
        """As the answer tells it."""
        out = self.place.document()
        if self.part is not None:
            out["part"] = self.part
        out |= {"tag": self.tag, "date": self.on.isoformat(), "field": self.one.as_}
        out |= points(self.one) | {"text": self.text}
        out["read_as"] = None if self.read is None else self.read.document(self.one.as_ or "")
        return out | ({"hidden": True} if self.place.hidden else {})


def points(one: Part) -> dict[str, Any]:
    """Pair, ends and hold of a reading as lists and figures."""
    out: dict[str, Any] = {}
    if one.as_ == "winding_resistance":
        out["pair"] = one.pair
    if one.as_ == "insulation":
        out["from"] = (one.from_ or "1-2-3").split("-")
        out["to"] = (one.to or "frame").split("-")
        out["t_s"] = one.t_s
    return out


@dataclass(frozen=True, slots=True)
class PlateCell:
    """One field of a motor's plate or place that goes in; value: in its home unit, as a form would take it. alone: of a
    list of positions, whose name stands for the motor's tag.
    """

    place: Place
    tag: str
    field: str
    text: str
    value: str
    alone: bool = False

    @property
    def about(self) -> str:
        """Which motor, or which position of a list of them: no tag has a line's end."""
        return f"\n{self.tag.casefold()}" if self.alone else tag_key(self.tag)

    def document(self) -> dict[str, Any]:
        """As the answer tells it."""
        unit = FIELDS[self.field].unit
        value: float | str = float(self.value) if unit else self.value
        read = {"value": value, "bound": "exact", "unit": unit or None, "words": f"{self.value} {unit}".strip()}
        whose = {"tag": None, "position": self.tag} if self.alone else {"tag": self.tag}
        told = whose | {"date": None, "field": self.field, "text": self.text, "read_as": read}
        return self.place.document() | told | ({"hidden": True} if self.place.hidden else {})


@dataclass
class Import:
    """A file as it was understood."""

    rows: int = 0
    taken: list[Taken] = field(default_factory=list)
    asked: list[dict[str, Any]] = field(default_factory=list)
    refused: list[dict[str, Any]] = field(default_factory=list)
    left_out: list[dict[str, Any]] = field(default_factory=list)
    duplicates: list[dict[str, Any]] = field(default_factory=list)
    new_motors: list[str] = field(default_factory=list)
    plates: list[PlateCell] = field(default_factory=list)

    @property
    def count(self) -> int:
        """Readings, conditions, notes and fields of plates that go in."""
        return len(self.taken) + len(self.plates)

    def ask(
        self, place: Place, tag: str | None, on: date | None, found: str, question: str, choices: Sequence[str]
    ) -> None:  # fmt: skip
        """A cell that a person has to say something of."""
        day = None if on is None else on.isoformat()
        told = {"tag": tag, "date": day, "found": found, "question": question, "choices": list(choices)}
        self.asked.append(place.document() | told)

    def document(self) -> dict[str, Any]:
        """`grimcoil-import/1`."""
        return self._document([*(one.document() for one in self.taken), *(one.document() for one in self.plates)])

    def _document(self, understood: Sequence[Any]) -> dict[str, Any]:
        return {
            "format": "grimcoil-import/1", "rows": self.rows, "taken": self.count, "understood": understood,
            "asked": self.asked, "refused": self.refused, "left_out": self.left_out, "duplicates": self.duplicates,
            "new_motors": self.new_motors,
        }  # fmt: skip

    def text(self) -> Iterator[str]:
        """The same as JSON, a piece at a time: the whole of a long sheet is several times as large as the sheet."""
        start, end = _json(self._document([_HERE])).split(f'"{_HERE}"', 1)
        yield start.rstrip() if not self.count else start
        said = chain((one.document() for one in self.taken), (one.document() for one in self.plates))
        for number, document in enumerate(said):
            yield (",\n" if number else "") + _json(document)
        yield end.lstrip() if not self.count else end


_HERE = "understood goes here"


def _json(document: dict[str, Any]) -> str:
    return json.dumps(document, ensure_ascii=False, indent=1, allow_nan=False)


@dataclass(frozen=True, slots=True)
class Stored:
    """What is on record of some motors: values by motor, day, field, points and hold; those of them that a person
    signed, whose place a sheet can't take; the days that came by a sheet.
    """

    values: Mapping[Same, Sequence[Understood]] = field(default_factory=dict)
    signed: frozenset[Same] = frozenset()
    days: frozenset[tuple[str, date]] = frozenset()


def nothing_stored(_: Collection[str]) -> Stored:
    """Where there is no register to ask."""
    return Stored()


Plates = Mapping[tuple[str, str], str]


def no_plates(_: Collection[str]) -> Plates:
    """Where there is no register to ask."""
    return {}


@dataclass(frozen=True, slots=True)
class Register:
    """What is known already: tags, and what is stored of those among them that a file is about; plates by motor and
    field, without what is empty; positions of a list by what it is about and field.
    """

    tags: Sequence[str] = ()
    stored_of: Callable[[Collection[str]], Stored] = nothing_stored
    plates_of: Callable[[Collection[str]], Plates] = no_plates
    positions_of: Callable[[Collection[str]], Plates] = no_plates
