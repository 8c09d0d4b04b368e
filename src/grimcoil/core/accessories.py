"""The accessories that hang on a motor, cold: protectors, heaters, resistance thermometers."""

from __future__ import annotations

import math
from dataclasses import dataclass

from grimcoil.core.amount import Amount
from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Finding, Result, act, sound, unproven, watch
from grimcoil.core.measured import AccessoryTest
from grimcoil.core.readings import Reading, Shown, three_digits

# what -> ohms it may show cold; common practice without source, the rtd's from IEC 60751 at 0 to about 100 °C.
ACCESSORY_OHM = {
    "thermostat": (0.0, 2.0),
    "thermistor": (20.0, 750.0),
    "rtd": (90.0, 140.0),
    "brake": (1.0, 5000.0),
    "heater": (10.0, 5000.0),
}
_A, _B = 3.9083e-3, -5.775e-7
RTD_APART_K = 5.0


@dataclass(frozen=True, slots=True)
class AccessoryResult(Result):
    """What an accessory shows. temperature_c: of a resistance thermometer."""

    what: str = ""
    temperature_c: float | None = None


def pt100_ohm(celsius: float) -> float:
    """Pt100 resistance, 100 (1 + 3.9083e-3 t - 5.775e-7 t²) from 0 to 850 °C (IEC 60751, standard, from memory).

    >>> round(pt100_ohm(20.0), 2)
    107.79
    """
    return 100 * (1 + _A * celsius + _B * celsius * celsius)


def pt100_celsius(ohm: float) -> float:
    """The same turned round. ohm: Ω from 100; answer in °C (IEC 60751, standard, from memory).

    >>> round(pt100_celsius(107.79), 1)
    20.0
    """
    return (-_A + math.sqrt(max(0.0, _A * _A - 4 * _B * (1 - ohm / 100)))) / (2 * _B)


def judge_accessory(test: AccessoryTest, criteria: Criteria) -> AccessoryResult:
    """An accessory's own value against what its kind shows cold, then its clearance to frame."""
    findings = []
    celsius = None
    if test.reading is not None and test.what in ACCESSORY_OHM:
        findings.append(_own_value(test.what, test.reading))
        if test.what == "rtd" and test.reading.amount.is_exact and test.reading.shown is Shown.VALUE:
            celsius = pt100_celsius(test.reading.amount.value)
            findings += _rtd_against_winding(celsius, test.winding_temperature_c)
    findings += to_frame_findings(test.what, test.to_frame, criteria)
    if not findings and test.reading is None and test.to_frame is not None and test.what not in ACCESSORY_OHM:
        findings.append(sound("accessory-clear", f"The {test.what} is clear of the frame."))
    if not findings:
        findings.append(unproven("accessory-off", f"The {test.what} was not read, or its kind has no usual value."))
    return AccessoryResult(what=test.what, temperature_c=celsius, findings=tuple(findings))


def _own_value(what: str, reading: Reading) -> Finding:
    low, high = ACCESSORY_OHM[what]
    amount: Amount = reading.amount
    code = "rtd" if what == "rtd" else "accessory"
    if reading.shown is Shown.VALUE and low <= amount.low and amount.high <= high:
        return sound(f"{code}-sound", f"The {what} reads {amount.value:g} Ω, as it should cold.")
    shown = {Shown.VALUE: f"{amount.value:g} Ω", Shown.OVER_RANGE: "open"}.get(reading.shown, str(reading.shown))
    hot = " Let a warm motor cool before you judge it." if what == "thermostat" else ""
    return watch(f"{code}-off", f"The {what} reads {shown}; {low:g} to {high:g} Ω is usual cold.{hot}")


def _rtd_against_winding(celsius: float, winding_c: float | None) -> list[Finding]:
    if winding_c is None or abs(celsius - winding_c) <= RTD_APART_K:
        return []
    text = f"The thermometer shows {celsius:.1f} °C in a winding at {winding_c:g} °C: check its leads."
    return [watch("rtd-off", text)]


def to_frame_findings(what: str, reading: Reading | None, criteria: Criteria) -> list[Finding]:
    """An accessory's clearance to frame by its own minimum, MΩ; nothing where it wasn't read or is well clear."""
    if reading is None or reading.shown is Shown.OVER_RANGE:
        return []
    if reading.shown is not Shown.VALUE:
        return [unproven("beep-only", f"A beep shows no clearance of the {what} to frame; read its megohms.")]
    mohm = Amount(reading.amount.low / 1e6, reading.amount.high / 1e6)
    least = criteria.accessory_mohm.value
    if mohm.surely_below(criteria.near_zero_mohm.value):
        return [act("accessory-to-frame", f"The {what} shows a path to frame: isolate it and look.")]
    if mohm.surely_at_least(least):
        return []
    shown = f"The {what} reads {three_digits(mohm.value)} MΩ to frame, {least:g} MΩ is its minimum"
    return [watch("accessory-low", f"{shown}: damp or dirt, clean and dry, read again.")]
