"""A simulated instrument's front: ranges, digits, accuracy and test leads, and the SCPI words it understands.

Common commands by IEEE 488.2, the rest by SCPI-1999 (standards, from memory); `SIM:…` is our own, as a stand-in has no
hands: what is on its probes is told to it.
"""

from __future__ import annotations

import re
from collections import deque
from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from grimcoil.core.version import VERSION
from grimcoil.simulator.machine import COILS, WINDING_C, Machine

QUEUED = 20  # errors that wait; SCPI: the last place then says that more were lost
OVER, NOT_A_NUMBER = "9.90000000E+37", "9.91000000E+37"
UNDEFINED = '-113,"Undefined header"'
OUT_OF_RANGE = '-222,"Data out of range"'
STALE = '-230,"Data corrupt or stale"'
OVERFLOW = '-350,"Queue overflow"'
# Ranges, digits and what each reads too high are own choice, of no instrument in particular.
LEADS_OHM = 0.2  # of a multimeter's two test leads, not zeroed
LEAST, MOST = 1e-6, 1e6  # volts, amps, ohms and seconds that are taken


@dataclass(frozen=True, slots=True)
class Kind:
    """What an instrument can do. ranges: by function, each range's top with what its last digit is worth, SI;
    percent: what it reads too high, well within its accuracy.
    """

    model: str
    ranges: Mapping[str, tuple[tuple[float, float], ...]]
    percent: float


_OHMS = ((400.0, 0.1), (4e3, 1.0), (4e4, 10.0), (4e5, 100.0), (4e6, 1e3), (4e7, 1e4))
_MEGOHMS = ((1e7, 1e4), (1e8, 1e5), (1e9, 1e6), (1e10, 1e7))
KINDS: Mapping[str, Kind] = {
    "multimeter": Kind(
        "SIM multimeter", {"VOLT:AC": ((60.0, 0.01), (600.0, 0.1), (1000.0, 1.0)), "VOLT:DC": ((600.0, 0.1),),
                           "RES": _OHMS, "CAP": ((1e-5, 1e-8), (1e-4, 1e-7))}, 0.2,
    ),
    "low-ohm": Kind("SIM low-ohm meter", {"FRES": ((0.2, 1e-5), (2.0, 1e-4), (20.0, 1e-3), (200.0, 1e-2))}, 0.03),
    "insulation": Kind("SIM insulation tester", {"RES": _MEGOHMS}, 0.5),
    "clamp": Kind("SIM clamp", {"CURR:AC": ((60.0, 0.01), (600.0, 0.1))}, 0.3),
    "thermometer": Kind("SIM thermometer", {"TEMP": ((150.0, 0.1),)}, 0.0),
}  # fmt: skip
_SHORT = {
    "VOLTAGE": "VOLT", "CURRENT": "CURR", "RESISTANCE": "RES", "FRESISTANCE": "FRES", "CAPACITANCE": "CAP",
    "TEMPERATURE": "TEMP", "MEASURE": "MEAS", "CONFIGURE": "CONF", "FETCH": "FETC", "INITIATE": "INIT",
    "SYSTEM": "SYST", "ERROR": "ERR", "VERSION": "VERS",
}  # fmt: skip
_STARTS = ("MEAS:", "READ", "INIT")


