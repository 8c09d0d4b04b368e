"""Pairs of leads under one name, and which of them can be compared with one another by the lead scheme."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from grimcoil.core.stator.letters import number_of
from grimcoil.core.stator.schemes import SCHEMES

LINE_PAIRS = ("1-2", "2-3", "3-1")
TRIPLES = (LINE_PAIRS, ("7-8", "8-9", "9-7"), ("4-5", "5-6", "6-4"), ("11-12", "12-13", "13-11"))
AGAIN = " (again)"
# The terminals of the high speed, where its readings are named like the low speed's.
HIGH_SPEED = {
    "two-speed-two-winding": dict(zip(LINE_PAIRS, ("11-12", "12-13", "13-11"), strict=True)),
    "two-speed-one-winding-delta": dict(zip(LINE_PAIRS, ("4-5", "5-6", "6-4"), strict=True)),
    "two-speed-one-winding-wye": dict(zip(LINE_PAIRS, ("4-5", "5-6", "6-4"), strict=True)),
}
_TURNED = {"-".join(reversed(pair.split("-"))): pair for triple in TRIPLES for pair in triple}


@dataclass(frozen=True, slots=True)
class PairSet:
    """Pairs that a sound winding reads alike. expected: ohms in units of a half-coil, None where unknown;
    star: they are the three pairs of three terminals, not single coils.
    """

    pairs: tuple[str, ...]
    expected: float | None
    star: bool


@lru_cache(maxsize=4096)
def pair_of(name: str, scheme: str) -> str:
    """One spelling for a pair: `2-1`, `V-U`, `T2–T1` are `1-2`.

    >>> pair_of("W1–U1", "three-lead"), pair_of("4-1", "six-lead"), pair_of("1-2 (again)", "six-lead")
    ('3-1', '1-4', '1-2')
    """
    plain = name.removesuffix(AGAIN).replace("–", "-").replace("/", "-")
    ends = [_end(end, scheme) for end in plain.split("-")]
    pair = "-".join(ends)
    if pair in _TURNED:
        return _TURNED[pair]
    if any(pair in triple for triple in TRIPLES) or len(ends) != 2:
        return pair
    return "-".join(sorted(ends, key=lambda end: (len(end), end)))


def _end(mark: str, scheme: str) -> str:
    bare = mark.strip().upper()
    if bare in {"L1", "L2", "L3"}:  # at the starter: what lead 1 hangs on
        return bare[1:]
    if scheme.startswith("three-lead") and bare in {"U1", "V1", "W1"}:
        mark = bare[:-1]
    return number_of(mark, scheme)


# What `stator.network` works out for each scheme, as a table so that judging a job doesn't load it; a test holds both
# together. Ohms in half-coils, and the pairs that read so.
_LINE, _SECOND, _TAPS = "1-2 2-3 3-1", "7-8 8-9 9-7", "4-5 5-6 6-4"
_JOINED: dict[str, tuple[tuple[float, str], ...]] = {
    "three-lead-wye": ((4.0, _LINE),),
    "three-lead-delta": ((8 / 6, _LINE),),
    "six-lead": ((2.0, "1-4 2-5 3-6"),),
    "part-winding": ((2.0, f"{_LINE} {_SECOND}"),),
    "nine-lead-wye": ((1.0, "1-4 2-5 3-6"), (2.0, _SECOND)),
    "nine-lead-delta": ((1.0, "1-4 1-9 2-5 2-7 3-6 3-8"), (2.0, "4-9 5-7 6-8")),
    "twelve-lead": ((1.0, "1-4 2-5 3-6 7-10 8-11 9-12"),),
    "two-speed-two-winding": ((2.0, f"{_LINE} 11-12 12-13 13-11"),),
    "two-speed-one-winding-delta": (
        (8 / 6, f"{_LINE} {_TAPS}"),
        (5 / 6, "1-4 1-5 2-4 2-6 3-5 3-6"),
        (1.5, "1-6 2-5 3-4"),
    ),
    "two-speed-one-winding-wye": (
        (4.0, _LINE),
        (2.0, _TAPS),
        (1.0, "1-4 2-6 3-5"),
        (3.0, "1-5 1-6 2-4 2-5 3-4 3-6"),
    ),
}


@lru_cache(maxsize=32)
def expected_ohms(scheme: str) -> Mapping[str, float]:
    """Ohms by pair, in units of a half-coil, for a scheme whose leads are all free; inf where nothing joins them, empty
    where the scheme isn't known. (computed, by the net of the scheme)
    """
    if scheme not in SCHEMES:
        return {}
    finite = {pair: ohm for ohm, pairs in _JOINED[scheme] for pair in pairs.split()}
    labels = SCHEMES[scheme].labels
    pairs = [pair_of(f"{a}-{b}", scheme) for i, a in enumerate(labels) for b in labels[i + 1 :]]
    return {pair: finite.get(pair, math.inf) for pair in pairs}


def _triple_of(pair: str) -> tuple[str, ...]:
    return next((triple for triple in TRIPLES if pair in triple), ())


@lru_cache(maxsize=64)
def sets_of(scheme: str) -> tuple[PairSet, ...]:
    """All comparable sets of a scheme with its leads free."""
    groups: dict[tuple[float, tuple[str, ...]], list[str]] = {}
    for pair, ohm in expected_ohms(scheme).items():
        if math.isfinite(ohm):
            groups.setdefault((round(ohm, 9), _triple_of(pair)), []).append(pair)
    return tuple(PairSet(triple or tuple(pairs), ohm, bool(triple)) for (ohm, triple), pairs in groups.items())


@dataclass(frozen=True, slots=True)
class Sorted:
    """Pairs read, sorted: sets to compare (some may lack pairs), pairs that should be open, the rest."""

    sets: tuple[PairSet, ...]
    apart: tuple[str, ...]
    odd: tuple[str, ...]


def sort_pairs(pairs: Iterable[str], scheme: str, links: str | None) -> Sorted:
    """Sort the pairs that were read by what the scheme joins inside.

    The three line pairs compare with one another unless the links were opened and the scheme leaves them apart.
    """
    return _sort(tuple(pairs), scheme, links)


@lru_cache(maxsize=1024)
def _sort(pairs: Sequence[str], scheme: str, links: str | None) -> Sorted:
    expected = expected_ohms(scheme)
    joined_outside = links != "opened" and not math.isfinite(expected.get("1-2", math.inf))
    lines = PairSet(LINE_PAIRS, None, star=True)
    if scheme.startswith("three-lead"):
        return Sorted((lines,), (), tuple(pair for pair in pairs if pair not in LINE_PAIRS))
    if not expected or (all(pair in LINE_PAIRS for pair in pairs) and joined_outside):
        return _unknown(pairs, lines)
    sets = [lines] if joined_outside and any(pair in LINE_PAIRS for pair in pairs) else []
    taken = {pair for one in sets for pair in one.pairs}
    for one in sets_of(scheme):
        if any(pair in pairs and pair not in taken for pair in one.pairs):
            sets.append(one)
            taken.update(one.pairs)
    apart = tuple(p for p in pairs if p not in taken and math.isinf(expected.get(p, 0.0)))
    odd = tuple(p for p in pairs if p not in taken and p not in expected)
    return Sorted(tuple(sets), apart, odd)


def _unknown(pairs: Sequence[str], lines: PairSet) -> Sorted:
    """No scheme to go by: the line pairs, another whole triple, or the pairs as given."""
    if all(pair in LINE_PAIRS for pair in pairs):
        return Sorted((lines,), (), ())
    for triple in TRIPLES[1:]:
        if set(triple) == set(pairs):
            return Sorted((PairSet(triple, None, star=True),), (), ())
    return Sorted((PairSet(tuple(pairs), None, star=False),), (), ())
