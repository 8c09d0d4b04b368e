"""What the readings contradict by themselves, before any scheme: each said with what to do next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from grimcoil.core.leads.layouts import schemes_with
from grimcoil.core.leads.ohms import OhmReading, Path
from grimcoil.core.readings import three_digits


@dataclass(frozen=True, slots=True)
class Contradiction:
    """A code, the sentence for the electrician, and the leads it is about."""

    code: str
    text: str
    between: tuple[str, ...] = ()


def contradictions(leads: Sequence[str], readings: Sequence[OhmReading]) -> list[Contradiction]:
    """Everything the ohms contradict: no scheme of this size, all open, all zero, paths that don't close, triangles."""
    out = [] if schemes_with(len(leads)) else [_no_scheme(len(leads))]
    if len(readings) >= 3 and all(r.path is Path.OPEN for r in readings) and _all_pairs(leads, readings):
        text = "Every pair reads open: meter, fuse and range first, then clean the ends; else all leads are broken off."
        out.append(Contradiction("all-open", text))
    values = [r for r in readings if r.path is Path.VALUE]
    if len(values) >= 3 and len(values) == len(readings) and all(r.ohm <= r.half_width * 2 for r in values):
        text = "Every pair reads about 0: links, the leads' ends or the probes touch. Separate them, read again."
        return [*out, Contradiction("all-zero", text)]
    return [*out, *_paths(leads, readings), *_triangles(leads, readings)]


def _all_pairs(leads: Sequence[str], readings: Sequence[OhmReading]) -> bool:
    return (
        len({(min(r.first, r.second), max(r.first, r.second)) for r in readings}) == len(leads) * (len(leads) - 1) // 2
    )


def _no_scheme(count: int) -> Contradiction:
    why = {
        4: "four may be three and an open corner, or a motor's three with an earth lead",
        7: "seven may be three and a delta's four, its corner brought out open: join that corner, read the rest",
        11: "eleven is twelve with one broken off or overlooked",
    }.get(count, "count again")
    text = (
        f"No scheme brings out {count} leads: {why}. Look for a lead broken off at the box, and leave out those of"
        " thermal protectors, heaters and brakes."
    )
    return Contradiction("no-scheme", text)


def _paths(leads: Sequence[str], readings: Sequence[OhmReading]) -> list[Contradiction]:
    """A to B and B to C closed, but A to C open."""
    closed = {frozenset((r.first, r.second)) for r in readings if r.path is not Path.OPEN}
    opened = {frozenset((r.first, r.second)) for r in readings if r.path is Path.OPEN}
    for a, b, c in combinations(range(len(leads)), 3):
        for x, y, z in ((a, b, c), (b, a, c), (a, c, b)):
            if {frozenset((x, y)), frozenset((y, z))} <= closed and frozenset((x, z)) in opened:
                names = tuple(leads[i] for i in (x, y, z))
                text = (
                    f"{names[0]}–{names[1]} and {names[1]}–{names[2]} are closed but {names[0]}–{names[2]} reads open:"
                    " one of the three is wrong. Clean the ends and read them again."
                )
                return [Contradiction("path-broken", text, names)]
    return []


def _triangles(leads: Sequence[str], readings: Sequence[OhmReading]) -> list[Contradiction]:
    """No network reads more from A to C than from A to B and B to C together."""
    count = len(leads)
    ohm, room = np.full((count, count), np.nan), np.zeros((count, count))
    for r in readings:
        if r.path is Path.VALUE:
            ohm[r.first, r.second] = ohm[r.second, r.first] = r.ohm
            room[r.first, r.second] = room[r.second, r.first] = r.width
    for b in range(count):
        over = ohm - room - (ohm[:, b : b + 1] + ohm[b : b + 1, :] + room[:, b : b + 1] + room[b : b + 1, :])
        hits = np.argwhere(np.nan_to_num(over, nan=-1.0) > 0)
        if hits.size:
            a, c = hits[0]
            names = (leads[a], leads[b], leads[c])
            text = (
                f"{names[0]}–{names[2]} reads {three_digits(ohm[a, c])} Ω, more than {names[0]}–{names[1]} and"
                f" {names[1]}–{names[2]} together: no winding does that. Read the three again."
            )
            return [Contradiction("triangle", text, names)]
    return []
