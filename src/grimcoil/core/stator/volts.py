"""Volts across every coil of any joining, right or wrong, under any supply: node potentials with equal impedances."""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.errors import Refusal
from grimcoil.core.stator.coils import Group, Scheme, merged

Three = tuple[float, float, float]
Phasors = NDArray[np.complex128]


def line_potentials(volts: Three) -> tuple[complex, complex, complex]:
    """Potentials of L1, L2, L3 against their mean, from the line volts L1-L2, L2-L3, L3-L1; L1 at 0 degrees (computed).

    Raises Refusal where three volts close no triangle.

    >>> [round(abs(p), 1) for p in line_potentials((480, 480, 480))]
    [277.1, 277.1, 277.1]
    """
    v12, v23, v31 = volts
    if min(volts) <= 0 or 2 * max(volts) >= sum(volts):
        shown = "/".join(f"{v:g}" for v in volts)
        raise Refusal("supply", f"{shown} V", "three line voltages that close a triangle", "478,471,482")
    corner = math.acos((v12**2 + v31**2 - v23**2) / (2 * v12 * v31))
    one, two, three = 0j, -v12 + 0j, -v31 * cmath.exp(-1j * corner)
    mean = (one + two + three) / 3
    turn = cmath.exp(-1j * cmath.phase(one - mean))
    return ((one - mean) * turn, (two - mean) * turn, (three - mean) * turn)


@dataclass(frozen=True, slots=True)
class CoilVolts:
    """Phasor across each coil, start less finish, in the scheme's order, and which coils carry no current.

    shorted: lines that lie on one another (their numbers); then no volts are worked out. ends: node of each coil at its
    start and finish.
    """

    volts: tuple[complex, ...]
    idle: tuple[bool, ...]
    shorted: tuple[tuple[int, int], ...] = ()
    ends: tuple[tuple[int, int], ...] = ()


def coil_volts(
    scheme: Scheme,
    lines: Sequence[Group],
    joined: Sequence[Group],
    potentials: Sequence[complex],
) -> CoilVolts:
    """Solve a joining. lines: leads on L1, L2, L3 (a line may have none); joined: leads joined with one another.

    Lines are ideal sources, every coil the same impedance (computed). Raises Refusal for a lead that isn't there.
    """
    node, at = _nodes(scheme, lines, joined)
    shorted = tuple(
        (i + 1, j + 1) for i in range(len(at)) for j in range(i + 1, len(at)) if at[i] is not None and at[i] == at[j]
    )
    if shorted:
        return CoilVolts((0j,) * len(scheme.coils), (True,) * len(scheme.coils), shorted)
    volts = tuple(a - b for a, b in _ends(scheme, node, at, potentials))
    top = max((abs(p) for p in potentials), default=1.0)
    ends = tuple((node[coil.start], node[coil.finish]) for coil in scheme.coils)
    return CoilVolts(volts, tuple(abs(v) < 1e-6 * top for v in volts), (), ends)


def coil_potentials(
    scheme: Scheme, lines: Sequence[Group], joined: Sequence[Group], potentials: Sequence[complex]
) -> list[tuple[complex, complex]] | None:
    """Potentials of each coil's start and finish; None where two lines lie on one another. Raises as `coil_volts`."""
    node, at = _nodes(scheme, lines, joined)
    known = [n for n in at if n is not None]
    return None if len(set(known)) < len(known) else _ends(scheme, node, at, potentials)


def _nodes(scheme: Scheme, lines: Sequence[Group], joined: Sequence[Group]) -> tuple[dict[str, int], list[int | None]]:
    """Node of every coil end, and of each line that is on some lead."""
    known = set(scheme.labels)
    for group in (*lines, *joined):
        for label in group:
            if label not in known:
                raise Refusal("leads", label, f"a lead of this scheme: {', '.join(scheme.labels)}", scheme.labels[0])
    names, joints = _wiring(scheme, lines, joined)
    node = merged(names, joints)
    return node, [node.get(f"line {i}") for i in range(len(lines))]


def _ends(
    scheme: Scheme, node: dict[str, int], at: Sequence[int | None], potentials: Sequence[complex]
) -> list[tuple[complex, complex]]:
    branches = [(node[coil.start], node[coil.finish]) for coil in scheme.coils]
    fixed = {n: potentials[i] for i, n in enumerate(at) if n is not None}
    phi = _potentials(len(set(node.values())), branches, fixed)
    return [(complex(phi[a]), complex(phi[b])) for a, b in branches]


def _wiring(scheme: Scheme, lines: Sequence[Group], joined: Sequence[Group]) -> tuple[list[str], list[Sequence[str]]]:
    ends = dict(scheme.leads)
    names = [end for coil in scheme.coils for end in (coil.start, coil.finish)]
    names += [f"line {i}" for i, group in enumerate(lines) if group]
    joints: list[Sequence[str]] = [*scheme.joints]
    joints += [[f"line {i}", *(ends[label] for label in group)] for i, group in enumerate(lines) if group]
    joints += [[ends[label] for label in group] for group in joined if group]
    return names, joints


def _potentials(size: int, branches: Sequence[tuple[int, int]], fixed: dict[int, complex]) -> Phasors:
    """Node potentials; a part that no line reaches stays at one potential."""
    laplacian = np.zeros((size, size))
    for a, b in branches:
        if a != b:
            laplacian[[a, b], [a, b]] += 1
            laplacian[[a, b], [b, a]] -= 1
    free = [n for n in range(size) if n not in fixed]
    phi = np.zeros(size, dtype=np.complex128)
    for n, value in fixed.items():
        phi[n] = value
    if free:
        held = list(fixed)
        right = -laplacian[np.ix_(free, held)] @ phi[held] if held else np.zeros(len(free), dtype=np.complex128)
        phi[free] = np.linalg.lstsq(laplacian[np.ix_(free, free)].astype(np.complex128), right, rcond=None)[0]
    return phi
