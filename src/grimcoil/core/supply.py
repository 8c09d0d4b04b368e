"""Supply volts: level, both unbalances, derating, and line-to-earth against the declared system."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Finding, Result, act, sound, unproven, watch
from grimcoil.core.limits import within
from grimcoil.core.measured import SupplyTest
from grimcoil.core.points import LINE_PAIRS, line_of, line_pair_of, once
from grimcoil.core.resistance.balance import spread_percent, unbalance_percent
from grimcoil.core.subject import Subject

# NEMA MG-1 figure 14-1, standard, read from memory: unbalance % -> fraction of rated power.
DERATING = ((0.0, 1.0), (1.0, 1.0), (2.0, 0.95), (3.0, 0.88), (4.0, 0.82), (5.0, 0.75))

# Common practice without source: a converter's aim, when it is mis-set, and the share of rated volts that stalls.
CONVERTER_AIM_PERCENT = 3.0
CONVERTER_OFF_V = 20.0
STALLS = 0.8
# Below this share of phase volts a line lies at earth; common practice without source.
EARTHED_BELOW = 0.2


@dataclass(frozen=True, slots=True)
class SupplyResult(Result):
    """What the supply volts show. volts_per_hertz_percent: deviation from the plate's V/Hz, where both are known."""

    mean_v: float | None = None
    unbalance_percent: float | None = None
    negative_sequence_percent: float | None = None
    spread_percent: float | None = None
    deviation_from_rated_percent: float | None = None
    volts_per_hertz_percent: float | None = None
    derating: float | None = None
    extra_temperature_rise_percent: float | None = None
    criteria: str = ""
    working: str = ""


def negative_sequence_percent(volts: Sequence[float]) -> float | None:
    """Negative over positive sequence from three line-to-line volts; None where they close no triangle.

    With d = 6 (beta - 1/3), beta = sum V^4 / (sum V^2)^2, the factor is sqrt(d) / (1 + sqrt(1 - d)); d is
    taken from the scatter of the squares, so no digits are lost near balance (computed, from Fortescue).

    >>> round(negative_sequence_percent([460, 467, 450]), 3)
    2.146
    """
    squares = [value * value for value in volts]
    total = sum(squares)
    if total <= 0:
        return None
    mean = total / 3
    d = 6 * sum((square - mean) ** 2 for square in squares) / total**2
    if d > 1 + 1e-9:
        return None
    return 100 * math.sqrt(d) / (1 + math.sqrt(max(0.0, 1 - d)))


def derating(unbalance: float) -> float | None:
    """Fraction of rated power left at a voltage unbalance in percent; None above 5 % (don't run).

    NEMA MG-1, standard, from memory.

    >>> derating(1.96)
    0.952
    """
    if not within(unbalance, 5):
        return None
    for (u0, k0), (u1, k1) in pairwise(DERATING):
        if within(unbalance, u1):
            return round(k0 + (k1 - k0) * (unbalance - u0) / (u1 - u0), 12)
    return DERATING[-1][1]


def extra_temperature_rise_percent(unbalance: float) -> float:
    """About 2 x (unbalance %) squared (NEMA MG-1 practice, standard, from memory)."""
    return 2 * unbalance**2


def judge_supply(test: SupplyTest, subject: Subject) -> SupplyResult:
    """Judge three line-to-line volts, and line-to-earth against the declared system where read."""
    criteria = subject.criteria
    pairs, twice = once(test.line_to_line, line_pair_of)
    volts = [pairs[pair].amount.value for pair in LINE_PAIRS if pair in pairs and pairs[pair].amount.is_exact]
    if len(volts) != 3 or sum(volts) <= 0:
        lacking = ", ".join(pair for pair in LINE_PAIRS if pair not in pairs or not pairs[pair].amount.is_exact)
        finding = unproven(
            "supply-missing", f"Three line-to-line voltages above 0 are needed: {lacking or 'read again'}."
        )
        return SupplyResult(findings=(finding, *twice), criteria=criteria.name)
    mean = sum(volts) / 3
    unbalance = unbalance_percent(volts)
    sequence = negative_sequence_percent(volts)
    rated = subject.plate.voltage_in_use_v
    deviation = 100 * (mean / rated - 1) if rated else None
    per_hertz = _per_hertz_percent(mean, test.frequency_hz, subject)
    findings = [*_balance_findings(volts, unbalance, sequence, subject), *twice]
    if deviation is not None and rated:
        findings += _level_findings(volts, rated, deviation, per_hertz, test.frequency_hz, criteria)
    earthed, again = once(test.line_to_earth, line_of)
    findings += again
    to_earth = {line: r.amount.value for line, r in earthed.items() if r.amount.is_exact}
    findings += _earth_findings(to_earth, mean, subject.supply_system)
    far = max(volts, key=lambda v: abs(v - mean))
    return SupplyResult(
        mean_v=mean,
        unbalance_percent=unbalance,
        negative_sequence_percent=sequence,
        spread_percent=spread_percent(volts),
        deviation_from_rated_percent=deviation,
        volts_per_hertz_percent=per_hertz,
        derating=derating(unbalance),
        extra_temperature_rise_percent=extra_temperature_rise_percent(unbalance),
        findings=tuple(findings),
        criteria=criteria.name,
        working=f"mean {mean:.5g} V; 100 · |{far:g} − {mean:.5g}| / {mean:.5g} = {unbalance:.3g} %",
    )


