"""Supply volts: level, both unbalances, derating, and line-to-earth against the declared system."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Finding, Verdict, verdict_of
from grimcoil.core.resistance.balance import spread_percent, unbalance_percent
from grimcoil.core.subject import Subject, SupplyTest

# NEMA MG-1 figure 14-1, standard, read from memory: unbalance % -> fraction of rated power.
DERATING = ((0.0, 1.0), (1.0, 1.0), (2.0, 0.95), (3.0, 0.88), (4.0, 0.82), (5.0, 0.75))


@dataclass(frozen=True, slots=True)
class SupplyResult:
    """What the supply volts show."""

    mean_v: float | None = None
    unbalance_percent: float | None = None
    negative_sequence_percent: float | None = None
    spread_percent: float | None = None
    deviation_from_rated_percent: float | None = None
    derating: float | None = None
    extra_temperature_rise_percent: float | None = None
    findings: tuple[Finding, ...] = ()
    working: str = ""

    @property
    def verdict(self) -> Verdict:
        """Governing verdict."""
        return verdict_of(self.findings)


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

    >>> derating(1.96)
    0.952
    """
    if unbalance > 5:
        return None
    for (u0, k0), (u1, k1) in pairwise(DERATING):
        if unbalance <= u1:
            return round(k0 + (k1 - k0) * (unbalance - u0) / (u1 - u0), 12)
    return DERATING[-1][1]


def extra_temperature_rise_percent(unbalance: float) -> float:
    """About 2 x (unbalance %) squared (NEMA MG-1 practice, standard, from memory)."""
    return 2 * unbalance**2


def judge_supply(test: SupplyTest, subject: Subject) -> SupplyResult:
    """Judge three line-to-line volts, and line-to-earth against the declared system where read."""
    volts = [r.amount.value for r in test.line_to_line.values() if r.amount.is_exact]
    if len(volts) != 3 or sum(volts) <= 0:
        finding = Finding(
            "supply-missing",
            Verdict.UNPROVEN,
            "Three line-to-line voltages are needed.",
        )
        return SupplyResult(findings=(finding,))
    mean = sum(volts) / 3
    unbalance = unbalance_percent(volts)
    sequence = negative_sequence_percent(volts)
    rated = subject.plate.voltage_in_use_v
    deviation = 100 * (mean / rated - 1) if rated else None
    findings = [_unbalance_finding(unbalance, sequence, subject.criteria)]
    if deviation is not None and rated:
        findings.append(_level_finding(mean, rated, deviation, subject.criteria))
    findings += _earth_findings(
        {k: r.amount.value for k, r in test.line_to_earth.items()},
        mean,
        subject.supply_system,
    )
    far = max(volts, key=lambda v: abs(v - mean))
    return SupplyResult(
        mean_v=mean,
        unbalance_percent=unbalance,
        negative_sequence_percent=sequence,
        spread_percent=spread_percent(volts),
        deviation_from_rated_percent=deviation,
        derating=derating(unbalance),
        extra_temperature_rise_percent=extra_temperature_rise_percent(unbalance),
        findings=tuple(findings),
        working=f"mean {mean:.5g} V; 100 · |{far:g} − {mean:.5g}| / {mean:.5g} = {unbalance:.3g} %",
    )


def _unbalance_finding(unbalance: float, sequence: float | None, criteria: Criteria) -> Finding:
    if sequence is None:
        text = "Three voltages that close no triangle: one of them is misread."
        return Finding("voltages-no-triangle", Verdict.UNPROVEN, text)
    sound, act = (
        criteria.voltage_unbalance_sound.value,
        criteria.voltage_unbalance_act.value,
    )
    shown = f"Voltage unbalance {unbalance:.2f} %"
    if unbalance <= sound:
        return Finding("voltage-balanced", Verdict.SOUND, f"{shown}, limit {sound:g} %.")
    rise = extra_temperature_rise_percent(unbalance)
    if unbalance <= act:
        text = (
            f"{shown}, above {sound:g} %: about {rise:.1f} % more temperature rise, load to {derating(unbalance):.2f}."
        )
        return Finding("voltage-unbalance-watch", Verdict.WATCH, text)
    left = derating(unbalance)
    run = "don't run it" if left is None else f"load to {left:.2f} at most"
    return Finding(
        "voltage-unbalance-act",
        Verdict.ACT,
        f"{shown}, above {act:g} %: correct the supply, {run}.",
    )


def _level_finding(mean: float, rated: float, deviation: float, criteria: Criteria) -> Finding:
    shown = f"{mean:.4g} V is {deviation:+.1f} % of the plate's {rated:g} V"
    if abs(deviation) > criteria.voltage_level_act.value:
        return Finding(
            "voltage-level-act",
            Verdict.ACT,
            f"{shown}, outside ±{criteria.voltage_level_act.value:g} %.",
        )
    if abs(deviation) > criteria.voltage_level_sound.value:
        text = f"{shown}, outside the comfortable ±{criteria.voltage_level_sound.value:g} %."
        return Finding("voltage-level-watch", Verdict.WATCH, text)
    return Finding("voltage-level-sound", Verdict.SOUND, f"{shown}.")


def expected_to_earth(system: str, line_v: float) -> tuple[float, float, float] | None:
    """Line-to-earth volts the system should show, smallest first; None where they float.

    >>> [round(v) for v in expected_to_earth("wye-earthed", 480)]
    [277, 277, 277]
    """
    root3 = math.sqrt(3)
    return {
        "wye-earthed": (line_v / root3,) * 3,
        "corner-earthed": (0.0, line_v, line_v),
        "high-leg": (line_v / 2, line_v / 2, line_v * root3 / 2),
    }.get(system)


def _earth_findings(to_earth: Mapping[str, float], line_v: float, system: str | None) -> list[Finding]:
    if len(to_earth) != 3 or system is None:
        return []
    expected = expected_to_earth(system, line_v)
    values = sorted(to_earth.values())
    listed = ", ".join(f"{line} {value:g} V" for line, value in to_earth.items())
    if expected is None:
        return _floating(to_earth, line_v, system)
    if all(abs(value - want) <= 0.1 * line_v / math.sqrt(3) for value, want in zip(values, expected, strict=True)):
        text = f"Line to earth {listed}: as a {system} system should show."
        return [Finding("line-to-earth-fits", Verdict.SOUND, text)]
    wanted = ", ".join(f"{want:.0f}" for want in expected)
    text = (
        f"Line to earth {listed}; a {system} system shows about {wanted} V. Wrong system on record, or an earth fault."
    )
    return [Finding("line-to-earth-misfit", Verdict.WATCH, text)]


def _floating(to_earth: Mapping[str, float], line_v: float, system: str) -> list[Finding]:
    if system == "phase-converter":
        return []
    low = min(to_earth, key=lambda line: to_earth[line])
    if to_earth[low] < 0.2 * line_v / math.sqrt(3):
        text = f"{low} stands at {to_earth[low]:g} V to earth on a floating system: earth fault on that line."
        return [Finding("earth-fault", Verdict.ACT, text)]
    return []
