"""Of what size a fault inside a winding fits the readings best: a coil's factor, or the ohms of a leak.

Both are one branch more between two nodes of the sound net, so every size of every fault in every layout is worked out
at once (Sherman and Morrison's formula), a coarse row first, then the golden section round its best.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.leads.layouts import Labels, part_of
from grimcoil.core.leads.ohms import OhmReading, Path, spread
from grimcoil.core.stator.network import Matrix, inner_ohms, lead_ohms
from grimcoil.core.stator.schemes import SCHEMES

FACTORS = np.geomspace(0.05, 50.0, 36)
GOLDEN, GOLDEN_STEPS = 0.6180339887498949, 12
Values = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Sized:
    """The size of least misfit and the labels by lead it is so in."""

    labels: tuple[int, ...]
    size: float
    misfit: float


def coil_off(scheme: str, nearest: Labels, readings: Sequence[OhmReading]) -> list[Sized]:
    """For each coil of a scheme the factor on its ohms that fits best, 0.05 to 50, among layouts (layouts, leads).

    Computed; another factor than 1 is a branch of factor / (1 - factor) half-coils beside the coil.
    """
    node, _ = inner_ohms(SCHEMES[scheme])
    ends = [(node[coil.start], node[coil.finish]) for coil in SCHEMES[scheme].coils]
    return [one for one, _ in _best(scheme, nearest, readings, ends, lambda factor: 1 / (1 / factor - 1))]


def leak_between(
    scheme: str, nearest: Labels, readings: Sequence[OhmReading]
) -> list[tuple[tuple[int, int], Sized]]:  # fmt: skip
    """For each two leads of one winding the leak between them that fits best, Ω, 0.05 to 50 half-coils (computed)."""
    node, _ = inner_ohms(SCHEMES[scheme])
    labels, sound = SCHEMES[scheme].labels, lead_ohms(SCHEMES[scheme])
    pairs = [(a, b) for a, b in combinations(range(len(labels)), 2) if np.isfinite(sound[a, b])]
    ends = [(node[f"lead {labels[a]}"], node[f"lead {labels[b]}"]) for a, b in pairs]
    found = _best(scheme, nearest, readings, ends, lambda half_coils: half_coils)
    return [(pair, Sized(o.labels, o.size * scale, o.misfit)) for pair, (o, scale) in zip(pairs, found, strict=True)]


def misfit_of(ohms: Matrix, labels: Sequence[int], readings: Sequence[OhmReading], parts: Sequence[int]) -> float:
    """Misfit of a labelled, faulty scheme with a free scale for each winding, in parts of what the meter explains;
    inf where open and closed don't agree. ohms: (leads, leads), in half-coils; parts: winding by label (computed).
    """
    asked = _Asked.of(readings)
    found = np.array(labels)
    values = ohms[found[asked.first], found[asked.second]]
    if (np.isinf(values) != asked.open).any():
        return np.inf
    return float(asked.misfit(values, np.array(parts)[found[asked.first]]))


@dataclass(frozen=True, slots=True)
class _Asked:
    """Readings as columns: leads, Ω, half-widths, and which are open or a value."""

    first: NDArray[np.intp]
    second: NDArray[np.intp]
    ohm: Values
    width: Values
    open: NDArray[np.bool_]
    value: NDArray[np.bool_]

    @classmethod
    def of(cls, readings: Sequence[OhmReading]) -> _Asked:
        return cls(
            np.array([r.first for r in readings], dtype=np.intp),
            np.array([r.second for r in readings], dtype=np.intp),
            np.array([r.ohm for r in readings]),
            np.array([r.width for r in readings]),
            np.array([r.path is Path.OPEN for r in readings], dtype=bool),
            np.array([r.path is Path.VALUE for r in readings], dtype=bool),
        )

    def misfit(self, values: Values, parts: NDArray[np.integer]) -> Values:
        """Worst over the windings. values: half-coils (..., readings); parts: each reading's winding, alike."""
        counted = self.value & np.isfinite(values) & (values > 0)
        against = np.where(counted, values, 1.0)
        ratio, width = self.ohm / against, self.width / against
        worst = np.zeros(values.shape[:-1])
        for part in np.unique(parts):
            worst = np.maximum(worst, spread(ratio, width, counted & (parts == part)))
        return worst


def _best(
    scheme: str, nearest: Labels, readings: Sequence[OhmReading], ends: Sequence[tuple[int, int]],
    ohm_of: Callable[[Values], Values],
) -> list[tuple[Sized, float]]:  # fmt: skip
    """For each branch more the best layout with its size, and the ohms of a half-coil as most readings have it."""
    asked, at = _Asked.of(readings), nearest.astype(np.intp)
    node, ohms = inner_ohms(SCHEMES[scheme])
    leads = np.array([node[f"lead {label}"] for label in SCHEMES[scheme].labels])
    one, other = leads[at[:, asked.first]], leads[at[:, asked.second]]  # (layouts, readings)
    parts = part_of(scheme)[at[:, asked.first]]
    a, b = np.array(ends).T
    sound = ohms[one, other]
    apart = (np.isinf(sound) != asked.open).any(axis=1)
    near = np.where(np.isfinite(ohms), ohms, 0.0)
    shift = (near[one][..., b] - near[one][..., a] + near[other][..., a] - near[other][..., b]) / 2
    square, across = np.moveaxis(shift**2, -1, 0), ohms[a, b]  # (branches, layouts, readings)

    def values(sizes: Values) -> Values:
        """Half-coils at (branches, layouts, sizes): and by reading, last."""
        with np.errstate(divide="ignore"):  # a factor of 1 is no branch at all
            branch = ohm_of(sizes) + across[:, None, None]
        return np.asarray(sound[:, None, :] - square[:, :, None, :] / branch[..., None])

    def misfit(sizes: Values) -> Values:
        return np.where(apart[:, None], np.inf, asked.misfit(values(sizes), parts[:, None, :]))

    shape = (len(ends), len(at))
    row = misfit(np.broadcast_to(FACTORS, (*shape, len(FACTORS))))
    best = np.argmin(row, axis=-1)
    size, worst = _golden(misfit, best, np.take_along_axis(row, best[..., None], -1)[..., 0])
    layout = np.argmin(worst, axis=1)
    out = []
    for i, j in enumerate(layout):
        ratios = (asked.ohm / values(size[..., None])[i, j, 0])[asked.value]
        labels = tuple(int(label) for label in at[j])
        scale = float(np.median(ratios)) if len(ratios) else 0.0
        out.append((Sized(labels, float(size[i, j]), float(worst[i, j])), scale))
    return out


def _golden(misfit: Callable[[Values], Values], best: NDArray[np.intp], found: Values) -> tuple[Values, Values]:
    """Size and misfit where the golden section round the best of the coarse row ends, or that best if it is better."""
    low, high = (np.log(FACTORS[np.clip(best + by, 0, len(FACTORS) - 1)]) for by in (-1, 1))
    for _ in range(GOLDEN_STEPS):
        tries = np.stack([high - (high - low) * GOLDEN, low + (high - low) * GOLDEN], axis=-1)
        far = misfit(np.exp(tries))
        lower = far[..., 0] <= far[..., 1]
        low, high = np.where(lower, low, tries[..., 0]), np.where(lower, tries[..., 1], high)
    size = np.exp((low + high) / 2)
    worst = misfit(size[..., None])[..., 0]
    return np.where(worst < found, size, FACTORS[best]), np.minimum(worst, found)