def _per_hertz_percent(mean: float, frequency_hz: float | None, subject: Subject) -> float | None:
    rated, plate_hz = subject.plate.voltage_in_use_v, subject.plate.frequency_hz
    if not rated or not plate_hz or not frequency_hz:
        return None
    return 100 * (mean / frequency_hz / (rated / plate_hz) - 1)


def _balance_findings(
    volts: Sequence[float], unbalance: float, sequence: float | None, subject: Subject
) -> list[Finding]:
    criteria = subject.criteria
    if sequence is None:
        return [unproven("voltages-no-triangle", "Three voltages that close no triangle: one of them is misread.")]
    if subject.supply_system == "phase-converter":
        return [_converter(volts, unbalance)]
    if criteria.voltage_measure == "spread":
        return [_spread_finding(volts, subject)]
    return [_unbalance_finding(unbalance, criteria)]


def _converter(volts: Sequence[float], unbalance: float) -> Finding:
    off = max(volts) - min(volts)
    shown = f"Unbalance {unbalance:.2f} %, lines {off:.3g} V apart on a phase converter (judge it running, under load)"
    if off >= CONVERTER_OFF_V:
        return act("converter-misset", f"{shown}: tens of volts is a mis-set converter.")
    if not within(unbalance, CONVERTER_AIM_PERCENT):
        return watch("converter-misset", f"{shown}: within {CONVERTER_AIM_PERCENT:g} % is the aim.")
    return sound("voltage-balanced", f"{shown}: within {CONVERTER_AIM_PERCENT:g} %.")


def _spread_finding(volts: Sequence[float], subject: Subject) -> Finding:
    """The school of spread: lowest to highest, and each line against the plate."""
    limit, rated = subject.criteria.voltage_unbalance_sound.value, subject.plate.voltage_in_use_v
    spread = spread_percent(volts)
    shown = f"Volts spread {spread:.2f} % lowest to highest, limit {limit:g} %"
    if not within(spread, limit):
        return act("voltage-spread-act", f"{shown}. Correct the supply.")
    if rated:
        far = max(volts, key=lambda v: abs(v - rated))
        if not within(abs(far / rated - 1) * 100, limit):
            return watch("voltage-spread-act", f"{shown}; but {far:g} V is more than {limit:g} % off the {rated:g} V.")
    return sound("voltage-spread-sound", f"{shown}.")


def _unbalance_finding(unbalance: float, criteria: Criteria) -> Finding:
    at_most = criteria.voltage_unbalance_sound.value
    act_above = criteria.voltage_unbalance_act.value
    shown = f"Voltage unbalance {unbalance:.2f} %"
    if within(unbalance, at_most):
        return sound("voltage-balanced", f"{shown}, limit {at_most:g} %.")
    left = derating(unbalance)
    if within(unbalance, act_above):
        rise = extra_temperature_rise_percent(unbalance)
        text = f"{shown}, limit {at_most:g} %. Winding temperature rise about {rise:.1f} % higher.{_load(left)}"
        return watch("voltage-unbalance-watch", text)
    run = " Do not run the motor." if left is None else _load(left)
    return act("voltage-unbalance-act", f"{shown}, act above {act_above:g} %.{run} Correct the supply.")


def _load(left: float | None) -> str:
    return "" if left is None else f" Load the motor to {100 * left:.0f} % of rated power at most."


