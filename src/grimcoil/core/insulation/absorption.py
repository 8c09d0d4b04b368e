"""The current of a hold, I(t) = V (1/R_leak + A t^-n), fitted to the timed resistances as they arrive."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.insulation.settled import FIRST_S
from grimcoil.core.quantiles import student_t

Array = NDArray[np.float64]

LEAST_POINTS = 5
MOST_POINTS = 200  # of more, evenly chosen ones say the same
LEAST_SCATTER = 0.002
_EXPONENTS = np.geomspace(0.03, 3.0, 60)
_FINE = 120
_CONFIDENCE = 0.90
_BELONGS = 3.0


@dataclass(frozen=True, slots=True)
class Absorption:
    """The fit. Conductances in 1/MΩ, so that volts times them are µA.

    leak, with its 90 % ends; amplitude A and exponent n of the absorption; misfit: root mean square of the
    relative residuals; first_s: the first time used (15 s is left out where the capacitive charge still shows).
    """

    leak: float
    leak_lowest: float
    leak_highest: float
    amplitude: float
    exponent: float
    misfit: float
    first_s: float
    points: int

    def mohm_at(self, t_s: float) -> float:
        """Resistance the fit gives at a time, MΩ (computed)."""
        return 1 / (self.leak + self.amplitude * float(t_s**-self.exponent))


@dataclass(frozen=True, slots=True)
class _Trial:
    """Least-squares leak and amplitude for each of some exponents, the sum of squares and its curvature in leak."""

    leak: Array
    amplitude: Array
    squares: Array
    bend: Array


def fit_absorption(times_s: Sequence[float], mohm: Sequence[float]) -> Absorption | None:
    """Fit leak, amplitude and exponent to exact values, relative errors alike.

    times_s: s, above 0, those before 15 s are left out; mohm: MΩ, above 0, same length. None with fewer than
    five usable points. For each exponent the rest is linear, so only the exponent is searched. (computed)

    >>> t = [15, 30, 60, 120, 300, 600]
    >>> r = [1 / (1 / 2097 + 0.02974 * s**-0.684) for s in t]
    >>> fit = fit_absorption(t, r)
    >>> round(1 / fit.leak), round(fit.exponent, 3)
    (2097, 0.684)
    """
    if len(times_s) < LEAST_POINTS:
        return None
    usable = [(t, r) for t, r in zip(times_s, mohm, strict=True) if t >= FIRST_S and r > 0]
    if len({t for t, _ in usable}) < LEAST_POINTS:
        return None
    t, r = np.array(sorted(usable)[:: 1 + len(usable) // MOST_POINTS]).T
    whole = _fit(t, r)
    if t.size <= LEAST_POINTS or t[0] > FIRST_S:
        return whole
    without = _fit(t[1:], r[1:])
    expected = without.mohm_at(float(t[0]))
    scatter = max(without.misfit, LEAST_SCATTER)
    return without if r[0] < expected * (1 - _BELONGS * scatter) and whole.misfit > _BELONGS * scatter else whole


def _fit(t: Array, r: Array) -> Absorption:
    coarse = _trial(t, r, _EXPONENTS)
    best = int(np.argmin(coarse.squares))
    low, high = _EXPONENTS[max(best - 1, 0)], _EXPONENTS[min(best + 1, _EXPONENTS.size - 1)]
    for _ in range(4):
        inner = np.linspace(low, high, 15)
        fine = _trial(t, r, inner)
        at = int(np.argmin(fine.squares))
        low, high = inner[max(at - 1, 0)], inner[min(at + 1, inner.size - 1)]
    least, highest = _ends(t, r, coarse.squares, float(fine.squares[at]))
    return Absorption(
        float(fine.leak[at]),
        min(least, float(fine.leak[at])),
        max(highest, float(fine.leak[at])),
        float(fine.amplitude[at]),
        float(inner[at]),
        float(np.sqrt(fine.squares[at] / t.size)),
        float(t[0]),
        int(t.size),
    )


def _trial(t: Array, r: Array, exponents: Array) -> _Trial:
    """Weighted by r = 1/g the residual is relative: 1 - leak r - amplitude t^-n r; neither below zero."""
    b = t[None, :] ** -exponents[:, None] * r
    aa, ab, bb = (r * r).sum(), (b * r).sum(axis=1), (b * b).sum(axis=1)
    a1, b1 = r.sum(), b.sum(axis=1)
    determinant = np.maximum(aa * bb - ab * ab, 1e-300)
    leak = np.maximum((a1 * bb - b1 * ab) / determinant, 0.0)
    amplitude = np.maximum((b1 - leak * ab) / bb, 0.0)
    leak = np.where(amplitude == 0.0, a1 / aa, leak)
    squares = ((1 - leak[:, None] * r - amplitude[:, None] * b) ** 2).sum(axis=1)
    return _Trial(leak, amplitude, squares, np.maximum(aa - ab * ab / bb, 1e-300))


def _ends(t: Array, r: Array, coarse: Array, least: float) -> tuple[float, float]:
    """90 % ends of the leak over all exponents that fit nearly as well (profile, Student's t)."""
    free = t.size - 3
    quantile = student_t((1 + _CONFIDENCE) / 2, free)
    cut = least + quantile**2 * max(least / free, LEAST_SCATTER**2)
    near = np.flatnonzero(coarse <= max(cut, float(coarse.min())))
    low, high = max(int(near[0]) - 1, 0), min(int(near[-1]) + 1, coarse.size - 1)
    trial = _trial(t, r, np.geomspace(_EXPONENTS[low], _EXPONENTS[high], _FINE))
    room = cut - trial.squares
    fits = room >= 0
    if not fits.any():
        return np.inf, -np.inf
    reach = np.sqrt(np.maximum(room, 0.0) / trial.bend)
    return max(0.0, float((trial.leak - reach)[fits].min())), float((trial.leak + reach)[fits].max())
