"""A winding resistance test from readings to verdict."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from grimcoil.core.criteria import Criteria, for_winding
from grimcoil.core.findings import Finding, Verdict, verdict_of
from grimcoil.core.instruments import half_width
from grimcoil.core.readings import Reading, Shown
from grimcoil.core.resistance.balance import (
    MEASURES,
    Balance,
    balance,
    difference,
    resolution_needed_ohm,
    spread_percent,
)
from grimcoil.core.resistance.patterns import Pattern, patterns
from grimcoil.core.resistance.phases import delta_phases, wye_phases
from grimcoil.core.resistance.temperature import at_reference
from grimcoil.core.subject import ResistanceTest, Winding

_LETTER = {
    "U": "1",
    "V": "2",
    "W": "3",
    "U1": "1",
    "V1": "2",
    "W1": "3",
    "T1": "1",
    "T2": "2",
    "T3": "3",
}
LINE_PAIRS = ("1-2", "2-3", "3-1")
_MEASURE_NAME = {
    "unbalance": ("Unbalance", " %"),
    "spread": ("Spread", " %"),
    "difference": ("Difference", " Ω"),
}


@dataclass(frozen=True, slots=True)
class ResistanceResult:
    """What a winding resistance test shows. Ohms as read less lead resistance, unless `at_reference`."""

    unbalance: Balance | None = None
    judged: Balance | None = None
    spread_percent: float | None = None
    difference_ohm: float | None = None
    ohms: dict[str, float | None] = field(default_factory=dict)
    at_reference_ohm: dict[str, float] = field(default_factory=dict)
    reference_temperature_c: float = 25.0
    phase_wye_ohm: dict[str, float] = field(default_factory=dict)
    phase_delta_ohm: dict[str, float] = field(default_factory=dict)
    patterns: tuple[Pattern, ...] = ()
    resolution_needed_ohm: float | None = None
    findings: tuple[Finding, ...] = ()
    criteria: str = ""
    working: str = ""

    @property
    def verdict(self) -> Verdict:
        """Governing verdict."""
        return verdict_of(self.findings)

    @property
    def mean_at_reference_ohm(self) -> float | None:
        """Mean of the corrected readings, the figure to trend."""
        values = list(self.at_reference_ohm.values())
        return sum(values) / len(values) if len(values) == 3 else None


def judge_resistance(test: ResistanceTest, winding: Winding, criteria: Criteria) -> ResistanceResult:
    """Judge one set of readings: three line pairs, or three separate coils."""
    limits = for_winding(criteria, winding.winding)
    readings = {_pair(name): reading for name, reading in test.readings.items()}
    names = _ordered(list(readings))
    if len(names) != 3 or any(readings[n].shown in (Shown.BEEP, Shown.NO_BEEP) for n in names):
        return _incomplete(readings, limits)
    ohms, remarks = _ohms(names, readings, test, limits)
    if None in ohms.values():
        return _with_open(ohms, remarks, winding, limits)
    return _closed(ohms, readings, test, winding, limits, remarks)


def _pair(name: str) -> str:
    ends = [_LETTER.get(end.strip().upper(), end.strip()) for end in name.replace("–", "-").split("-")]
    plain = "-".join(ends)
    turned = "-".join(reversed(ends))
    return turned if turned in LINE_PAIRS and plain not in LINE_PAIRS else plain


def _ordered(names: list[str]) -> list[str]:
    return sorted(names, key=lambda n: LINE_PAIRS.index(n) if n in LINE_PAIRS else 9)


def _incomplete(readings: dict[str, Reading], limits: Criteria) -> ResistanceResult:
    findings = []
    beeps = [name for name, reading in readings.items() if reading.shown in (Shown.BEEP, Shown.NO_BEEP)]
    if beeps:
        text = f"{', '.join(beeps)}: a beep is no value; it shows neither balance nor an open."
        findings.append(Finding("beep-only", Verdict.UNPROVEN, text))
    wanted = "Three readings are needed to compare the phases" + (f"; {len(readings)} taken." if readings else ".")
    findings.append(Finding("resistance-missing", Verdict.UNPROVEN, wanted))
    return ResistanceResult(findings=tuple(findings), criteria=limits.name)


def _ohms(
    names: Sequence[str],
    readings: dict[str, Reading],
    test: ResistanceTest,
    limits: Criteria,
) -> tuple[dict[str, float | None], list[Finding]]:
    """Values less lead resistance; over-range and kilo-ohms count as open (None)."""
    ohms: dict[str, float | None] = {}
    remarks = []
    for name in names:
        reading = readings[name]
        value = max(0.0, reading.amount.value - test.lead_resistance_ohm)
        is_open = reading.shown is Shown.OVER_RANGE or value >= limits.open_above_ohm.value
        if is_open and reading.shown is not Shown.OVER_RANGE:
            text = f"{name} reads {value:g} Ω: across a power winding as good as open."
            remarks.append(Finding("kilohm-open", Verdict.ACT, text))
        ohms[name] = None if is_open else value
    return ohms, remarks


def _with_open(
    ohms: dict[str, float | None],
    remarks: list[Finding],
    winding: Winding,
    limits: Criteria,
) -> ResistanceResult:
    lines = list(ohms) == list(LINE_PAIRS)
    found = (
        patterns(list(ohms.values()), False, winding.internal_connection, 0.02) if lines else [Pattern("open-phase")]
    )
    findings = [_open_finding(p, ohms) for p in found] + remarks
    return ResistanceResult(
        ohms=ohms,
        patterns=tuple(found),
        findings=tuple(findings),
        criteria=limits.name,
        at_reference_ohm={},
        reference_temperature_c=limits.reference_temperature_c.value,
    )


def _open_finding(pattern: Pattern, ohms: dict[str, float | None]) -> Finding:
    opened = ", ".join(name for name, ohm in ohms.items() if ohm is None)
    texts = {
        "open-phase": f"Open: {opened}. In a wye the phase of lead {pattern.phase} is open.",
        "lead-open-delta": f"Open: {opened}. In a delta line lead {pattern.phase} is open, or both coils behind it.",
        "all-open": "All three pairs are open: lead break, star point, a hot protector, or the wrong terminals.",
        "unclassified": f"Open only on {opened}: no winding reads like this, so one reading is wrong. Repeat them.",
    }
    code = "pairs-contradict" if pattern.pattern == "unclassified" else pattern.pattern
    return Finding(
        code,
        Verdict.ACT if code != "pairs-contradict" else Verdict.UNPROVEN,
        texts[pattern.pattern],
    )


def _closed(
    ohms: dict[str, float | None],
    readings: dict[str, Reading],
    test: ResistanceTest,
    winding: Winding,
    limits: Criteria,
    remarks: list[Finding],
) -> ResistanceResult:
    values = [ohm for ohm in ohms.values() if ohm is not None]
    spans = [_span(readings[name], ohm or 0.0, test) for name, ohm in ohms.items()]
    unbalance = balance(values, spans)
    judged = balance(values, spans, limits.balance_measure)
    lines = list(ohms) == list(LINE_PAIRS)
    tolerance = max(
        0.02,
        2 * max(span[1] - value for span, value in zip(spans, values, strict=True)) / _mean(values),
    )
    even = judged.shown <= limits.balance_sound.value
    contradict = lines and min(wye_phases(*values)) < -sum(high - low for low, high in spans) / 2
    found = [Pattern("unclassified")] if contradict else _named(values, even, winding, tolerance, lines)
    needed = _needed(values, limits)
    findings = [
        _balance_finding(judged, limits, needed),
        *_pattern_findings(found, contradict),
        *remarks,
    ]
    return ResistanceResult(
        unbalance=unbalance,
        judged=judged,
        spread_percent=spread_percent(values),
        difference_ohm=difference(values),
        ohms=ohms,
        at_reference_ohm=_corrected(ohms, test, winding, limits),
        reference_temperature_c=limits.reference_temperature_c.value,
        phase_wye_ohm=dict(zip("123", wye_phases(*values), strict=True)) if lines else {},
        phase_delta_ohm=dict(zip(LINE_PAIRS, delta_phases(*values), strict=True)) if lines and not contradict else {},
        patterns=tuple(found),
        resolution_needed_ohm=needed,
        findings=tuple(findings),
        criteria=limits.name,
        working=_working(values, limits.balance_measure),
    )


def _span(reading: Reading, ohm: float, test: ResistanceTest) -> tuple[float, float]:
    """Digit uncertainty round a value; a bound keeps its open side."""
    width = half_width(reading, test.meter)
    amount = reading.amount.less(test.lead_resistance_ohm)
    return min(ohm, amount.low) - width, max(ohm, amount.high) + width


def _mean(values: Sequence[float]) -> float:
    return max(sum(values) / len(values), 1e-12)


def _named(values: Sequence[float], even: bool, winding: Winding, tolerance: float, lines: bool) -> list[Pattern]:
    if not lines:
        return [Pattern("balanced" if even else "unclassified")]
    return patterns(values, even, winding.internal_connection, tolerance)


def _needed(values: Sequence[float], limits: Criteria) -> float:
    if limits.balance_measure == "difference":
        return limits.balance_sound.value / 2
    return resolution_needed_ohm(_mean(values), limits.balance_sound.value)


def _balance_finding(judged: Balance, limits: Criteria, needed: float) -> Finding:
    name, unit = _MEASURE_NAME[limits.balance_measure]
    sound, act = limits.balance_sound.value, limits.balance_act.value
    figures = f"{name} {judged.shown:.2f}{unit}, at most {judged.highest:.2f}{unit}. Limit {sound:g}{unit}."
    if judged.highest <= sound:
        return Finding(
            "balanced",
            Verdict.SOUND,
            f"Balanced within what this meter can show. {figures}",
        )
    if judged.lowest > act or (judged.lowest > sound and act == sound):
        least = f"at least {judged.lowest:.2f}{unit}"
        text = f"Not balanced. {name} {judged.shown:.2f}{unit}, {least}. Act above {act:g}{unit}."
        return Finding("unbalanced", Verdict.ACT, text)
    if judged.lowest > sound:
        text = f"Uneven. {name} {judged.shown:.2f}{unit}, above {sound:g}{unit}; act above {act:g}{unit}."
        return Finding("unbalance-watch", Verdict.WATCH, text)
    text = (
        f"Balance unproven: {name.lower()} {judged.shown:.2f}{unit} shown, but {judged.lowest:.2f} to"
        f" {judged.highest:.2f}{unit} is possible. Read to {_ohm_text(needed)} or finer."
    )
    return Finding("unbalance-unproven", Verdict.UNPROVEN, text)


def _ohm_text(ohm: float) -> str:
    return f"{ohm * 1000:.2g} mΩ" if ohm < 0.1 else f"{ohm:.2g} Ω"


_PATTERN_TEXT = {
    "open-coil-delta": "Reads as a delta with the coil across {phase} open (one pair twice the others).",
    "shorted-turns": "Reads as a {connection} with shorted turns in {phase}: {deviation:.1f} % against the two others.",
    "poor-joint": "Reads as a {connection} with a poor joint in {phase}: +{deviation:.1f} % against the two others.",
    "unclassified": "The unbalance fits no single fault; repeat the three readings with clean contacts.",
}


def _pattern_findings(found: Sequence[Pattern], contradict: bool) -> list[Finding]:
    if contradict:
        text = "No three resistances read like this: one pair exceeds the two others together. Repeat them."
        return [Finding("pairs-contradict", Verdict.UNPROVEN, text)]
    out = []
    for pattern in found:
        if pattern.pattern == "balanced":
            continue
        text = _PATTERN_TEXT[pattern.pattern].format(
            phase=pattern.phase,
            connection=pattern.internal_connection,
            deviation=pattern.deviation_percent or 0.0,
        )
        code = "pattern-unclassified" if pattern.pattern == "unclassified" else pattern.pattern
        out.append(Finding(code, Verdict.WATCH, text))
    return out


def _corrected(
    ohms: dict[str, float | None],
    test: ResistanceTest,
    winding: Winding,
    limits: Criteria,
) -> dict[str, float]:
    warm = test.conditions.winding_temperature_c
    if warm is None:
        return {}
    to = limits.reference_temperature_c.value
    return {n: at_reference(ohm, warm, to, winding.conductor) for n, ohm in ohms.items() if ohm is not None}


def _working(values: Sequence[float], measure: str) -> str:
    mean = _mean(values)
    far = max(values, key=lambda value: abs(value - mean))
    figure = MEASURES[measure](values)
    if measure == "unbalance":
        return f"mean {mean:.5g} Ω; 100 · |{far:.5g} − {mean:.5g}| / {mean:.5g} = {figure:.3g} %"
    if measure == "spread":
        return f"100 · ({max(values):.5g} − {min(values):.5g}) / {min(values):.5g} = {figure:.3g} %"
    return f"{max(values):.5g} − {min(values):.5g} = {figure:.3g} Ω"
