"""Phase values behind three line readings. Three readings always fit one wye and one delta exactly."""

from __future__ import annotations

import math

Three = tuple[float, float, float]


def wye_phases(r12: float, r23: float, r31: float) -> Three:
    """Phases 1, 2, 3 of a wye; negative where no three resistances can give the readings. Ω (computed)."""
    return ((r12 + r31 - r23) / 2, (r12 + r23 - r31) / 2, (r23 + r31 - r12) / 2)


def delta_phases(r12: float, r23: float, r31: float) -> Three:
    """Coils 1-2, 2-3, 3-1 of a delta: s / (wye leg at the third terminal), s = ab + bc + ca. Ω (computed).

    >>> [round(r, 3) for r in delta_phases(1.86, 2.00, 1.88)]
    [2.713, 3.149, 2.768]
    """
    a, b, c = wye_phases(r12, r23, r31)
    s = a * b + b * c + c * a
    return tuple(s / leg if leg > 0 else math.inf for leg in (c, a, b))  # type: ignore[return-value]


def delta_lines(side12: float, side23: float, side31: float) -> Three:
    """Line readings R12, R23, R31 of a delta of three coils (each with the other two in series beside it).

    Ω (computed).
    """
    total = side12 + side23 + side31
    return (
        side12 * (side23 + side31) / total,
        side23 * (side31 + side12) / total,
        side31 * (side12 + side23) / total,
    )
