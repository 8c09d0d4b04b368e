"""What is said in several cells at once: figures in another unit, tests with two values, what is stored already."""

from __future__ import annotations

from bisect import bisect_left
from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from grimcoil.core.amount import Amount
from grimcoil.core.plate_fields import FIELDS, POSITION
from grimcoil.exchange.sheets.layout import tag_key
from grimcoil.exchange.sheets.mapping import READINGS
from grimcoil.exchange.sheets.taken import Import, Place, PlateCell, Register, Same, Stored, Taken

LEAVE_OUT = "leave out"
PLACE = f"{POSITION}name"
STORED, FILE, BOTH = "stored", "file", "both"
FAR, FARTHER = 700.0, 1400.0  # a bare figure so many times its neighbours is in another unit
_Doubts = dict[Taken, tuple[str, tuple[str, ...]]]


@dataclass(frozen=True, slots=True)
class Answered:
    """Answers by cell, and what stood in a cell that was answered; against: of a stored value, which one stands."""

    answers: Mapping[str, str]
    was: Mapping[str, tuple[str, Amount]]
    against: Mapping[str, str]

    def at(self, place: Place) -> str | None:
        """What was answered for a cell."""
        return self.answers.get(place.key) if self.answers else None

    def stood(self, one: Taken) -> tuple[str, Amount | None]:
        """What its cell showed before any answer."""
        return self.was.get(one.place.key, (one.text, one.read.amount if one.read else None))


def settle(
    candidates: Sequence[Taken], plates: Sequence[PlateCell], out: Import, known: Register, answered: Answered
) -> None:  # fmt: skip
    """Put into `out` what goes in, what is there already, and what has to be asked of all that was read."""
    keys = [one.same for one in candidates]
    dropped: set[Taken] = set()
    doubtful = _far(candidates) | _two_values(candidates, keys, out, answered, dropped)
    by_cell: dict[str, tuple[str, tuple[str, ...]]] = {}
    for taken, doubt in doubtful.items():
        by_cell.setdefault(taken.place.key, doubt)
    stored = known.stored_of({one.tag for one in candidates})
    first: dict[Same, Taken] = {}
    asked_cells: set[str] = set()
    for one, same in zip(candidates, keys, strict=True):
        if one in dropped:
            continue
        key = one.place.key if by_cell else ""
        if key not in by_cell:
            _settle_one(one, same, first, out, stored, answered)
        elif key not in asked_cells:
            asked_cells.add(key)
            out.ask(one.place, one.tag, one.on, one.text, *by_cell[key])
    _settle_plates(plates, out, known, answered)
    registered = {tag_key(tag) for tag in known.tags}
    told = dict.fromkeys([*(one.tag for one in out.taken), *(one.tag for one in out.plates if not one.alone)])
    out.new_motors = [tag for tag in told if tag_key(tag) not in registered]


def _settle_plates(plates: Sequence[PlateCell], out: Import, known: Register, answered: Answered) -> None:
    """A field that is stored otherwise, or that the file tells twice, is asked; the same is there already."""
    values: dict[tuple[str, str], set[str]] = defaultdict(set)
    for one in plates:
        values[one.about, one.field].add(one.value)
    stored = dict(known.plates_of({one.tag for one in plates if not one.alone})) if plates else {}
    stored |= known.positions_of({one.tag for one in plates if one.alone}) if plates else {}
    first: dict[tuple[str, str], PlateCell] = {}
    for one in plates:
        key = one.about, one.field
        if one.field.startswith(POSITION) and not {(key[0], PLACE)} & (values.keys() | stored.keys()):
            told = {"found": one.text, "accepted": "the name of its position with it"}
            out.refused.append(one.place.document() | told)
            continue
        standing, against = stored.get(key, ""), answered.against.get(one.place.key, "")
        if len(values[key]) > 1:
            choices = (*sorted(values[key]), LEAVE_OUT)
            out.ask(
                one.place, one.tag, None, one.text, f"{_named(one.field)} with two values: which is right?", choices
            )
        elif _alike(standing, one.value) or (standing and (against == STORED or (one.alone and one.field == PLACE))):
            _plate_double(one, "stored", out)
        elif standing and one.field == PLACE:
            question = f"it stands at {standing}: move it on its life's page"
            out.ask(one.place, one.tag, None, one.text, question, (STORED, LEAVE_OUT))
        elif standing and against != FILE:
            question = f"{standing} is stored as {_named(one.field)}: which stands?"
            out.ask(one.place, one.tag, None, one.text, question, (STORED, FILE))
        elif key in first:
            _plate_double(one, first[key].place.cell, out)
        else:
            first[key] = one
            out.plates.append(one)


