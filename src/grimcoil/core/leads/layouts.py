"""Every way the leads of a scheme can lie, as far as ohms can tell one from another."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.stator.network import Matrix, lead_ohms
from grimcoil.core.stator.schemes import SCHEMES

Labels = NDArray[np.int8]


def schemes_with(count: int) -> list[str]:
    """Names of the schemes with so many leads.

    >>> schemes_with(9)
    ['nine-lead-wye', 'nine-lead-delta']
    """
    return [name for name, scheme in SCHEMES.items() if len(scheme.labels) == count]


def relative_ohms(scheme: str) -> Matrix:
    """Ohms between the labels of a scheme in half-coils, (n, n)."""
    return lead_ohms(SCHEMES[scheme])


def part_of(scheme: str) -> NDArray[np.int8]:
    """The separate winding each label belongs to: all 0, or 0 and 1 of two windings with ohms of their own.

    Computed.
    """
    made = SCHEMES[scheme]
    parts = {coil.start: coil.part for coil in made.coils}
    return np.array([int(parts.get(end) == "high") for _, end in made.leads], dtype=np.int8)


@lru_cache(maxsize=16)
def layouts(scheme: str) -> Labels:
    """All assignments of labels to leads that differ in some reading, shape (layouts, n): label number by lead.

    Labels that lie alike to all labels used so far are interchangeable, so only the first is taken.
    """
    ohms = np.round(relative_ohms(scheme), 9)
    kinds = [tuple(sorted(row)) for row in ohms.tolist()]
    rows = ohms.tolist()
    count = len(rows)
    found: list[list[int]] = []

    def extend(used: list[int], left: list[int]) -> None:
        if not left:
            found.append(used)
            return
        seen = set()
        for label in left:
            kind = (kinds[label], tuple([rows[label][other] for other in used]))
            if kind not in seen:
                seen.add(kind)
                extend([*used, label], [other for other in left if other != label])

    extend([], list(range(count)))
    return np.array(found, dtype=np.int8)


@lru_cache(maxsize=16)
def pair_index(count: int) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """The pairs of so many leads: first and second lead of each, first < second.

    Numbers of leads, from 0; no unit (computed).
    """
    first, second = np.triu_indices(count, 1)
    return first, second


@lru_cache(maxsize=16)
def expected(scheme: str) -> NDArray[np.float64]:
    """Ohms of every pair in every layout, in half-coils, shape (layouts, pairs); inf where open (computed)."""
    table = layouts(scheme)
    first, second = pair_index(table.shape[1])
    return np.asarray(relative_ohms(scheme)[table[:, first], table[:, second]])


@lru_cache(maxsize=16)
def value_classes(scheme: str) -> tuple[NDArray[np.float64], NDArray[np.int8]]:
    """The few values that occur in `expected`, and the number of its value for every pair in every layout.

    In half-coils, no unit (computed).
    """
    values = np.unique(np.round(expected(scheme), 6))
    return values, np.searchsorted(values, np.round(expected(scheme), 6)).astype(np.int8)
