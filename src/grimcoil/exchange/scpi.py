"""A reading taken from an instrument on a wire: SCPI over TCP, one connection a reading, two seconds at most.

IEEE 488.2 and the SCPI words are standard, from memory. An answer counts only with its end of line: one that comes
late would otherwise be read as the answer to the next question.
"""

from __future__ import annotations

import re
import socket
import time
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from decimal import Decimal

from grimcoil.core.errors import Refusal

LIMIT_S = 2.0  # own choice: a reading that takes longer is read off the display
LONGEST = 4096  # bytes of one answer; own choice
USUAL_HOSTS = ("127.0.0.1",)
SIMULATED = "SIM"  # how the model of a stand-in begins in its identity
OVER_RANGE = Decimal("9.9E37")  # SCPI: infinity
NOT_A_NUMBER = Decimal("9.91E37")  # SCPI
MOST_DECADES = 37  # decades of infinity as SCPI writes it: above it nothing is a figure
# What the register calls a function: the words asked, and the unit of the answer. An insulation tester is never
# started from here: its last reading is fetched.
WORDS: dict[str, tuple[str, str]] = {
    "low-ohm": ("MEAS:FRES?", "Ω"),
    "ohm": ("MEAS:RES?", "Ω"),
    "insulation": ("FETC?", "Ω"),
    "volt-ac": ("MEAS:VOLT:AC?", "V"),
    "volt-dc": ("MEAS:VOLT:DC?", "V"),
    "amp-clamp": ("MEAS:CURR:AC?", "A"),
    "capacitance": ("MEAS:CAP?", "F"),
    "temperature": ("MEAS:TEMP?", "°C"),
}
_UNITS = {"ohm": "Ω", "ω": "Ω", "v": "V", "a": "A", "f": "F", "c": "°C", "cel": "°C", "degc": "°C", "°c": "°C"}
_PREFIX = {-12: "p", -9: "n", -6: "u", -3: "m", 0: "", 3: "k", 6: "M", 9: "G", 12: "T"}
_ADDRESS = re.compile(r"(?:TCPIP\d*::)?(?P<host>[A-Za-z0-9.-]+)(?:::?)(?P<port>\d{1,5})(?:::SOCKET)?", re.IGNORECASE)
_ANSWER = re.compile(r"\s*(?P<figure>[+-]?\d*\.?\d+(?:[Ee][+-]?\d+)?)\s*(?P<unit>[A-Za-zΩω°]*)\s*")


class NoReading(Refusal):
    """Nothing was taken from an instrument: what it did instead."""

    DO = "Read it off the display and type it."


@dataclass(frozen=True, slots=True)
class Taken:
    """What an instrument answered. text: the digits of its display, `OL` over range; unit: with its prefix, `MΩ`;
    identity: its answer to `*IDN?`.
    """

    text: str
    unit: str
    identity: str

    @property
    def simulated(self) -> bool:
        """Whether a stand-in answered, no instrument."""
        return is_simulated(self.identity)


def is_simulated(identity: str) -> bool:
    """Whether an identity is a stand-in's: maker, then a model that says so."""
    model = identity.split(",")[1:2]
    return bool(model) and model[0].strip().upper().startswith(SIMULATED)


def address_of(text: str, allowed: Collection[str] = USUAL_HOSTS) -> tuple[str, int]:
    """Host and port of `127.0.0.1:5025` or `TCPIP::127.0.0.1::5025::SOCKET`. Raises NoReading: another host than the
    administrator allows is never asked.
    """
    found = _ADDRESS.fullmatch(text.strip())
    if found is None or not 1 <= int(found["port"]) <= 65535:
        raise NoReading("address", text[:80], "a host and a port", "127.0.0.1:5025", do="Correct the address.")
    if found["host"] not in allowed:
        says = f"one of {', '.join(allowed)}; the administrator allows more (GRIMCOIL_INSTRUMENT_HOSTS)"
        raise NoReading("address", found["host"], says, do="Ask the administrator, or type the reading.")
    return found["host"], int(found["port"])


def as_shown(figure: Decimal, unit: str) -> tuple[str, str]:
    """A figure with its own digits, and its unit with the prefix of a display.

    >>> as_shown(Decimal("5.50E+8"), "Ω"), as_shown(Decimal("4.862E-1"), "Ω")
    (('550', 'MΩ'), ('0.4862', 'Ω'))
    """
    plain = figure.to_eng_string()
    digits, _, exponent = plain.partition("E")
    return digits, f"{_PREFIX[int(exponent or 0)]}{unit}"


def take(
    address: str,
    function: str,
    *,
    allowed: Collection[str] = USUAL_HOSTS,
    known: str = "",
    placed: Sequence[str] = (),
    limit_s: float = LIMIT_S,
) -> Taken:
    """One reading of a function of `WORDS`. known: the identity it must have; placed: what a stand-in is told first,
    as it has no hands to put its probes; nothing of it goes to an instrument. Raises NoReading, in words.
    """
    if function not in WORDS:
        raise NoReading("function", function[:40], f"one of {', '.join(WORDS)}", do="Choose one of these.")
    host, port = address_of(address, allowed)
    where = f"instrument at {host}:{port}"
    begun = time.monotonic()

    def left() -> float:
        rest = limit_s - (time.monotonic() - begun)
        if rest <= 0:
            raise TimeoutError
        return rest

    try:
        with socket.create_connection((host, port), timeout=left()) as wire:
            line = _Line(wire, left)
            identity = line.asked("*IDN?")
            if known and identity != known:
                raise NoReading(where, identity[:120], f"the instrument of the register, {known[:120]}")
            for words in placed if is_simulated(identity) else ():
                line.asked(f"{words};*OPC?")
            words, unit = WORDS[function]
            answer = line.asked(words)
    except TimeoutError:
        raise NoReading(where, "", f"no whole answer within {limit_s:g} s; nothing was taken") from None
    except OSError as error:
        raise NoReading(where, error.strerror or "", "a connection: is it on, and is its cable in?") from None
    return Taken(*_shown(answer, unit, where), identity)


class _Line:
    """Questions and whole answers on one connection."""

    def __init__(self, wire: socket.socket, left: Callable[[], float]) -> None:
        self.wire, self.left = wire, left

    def asked(self, words: str) -> str:
        """The answer, without its end of line."""
        self.wire.settimeout(self.left())
        self.wire.sendall(f"{words}\n".encode("ascii"))
        got = b""
        while not got.endswith(b"\n"):
            self.wire.settimeout(self.left())
            some = self.wire.recv(LONGEST)
            if not some:
                raise OSError(0, "the connection was closed in mid-answer")
            got += some
            if len(got) > LONGEST or b"\n" in got[:-1]:
                raise OSError(0, "more was sent than one answer")
        return got.decode("ascii", "replace").strip()


def _shown(answer: str, unit: str, where: str) -> tuple[str, str]:
    found = _ANSWER.fullmatch(answer)
    figure = Decimal(found["figure"]) if found else NOT_A_NUMBER
    if found is None or figure.adjusted() > MOST_DECADES or figure == NOT_A_NUMBER:
        raise NoReading(where, answer[:80], "no figure: it has no reading now")
    told = _UNITS.get(found["unit"].casefold(), found["unit"])
    if told and told != unit:
        raise NoReading(where, answer[:80], f"a figure in {unit}: it is set to measure something else")
    if figure == OVER_RANGE:
        return "OL", unit
    if figure and not -12 <= figure.adjusted() <= 14:
        raise NoReading(where, answer[:80], f"a figure in {unit} that an instrument can show")
    return as_shown(figure, unit)
