"""The nameplate and its plausibility: warnings that explain, with the figures in them."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.findings import Finding, sound, watch
from grimcoil.core.plate_text import figures

HP_W = 745.7
PS_W = 735.49875  # metric horsepower, 75 kgf·m/s; by definition
WATTS = {"hp": HP_W, "kw": 1000.0, "w": 1.0, "mw": 1e6, "ps": PS_W, "cv": PS_W, "pk": PS_W}

# NEC Table 430.250, full-load current at 460 V by horsepower; standard, from memory.
FULL_LOAD_460_A = {
    1: 2.1, 2: 3.4, 3: 4.8, 5: 7.6, 7.5: 11, 10: 14, 15: 21, 20: 27, 25: 34, 30: 40, 40: 52,
    50: 65, 60: 77, 75: 96, 100: 124, 125: 156, 150: 180, 200: 240,
}  # fmt: skip

# Motor voltage -> usual system voltage; common practice.
SYSTEM_VOLTAGE_V = {
    460: 480,
    230: 240,
    200: 208,
    575: 600,
    400: 400,
    2300: 2400,
    4000: 4160,
    690: 690,
}


ROUNDED = 0.1  # a plate's figures agree but for their rounding; common practice without source


@dataclass(frozen=True, slots=True)
class Plate:
    """What the nameplate says. Voltages and currents in the same order; power in W at the shaft."""

    rated_voltage_v: tuple[float, ...]
    full_load_current_a: tuple[float, ...] = ()
    connected_voltage_v: float | None = None
    frequency_hz: float | None = None
    power_w: float | None = None
    speed_rpm: float | None = None
    service_factor: float = 1.0
    insulation_class: str | None = None
    built_year: int | None = None
    efficiency_percent: float | None = None
    power_factor: float | None = None

    @property
    def voltage_in_use_v(self) -> float | None:
        """The voltage the leads are joined for; the only one on a single-voltage plate.

        V, the plate's own figure; nothing computed.
        """
        if self.connected_voltage_v is not None:
            return self.connected_voltage_v
        return self.rated_voltage_v[0] if len(self.rated_voltage_v) == 1 else None

    @property
    def full_load_in_use_a(self) -> float | None:
        """Full-load current of the voltage in use. A, the plate's own figure; nothing computed."""
        if len(self.full_load_current_a) == 1:
            return self.full_load_current_a[0]
        if self.voltage_in_use_v in self.rated_voltage_v and self.full_load_current_a:
            index = self.rated_voltage_v.index(self.voltage_in_use_v)
            return self.full_load_current_a[index] if index < len(self.full_load_current_a) else None
        return None


def parse_power(text: str, where: str = "power") -> float:
    """`15 hp`, `11 kW`, `750 W`, `1 250 kW`, `15 PS` to watts (computed).

    >>> parse_power("11 kW"), round(parse_power("15 PS"))
    (11000.0, 11032)
    """
    match = re.fullmatch(r"\s*(\d[\d., \u00a0\u2009\u202f'’]*?)\s*(hp|kw|w|mw|ps|cv|pk)\.?\s*", text, re.IGNORECASE)
    ways = figures(match[1]) if match else []
    if match is None or not ways:
        raise RecordRefusal(where, text, "a power in kW, hp or PS", "11 kW")
    watts = float(ways[0]) * WATTS[match[2].lower()]
    if not 0 < watts <= 20e6:
        raise RecordRefusal(where, text, "a power above 0 and up to 20 000 kW", "11 kW")
    return watts


def check_plate(plate: Plate) -> list[Finding]:
    """Findings of the plausibility rules; none where the plate agrees with itself."""
    found = (_ratio(plate), _speed(plate), _current(plate), _connected(plate))
    return [finding for finding in found if finding is not None]


def check_spelling(tag: str, others: Sequence[str]) -> list[Finding]:
    """Whether a motor may be one that is on the register in another spelling. others: tags of the same letters and
    digits; nothing where it is one of them. Common practice without source: a label is read by its letters and digits.
    """
    if tag.casefold() in {other.casefold() for other in others}:
        return []
    said = "{} is on the register: is {} the same motor in another spelling?"
    return [watch("tag-alike", said.format(other, tag)) for other in others]


def check_system(plate: Plate, system_voltage_v: float | None) -> Finding | None:
    """Motor voltage against the system it is fed from, both in V (common practice without source)."""
    volts = plate.voltage_in_use_v
    if volts is None or system_voltage_v is None:
        return None
    usual = SYSTEM_VOLTAGE_V.get(round(volts), volts)
    if abs(system_voltage_v - usual) <= 0.06 * usual:
        return None
    text = f"A {volts:g} V motor belongs on a {usual:g} V system; this position has {system_voltage_v:g} V."
    return watch("plate-system-voltage", text)


# So far apart two voltages of one frequency are reached by joining the leads otherwise; common practice without source.
JOINED_OTHERWISE, NEAR_RATIO = (math.sqrt(3), 2.0), 0.03


