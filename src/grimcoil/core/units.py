"""The units a works types in where its people say none: degrees on its meters, power on its plates."""

from __future__ import annotations

import re
from dataclasses import dataclass

BARE = re.compile(r"[-+−]?\d+(?:[.,]\d+)?")
CHOICES = ("°C, kW", "°F, hp", "°C, hp", "°F, kW")


@dataclass(frozen=True, slots=True)
class Units:
    """degrees: `°C` or `°F`; power: `kW` or `hp`."""

    degrees: str = "°C"
    power: str = "kW"

    def temperature(self, text: str) -> str:
        """A bare figure of °F with its unit behind it, so that what is kept says what it is; all else as typed.

        >>> Units("°F").temperature("77"), Units("°F").temperature("25 °C"), Units().temperature("25")
        ('77 °F', '25 °C', '25')
        """
        return f"{text.strip()} °F" if self.degrees == "°F" and BARE.fullmatch(text.strip()) else text

    def rating(self, text: str) -> str:
        """A bare figure of power with its unit, kW or hp, behind it; all else as typed.

        >>> Units("°F", "hp").rating("40"), Units().rating("30"), Units().rating("40 hp")
        ('40 hp', '30 kW', '40 hp')
        """
        return f"{text.strip()} {self.power}" if BARE.fullmatch(text.strip()) else text


USUAL = Units()


def units_named(kept: str | None) -> Units:
    """As a works keeps them (common practice without source which of them); the usual ones before it does."""
    degrees, _, power = (kept if kept in CHOICES else CHOICES[0]).partition(", ")
    return Units(degrees, power)
