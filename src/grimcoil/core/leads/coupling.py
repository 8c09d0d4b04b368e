"""Open-circuit voltages of one coil's field in the others, for any joining, as the coupling falls short of 1."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.stator.coils import merged
from grimcoil.core.stator.schemes import HALVES, SCHEMES

Array = NDArray[np.float64]
COUPLINGS = np.linspace(0.30, 0.98, 18)
OF_SOURCE = 0.06
OF_READING = 0.03
SILENT, FAINT, PLAIN = 0.08, 0.02, 0.2
UNSEEN = 2.0
CONTRADICTS = 3.0


@dataclass(frozen=True, slots=True)
class Coupling:
    """A coupling test between leads (their numbers). Source and across are ordered pairs; joined leads lie on one
    another. volts: reading over source volts, None for a kick; up: whether the needle went up at the break (None: it
    stood still).
    """

    source: tuple[int, int]
    across: tuple[int, int]
    joined: tuple[int, ...] = ()
    volts: float | None = None
    up: bool | None = None


@lru_cache(maxsize=1)
def _inductances() -> Array:
    """Self 1, mutual k cos(angle between axes), for each coupling k: (couplings, coils, coils)."""
    axes = np.radians([coil.axis_deg for coil in HALVES])
    cosine = np.cos(axes[:, None] - axes[None, :])
    eye = np.eye(len(HALVES))
    return np.asarray(eye + COUPLINGS[:, None, None] * cosine * (1 - eye))


@lru_cache(maxsize=200_000)
def ratio(
    scheme: str, source: tuple[int, int], across: tuple[int, int], joined: tuple[int, ...] = ()
) -> tuple[float, ...] | None:
    """Signed volts across over source volts for each coupling; label numbers. None where either pair is open.

    Coils are coupled inductors without resistance; node potentials from the inverse inductances. (computed)
    """
    made = SCHEMES[scheme]
    ends = [end for _, end in made.leads]
    names = [end for coil in made.coils for end in (coil.start, coil.finish)]
    groups = [*made.joints, *([[ends[label] for label in joined]] if len(joined) > 1 else [])]
    node = merged(names, groups)
    size = len(set(node.values()))
    incidence = np.zeros((size, len(made.coils)))
    for c, coil in enumerate(made.coils):
        incidence[node[coil.start], c] += 1
        incidence[node[coil.finish], c] -= 1
    plus, minus = (node[ends[label]] for label in source)
    one, two = (node[ends[label]] for label in across)
    part = _parts(incidence)
    if plus == minus or part[plus] != part[minus] or part[one] != part[two]:
        return None
    inverse = np.linalg.inv(_inductances())
    admittance = incidence @ inverse @ incidence.T
    current = np.zeros(size)
    current[plus], current[minus] = 1.0, -1.0
    phi = np.linalg.pinv(admittance, hermitian=True, rcond=1e-9) @ current
    return tuple(((phi[:, one] - phi[:, two]) / (phi[:, plus] - phi[:, minus])).tolist())


def _parts(incidence: Array) -> list[int]:
    part = list(range(len(incidence)))
    for column in incidence.T:
        ends = np.flatnonzero(column)
        if len(ends) == 2:
            old, new = part[ends[1]], part[ends[0]]
            part = [new if p == old else p for p in part]
    return part


def deviations(test: Coupling, scheme: str, marked: NDArray[np.int8]) -> Array:
    """How far a test is from what each marking predicts, in units of its tolerance: (markings, couplings) (computed).

    marked: label number by lead, (markings, n). A test that a marking makes impossible is inf away.
    """
    leads = [*test.source, *test.across, *test.joined]
    images, inverse = np.unique(marked[:, leads], axis=0, return_inverse=True)
    rows = np.array([_deviation(test, scheme, tuple(image)) for image in images.tolist()])
    return np.asarray(rows[inverse.reshape(-1)])


def _deviation(test: Coupling, scheme: str, image: tuple[int, ...]) -> list[float]:
    shares = ratio(scheme, image[:2], image[2:4], tuple(sorted(image[4:])))
    if shares is None:
        return [np.inf] * len(COUPLINGS)
    if test.volts is None:
        return [_kick(share, test.up) for share in shares]
    room = OF_SOURCE + OF_READING * test.volts
    return [abs(abs(s) - test.volts) / room for s in shares]


def _kick(share: float, up: bool | None) -> float:
    """How far a needle's way is from a share of the source's field. One that was seen to move shows a coupling: where
    there should be next to none it contradicts; one that stood still shows that there is little.
    """
    if up is None:
        return 0.0 if abs(share) <= SILENT else 0.6 if abs(share) <= PLAIN else CONTRADICTS
    if share * (-1.0 if up else 1.0) > SILENT:
        return 0.0
    if abs(share) <= SILENT:
        return 0.6 if abs(share) > FAINT else UNSEEN
    return CONTRADICTS


def misfits(tests: Sequence[Coupling], scheme: str, marked: NDArray[np.int8]) -> Array:
    """Worst test of each marking at the coupling that suits it best, (markings,).

    In units of the tolerance (computed).
    """
    if not tests or not len(marked):
        return np.zeros(len(marked))
    worst = np.zeros((len(marked), len(COUPLINGS)))
    for test in tests:
        worst = np.maximum(worst, deviations(test, scheme, marked))
    return np.asarray(worst.min(axis=1))