def check_leads(plate: Plate, scheme: str) -> list[Finding]:
    """The plate against the leads in the box: three of them can't be joined for two voltages, and with one voltage and
    nothing known of the inside a wye is likelier. Volts (common practice without source).

    >>> [finding.code for finding in check_leads(Plate((230, 460)), "three-lead")]
    ['plate-leads-contradict']
    """
    if scheme not in INSIDE_THREE:
        return []
    volts = sorted(plate.rated_voltage_v)
    for low, high in pairwise(volts):
        ratio = next((one for one in JOINED_OTHERWISE if abs(high / low / one - 1) <= NEAR_RATIO), None)
        if ratio is not None:
            text = (
                f"{low:g} and {high:g} V are reached by joining the leads otherwise, and three leads can't be. Look"
                " into the box: six, nine or twelve leads, or one of the two voltages is misread."
            )
            return [watch("plate-leads-contradict", text)]
    if scheme == "three-lead" and len(volts) == 1:
        text = "Three leads and one voltage: inside it is likelier a wye than a delta. Ohms can't tell which."
        return [sound("wye-likelier", text)]
    return []


INSIDE_THREE = frozenset({"three-lead", "three-lead-wye", "three-lead-delta"})


def _ratio(plate: Plate) -> Finding | None:
    volts, amps = plate.rated_voltage_v, plate.full_load_current_a
    if len(volts) < 2 or len(volts) != len(amps):
        return None
    v1, i1 = volts[0], amps[0]
    for v2, i2 in zip(volts[1:], amps[1:], strict=True):
        if abs((i1 / i2) / (v2 / v1) - 1) > 0.05:
            return watch(
                "plate-currents-ratio",
                f"At {v1:g} V {i1:g} A, at {v2:g} V {i2:g} A: the currents should go as {v2 / v1:.3g} to 1 and go as"
                f" {i1 / i2:.3g} to 1. One of the four figures is misread.",
            )
    return None


def _speed(plate: Plate) -> Finding | None:
    if not plate.speed_rpm or not plate.frequency_hz:
        return None
    poles = pole_number(plate.speed_rpm, plate.frequency_hz)
    if poles is None:
        text = (
            f"{plate.speed_rpm:g} r/min is above {60 * plate.frequency_hz:g}, the fastest at {plate.frequency_hz:g} Hz."
        )
        return watch("plate-speed", text)
    synchronous = 120 * plate.frequency_hz / poles
    slip = 100 * (1 - plate.speed_rpm / synchronous)
    if 0 < slip <= 8:
        return None
    text = f"{poles} poles run at {synchronous:.4g} r/min; {plate.speed_rpm:g} is {slip:.3g} % slip, 0 to 8 % is usual."
    return watch("plate-speed", text)


def pole_number(speed_rpm: float, frequency_hz: float) -> int | None:
    """Even pole number whose synchronous speed 120 f/p is the next at or above the rated speed.

    r/min and Hz (computed).

    >>> pole_number(1755, 60), pole_number(505, 60), pole_number(3700, 60)
    (4, 14, None)
    """
    if speed_rpm <= 0:
        return None
    pairs = math.floor(60 * frequency_hz / speed_rpm + 1e-9)
    return 2 * pairs if pairs >= 1 else None


def _current(plate: Plate) -> Finding | None:
    volts, amps = plate.voltage_in_use_v, plate.full_load_in_use_a
    if not plate.power_w or not volts or not amps:
        return None
    eta, phi = plate.efficiency_percent, plate.power_factor
    if eta and phi:
        drawn = plate.power_w / (math.sqrt(3) * volts * phi * eta / 100)
        if abs(amps / drawn - 1) <= ROUNDED:
            return None
        text = (
            f"{plate.power_w / 1000:.3g} kW at {volts:g} V with {eta:g} % and a power factor of {phi:g} take"
            f" {drawn:.3g} A; the plate was read as {amps:g} A. One of the five figures is misread."
        )
        return watch("plate-current-power", text)
    expected = expected_current_a(plate.power_w, volts)
    if abs(amps / expected - 1) <= 0.3:
        return None
    text = (
        f"{plate.power_w / 1000:.3g} kW at {volts:g} V usually takes about {expected:.3g} A; the plate was read as"
        f" {amps:g} A."
    )
    return watch("plate-current-power", text)


def expected_current_a(power_w: float, voltage_v: float) -> float:
    """Usual full-load current: NEC Table 430.250 at 460 V scaled by voltage, interpolated in power.

    Outside the table's 1 to 200 hp the end's ampere per horsepower holds.
    """
    hp = power_w / HP_W
    sizes = sorted(FULL_LOAD_460_A)
    lower = max((size for size in sizes if size <= hp), default=sizes[0])
    upper = min((size for size in sizes if size >= hp), default=sizes[-1])
    if lower == upper:
        amps = FULL_LOAD_460_A[lower] * hp / lower
    else:
        share = (hp - lower) / (upper - lower)
        amps = FULL_LOAD_460_A[lower] + share * (FULL_LOAD_460_A[upper] - FULL_LOAD_460_A[lower])
    return amps * 460 / voltage_v


def _connected(plate: Plate) -> Finding | None:
    volts = plate.connected_voltage_v
    if volts is None or volts in plate.rated_voltage_v:
        return None
    rated = "/".join(f"{value:g}" for value in plate.rated_voltage_v)
    text = f"Connected for {volts:g} V, but the plate names {rated} V."
    return watch("plate-connected-voltage", text)
