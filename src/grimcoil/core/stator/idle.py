"""Coils that no line feeds, in the field of those that a line does: a transformer. Open they show induced volts; closed
on themselves they are a shorted secondary.

The fed coils set the field: two phasors along and across the axis of the first coil, of least squares where a wrong
joining makes them disagree. Each idle coil has its share of it by its axis; as many turns as the others (the plate says
nothing of another), so that its induced volts are told against the design of the others. (computed)
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.stator.coils import Scheme

# A winding shorted at its rated volts draws five to seven times its rated current (common practice: locked rotor).
SHORT_CIRCUIT_PU = 6.0
Phasors = NDArray[np.complex128]


@dataclass(frozen=True, slots=True)
class Idle:
    """Volts across every coil with the idle ones in the field of the others, V; `times`: current of each idle coil that
    is closed on itself or on others, as a multiple of what its design volts would drive loaded (None: no closed loop).
    """

    volts: tuple[complex, ...]
    times: tuple[float | None, ...]

    @property
    def closed(self) -> list[int]:
        """Numbers of the coils in a closed loop."""
        return [i for i, times in enumerate(self.times) if times is not None]


def idle_coils(
    scheme: Scheme, ends: Sequence[tuple[int, int]], volts: Sequence[complex], idle: Sequence[bool], design_v: float
) -> Idle:
    """The field in the idle coils. ends: node of each coil's start and finish; volts: as the lines drive them."""
    numbers = [i for i, still in enumerate(idle) if still]
    out = list(volts)
    result: list[float | None] = [None] * len(volts)
    fed = [i for i in range(len(volts)) if not idle[i]]
    if not numbers or not fed:
        return Idle(tuple(out), tuple(result))
    axes = np.radians([coil.axis_deg for coil in scheme.coils])
    shares = np.column_stack([np.cos(axes), np.sin(axes)])
    field = np.linalg.lstsq(shares[fed].astype(np.complex128), np.array([volts[i] for i in fed]), rcond=None)[0]
    induced = shares @ field
    held = {node for i in fed for node in ends[i]}
    across, current = _driven([ends[i] for i in numbers], induced[numbers], held)
    looped = _in_loops([ends[i] for i in numbers], held)
    for k, i in enumerate(numbers):
        out[i] = complex(across[k])
        if looped[k]:
            result[i] = float(abs(current[k])) / design_v * SHORT_CIRCUIT_PU
    return Idle(tuple(out), tuple(result))


def _driven(ends: Sequence[tuple[int, int]], induced: Phasors, held: set[int]) -> tuple[Phasors, Phasors]:
    """Volts across and through each idle coil, by node potentials; the fed part hangs on them as one node."""
    merged = {node: -1 if node in held else node for pair in ends for node in pair}
    nodes = {node: k for k, node in enumerate(dict.fromkeys(merged.values()))}
    incidence = np.zeros((len(ends), len(nodes)))
    for k, (a, b) in enumerate(ends):
        incidence[k, nodes[merged[a]]] += 1
        incidence[k, nodes[merged[b]]] -= 1
    phi = np.linalg.lstsq((incidence.T @ incidence).astype(np.complex128), incidence.T @ induced, rcond=None)[0]
    across = incidence @ phi
    return np.asarray(across), np.asarray(induced - across)


def _in_loops(ends: Sequence[tuple[int, int]], held: set[int]) -> list[bool]:
    """Which idle coils lie in a closed loop: those whose two ends stay joined when the coil itself is taken out."""
    merged = [tuple(-1 if node in held else node for node in pair) for pair in ends]
    return [_joined(a, b, [pair for j, pair in enumerate(merged) if j != k]) for k, (a, b) in enumerate(merged)]


def _joined(start: int, goal: int, pairs: Sequence[tuple[int, ...]]) -> bool:
    reached, grows = {start}, True
    while grows:
        more = {node for pair in pairs if reached & set(pair) for node in pair} - reached
        reached |= more
        grows = bool(more)
    return goal in reached


def worst_times(times: Sequence[float | None]) -> float:
    """The greatest multiple, no unit; nan where nothing is closed."""
    return max((one for one in times if one is not None), default=math.nan)
