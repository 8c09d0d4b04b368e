"""The hold: which test voltage, and how long to short to frame afterwards."""

from __future__ import annotations

# IEEE 43-2013 Table 1, standard, from memory: rated line voltage up to (V) -> least and most test volts DC.
TEST_VOLTAGE_V = (
    (1000, 500, 500),
    (2500, 500, 1000),
    (5000, 1000, 2500),
    (12000, 2500, 5000),
)

DISCHARGE_TIMES = 4


def usual_test_voltage_v(rated_voltage_v: float) -> tuple[int, int]:
    """Least and most direct volts for a rated line voltage (IEEE 43-2013 Table 1, standard, from memory).

    >>> usual_test_voltage_v(460), usual_test_voltage_v(2300)
    ((500, 500), (500, 1000))
    """
    if rated_voltage_v < 1000:
        return 500, 500
    for top, low, high in TEST_VOLTAGE_V[1:]:
        if rated_voltage_v <= top:
            return low, high
    return 5000, 10000


def discharge_s(applied_s: float) -> float:
    """Least time shorted to frame: 4 x the time voltage was applied (IEEE 43, standard, from memory).

    Both in seconds.
    """
    return DISCHARGE_TIMES * applied_s
