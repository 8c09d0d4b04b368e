"""Resistance and temperature of copper and aluminium windings (IEEE 118 / IEEE 112, standard, from memory)."""

from __future__ import annotations

INFERRED_ZERO_C = {"copper": 234.5, "aluminium": 225.0}


def at_reference(
    resistance_ohm: float,
    winding_c: float,
    reference_c: float = 25.0,
    conductor: str = "copper",
) -> float:
    """R2 = R1 (k + t2) / (k + t1), k = 234.5 for copper, 225 for aluminium. Ω and °C.

    >>> round(at_reference(0.520, 18.0), 4)
    0.5344
    """
    k = INFERRED_ZERO_C[conductor]
    return resistance_ohm * (k + reference_c) / (k + winding_c)


def temperature_by_resistance(hot_ohm: float, cold_ohm: float, cold_c: float, conductor: str = "copper") -> float:
    """Average winding temperature t2 = (R2/R1)(k + t1) - k, °C; ohms of both in Ω; not the hot spot.

    >>> round(temperature_by_resistance(1.489, 1.120, 21.0), 1)
    105.2
    """
    k = INFERRED_ZERO_C[conductor]
    return hot_ohm / cold_ohm * (k + cold_c) - k
