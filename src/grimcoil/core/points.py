"""Points that probes touch, under one name: lines, leads, frame, and the groups that continuity joins."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from functools import lru_cache

from grimcoil.core.findings import Finding, unproven
from grimcoil.core.readings import Reading
from grimcoil.core.resistance.naming import expected_ohms, pair_of
from grimcoil.core.stator.letters import number_of
from grimcoil.core.stator.schemes import SCHEMES

LINES = ("L1", "L2", "L3")
LINE_PAIRS = ("L1-L2", "L2-L3", "L3-L1")
TO_EARTH = ("L1-E", "L2-E", "L3-E")
FRAME = "frame"
_FRAME_WORDS = frozenset({"frame", "earth", "ground", "pe", "mass"})
_SEPARATORS = re.compile(r"\s*[-–~/]\s*")
_NOTHING_JOINED: tuple[tuple[str, ...], ...] = ()


def is_frame(name: str) -> bool:
    """`frame` under any of its names: earth, ground, PE, mass.

    >>> is_frame(" PE "), is_frame("1")
    (True, False)
    """
    return name.strip().lower() in _FRAME_WORDS


@lru_cache(maxsize=512)
def line_of(name: str) -> str | None:
    """`L1`, `L2` or `L3`; None for anything else.

    >>> line_of("l1 "), line_of("U")
    ('L1', None)
    """
    plain = name.strip().upper()
    return plain if plain in LINES else None


@lru_cache(maxsize=512)
def line_pair_of(name: str) -> str | None:
    """`L1-L2`, `L2-L3` or `L3-L1` however written and turned; None for anything else.

    >>> line_pair_of("l1–L3"), line_pair_of("L1-L1")
    ('L3-L1', None)
    """
    ends = [line_of(end) for end in _SEPARATORS.split(name)]
    if len(ends) != 2 or None in ends:
        return None
    return next((pair for pair in LINE_PAIRS if set(pair.split("-")) == set(ends)), None)


@lru_cache(maxsize=512)
def dead_point_of(name: str) -> str | None:
    """A point of the proof of death: a pair of lines, or `L1-E`; None for anything else.

    >>> dead_point_of("L1 - PE"), dead_point_of("L3-L2"), dead_point_of("N-E")
    ('L1-E', 'L2-L3', None)
    """
    pair = line_pair_of(name)
    if pair is not None:
        return pair
    ends = _SEPARATORS.split(name)
    lines = [line for end in ends if (line := line_of(end)) is not None]
    earth = [end for end in ends if is_frame(end) or end.strip().upper() == "E"]
    return f"{lines[0]}-E" if len(ends) == 2 and len(lines) == len(earth) == 1 else None


@lru_cache(maxsize=2048)
def lead_of(name: str, scheme: str) -> str:
    """A lead's number, or `frame`; at the starter `L1` is what lead 1 hangs on.

    >>> lead_of("W2", "six-lead"), lead_of("Earth", "six-lead"), lead_of("L2", "three-lead")
    ('6', 'frame', '2')
    """
    if is_frame(name):
        return FRAME
    line = line_of(name)
    if line is not None:
        return line[1:]
    if scheme.startswith("three-lead") and name.strip().upper() in {"U1", "V1", "W1"}:
        return number_of(name.strip()[:1], scheme)
    return number_of(name, scheme)


@lru_cache(maxsize=32)
def groups_of(scheme: str) -> tuple[tuple[str, ...], ...]:
    """Leads that continuity joins inside, in the order of the box; empty where the scheme isn't known. (computed)

    >>> groups_of("nine-lead-wye")
    (('1', '4'), ('2', '5'), ('3', '6'), ('7', '8', '9'))
    """
    if scheme == "three-lead":
        return (("1", "2", "3"),)
    if scheme not in SCHEMES:
        return _NOTHING_JOINED
    ohms = expected_ohms(scheme)
    groups: list[list[str]] = []
    for lead in SCHEMES[scheme].labels:
        home = next(
            (g for g in groups if ohms.get(pair_of(f"{g[0]}-{lead}", scheme), float("inf")) < float("inf")), None
        )
        if home is None:
            groups.append([lead])
        else:
            home.append(lead)
    return tuple(tuple(group) for group in groups)


def once(
    readings: Mapping[str, Reading], canonical: Callable[[str], str | None]
) -> tuple[dict[str, Reading], list[Finding]]:
    """Readings under canonical names, each once, the first standing; names that are none are left out.

    A second reading of the same thing that differs is a finding.
    """
    out: dict[str, Reading] = {}
    twice = []
    for name, reading in readings.items():
        key = canonical(name)
        if key is None:
            continue
        first = out.setdefault(key, reading)
        if first is not reading and first.amount != reading.amount:
            text = f"{key} is given twice, {first.text} and {reading.text}: repeat it and keep one."
            twice.append(unproven("reading-twice", text))
    return out, twice


def groups_touched(names: Iterable[str], scheme: str) -> frozenset[int]:
    """Numbers of the groups that some leads belong to; what is no lead of the scheme touches none."""
    return _touched(tuple(names), scheme)


@lru_cache(maxsize=1024)
def _touched(names: tuple[str, ...], scheme: str) -> frozenset[int]:
    leads = {lead_of(name, scheme) for name in names}
    return frozenset(i for i, group in enumerate(groups_of(scheme)) if not leads.isdisjoint(group))


@lru_cache(maxsize=32)
def phases_of(scheme: str) -> tuple[frozenset[int], ...]:
    """The groups of each phase, where the phases come out apart; empty where they don't.

    >>> phases_of("twelve-lead")[0] == frozenset({0, 3}), phases_of("part-winding")
    (True, ())
    """
    made = SCHEMES.get(scheme)
    groups = groups_of(scheme)
    if made is None or len(groups) < 3 or any(coil.part for coil in made.coils):
        return ()
    axis = {end: coil.axis_deg for coil in made.coils for end in (coil.start, coil.finish)}
    if len(groups) == 3 and len({len(group) for group in groups}) == 1:
        return tuple(frozenset({number}) for number in range(3))
    of_group = [{axis[made.end_of(lead)] for lead in group} for group in groups]
    if any(len(axes) != 1 for axes in of_group):
        return ()
    phases: dict[float, set[int]] = {}
    for number, axes in enumerate(of_group):
        phases.setdefault(next(iter(axes)), set()).add(number)
    return tuple(frozenset(numbers) for numbers in phases.values())
