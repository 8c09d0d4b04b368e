"""Correction to 40 °C and the dew point."""

from __future__ import annotations

import math

from grimcoil.core.errors import Refusal

LOWEST_C, HIGHEST_C = 10.0, 85.0


def correction_factor(winding_c: float, insulation_system: str = "thermosetting") -> float:
    """K with R40 = K R. Thermosetting: IEEE 43-2013 (standard, from memory; 273 and 313 as printed);
    thermoplastic: halving per 10 °C.

    Valid from 10 to 85 °C; outside raises Refusal.

    >>> round(correction_factor(20.0), 4), correction_factor(20.0, "thermoplastic")
    (0.7622, 0.25)
    """
    if not LOWEST_C <= winding_c <= HIGHEST_C:
        raise Refusal(
            "winding temperature",
            f"{winding_c:g} °C",
            "the correction to 40 °C holds from 10 to 85 °C",
        )
    if insulation_system == "thermoplastic":
        return float(0.5 ** ((40 - winding_c) / 10))
    slope = -4230 if winding_c > 40 else -1245
    return math.exp(slope * (1 / (winding_c + 273) - 1 / 313))


def dew_point_c(air_c: float, relative_humidity_percent: float) -> float:
    """Magnus formula, 17.62 and 243.12 °C (standard, from memory); humidity above 0 up to 100 %.

    >>> round(dew_point_c(25, 60), 2), round(dew_point_c(12, 88), 2)
    (16.69, 10.07)
    """
    if not 0 < relative_humidity_percent <= 100:
        raise Refusal(
            "relative humidity",
            f"{relative_humidity_percent:g} %",
            "above 0 up to 100 %",
        )
    gamma = math.log(relative_humidity_percent / 100) + 17.62 * air_c / (243.12 + air_c)
    return 243.12 * gamma / (17.62 - gamma)