def _alike(one: str, other: str) -> bool:
    return one.casefold().replace(" ", "") == other.casefold().replace(" ", "")


def _named(field: str) -> str:
    return FIELDS[field].words


def _plate_double(one: PlateCell, same_as: str, out: Import) -> None:
    told = {"tag": one.tag, "date": None, "field": one.field, "same_as": same_as}
    out.duplicates.append(one.place.document() | told)


def _settle_one(
    one: Taken, same: Same, first: dict[Same, Taken], out: Import, stored: Stored, answered: Answered
) -> None:  # fmt: skip
    """Stored already, said twice in the file, or in; first: what is in, by what makes it one test."""
    if one.one.as_ not in READINGS:
        if same[:2] in stored.days:
            _double(one, "stored", out)
        else:
            out.taken.append(one)
        return
    if one.read is None:
        return
    standing, earlier = stored.values.get(same, ()), first.get(same)
    against = answered.against.get(one.place.key, "")
    if any(value.amount == one.read.amount for value in standing) or (standing and against == STORED):
        _double(one, "stored", out)
    elif standing and (not against or (against == FILE and same in stored.signed)):
        words = ", ".join(value.words for value in standing)
        signed = same in stored.signed
        question = f"{words} is {'signed' if signed else 'stored'}: which stands?"
        out.ask(one.place, one.tag, one.on, one.text, question, (STORED, *(() if signed else (FILE,)), BOTH))
    elif earlier is not None:
        _double(one, earlier.place.cell, out)
    else:
        first[same] = one
        out.taken.append(replace(one, against=against) if standing else one)


def _double(one: Taken, same_as: str, out: Import) -> None:
    told = {"tag": one.tag, "date": one.on.isoformat(), "field": one.one.as_, "same_as": same_as}
    out.duplicates.append(one.place.document() | told)


def _far(candidates: Sequence[Taken]) -> _Doubts:
    """A bare winding figure a thousand times above or below the same motor's others."""
    by_motor: dict[str, list[Taken]] = defaultdict(list)
    for one in candidates:
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


def _two_values(
    candidates: Sequence[Taken], keys: Sequence[Same], out: Import, answered: Answered, dropped: set[Taken]
) -> _Doubts:
    """One test with two values in the file: all its cells are asked. dropped: those that an answer settled."""
    doubts: _Doubts = {}
    for same in _several(candidates, keys):
        values = {(one.read.amount, one.read.shown) for one in same if one.read is not None}
        if len(values) < 2:
            continue
        settled = _settled(same, answered)
        if settled is None:
            texts = dict.fromkeys(answered.stood(one)[0] for one in same)
            for one in same:
                doubts[one] = "one test with two values: which is right?", (*texts, LEAVE_OUT)
            continue
        for one in same:
            if one.read is not None and one.read.amount != settled:
                dropped.add(one)
                told = {"sheet": one.place.sheet, "row": one.place.row, "why": "answered", "found": one.text}
                out.left_out.append(told)
    return doubts


def _several(candidates: Sequence[Taken], keys: Sequence[Same]) -> Iterator[list[Taken]]:
    """Readings that are of one test, where there is more than one of it."""
    first: dict[Same, Taken] = {}
    more: dict[Same, list[Taken]] = {}
    for one, same in zip(candidates, keys, strict=True):
        if one.read is not None and one.one.as_ in READINGS and first.setdefault(same, one) is not one:
            more.setdefault(same, [first[same]]).append(one)
    yield from more.values()


def _settled(same: Sequence[Taken], answered: Answered) -> Amount | None:
    """One answer at any of these cells settles all of them; one that is none of their values settles nothing."""
    said = {one.read.amount for one in same if one.read and answered.at(one.place)}
    shown = {answered.stood(one)[1] for one in same}
    return said.pop() if len(said) == 1 and said <= shown else None


def median_without(ordered: Sequence[float], value: float) -> float:
    """The median of ordered figures without one of them, which is there; without going through all of them."""
    out, left = bisect_left(ordered, value), len(ordered) - 1
    at = [ordered[i + (i >= out)] for i in ((left - 1) // 2, left // 2)]
    return (at[0] + at[1]) / 2
