"""A motor as instruments find it: its coils as a net of resistors, its insulation over time, its supply.

Written from the handbook's text, not from the rules that judge: what is read here is the truth that they are asked
about. Coils of each lead scheme as in its tables (NEMA MG 1 lead markings, standard, from memory).
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np

COILS: Mapping[str, tuple[tuple[str, str], ...]] = {
    "three-lead-wye": (("1", "S"), ("2", "S"), ("3", "S")),
    "three-lead-delta": (("1", "2"), ("2", "3"), ("3", "1")),
    "six-lead": (("1", "4"), ("2", "5"), ("3", "6")),
    "nine-lead-wye": (("1", "4"), ("2", "5"), ("3", "6"), ("7", "S"), ("8", "S"), ("9", "S")),
    "nine-lead-delta": (("1", "4"), ("2", "5"), ("3", "6"), ("1", "9"), ("2", "7"), ("3", "8")),
    "twelve-lead": (("1", "4"), ("2", "5"), ("3", "6"), ("7", "10"), ("8", "11"), ("9", "12")),
}
FAULTS = {
    "sound": "no fault",
    "open-coil": "the second coil open",
    "turns-shorted": "a tenth of the second coil shorted",
    "high-joint": "a joint of 8 % of a coil in the third",
    "to-frame": "the first coil to frame, 2 kΩ",
    "damp": "damp: 2 MΩ to frame after a minute, no rise",
    "line-lost": "line 2 of the supply lost",
}
FRAME = "frame"
# Figures of this motor and its faults are own choice: those of no motor in particular.
WINDING_C = 22.0
OPEN_OHM = 1e15
_LEAK_OHM, _ABSORB_OHM, _CHARGE_OHM, _CHARGE_S, _FALL = 3.0e9, 1.5e9, 2.0e7, 2.0, 0.6  # own choice: an index of 2


@dataclass(frozen=True, slots=True)
class Machine:
    """A motor of a plate with a fault of `FAULTS`. coil_ohm: of each coil at the winding's temperature."""

    scheme: str = "three-lead-wye"
    volts: float = 480.0
    amps: float = 17.5
    coil_ohm: float = 0.25
    fault: str = "sound"

    def net(self) -> list[tuple[str, str, float]]:
        """Its coils as resistors between nodes, ohm."""
        made = []
        for number, (one, other) in enumerate(COILS[self.scheme]):
            ohm = self.coil_ohm * (1.0, 1.002, 0.999, 1.001, 0.998, 1.0)[number]
            if number == 1:
                ohm *= {"open-coil": OPEN_OHM, "turns-shorted": 0.9}.get(self.fault, 1.0)
            if number == 2 and self.fault == "high-joint":
                ohm *= 1.08
            made.append((one, other, ohm))
        return made

    def ohms(self, red: Iterable[str], black: Iterable[str]) -> float:
        """Between two probes, each on one lead or on several joined; infinite where nothing joins them."""
        if FRAME in {*red, *black}:
            return self._frame_ohm(60.0)
        return between(self.net(), tuple(red), tuple(black))

    def insulation(self, t_s: float) -> float:
        """To frame after a time at test voltage, ohm: leakage, absorption that falls, the charging of the winding."""
        return self._frame_ohm(max(t_s, 0.1))

    def _frame_ohm(self, t_s: float) -> float:
        if self.fault == "to-frame":
            return 2000.0
        charging: float = math.exp(-t_s / _CHARGE_S) / _CHARGE_OHM
        if self.fault == "damp":
            return 1 / (1 / 2.0e6 + charging)
        absorbed: float = (t_s / 60.0) ** -_FALL / _ABSORB_OHM
        return 1 / (1 / _LEAK_OHM + absorbed + charging)

    def supply(self, red: str, black: str) -> float:
        """Volts between lines, or a line and earth."""
        if self.fault == "line-lost" and "L2" in (red, black):
            return 0.02 * self.volts
        level = {"L1": 1.0, "L2": 0.998, "L3": 1.002}
        between_lines = red in level and black in level
        return self.volts * (level.get(red, 1.0) + level.get(black, 1.0)) / 2 / (1 if between_lines else math.sqrt(3))

    def line_amps(self, line: str) -> float:
        """Of one line, running at nine tenths of its plate."""
        if self.fault == "line-lost":
            return 0.0 if line == "L2" else 1.6 * self.amps
        return 0.9 * self.amps * {"L1": 1.0, "L2": 1.004, "L3": 0.997}.get(line, 1.0)


def between(net: Iterable[tuple[str, str, float]], red: tuple[str, ...], black: tuple[str, ...]) -> float:
    """Ohms between two sets of joined nodes, by nodal analysis (Kirchhoff's current law; standard). Infinite where no
    path joins them, zero where they share a node.
    """
    if set(red) & set(black):
        return 0.0
    name = {**dict.fromkeys(red, "+"), **dict.fromkeys(black, "-")}
    edges = [(name.get(a, a), name.get(b, b), ohm) for a, b, ohm in net if ohm < OPEN_OHM / 1e6]
    reached, grown = {"+"}, True
    while grown:
        more = {b if a in reached else a for a, b, _ in edges if (a in reached) != (b in reached)}
        grown, reached = bool(more), reached | more
    if "-" not in reached:
        return math.inf
    nodes = sorted(reached - {"-"})
    at = {node: i for i, node in enumerate(nodes)}
    matrix = np.zeros((len(nodes), len(nodes)))
    for a, b, ohm in edges:
        for one, other in ((a, b), (b, a)):
            if one in at:
                matrix[at[one], at[one]] += 1 / ohm
                if other in at:
                    matrix[at[one], at[other]] -= 1 / ohm
    sent = np.zeros(len(nodes))
    sent[at["+"]] = 1.0
    return float(np.linalg.solve(matrix, sent)[at["+"]])
