"""What a meter would have shown: a seeded model of ageing, damp seasons and faults, read by simulated meters."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import date
from random import Random

from demo.works import Made
from grimcoil.core.insulation.correction import correction_factor
from grimcoil.core.resistance.phases import delta_lines
from grimcoil.core.resistance.temperature import at_reference

Three = tuple[float, float, float]


@dataclass(frozen=True)
class Weather:
    """A test day's temperatures and humidity, by season: damp in autumn, mild in summer."""

    winding_c: float
    air_c: float
    humidity: float


def weather(day: date, dice: Random) -> Weather:
    """Indoors, never below 11 °C."""
    season = math.cos(2 * math.pi * (day.timetuple().tm_yday - 20) / 365)
    air = max(11.0, 18.0 - 6.0 * season + dice.gauss(0, 1.2))
    return Weather(
        round(air + 0.8 + abs(dice.gauss(0, 0.6)), 1), round(air, 1), round(62 + 14 * season + dice.gauss(0, 4))
    )


def damp(day: date) -> float:
    """Decades of insulation lost to a damp season: most at the end of the campaign."""
    return 0.12 * (1 + math.cos(2 * math.pi * (day.timetuple().tm_yday - 355) / 365)) / 2


def line_ohms(kw: float, volts: float) -> float:
    """Line-to-line resistance at 25 °C of a motor of this size, ohm."""
    return 13.5 * kw**-1.22 * (volts / 460) ** 2


def phase_lines(made: Made, dice: Random, shorted: float = 0.0, joint: float = 0.0) -> Three:
    """Line readings 1-2, 2-3, 3-1 at 25 °C: a little uneven from the start, with a fault where the story has one."""
    level = line_ohms(made.kw, made.volts)
    phases = [1 + dice.uniform(-0.005, 0.005) for _ in range(3)]
    phases[1] *= 1 - shorted
    phases[2] *= 1 + joint
    if made.scheme == "three-lead-delta":
        sides = [level * 1.5 * phase for phase in phases]
        return delta_lines(*sides)
    a, b, c = (level / 2 * phase for phase in phases)
    return a + b, b + c, c + a


def shown_ohm(value_25c: float, weather: Weather, resolution: float, dice: Random) -> str:
    """What the ohmmeter shows on the day."""
    value = at_reference(value_25c, 25.0, weather.winding_c) * (1 + dice.gauss(0, 0.0002))
    decimals = max(0, -math.floor(math.log10(resolution) + 1e-9))
    return f"{round(value / resolution) * resolution:.{decimals}f}"


def shown_mohm(r40: float, weather: Weather, top: float, ratio: float = 1.0) -> str:
    """What the insulation tester shows: three digits, or above its top."""
    value = r40 / correction_factor(weather.winding_c) * ratio
    if value > top:
        return f">{top:.0f}M"
    if value >= 100:
        return f"{value:.0f}M"
    return f"{value:.3g}M" if value >= 1 else f"{value * 1000:.0f}k"