def _level_findings(
    volts: Sequence[float],
    rated: float,
    deviation: float,
    per_hertz: float | None,
    frequency_hz: float | None,
    criteria: Criteria,
) -> list[Finding]:
    """The level; at another frequency than the plate's volts per hertz count instead."""
    if per_hertz is not None and frequency_hz is not None and abs(per_hertz - deviation) > 1:
        return [_per_hertz_finding(per_hertz, frequency_hz, criteria)]
    mean = rated * (1 + deviation / 100)
    shown = f"{mean:.4g} V is {deviation:+.1f} % of the plate's {rated:g} V"
    if not within(abs(deviation), criteria.voltage_level_act.value):
        out = [act("voltage-level-act", f"{shown}, outside ±{criteria.voltage_level_act.value:g} %.")]
    elif not within(abs(deviation), criteria.voltage_level_sound.value):
        text = f"{shown}, outside the comfortable ±{criteria.voltage_level_sound.value:g} %."
        out = [watch("voltage-level-watch", text)]
    else:
        out = [sound("voltage-level-sound", f"{shown}.")]
    if deviation < 0 and not within(-deviation, criteria.voltage_level_sound.value):
        out.append(watch("volts-low", f"{mean:.4g} V is low: less torque, more current at the same load."))
    if within(min(volts), STALLS * rated):
        out.append(act("voltage-stalls", f"{min(volts):g} V is 20 % or more low: an induction motor can stall."))
    return out


def _per_hertz_finding(per_hertz: float, frequency_hz: float, criteria: Criteria) -> Finding:
    shown = f"At {frequency_hz:g} Hz the volts per hertz are {per_hertz:+.1f} % of the plate's"
    speed = "speed goes with the frequency, and so does a fan's load"
    if within(abs(per_hertz), criteria.voltage_level_sound.value):
        return sound("volts-per-hertz-fits", f"{shown}: right for the iron; {speed}.")
    severity = watch if within(abs(per_hertz), criteria.voltage_level_act.value) else act
    side = "the iron saturates, it runs hot" if per_hertz > 0 else "less torque, more current"
    return severity("volts-per-hertz-off", f"{shown}: {side}; {speed}.")


def expected_to_earth(system: str, line_v: float) -> tuple[float, float, float] | None:
    """Line-to-earth volts the system should show, smallest first; None where they float (computed).

    >>> [round(v) for v in expected_to_earth("wye-earthed", 480)]
    [277, 277, 277]
    """
    root3 = math.sqrt(3)
    return {
        "wye-earthed": (line_v / root3,) * 3,
        "corner-earthed": (0.0, line_v, line_v),
        "high-leg": (line_v / 2, line_v / 2, line_v * root3 / 2),
    }.get(system)


SYSTEM_WORDS = {
    "wye-earthed": "a wye supply with earthed neutral",
    "corner-earthed": "a delta supply with one corner earthed",
    "high-leg": "a delta supply with a high leg",
    "unearthed": "an unearthed supply",
    "high-resistance-earthed": "a supply earthed through a high resistance",
    "phase-converter": "a phase converter",
}


def _earth_findings(to_earth: Mapping[str, float], line_v: float, system: str | None) -> list[Finding]:
    if len(to_earth) != 3 or system is None:
        return []
    expected = expected_to_earth(system, line_v)
    values = sorted(to_earth.values())
    listed = ", ".join(f"{line} {value:g} V" for line, value in to_earth.items())
    if expected is None:
        return _floating(to_earth, line_v, system)
    if all(
        within(abs(value - want), 0.1 * line_v / math.sqrt(3)) for value, want in zip(values, expected, strict=True)
    ):
        text = f"Line to earth {listed}: correct for {SYSTEM_WORDS[system]}."
        return [sound("line-to-earth-fits", text)]
    if system == "wye-earthed" and values[0] < EARTHED_BELOW * line_v / math.sqrt(3):
        line = min(to_earth, key=lambda name: to_earth[name])
        text = (
            f"Line to earth {listed}. {line} is near earth potential, but this supply's neutral is earthed."
            f" Earth fault on {line}."
        )
        return [act("earth-fault", text)]
    wanted = ", ".join(f"{want:.0f}" for want in expected)
    text = (
        f"Line to earth {listed}; {SYSTEM_WORDS[system]} shows about {wanted} V. Wrong system on record,"
        f" or an earth fault."
    )
    return [watch("line-to-earth-misfit", text)]


def _floating(to_earth: Mapping[str, float], line_v: float, system: str) -> list[Finding]:
    if system == "phase-converter":
        return []
    low = min(to_earth, key=lambda line: to_earth[line])
    if to_earth[low] < EARTHED_BELOW * line_v / math.sqrt(3):
        text = f"{low} stands at {to_earth[low]:g} V to earth on a floating system: earth fault on that line."
        return [act("earth-fault", text)]
    return []
