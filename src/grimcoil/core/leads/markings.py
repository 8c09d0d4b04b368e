"""What ohms can't tell: start from finish and which coils share a phase. Labels up to what nature leaves free."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import lru_cache
from itertools import permutations, product

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.leads.layouts import Labels, relative_ohms
from grimcoil.core.stator.coils import Scheme, merged
from grimcoil.core.stator.schemes import HALVES, SCHEMES

Map = tuple[int, ...]


def has_axes(scheme: str) -> bool:
    """Whether coupling tests mean something: single-speed schemes, whose axes are fixed."""
    return SCHEMES[scheme].coils is HALVES


@lru_cache(maxsize=16)
def free_moves(scheme: str) -> tuple[Map, ...]:
    """Exchanges of labels that no test can show: label number -> label number.

    Made of exchanging the phases (all cosines between them are -1/2), of turning all coils round at once, and of
    exchanging the halves of a phase, as far as they leave the joints made inside where they are.
    """
    made = SCHEMES[scheme]
    if not has_axes(scheme):
        return _ohm_moves(scheme)
    node = merged([end for coil in made.coils for end in (coil.start, coil.finish)], made.joints)
    ends = [end for _, end in made.leads]
    back = {node[end]: number for number, end in enumerate(ends)}
    found = set()
    for move in _coil_moves():
        images = [node[move[end]] for end in ends]
        if _joints(made, move) == _joints(made, None) and set(images) == set(back):
            found.add(tuple(back[image] for image in images))
    return tuple(sorted(found))


def _coil_moves() -> Iterator[dict[str, str]]:
    """Every exchange of phases, halves and direction: coil end -> coil end."""
    halves = [(HALVES[i], HALVES[i + 3]) for i in range(3)]
    for order, swaps, turned in product(permutations(range(3)), product((0, 1), repeat=3), (False, True)):
        move = {}
        for phase, target in enumerate(order):
            for half in (0, 1):
                coil, onto = halves[phase][half], halves[target][half ^ swaps[phase]]
                start, finish = (onto.finish, onto.start) if turned else (onto.start, onto.finish)
                move[coil.start], move[coil.finish] = start, finish
        yield move


def _joints(scheme: Scheme, move: dict[str, str] | None) -> set[frozenset[str]]:
    return {frozenset(move[end] if move else end for end in joint) for joint in scheme.joints}


def _ohm_moves(scheme: str) -> tuple[Map, ...]:
    """Exchanges of labels that leave all ohms as they are (where coupling isn't used)."""
    rows = np.round(relative_ohms(scheme), 9).tolist()
    return tuple(_extend(rows, (), [tuple(range(len(rows)))]))


@lru_cache(maxsize=16)
def finer(scheme: str) -> Labels:
    """Markings that read the same ohms but differ in some coupling test, (markings, n): label -> marked label.

    One of each class that the free moves make, by taking images in order and using up the moves that are left.
    """
    rows = np.round(relative_ohms(scheme), 9).tolist()
    return np.array(list(_extend(rows, (), list(free_moves(scheme)))), dtype=np.int8)


def _extend(rows: list[list[float]], images: Map, moves: list[Map]) -> Iterator[Map]:
    at = len(images)
    if at == len(rows):
        yield images
        return
    seen: set[int] = set()
    for label in range(len(rows)):
        if label in images or label in seen:
            continue
        if all(rows[label][images[i]] == rows[at][i] for i in range(at)) and sorted(rows[label]) == sorted(rows[at]):
            seen |= {move[label] for move in moves}
            yield from _extend(rows, (*images, label), [move for move in moves if move[label] == label])


MOST_SETTLED = 4000


def possible_labels(scheme: str, marked: NDArray[np.int8], moves: Sequence[Map] | None = None) -> list[set[int]]:
    """Labels still possible by lead, once what is free is settled: the first leads get the first labels (computed).

    marked: (markings, n) label numbers by lead. moves: what is free (all free moves, where not said). With very
    many markings left nothing is settled and every label that could come is told. Numbers of labels, no unit.
    """
    free = np.array(free_moves(scheme) if moves is None else moves, dtype=np.int8)
    count = marked.shape[1]
    if len(marked) > MOST_SETTLED:
        return [_among(free[:, sorted(_among(marked[:, lead]))]) for lead in range(count)]
    images = free[:, marked]
    order = images.astype(np.int64) @ (count ** np.arange(count - 1, -1, -1, dtype=np.int64))
    settled = images[order.argmin(axis=0), np.arange(len(marked))]
    return [_among(settled[:, lead]) for lead in range(count)]


def _among(labels: NDArray[np.int8]) -> set[int]:
    return set(np.flatnonzero(np.bincount(labels.ravel())).tolist())


def free_choices(scheme: str) -> list[str]:
    """What no test can tell in this scheme, in words."""
    moves = free_moves(scheme)
    labels = SCHEMES[scheme].labels
    if not has_axes(scheme):
        return ["which line is called 1, and the direction of rotation", "the plate's diagram governs the taps"]
    out = []
    first = labels.index("1")
    if any(labels[move[first]] in ("2", "3") for move in moves):
        out.append("which phase is called 1, 2, 3, and with it the direction of rotation")
    if any(labels[move[first]] in ("4", "10") for move in moves):
        out.append("starts and finishes, all exchanged at once")
    if any(labels[move[first]] == "7" for move in moves):
        out.append("which half of a phase is called the first")
    return out
