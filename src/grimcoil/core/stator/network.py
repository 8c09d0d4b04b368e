"""Ohms between leads of any scheme, sound or faulty, by node potentials."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.stator.coils import Group, Scheme, merged

Matrix = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Fault:
    """What is wrong inside. Coils by name (`1-4`); leads by label.

    opened: coils broken; scaled: (coil, factor on its ohms); leaks: (lead, lead, ohm in units of a half-coil);
    lifted: leads broken off their end.
    """

    opened: tuple[str, ...] = ()
    scaled: tuple[tuple[str, float], ...] = ()
    leaks: tuple[tuple[str, str, float], ...] = ()
    lifted: tuple[str, ...] = ()


SOUND = Fault()


def effective_resistance(size: int, branches: Sequence[tuple[int, int, float]]) -> Matrix:
    """Resistance between every two of `size` nodes of a net of (node, node, ohm > 0); inf where not connected.

    By node potentials: with L the net's Laplacian made regular by 1/size on each connected part,
    R(i, j) = M(i, i) + M(j, j) - 2 M(i, j), M its inverse. Shape (size, size), ohm. (computed)

    >>> round(float(effective_resistance(3, [(0, 1, 2.0), (1, 2, 3.0)])[0, 2]), 9)
    5.0
    """
    laplacian = np.zeros((size, size))
    for a, b, ohm in branches:
        if a != b:
            laplacian[[a, b], [a, b]] += 1 / ohm
            laplacian[[a, b], [b, a]] -= 1 / ohm
    part = _parts(size, branches)
    together = part[:, None] == part[None, :]
    inverse = np.linalg.inv(laplacian + together / together.sum(axis=1, keepdims=True))
    diagonal = np.diag(inverse)
    ohms = diagonal[:, None] + diagonal[None, :] - 2 * inverse
    return np.where(together, np.where(ohms < 1e-12, 0.0, ohms), np.inf)


def _parts(size: int, branches: Sequence[tuple[int, int, float]]) -> NDArray[np.int64]:
    part = np.arange(size)
    for a, b, _ in branches:
        if part[a] != part[b]:
            part[part == part[b]] = part[a]
    return part


def _net(
    scheme: Scheme, fault: Fault, links: Sequence[Group] = ()
) -> tuple[dict[str, int], list[tuple[int, int, float]]]:
    """The node each lead (`lead 1`) and coil end lies on, and the branches between them."""
    outside = [f"lead {label}" for label in scheme.labels]
    ends = [end for coil in scheme.coils for end in (coil.start, coil.finish)]
    tails = [(f"lead {label}", end) for label, end in scheme.leads if label not in fault.lifted]
    linked = [[f"lead {label}" for label in group] for group in links]
    node = merged([*outside, *ends], [*scheme.joints, *tails, *linked])
    scale: Mapping[str, float] = dict(fault.scaled)
    branches = [
        (node[coil.start], node[coil.finish], scale.get(coil.name, 1.0))
        for coil in scheme.coils
        if coil.name not in fault.opened
    ]
    branches += [(node[f"lead {a}"], node[f"lead {b}"], ohm) for a, b, ohm in fault.leaks]
    return node, branches


@lru_cache(maxsize=64)
def inner_ohms(scheme: Scheme) -> tuple[dict[str, int], Matrix]:
    """Number of each lead (`lead 1`) and coil end of a sound scheme, and the ohms between any two of them in units of
    one half-coil; inf where open (computed). The array is shared: don't write to it.
    """
    node, branches = _net(scheme, SOUND)
    ohms = effective_resistance(len(set(node.values())), branches)
    ohms.flags.writeable = False
    return node, ohms


@lru_cache(maxsize=512)
def lead_ohms(scheme: Scheme, fault: Fault = SOUND, links: tuple[Group, ...] = ()) -> Matrix:
    """Ohms between the leads of a scheme in units of one half-coil, shape (leads, leads); inf where open.

    links: leads joined outside. The array is shared: don't write to it.

    >>> from grimcoil.core.stator.schemes import SCHEMES
    >>> round(float(lead_ohms(SCHEMES["three-lead-wye"])[0, 1]), 9)
    4.0
    """
    node, branches = _net(scheme, fault, links)
    at = [node[f"lead {label}"] for label in scheme.labels]
    ohms = effective_resistance(len(set(node.values())), branches)[np.ix_(at, at)]
    ohms.flags.writeable = False
    return ohms


@lru_cache(maxsize=64)
def pair_ohms(scheme: Scheme) -> dict[tuple[str, str], float]:
    """The same as a table by pair of labels, the earlier lead first. In half-coils of 1 (computed)."""
    ohms, labels = lead_ohms(scheme), scheme.labels
    return {(labels[i], labels[j]): float(ohms[i, j]) for i in range(len(labels)) for j in range(i + 1, len(labels))}
