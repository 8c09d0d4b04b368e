"""Quantiles and chances that bands and certainties rest on, without a library that takes a second to load."""

from __future__ import annotations

import math
from statistics import NormalDist


def student_t(probability: float, freedom: float) -> float:
    """Student's t that is exceeded with the chance 1 - probability (from 0.5 to 0.9995), freedom above 2.

    Hill's expansion of the normal quantile (no unit; source: CACM Algorithm 396, 1970, from memory), within 5e-4 of
    the exact one from 3 degrees of freedom on; the tests hold it against scipy.

    >>> round(student_t(0.95, 10), 3), round(student_t(0.95, 3), 3)
    (1.812, 2.353)
    """
    if abs(freedom - 2) < 1e-9:
        tail = 2 * (1 - probability)
        return math.sqrt(2 / (tail * (2 - tail)) - 2)
    n, tail = freedom, 2 * (1 - probability)
    a = 1 / (n - 0.5)
    b = 48 / (a * a)
    c = ((20700 * a / b - 98) * a - 16) * a + 96.36
    d = ((94.5 / (b + c) - 3) / b + 1) * math.sqrt(a * math.pi / 2) * n
    y = float((d * tail) ** (2 / n))
    if y > 0.05 + a:
        x = NormalDist().inv_cdf(tail / 2)
        y = x * x
        c += 0.3 * (n - 4.5) * (x + 0.6) if n < 5 else 0.0
        c += (((0.05 * d * x - 5) * x - 7) * x - 2) * x + b
        y = (((((0.4 * y + 6.3) * y + 36) * y + 94.5) / c - y - 3) / b + 1) * x
        y = math.expm1(a * y * y)
    else:
        inner = 1 / (((n + 6) / (n * y) - 0.089 * d - 0.822) * (n + 2) * 3) + 0.5 / (n + 4)
        y = (inner * y - 1) * (n + 1) / (n + 2) + 1 / y
    return math.sqrt(n * y)


def fisher_two(f: float, freedom: float) -> float:
    """Chance that an F of 2 and `freedom` degrees stays below f >= 0: 1 - (1 + 2 f / freedom)^(-freedom / 2).

    (computed)

    >>> round(fisher_two(4.10, 10), 3)
    0.95
    """
    return float(1 - (1 + 2 * f / freedom) ** (-freedom / 2))
