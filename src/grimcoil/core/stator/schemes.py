"""Every lead scheme as the same winding with some joints made inside (NEMA MG-1 part 2, standard, from memory).

Single speed: six half-coils, two a phase, 1-4 and 7-10, 2-5 and 8-11, 3-6 and 9-12, axes 0, 120, 240 degrees.
"""

from __future__ import annotations

from itertools import pairwise

from grimcoil.core.stator.coils import Coil, Group, Scheme

HALVES = tuple(
    Coil(start, finish, axis)
    for start, finish, axis in (
        ("1", "4", 0.0), ("2", "5", 120.0), ("3", "6", 240.0), ("7", "10", 0.0), ("8", "11", 120.0), ("9", "12", 240.0)
    )
)  # fmt: skip


def _groups(text: str) -> tuple[Group, ...]:
    return tuple(tuple(group.split("-")) for group in text.split())


def _single(name: str, title: str, joints: str, leads: str) -> Scheme:
    """`leads` names ends; `4=10` is the end 10 marked 4."""
    pairs = [lead.split("=") for lead in leads.split()]
    return Scheme(name, title, HALVES, _groups(joints), tuple((pair[0], pair[-1]) for pair in pairs))


def _two_windings() -> Scheme:
    coils = tuple(
        Coil(start, finish, axis, part)
        for part, first in (("low", 1), ("high", 11))
        for start, finish, axis in ((f"{first + i}", f"{part}-{i}", 120.0 * i) for i in range(3))
    )
    stars = tuple(tuple(f"{part}-{i}" for i in range(3)) for part in ("low", "high"))
    leads = tuple((label, label) for label in ("1", "2", "3", "11", "12", "13"))
    return Scheme("two-speed-two-winding", "Two speeds, two windings", coils, stars, leads)


def _ring() -> Scheme:
    """Delta of six half-coils tapped in the middle of each side; the taps follow in the opposite cyclic order."""
    order = ("1", "4", "2", "6", "3", "5")
    ends = [*order, order[0]]
    coils = tuple(Coil(a, b, 120.0 * (i // 2)) for i, (a, b) in enumerate(pairwise(ends)))
    leads = tuple((label, label) for label in ("1", "2", "3", "4", "5", "6"))
    return Scheme("two-speed-one-winding-delta", "Two speeds, one winding, ring", coils, (), leads)


def _tapped_star() -> Scheme:
    """Star tapped half-way: ends 1, 2, 3; the taps follow in the opposite cyclic order, as in the ring."""
    legs = (("1", "4", 0.0), ("2", "6", 120.0), ("3", "5", 240.0))
    coils = tuple(coil for end, tap, axis in legs for coil in (Coil(end, tap, axis), Coil(tap, f"star-{tap}", axis)))
    leads = tuple((label, label) for label in ("1", "2", "3", "4", "5", "6"))
    star = tuple(f"star-{tap}" for _, tap, _ in legs)
    return Scheme("two-speed-one-winding-wye", "Two speeds, one winding, tapped star", coils, (star,), leads)


_SERIES = "4-7 5-8 6-9"

SCHEMES: dict[str, Scheme] = {
    scheme.name: scheme
    for scheme in (
        _single("three-lead-wye", "Three leads, wye", f"{_SERIES} 10-11-12", "1 2 3"),
        _single("three-lead-delta", "Three leads, delta", f"{_SERIES} 10-2 11-3 12-1", "1 2 3"),
        _single("six-lead", "Six leads", _SERIES, "1 2 3 4=10 5=11 6=12"),
        _single("part-winding", "Part winding, six leads", "4-5-6 10-11-12", "1 2 3 7 8 9"),
        _single("nine-lead-wye", "Nine leads, wye", "10-11-12", "1 2 3 4 5 6 7 8 9"),
        _single("nine-lead-delta", "Nine leads, delta", "10-2 11-3 12-1", "1 2 3 4 5 6 7 8 9"),
        _single("twelve-lead", "Twelve leads", "", "1 2 3 4 5 6 7 8 9 10 11 12"),
        _two_windings(),
        _ring(),
        _tapped_star(),
    )
}


def scheme_words(name: str) -> str:
    """A lead scheme in words, for people; three leads may be known without their connection.

    >>> scheme_words("three-lead-wye"), scheme_words("three-lead")
    ('three leads, wye', 'three leads')
    """
    known = SCHEMES.get(name)
    if known is None:
        return name.replace("-lead", " leads", 1)
    return known.title[0].lower() + known.title[1:]
