"""Settled line currents: balance, load, and the pattern they make."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from grimcoil.core.criteria import Criteria
from grimcoil.core.findings import Finding, Verdict, verdict_of
from grimcoil.core.resistance.balance import unbalance_percent
from grimcoil.core.subject import CurrentTest, Subject

LOST = 0.05
ALL_LOW_PERCENT = 20.0
VOLTAGE_EXPLAINS = 10.0


@dataclass(frozen=True, slots=True)
class CurrentResult:
    """What the line currents show."""

    mean_a: float | None = None
    unbalance_percent: float | None = None
    load_percent: float | None = None
    pattern: str = "unclassified"
    findings: tuple[Finding, ...] = ()
    working: str = ""

    @property
    def verdict(self) -> Verdict:
        """Governing verdict."""
        return verdict_of(self.findings)


def judge_current(test: CurrentTest, subject: Subject, voltage_unbalance: float | None = None) -> CurrentResult:
    """Judge three line currents; voltage_unbalance (percent) lets a part of theirs be laid to the supply."""
    raw = {line: r.amount.value for line, r in test.readings.items() if r.amount.is_exact}
    amps = {line: max(0.0, value - test.brake_a.get(line, 0.0)) for line, value in raw.items()}
    if len(amps) != 3 or sum(amps.values()) <= 0:
        finding = Finding("current-missing", Verdict.UNPROVEN, "Three line currents are needed.")
        return CurrentResult(findings=(finding,))
    mean = sum(amps.values()) / 3
    unbalance = unbalance_percent(list(amps.values()))
    rated = subject.plate.full_load_in_use_a
    load = 100 * mean / rated if rated else None
    pattern = _pattern(amps, unbalance, load, subject)
    findings = [_unbalance_finding(amps, unbalance, pattern, voltage_unbalance, subject.criteria)]
    findings += _load_findings(amps, rated, subject.plate.service_factor, pattern)
    if any(test.brake_a.values()):
        lines = " and ".join(line for line, value in test.brake_a.items() if value)
        findings.append(
            Finding(
                "brake-pair",
                Verdict.SOUND,
                f"The brake's current on {lines} was taken off first.",
            )
        )
    far = max(amps.values(), key=lambda a: abs(a - mean))
    return CurrentResult(
        mean_a=mean,
        unbalance_percent=unbalance,
        load_percent=load,
        pattern=pattern,
        findings=tuple(findings),
        working=f"mean {mean:.4g} A; 100 · |{far:g} − {mean:.4g}| / {mean:.4g} = {unbalance:.3g} %",
    )


def _pattern(amps: Mapping[str, float], unbalance: float, load: float | None, subject: Subject) -> str:
    values = sorted(amps.values())
    if values[0] <= LOST * values[2]:
        return "line-lost"
    if unbalance <= subject.criteria.current_unbalance_sound.value:
        if load is not None and load > 100 * subject.plate.service_factor:
            return "all-high"
        return "all-low" if load is not None and load < ALL_LOW_PERCENT else "even"
    low_gap, high_gap = values[1] - values[0], values[2] - values[1]
    if high_gap > 2 * low_gap:
        return "one-high"
    return "brake-pair" if low_gap > 2 * high_gap else "unclassified"


def _unbalance_finding(
    amps: Mapping[str, float],
    unbalance: float,
    pattern: str,
    volts: float | None,
    criteria: Criteria,
) -> Finding:
    if pattern == "line-lost":
        lost = min(amps, key=lambda line: amps[line])
        return Finding(
            "line-lost",
            Verdict.ACT,
            f"{lost} carries {amps[lost]:.3g} A: a line is lost. Stop the motor.",
        )
    sound, act = (
        criteria.current_unbalance_sound.value,
        criteria.current_unbalance_act.value,
    )
    high = max(amps, key=lambda line: amps[line])
    shown = f"Current unbalance {unbalance:.1f} %"
    if unbalance <= sound:
        return Finding("current-balanced", Verdict.SOUND, f"{shown}, limit {sound:g} %.")
    if volts is not None and volts > 0.2 and unbalance <= VOLTAGE_EXPLAINS * volts:
        most = VOLTAGE_EXPLAINS * volts
        text = f"{shown}, highest in {high}; the volts' {volts:.2f} % alone explains up to {most:.0f} %."
        return Finding(
            "current-unbalance-from-volts",
            Verdict.WATCH,
            text + " Roll the leads before blaming a winding.",
        )
    if unbalance <= act:
        return Finding(
            "current-unbalance-watch",
            Verdict.WATCH,
            f"{shown}, highest in {high}; {sound:g} % is usual.",
        )
    return Finding(
        "current-unbalance-act",
        Verdict.ACT,
        f"{shown}, highest in {high}; act above {act:g} %.",
    )


def _load_findings(
    amps: Mapping[str, float], rated: float | None, service_factor: float, pattern: str
) -> list[Finding]:
    if rated is None or pattern == "line-lost":
        return []
    line = max(amps, key=lambda name: amps[name])
    high = amps[line]
    if high > rated * service_factor * 1.005:
        text = f"{line} takes {high:.3g} A, above {rated:g} A times service factor {service_factor:g}."
        return [Finding("current-over-service-factor", Verdict.ACT, text)]
    if high > rated * 1.005:
        text = f"{line} takes {high:.3g} A, above the plate's {rated:g} A but within its service factor."
        return [Finding("current-over-plate", Verdict.WATCH, text)]
    if pattern == "all-low":
        text = f"All lines low ({100 * high / rated:.0f} % of full load): running uncoupled, or a belt is off."
        return [Finding("current-all-low", Verdict.WATCH, text)]
    return []