@dataclass
class Meter:
    """One instrument with what is on its probes. answer takes a line and gives the answers to what it asked."""

    kind: str
    machine: Machine = field(default_factory=Machine)
    red: tuple[str, ...] = ("1",)
    black: tuple[str, ...] = ("2",)
    held_s: float | None = None
    set_to: str = ""
    last: str = NOT_A_NUMBER
    errors: deque[str] = field(default_factory=deque)

    def __post_init__(self) -> None:
        """It starts on its first function."""
        self.set_to = next(iter(KINDS[self.kind].ranges))

    @property
    def identity(self) -> str:
        """Its answer to `*IDN?`: maker, model, serial, version."""
        return f"Grim Coil,{KINDS[self.kind].model},{self.kind},{VERSION}"

    def answer(self, line: str) -> str:
        """Answers to a line of commands joined by `;`, joined alike; empty where it asked nothing."""
        said = [told for words in line.split(";") if (told := self._one(words.strip())) is not None]
        return ";".join(said)

    def error(self, words: str) -> None:
        """Into the queue; at its end the last place says that more were lost."""
        if len(self.errors) >= QUEUED:
            self.errors[-1] = OVERFLOW
        else:
            self.errors.append(words)

    def _one(self, words: str) -> str | None:
        head, _, rest = words.partition(" ")
        word = ":".join(_SHORT.get(part, part) for part in head.upper().lstrip(":").rstrip("?").split(":"))
        asks = head.endswith("?")
        if not head:
            return None
        if asks and word in ("*IDN", "*OPC", "*ESR", "*STB", "*TST", "SYST:VERS"):
            return {"*IDN": self.identity, "*OPC": "1", "SYST:VERS": "1999.0"}.get(word, "0")
        if asks and word in ("SYST:ERR", "SYST:ERR:NEXT"):
            return self.errors.popleft() if self.errors else '0,"No error"'
        if word in ("*RST", "*CLS") and not asks:
            self.errors.clear()
            return None
        if word.startswith("SIM:") and not asks:
            self._placed(word, rest)
            return None
        return self._measured(word, asks)

    def _measured(self, word: str, asks: bool) -> str | None:
        function = word.partition(":")[2] if word.startswith(("MEAS:", "CONF:")) else ""
        if function and function not in KINDS[self.kind].ranges:
            self.error(UNDEFINED)
            return NOT_A_NUMBER if asks else None
        if word.startswith(_STARTS) and self.kind == "insulation":  # no voltage is put on from a wire
            self.error(STALE)
            return NOT_A_NUMBER if asks else None
        if word.startswith("CONF"):
            self.set_to = function or self.set_to
            return f'"{self.set_to}"' if asks and not function else None
        if word in ("READ", "FETC", "INIT") or word.startswith("MEAS:"):
            self.set_to = function or self.set_to
            if word != "FETC" or self.kind == "insulation":
                self.last = self._reading()
            return self.last if asks else None
        self.error(UNDEFINED)
        return None

    def _placed(self, word: str, rest: str) -> None:
        given = [part.strip() for part in rest.split(",")]
        try:
            if word == "SIM:PROBES":
                red, black, held = given[0], given[1], (float(given[2]) if len(given) > 2 else None)
                if held is None or 0 <= held <= MOST:
                    self.red, self.black, self.held_s = tuple(red.split("+")), tuple(black.split("+")), held
                    return
            if word == "SIM:MOTOR" and given[0] in COILS:
                volts, amps, coil = (float(text) for text in given[1:4])
                if all(LEAST <= one <= MOST for one in (volts, amps, coil)):
                    self.machine = replace(self.machine, scheme=given[0], volts=volts, amps=amps, coil_ohm=coil)
                    return
        except (ValueError, IndexError):
            pass
        self.error(OUT_OF_RANGE if word in ("SIM:PROBES", "SIM:MOTOR") else UNDEFINED)

    def _reading(self) -> str:
        value = self._true()
        if value is None:
            self.error(STALE)
            return NOT_A_NUMBER
        kind = KINDS[self.kind]
        value *= 1 + kind.percent / 100
        for top, digit in kind.ranges[self.set_to]:
            if abs(value) <= top:
                return shown(value, digit)
        return OVER

    def _true(self) -> float | None:
        red, black = self.red, self.black
        if self.set_to == "TEMP":
            return WINDING_C
        if self.set_to == "CURR:AC":
            return sum(self.machine.line_amps(line) for line in red) if len(red) == 1 else 0.02 * self.machine.amps
        if self.set_to == "VOLT:AC":
            return self.machine.supply(red[0], black[0])
        if self.set_to == "VOLT:DC":
            return 0.0
        if self.set_to == "CAP":
            return 2e-8
        if self.kind == "insulation":
            return self.machine.insulation(self.held_s) if self.held_s is not None else None
        ohms = self.machine.ohms(red, black)
        return ohms + (LEADS_OHM if self.set_to == "RES" else 0.0)


def shown(value: float, digit: float) -> str:
    """A figure with the digits of its range, as SCPI writes it.

    >>> shown(0.48624, 1e-4), shown(0.0, 0.1), shown(5.5e8, 1e6)
    ('4.862E-01', '0.0E+00', '5.50E+08')
    """
    counts = round(value / digit)
    if counts == 0:
        return "0.0E+00"
    return re.sub(r"E([+-])(\d)$", r"E\g<1>0\2", f"{counts * digit:.{len(str(abs(counts))) - 1}E}")
