"""What a meter's display shows of a value: range, resolution, over-range, a little noise; as text."""

from __future__ import annotations

import math
from random import Random

OHMMETER_TOP, TESTER_TOP = 40e6, 2e9


def volts(value: float, dice: Random) -> str:
    """A low-impedance voltmeter of 0.5 %: millivolts up to a volt, tenths to a hundred, volts above."""
    shown = value * dice.gauss(1.0, 0.003)
    if shown < 1.0:
        return f"{shown:.3f}"
    return f"{shown:.1f}" if shown < 100 else f"{shown:.0f}"


def amps(value: float, dice: Random) -> str:
    """A clamp of 1.5 %, tenths of an amp; a little pick-up stays where no current flows."""
    shown = value * dice.gauss(1.0, 0.008) + abs(dice.gauss(0.0, 0.02))
    return f"{shown:.1f}"


def ohms(value: float, dice: Random) -> str:
    """An ohmmeter with a tenth of an ohm as its last digit; above 40 MΩ it shows OL."""
    shown = value * dice.gauss(1.0, 0.004)
    if shown >= OHMMETER_TOP:
        return "OL"
    return _scaled(shown, 0.1)


def megohms(value: float, dice: Random) -> str:
    """An insulation tester to 2 GΩ."""
    shown = value * dice.gauss(1.0, 0.03)
    if shown >= TESTER_TOP:
        return ">2G"
    return _scaled(max(shown, 1e3), 1e3)


def _scaled(value: float, step: float) -> str:
    if value < 1e3:
        return f"{round(value / step) * step:.1f}"
    power = min(2, int(math.log10(value)) // 3)
    return f"{value / 1000**power:.2f} {('', 'k', 'M')[power]}Ω"
