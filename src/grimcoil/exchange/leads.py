"""`grimcoil-leads/1` in, `grimcoil-identification/1` out."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.fields import WINDING
from grimcoil.core.leads.coupling import Coupling
from grimcoil.core.leads.identify import Candidate, Identification, Puzzle
from grimcoil.core.leads.next_reading import NextTest
from grimcoil.core.leads.ohms import CONTACT, OPEN_ABOVE_OHM, OhmReading, Path
from grimcoil.core.leads.sanity import Contradiction
from grimcoil.core.readings import Reading, Shown
from grimcoil.exchange.strict import (
    MOST_TESTS,
    NotNegative,
    Positive,
    ReadingText,
    Strict,
    exact,
    first_refusal,
    load_json,
)
from grimcoil.exchange.strict import reading as read_text

FORMAT = "grimcoil-leads/1"
LeadName = Annotated[str, Field(min_length=1, max_length=20)]
Pair = tuple[LeadName, LeadName]
MOST_LEADS = 24


class Ohms(Strict):
    """What the meter shows between two leads."""

    between: Pair
    reading: ReadingText


class VoltTest(Strict):
    """Alternating voltage into one pair, read across another, some leads joined."""

    test: Literal["excite", "joined", "series"]
    source: Pair
    source_v: Positive
    across: Pair
    reading_v: NotNegative
    joined: list[LeadName] = []


class Kick(Strict):
    """A battery taken off: which way the needle goes at that moment."""

    test: Literal["kick"]
    battery_plus: LeadName
    battery_minus: LeadName
    meter_plus: LeadName
    meter_minus: LeadName
    on_break: Literal["up", "down", "none"]


class Leads(Strict):
    """`grimcoil-leads/1`: unmarked leads and what was read between them."""

    format: Literal["grimcoil-leads/1"]
    leads: Annotated[list[LeadName], Field(min_length=2, max_length=MOST_LEADS)]
    resolution: ReadingText | None = None
    counts: NotNegative = 0.5
    accuracy_percent: NotNegative | None = None
    ohms: Annotated[list[Ohms], Field(max_length=MOST_TESTS)] = []
    coupling: Annotated[
        list[Annotated[VoltTest | Kick, Field(discriminator="test")]], Field(max_length=MOST_TESTS)
    ] = []


_WAYS = {"up": True, "down": False, "none": None}
_TAGS = frozenset({"excite", "joined", "series", "kick"})


def read_leads(text: str | bytes) -> tuple[Puzzle, list[Contradiction]]:
    """A puzzle, and what its readings contradict as written (a lead that isn't there, a pair read twice).

    Raises RecordRefusal with path, what was found and what is accepted.
    """
    try:
        given = Leads.model_validate(load_json(text))
    except ValidationError as error:
        raise first_refusal(error, FORMAT, _TAGS) from None
    twice = next((name for name in given.leads if given.leads.count(name) > 1), None)
    if twice is not None:
        raise RecordRefusal("leads", twice, "each lead under a name of its own", '["A", "B", "C"]')
    number = {name: i for i, name in enumerate(given.leads)}
    told: list[Contradiction] = []
    ohms = _ohms(given, number, told)
    coupling = [made for test in given.coupling if (made := _coupling(test, number, told)) is not None]
    times = Counter(frozenset(number.get(name, -1) for name in one.between) for one in given.ohms)
    again = frozenset(pair for pair, count in times.items() if count > 1)
    return Puzzle(tuple(given.leads), tuple(ohms), tuple(coupling), again), told


def _ohms(given: Leads, number: dict[str, int], told: list[Contradiction]) -> list[OhmReading]:
    resolution = exact(given.resolution, WINDING, "resolution") or 0.0
    share = CONTACT if given.accuracy_percent is None else given.accuracy_percent / 100
    first: dict[frozenset[str], tuple[OhmReading, str]] = {}
    for i, one in enumerate(given.ohms):
        reading = read_text(one.reading, WINDING, f"ohms.{i}.reading")
        if not _there(one.between, number, told):
            continue
        made = ohm_reading(number[one.between[0]], number[one.between[1]], reading, resolution, given.counts, share)
        if made is None:
            continue
        pair = frozenset(one.between)
        earlier = first.setdefault(pair, (made, one.reading))
        if differ(earlier[0], made):
            told.append(read_twice(tuple(one.between), earlier[1], one.reading))
    return [made for made, _ in first.values()]


def read_twice(pair: tuple[str, ...], first: str, again: str) -> Contradiction:
    """A pair that reads one thing and then another."""
    text = f"{'–'.join(pair)} reads {first} and again {again}: poor contact. Clean the ends, keep one."
    return Contradiction("read-twice", text, pair)


def ohm_reading(
    first: int, second: int, reading: Reading, resolution: float, counts: float = 0.5, share: float = CONTACT
) -> OhmReading | None:
    """A meter's reading as evidence between two leads; None for what shows nothing (no beep)."""
    if reading.shown is Shown.NO_BEEP:
        return None
    if reading.shown is Shown.BEEP:
        return OhmReading(first, second, Path.CLOSED)
    if reading.shown is Shown.OVER_RANGE or reading.amount.low >= OPEN_ABOVE_OHM:
        return OhmReading(first, second, Path.OPEN)
    if not reading.amount.is_exact:
        return OhmReading(first, second, Path.CLOSED) if reading.amount.high < OPEN_ABOVE_OHM else None
    width = max(counts, 0.5) * max(resolution, reading.count or 0.0)
    return OhmReading(first, second, Path.VALUE, reading.amount.value, width, share)


def differ(one: OhmReading, other: OhmReading) -> bool:
    """Whether two readings of one pair can't both be true."""
    if one.path is not other.path:
        return True
    return one.path is Path.VALUE and abs(one.ohm - other.ohm) > one.width + other.width


def _there(names: Sequence[str], number: dict[str, int], told: list[Contradiction]) -> bool:
    missing = [name for name in names if name not in number]
    if missing:
        text = f"There is no lead {missing[0]} among {', '.join(number)}: its reading is left aside. Check the tags."
        told.append(Contradiction("lead-not-there", text, (missing[0],)))
        return False
    if len(set(names)) < len(names):
        text = f"{names[0]} is read against itself: that shows only the probes. The reading is left aside."
        told.append(Contradiction("same-lead", text, (names[0],)))
        return False
    return True


def _coupling(test: VoltTest | Kick, number: dict[str, int], told: list[Contradiction]) -> Coupling | None:
    if isinstance(test, Kick):
        source, across = (test.battery_plus, test.battery_minus), (test.meter_plus, test.meter_minus)
        if not (_there(source, number, told) and _there(across, number, told)):
            return None
        return Coupling(_numbers(source, number), _numbers(across, number), up=_WAYS[test.on_break])
    if not (_there(test.source, number, told) and _there(test.across, number, told)):
        return None
    if test.joined and not _there(test.joined, number, told):
        return None
    joined = tuple(number[name] for name in test.joined)
    return Coupling(
        _numbers(test.source, number), _numbers(test.across, number), joined, test.reading_v / test.source_v
    )


def _numbers(pair: Pair, number: dict[str, int]) -> tuple[int, int]:
    return number[pair[0]], number[pair[1]]


def to_document(found: Identification, leads: Sequence[str], told: Sequence[Contradiction] = ()) -> dict[str, Any]:
    """`grimcoil-identification/1`."""
    return {
        "format": "grimcoil-identification/1",
        "candidates": [_candidate(one) for one in found.candidates],
        "contradictions": [
            {"code": one.code, "text": one.text, "between": list(one.between)} for one in (*told, *found.contradictions)
        ],
        "next_test": None if found.next_test is None else next_document(found.next_test, leads),
    }


def _candidate(one: Candidate) -> dict[str, Any]:
    document: dict[str, Any] = {
        "scheme": one.scheme,
        "misfit": one.misfit,
        "groups": [list(group) for group in one.groups],
        "markings": {lead: list(labels) for lead, labels in one.markings.items()},
        "free": list(one.free),
        "ways": one.ways,
    }
    if one.fault is not None:
        document["fault"] = {"kind": one.fault.kind, "between": list(one.fault_between), "size": one.fault.size}
    return document


def next_document(test: NextTest, leads: Sequence[str]) -> dict[str, Any]:
    """The reading to take next, in the words of `grimcoil-leads/1`, and what it tells on average in bits."""

    def names(numbers: Sequence[int]) -> list[str]:
        return [leads[n] for n in numbers]

    if test.test == "ohms":
        return {"test": "ohms", "between": names(test.between), "bits": test.bits}
    if test.test == "kick":
        plus, minus = names(test.source)
        meter_plus, meter_minus = names(test.across)
        return {
            "test": "kick",
            "battery_plus": plus,
            "battery_minus": minus,
            "meter_plus": meter_plus,
            "meter_minus": meter_minus,
            "bits": test.bits,
        }
    document = {"test": test.test, "source": names(test.source), "across": names(test.across), "bits": test.bits}
    return {**document, "joined": names(test.joined)} if test.joined else document
