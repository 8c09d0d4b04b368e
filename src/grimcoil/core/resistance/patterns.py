"""Which fault the three line readings look like, wye and delta side by side where ohms cannot tell."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import mean

from grimcoil.core.resistance.phases import delta_phases, wye_phases

PHASES = ("1", "2", "3")
PAIRS = ("1-2", "2-3", "3-1")


@dataclass(frozen=True, slots=True)
class Pattern:
    """A fault pattern: the phase or coil it points at, the connection it assumes, and its size."""

    pattern: str
    phase: str | None = None
    internal_connection: str | None = None
    deviation_percent: float | None = None


def patterns(
    ohms: Sequence[float | None],
    balanced: bool,
    connection: str | None,
    tolerance: float,
) -> list[Pattern]:
    """Patterns for line readings 1-2, 2-3, 3-1 (ohm; None = open).

    connection: `wye`, `delta` or None (unknown: both are told). tolerance: relative difference up to which
    two values count as equal.
    """
    found = (
        _open_patterns(ohms)
        if None in ohms
        else _closed_patterns([r for r in ohms if r is not None], balanced, tolerance)
    )
    fitting = [p for p in found if connection is None or p.internal_connection in (None, connection)]
    return fitting or [Pattern("unclassified")]


def _open_patterns(ohms: Sequence[float | None]) -> list[Pattern]:
    closed = [i for i, ohm in enumerate(ohms) if ohm is not None]
    if not closed:
        return [Pattern("all-open")]
    if len(closed) == 2:
        return [Pattern("unclassified")]
    absent = PHASES[(closed[0] + 2) % 3]
    return [
        Pattern("open-phase", absent, "wye"),
        Pattern("lead-open-delta", absent, "delta"),
    ]


def _closed_patterns(ohms: Sequence[float], balanced: bool, tolerance: float) -> list[Pattern]:
    if balanced:
        return [Pattern("balanced")]
    open_coil = _open_coil(ohms, tolerance)
    wye = _one_off(wye_phases(*ohms), PHASES, "wye", tolerance)
    delta = _one_off(delta_phases(*ohms), PAIRS, "delta", tolerance)
    return [p for p in (open_coil, wye, None if open_coil else delta) if p is not None]


def _open_coil(ohms: Sequence[float], tolerance: float) -> Pattern | None:
    """One reading twice the two equal others: the coil across the high pair of a delta is open."""
    high = max(range(3), key=lambda i: ohms[i])
    others = [ohms[i] for i in range(3) if i != high]
    level = mean(others)
    if abs(others[0] - others[1]) <= tolerance * level and abs(ohms[high] - 2 * level) <= 2 * tolerance * level:
        return Pattern("open-coil-delta", PAIRS[high], "delta")
    return None


def _one_off(values: Sequence[float], names: Sequence[str], connection: str, tolerance: float) -> Pattern | None:
    """One value apart from two alike: low is shorted turns, high a poor joint."""
    for odd in sorted(range(3), key=lambda i: -abs(values[i] - sorted(values)[1])):
        others = [values[i] for i in range(3) if i != odd]
        level = mean(others)
        if level <= 0 or abs(others[0] - others[1]) > tolerance * level:
            continue
        deviation = 100 * (values[odd] / level - 1)
        if abs(deviation) > 100 * tolerance:
            name = "shorted-turns" if deviation < 0 else "poor-joint"
            return Pattern(name, names[odd], connection, deviation)
    return None
