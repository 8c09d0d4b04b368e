"""Which fault the readings look like, wye and delta side by side where ohms cannot tell."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import fmean

from grimcoil.core.resistance.phases import delta_phases, wye_phases

PHASES = ("1", "2", "3")
PAIRS = ("1-2", "2-3", "3-1")
# How near a sound pair's expected ohms a reading must come to be called sound; common practice without source.
KNOWN_WITHIN = 0.03


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
    pairs: Sequence[str] = PAIRS,
    healthy_ohm: float | None = None,
) -> list[Pattern]:
    """Patterns for three pairs of three terminals (ohm; None = open), in the order of `pairs` (computed).

    connection: `wye`, `delta` or None (unknown: both are told). tolerance: relative difference up to which
    two values count as equal. healthy_ohm: the reading of a sound pair at this temperature, where known.
    """
    terminals = tuple(pair.split("-")[0] for pair in pairs)
    found = (
        _open_patterns(ohms, terminals, pairs, healthy_ohm, tolerance)
        if None in ohms
        else _closed_patterns([r for r in ohms if r is not None], balanced, tolerance, terminals, pairs, healthy_ohm)
    )
    fitting = [p for p in found if connection is None or p.internal_connection in (None, connection)]
    return fitting or [Pattern("unclassified")]


def coil_patterns(ohms: Sequence[float], tolerance: float, names: Sequence[str]) -> list[Pattern]:
    """The same for uneven readings of single coils, Ω (computed)."""
    odd = _one_off(ohms, names, None, tolerance)
    return [odd or Pattern("unclassified")]


def _open_patterns(
    ohms: Sequence[float | None],
    terminals: Sequence[str],
    pairs: Sequence[str],
    healthy_ohm: float | None,
    tolerance: float,
) -> list[Pattern]:
    closed = [i for i, ohm in enumerate(ohms) if ohm is not None]
    if not closed:
        return [Pattern("all-open")]
    if len(closed) == 2:
        return [Pattern("unclassified")]
    absent = terminals[(closed[0] + 2) % 3]
    wye, lead = Pattern("open-phase", absent, "wye"), Pattern("lead-open-delta", absent, "delta")
    others = " and ".join(pair for i, pair in enumerate(pairs) if i != closed[0])
    coils = Pattern("open-coil-delta", others, "delta")
    if healthy_ohm is None:
        return [wye, lead, coils]
    ratio = (ohms[closed[0]] or 0.0) / healthy_ohm
    if abs(ratio - 1.5) <= 0.1 + 1.5 * tolerance:
        return [coils]
    return [wye, lead] if abs(ratio - 1) <= 0.1 + tolerance else [wye, lead, coils]


def _closed_patterns(
    ohms: Sequence[float],
    balanced: bool,
    tolerance: float,
    terminals: Sequence[str],
    pairs: Sequence[str],
    healthy_ohm: float | None,
) -> list[Pattern]:
    if balanced:
        return [Pattern("balanced")]
    a, b, c = ohms
    open_coil = _open_coil(ohms, tolerance, pairs)
    wye = _one_off(wye_phases(a, b, c), terminals, "wye", tolerance)
    delta = _one_off(delta_phases(a, b, c), pairs, "delta", tolerance)
    lead = _lead_joint(ohms, terminals, tolerance)
    if lead is not None and delta is not None and healthy_ohm:
        low, high = min(ohms) / healthy_ohm, max(ohms) / healthy_ohm
        if abs(low - 1) <= KNOWN_WITHIN:
            delta = None
        elif abs(high - 1) <= KNOWN_WITHIN:
            lead = None
    found = [open_coil, wye] if open_coil else [wye, delta, lead]
    return [pattern for pattern in found if pattern is not None]


def _lead_joint(ohms: Sequence[float], terminals: Sequence[str], tolerance: float) -> Pattern | None:
    """Two high by the same ohms, one sound: outside a delta the line lead shared by the two has a poor joint.

    A delta coil with shorted turns has the same shape; only the level of a sound pair tells them apart.
    """
    low = min(range(3), key=lambda i: ohms[i])
    highs = [ohms[i] for i in range(3) if i != low]
    level = fmean(highs)
    if abs(highs[0] - highs[1]) > tolerance * level or level <= ohms[low] * (1 + tolerance) or ohms[low] <= 0:
        return None
    return Pattern("poor-joint", terminals[(low + 2) % 3], "delta", 100 * (level / ohms[low] - 1))


def _open_coil(ohms: Sequence[float], tolerance: float, pairs: Sequence[str]) -> Pattern | None:
    """One reading twice the two equal others: the coil across the high pair of a delta is open."""
    high = max(range(3), key=lambda i: ohms[i])
    others = [ohms[i] for i in range(3) if i != high]
    level = fmean(others)
    if abs(others[0] - others[1]) <= tolerance * level and abs(ohms[high] - 2 * level) <= 2 * tolerance * level:
        return Pattern("open-coil-delta", pairs[high], "delta")
    return None


def _one_off(values: Sequence[float], names: Sequence[str], connection: str | None, tolerance: float) -> Pattern | None:
    """One value apart from the others, which are alike: low is shorted turns, high a poor joint, twice as high
    one of two parallel paths open.
    """
    middle = sorted(values)[len(values) // 2]
    for odd in sorted(range(len(values)), key=lambda i: -abs(values[i] - middle)):
        others = [value for i, value in enumerate(values) if i != odd]
        level = fmean(others)
        if level <= 0 or max(others) - min(others) > tolerance * level:
            continue
        deviation = 100 * (values[odd] / level - 1)
        if abs(deviation) > 100 * tolerance:
            return Pattern(_name_of(deviation, tolerance), names[odd], connection, deviation)
    return None


def _name_of(deviation_percent: float, tolerance: float) -> str:
    if deviation_percent < 0:
        return "shorted-turns"
    doubled = abs(deviation_percent - 100) <= 200 * tolerance
    return "parallel-path-open" if doubled else "poor-joint"
