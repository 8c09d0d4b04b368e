"""What a plate's voltages mean for one half-coil: `230Y/460Y`, `230D/400Y`, `460`."""

from __future__ import annotations

import re
from dataclasses import dataclass

from grimcoil.core.errors import Refusal
from grimcoil.core.stator.connections import Connection, connections_of
from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.core.stator.volts import coil_volts, line_potentials

MISFIT = 0.08


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

    >>> [(r.voltage_v, r.letter) for r in parse_rated("400Y/230D")]
    [(230.0, 'D'), (400.0, 'Y')]
    """
    out = []
    for part in text.upper().replace("Δ", "D").replace(",", "/").split("/"):
        match = re.fullmatch(r"\s*(\d{1,5}(?:\.\d{1,3})?)\s*V?\s*([YD])?\s*", part)
        if match is None or float(match.group(1)) <= 0:
            raise Refusal("rated", part.strip() or text, "a voltage with Y or D behind it", "230Y/460Y")
        out.append(Rated(float(match.group(1)), match.group(2)))
    return tuple(sorted(out, key=lambda rated: rated.voltage_v))


def half_coil_share(connection: Connection) -> float:
    """Volts across a loaded half-coil per volt line to line, in the right connection of a scheme.

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
    running = connections_of(scheme, speed, "run", duty)
    readings: list[tuple[Design, ...]] = [()]
    for one in rated:
        fitting = [c for c in running if one.letter in (None, c.letter)]
        readings = [
            (*reading, Design(one, c, one.voltage_v * half_coil_share(c)))
            for reading in readings
            for c in fitting
            if all(c is not earlier.connection for earlier in reading)
        ]
    agreeing = [reading for reading in readings if reading and _spread(reading) <= MISFIT]
    return agreeing or [reading for reading in readings if reading]


def _spread(reading: tuple[Design, ...]) -> float:
    volts = [design.half_coil_v for design in reading]
    return max(volts) / min(volts) - 1


def fits(reading: tuple[Design, ...]) -> bool:
    """Whether all voltages of the plate give the half-coils the same volts."""
    return _spread(reading) <= MISFIT


def start_of(design: Design) -> Connection:
    """The connection to start with, where the scheme has one for this design."""
    starts = connections_of(design.connection.scheme, mode="start")
    return next((c for c in starts if c.letter == design.connection.letter), design.connection)
