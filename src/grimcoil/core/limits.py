"""Comparing with a limit: a value that stands on it is inside, whatever the last bit of a float says."""

from __future__ import annotations

SLACK = 1e-9


def within(value: float, limit: float) -> bool:
    """Whether a value is at most a limit, in the same unit, with a relative slack of 1e-9 (common practice: a value on
    a limit is inside it). nan is not within.

    >>> within(100 * (506 / 460 - 1), 10), within(10.00001, 10)
    (True, False)
    """
    return value <= limit + SLACK * abs(limit)


def reaches(value: float, limit: float) -> bool:
    """Whether a value is at least a limit, with the same slack, both in one unit (computed).

    >>> reaches(1.64, 0.64 + 1), reaches(1.6399, 1.64)
    (True, False)
    """
    return value >= limit - SLACK * abs(limit)
