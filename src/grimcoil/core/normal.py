"""The logarithm of the normal distribution, to the last digits in both tails.

W. J. Cody, Rational Chebyshev approximations for the error function, Math. Comp. 23 (1969); coefficients from memory,
checked against a general-purpose library. Written out because loading that library takes longer than any command may.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
_NEAR, _FAR = 0.46875, 4.0
_SMALL = (
    (1.85777706184603153e-1, 3.16112374387056560, 1.13864154151050156e2, 3.77485237685302021e2, 3.20937758913846947e3),
    (1.0, 2.36012909523441209e1, 2.44024637934444173e2, 1.28261652607737228e3, 2.84423683343917062e3),
)
_MIDDLE = (
    (
        2.15311535474403846e-8, 5.64188496988670089e-1, 8.88314979438837594, 6.61191906371416295e1,
        2.98635138197400131e2, 8.81952221241769090e2, 1.71204761263407058e3, 2.05107837782607147e3,
        1.23033935479799725e3,
    ),
    (
        1.0, 1.57449261107098347e1, 1.17693950891312499e2, 5.37181101862009858e2, 1.62138957456669019e3,
        3.29079923573345963e3, 4.36261909014324716e3, 3.43936767414372164e3, 1.23033935480374942e3,
    ),
)  # fmt: skip
_TAIL = (
    (
        1.63153871373020978e-2, 3.05326634961232344e-1, 3.60344899949804439e-1, 1.25781726111229246e-1,
        1.60837851487422766e-2, 6.58749161529837803e-4,
    ),
    (
        1.0, 2.56852019228982242, 1.87295284992346047, 5.27905102951428412e-1, 6.05183413124413191e-2,
        2.33520497626869185e-3,
    ),
)  # fmt: skip
_ROOT_PI = float(np.sqrt(np.pi))
_ROOT_2 = float(np.sqrt(2.0))


def _ratio(of: tuple[tuple[float, ...], tuple[float, ...]], x: Array) -> Array:
    top, bottom = (np.full_like(x, row[0]) for row in of)
    for a, b in zip(of[0][1:], of[1][1:], strict=True):
        top = top * x + a
        bottom = bottom * x + b
    return np.asarray(top / bottom)


def _log_erfc(x: Array) -> Array:
    """Log erfc(x) for x >= 0."""
    out = np.empty_like(x)
    near, tail = x <= _NEAR, x > _FAR
    middle = ~near & ~tail
    if near.any():
        some = x[near]
        out[near] = np.log1p(-some * _ratio(_SMALL, some * some))
    if middle.any():
        some = x[middle]
        out[middle] = np.log(_ratio(_MIDDLE, some)) - some * some
    if tail.any():
        some = x[tail]
        inverse = 1 / (some * some)
        out[tail] = np.log((1 / _ROOT_PI - inverse * _ratio(_TAIL, inverse)) / some) - some * some
    return out


def log_normal_cdf(z: Array) -> Array:
    """Log of the probability that a standard normal value is at most z; any shape, z from -inf to inf, dimensionless.

    No unit (computed).

    >>> [round(float(v), 6) for v in log_normal_cdf(np.array([-40.0, 0.0, 3.0]))]
    [-804.608442, -0.693147, -0.001351]
    """
    tail = _log_erfc(np.minimum(np.abs(z), 1e150) / _ROOT_2) - np.log(2.0)
    return np.asarray(np.where(z < 0, tail, np.log1p(-np.exp(tail))))
