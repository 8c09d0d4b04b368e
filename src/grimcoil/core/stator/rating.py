"""What a plate's voltages mean for one half-coil: `230Y/460Y`, `230D/400Y`, `460`."""

from __future__ import annotations

import re
from dataclasses import dataclass
from itertools import product

from grimcoil.core.errors import Refusal
from grimcoil.core.stator.connections import Connection, connections_of
from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.core.stator.volts import coil_volts, line_potentials

MISFIT = 0.08
ONE_JOINING = 1.16


@dataclass(frozen=True, slots=True)
class Rated:
    """One voltage of the plate, V line to line, with `Y` or `D` where it says so."""

    voltage_v: float
    letter: str | None = None


@dataclass(frozen=True, slots=True)
class Design:
    """A rated voltage, the connection it stands for, and the volts each half-coil gets in it."""

    rated: Rated
    connection: Connection
    half_coil_v: float


def parse_rated(text: str) -> tuple[Rated, ...]:
    """`230Y/460Y` to rated voltages, lowest first. Raises Refusal.

    `208-230/460` names three voltages; a letter behind a range counts for both its ends.

    >>> [(r.voltage_v, r.letter) for r in parse_rated("400Y/230D")]
    [(230.0, 'D'), (400.0, 'Y')]
    >>> [(r.voltage_v, r.letter) for r in parse_rated("208-230Y/460Y")]
    [(208.0, 'Y'), (230.0, 'Y'), (460.0, 'Y')]
    """
    text = re.sub(r"(\d)\s*-\s*(\d+(?:\.\d+)?\s*V?\s*([YDyd]))", r"\1\3-\2", text)
    out = []
    for part in re.split(r"[/,-]", text.upper().replace("Δ", "D")):
        match = re.fullmatch(r"\s*(\d{1,5}(?:\.\d{1,3})?)\s*V?\s*([YD])?\s*", part)
        if match is None or float(match.group(1)) <= 0:
            raise Refusal("rated", part.strip() or text, "a voltage with Y or D behind it", "230Y/460Y")
        out.append(Rated(float(match.group(1)), match.group(2)))
    return tuple(sorted(out, key=lambda rated: rated.voltage_v))


def half_coil_share(connection: Connection) -> float:
    """Volts across a loaded half-coil per volt line to line, in the right connection of a scheme (computed).

    >>> [round(half_coil_share(c), 4) for c in connections_of("nine-lead-wye")]
    [0.2887, 0.5774]
    """
    solved = coil_volts(
        SCHEMES[connection.scheme], connection.lines, connection.joined, line_potentials((1.0, 1.0, 1.0))
    )
    return max(abs(volts) for volts in solved.volts)


def designs(
    rated: tuple[Rated, ...], scheme: str, speed: str | None = None, duty: str | None = None
) -> list[tuple[Design, ...]]:
    """Every reading of the plate that gives one half-coil voltage to all of it, and, where none does, every reading
    by letters alone. Each reading is a design for each rated voltage. More than one leaves the plate ambiguous.
    """
    duties = dict.fromkeys(one.duty for one in connections_of(scheme, speed, "run", duty))
    if duty is None and len(duties) > 1:  # what ohms and plate leave open, each duty reads in its own way
        return [reading for one in duties for reading in designs(rated, scheme, speed, one)]
    running = connections_of(scheme, speed, "run", duty)
    at_all = connections_of(scheme, None, "run", duty)
    kept = [(one, [c for c in running if one.letter in (None, c.letter)]) for one in rated]
    if speed is not None and any(fitting for _, fitting in kept):
        # `460D/460Y` of two speeds: the letter of the other speed's joining says nothing of this one
        kept = [(one, fitting) for one, fitting in kept if fitting or all(c.letter != one.letter for c in at_all)]
    elif speed is not None:  # `460D` at the speed that is joined as a star: the plate's one voltage is for both
        kept = [(one, running if any(c.letter == one.letter for c in at_all) else []) for one in rated]
    readings: list[tuple[Design, ...]] = [()]
    for one, fitting in kept:
        readings = [
            (*reading, Design(one, c, one.voltage_v * half_coil_share(c)))
            for reading in readings
            for c in fitting
            if all(c is not earlier.connection or _near(one, earlier.rated) for earlier in reading)
        ]
    agreeing = [reading for reading in readings if reading and _spread(reading) <= MISFIT]
    return agreeing or [reading for reading in readings if reading]


def _near(one: Rated, other: Rated) -> bool:
    """Two voltages for one joining, as `208-230` is."""
    low, high = sorted((one.voltage_v, other.voltage_v))
    return high / low <= ONE_JOINING


def _spread(reading: tuple[Design, ...]) -> float:
    """How far the joinings are apart in their coils' volts; of a joining with two voltages the one that fits better.
    Two speeds of one winding have coil volts of their own and aren't compared.
    """
    by: dict[str | None, dict[Connection, list[float]]] = {}
    for design in reading:
        by.setdefault(design.connection.speed, {}).setdefault(design.connection, []).append(design.half_coil_v)
    return max(min(max(volts) / min(volts) - 1 for volts in product(*one.values())) for one in by.values())


def fits(reading: tuple[Design, ...]) -> bool:
    """Whether all voltages of the plate give the half-coils the same volts."""
    return _spread(reading) <= MISFIT


def start_of(design: Design) -> Connection:
    """The connection to start with, where the scheme has one for this design."""
    starts = connections_of(design.connection.scheme, mode="start")
    return next((c for c in starts if c.letter == design.connection.letter), design.connection)
