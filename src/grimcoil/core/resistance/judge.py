"""A winding resistance test from readings to verdict: sorted into comparable sets, each judged, then together."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from grimcoil.core.choices import LeadScheme
from grimcoil.core.criteria import Criteria, for_winding
from grimcoil.core.findings import Finding, Result, Verdict, act, failed_tester, unproven, watch, worst
from grimcoil.core.instruments import half_width
from grimcoil.core.limits import SLACK, reaches, within
from grimcoil.core.measured import ResistanceTest
from grimcoil.core.readings import Reading, Shown, three_digits
from grimcoil.core.resistance import words
from grimcoil.core.resistance.balance import (
    Balance,
    Interval,
    balance,
    difference,
    resolution_needed_ohm,
    resolution_to_show_ohm,
    spread_percent,
)
from grimcoil.core.resistance.naming import HIGH_SPEED, LINE_PAIRS, PairSet, pair_of, sort_pairs
from grimcoil.core.resistance.patterns import Pattern, coil_patterns, patterns
from grimcoil.core.resistance.phases import delta_phases, wye_phases
from grimcoil.core.resistance.temperature import at_reference
from grimcoil.core.subject import Winding

SETS_APART = 0.10
# Up to so many steps of the last digit the meter is too coarse for the winding; common practice without source.
COARSE_COUNTS = 2
# A pattern is named only where a reading's half-width is at most this share of the mean; common practice.
NAMES_UP_TO = 0.05


@dataclass(frozen=True, slots=True)
class ResistanceResult(Result):
    """What a winding resistance test shows. Ohms as read less lead resistance, unless `at_reference`.

    With more than one comparable set the figures are the least proven set's; `sets` has each.
    """

    pairs: tuple[str, ...] = ()
    unbalance: Balance | None = None
    judged: Balance | None = None
    spread_percent: float | None = None
    difference_ohm: float | None = None
    ohms: Mapping[str, float | None] = field(default_factory=dict)
    at_reference_ohm: Mapping[str, float] = field(default_factory=dict)
    reference_temperature_c: float = 25.0
    phase_wye_ohm: Mapping[str, float] = field(default_factory=dict)
    phase_delta_ohm: Mapping[str, float] = field(default_factory=dict)
    patterns: tuple[Pattern, ...] = ()
    resolution_needed_ohm: float | None = None
    criteria: str = ""
    working: str = ""
    sets: tuple[ResistanceResult, ...] = ()

    @property
    def mean_at_reference_ohm(self) -> float | None:
        """Mean of the corrected line readings, the figure to trend. Ω (computed)."""
        values = [self.at_reference_ohm[pair] for pair in LINE_PAIRS if pair in self.at_reference_ohm]
        values = values or list(self.at_reference_ohm.values())
        return sum(values) / len(values) if len(values) >= 3 else None


@dataclass(frozen=True, slots=True)
class _Read:
    """The readings of a test under canonical names, less lead resistance; open is None."""

    readings: Mapping[str, Reading]
    ohms: Mapping[str, float | None]
    spans: Mapping[str, Interval]
    remarks: tuple[Finding, ...]


def judge_resistance(test: ResistanceTest, winding: Winding, criteria: Criteria) -> ResistanceResult:
    """Judge one set of readings: the line pairs, or the coils and stars a lead scheme leaves apart.

    Pairs given twice, pairs no three resistances can give and missing pairs are findings, not exceptions.
    """
    limits = for_winding(criteria, winding.winding)
    scheme = winding.lead_scheme
    readings, twice = _unique(test, scheme)
    beeps = [pair for pair, reading in readings.items() if reading.shown in (Shown.BEEP, Shown.NO_BEEP)]
    if beeps:
        text = f"{', '.join(beeps)}: a beep is no value; it shows neither balance nor an open."
        twice.append(unproven("beep-only", text))
    values = {pair: reading for pair, reading in readings.items() if pair not in beeps}
    read = _values(values, test, limits)
    kinds = sort_pairs(values, scheme, test.hookup.links)
    sets = [_judge_set(one, read, test, winding, limits) for one in kinds.sets]
    loose = [
        *twice,
        *read.remarks,
        *_apart(kinds.apart, read, scheme),
        *_odd(kinds.odd),
        *_between_sets(kinds.sets, sets),
    ]
    made = _together(sets, loose, limits)
    if not test.failed_check:
        return made
    doubt = (failed_tester(test.failed_check),)
    return replace(made, findings=doubt, sets=tuple(replace(one, findings=doubt) for one in made.sets))


def _unique(test: ResistanceTest, scheme: str) -> tuple[dict[str, Reading], list[Finding]]:
    """Each pair once, the first reading standing; a second one that differs is a finding."""
    readings: dict[str, Reading] = {}
    findings = []
    turned = HIGH_SPEED.get(scheme, {}) if test.hookup.part == "high" else {}
    for name, reading in test.readings.items():
        pair = pair_of(name, scheme)
        pair = turned.get(pair, pair)
        first = readings.setdefault(pair, reading)
        if first is not reading and first.amount != reading.amount:
            text = f"{pair} is given twice, {first.text} and {reading.text}: repeat it and keep one."
            findings.append(unproven("reading-twice", text))
    return readings, findings


def _values(readings: Mapping[str, Reading], test: ResistanceTest, limits: Criteria) -> _Read:
    """Values less lead resistance; over-range and kilo-ohms count as open."""
    ohms: dict[str, float | None] = {}
    spans, remarks = {}, []
    for name, reading in readings.items():
        value = max(0.0, reading.amount.value - test.lead_resistance_ohm)
        over = reading.shown is Shown.OVER_RANGE
        if reaches(value, limits.open_above_ohm.value) and not over:
            text = f"{name} reads {value:g} Ω: across a power winding as good as open."
            remarks.append(act("kilohm-open", text))
        ohms[name] = None if over or reaches(value, limits.open_above_ohm.value) else value
        spans[name] = _span(reading, value, test)
    return _Read(readings, ohms, spans, tuple(remarks))


def _span(reading: Reading, ohm: float, test: ResistanceTest) -> Interval:
    """Digit uncertainty round a value; a bound keeps its open side."""
    width = half_width(reading, test.meter)
    amount = reading.amount.less(test.lead_resistance_ohm)
    return min(ohm, amount.low) - width, max(ohm, amount.high) + width


def _judge_set(one: PairSet, read: _Read, test: ResistanceTest, winding: Winding, limits: Criteria) -> ResistanceResult:
    lacking = [pair for pair in one.pairs if pair not in read.ohms]
    ohms = {pair: read.ohms[pair] for pair in one.pairs if pair in read.ohms}
    reference_c = limits.reference_temperature_c.value
    corrected = _corrected(ohms, read, test, winding, reference_c)
    if not lacking and len(ohms) >= 2 and None not in ohms.values():
        return _closed(ohms, corrected, one, read, winding, limits, test)
    base = ResistanceResult(
        pairs=one.pairs,
        ohms=ohms,
        at_reference_ohm=corrected,
        reference_temperature_c=reference_c,
        criteria=limits.name,
    )
    if lacking or len(ohms) < 2:
        wanted = lacking or [f"more pairs than {', '.join(ohms) or 'none'}"]
        return replace(base, findings=(words.missing_finding(wanted), *_opens_alone(ohms, one)))
    return _with_open(base, one, winding, test, limits)


def _opens_alone(ohms: Mapping[str, float | None], one: PairSet) -> list[Finding]:
    """With pairs lacking, an open single coil still shows."""
    return [] if one.star else [_coil_open(pair) for pair, ohm in ohms.items() if ohm is None]


def _coil_open(pair: str) -> Finding:
    return act("coil-open", f"{pair} is open: the coil between these leads, or a lead, is broken.")


def _corrected(
    ohms: Mapping[str, float | None], read: _Read, test: ResistanceTest, winding: Winding, reference_c: float
) -> dict[str, float]:
    """Exact readings only: a bound has no value to correct. A hot winding's temperature is what is looked for."""
    warm = test.conditions.winding_temperature_c
    if warm is None or warm <= -200 or test.hot:
        return {}
    return {
        pair: at_reference(ohm, warm, reference_c, winding.conductor)
        for pair, ohm in ohms.items()
        if ohm is not None and read.readings[pair].amount.is_exact
    }


def _healthy(winding: Winding, test: ResistanceTest, limits: Criteria, pairs: Sequence[str]) -> float | None:
    """The mean a sound set would read now: the baseline brought to the winding's temperature."""
    earlier = [winding.baseline_ohm[pair] for pair in pairs if pair in winding.baseline_ohm]
    warm = test.conditions.winding_temperature_c
    if not earlier or warm is None or warm <= -200:
        return None
    mean = sum(earlier) / len(earlier)
    return at_reference(mean, limits.reference_temperature_c.value, warm, winding.conductor)


def _with_open(
    base: ResistanceResult, one: PairSet, winding: Winding, test: ResistanceTest, limits: Criteria
) -> ResistanceResult:
    if not one.star:
        opened = [pair for pair, ohm in base.ohms.items() if ohm is None]
        found = tuple(Pattern("open-phase", pair) for pair in opened)
        return replace(base, patterns=found, findings=tuple(_coil_open(pair) for pair in opened))
    healthy = _healthy(winding, test, limits, one.pairs)
    lines = one.pairs == LINE_PAIRS
    connection = winding.internal_connection if lines else "wye"
    named = patterns(list(base.ohms.values()), False, connection, 0.02, one.pairs, healthy)
    return replace(
        base,
        patterns=tuple(named),
        findings=tuple(words.open_finding(pattern, base.ohms) for pattern in named),
    )


def _closed(
    ohms: Mapping[str, float | None],
    corrected: Mapping[str, float],
    one: PairSet,
    read: _Read,
    winding: Winding,
    limits: Criteria,
    test: ResistanceTest,
) -> ResistanceResult:
    values = [ohm for ohm in ohms.values() if ohm is not None]
    spans = [read.spans[pair] for pair in one.pairs]
    measure = limits.balance_measure
    judged = balance(values, spans, measure)
    mean = max(sum(values) / len(values), 1e-12)
    width = max([high - value for (_, high), value in zip(spans, values, strict=True)])
    even = within(judged.shown, limits.balance_sound.value)
    wye: tuple[float, ...] = wye_phases(*values) if one.star else ()
    contradict = one.star and min(wye) < -sum([high - low for low, high in spans]) / 2
    needed = _needed(values, judged, limits)
    reference_c = limits.reference_temperature_c.value
    named = [Pattern("balanced" if even else "unclassified")]
    findings: list[Finding] = []
    coarsest = max(_resolution(read.readings[pair], test) for pair in one.pairs)
    shows, fewer = _shows_it(needed, test), _digits_fewer(one, read, test)
    if max(values) <= COARSE_COUNTS * coarsest * (1 + SLACK):
        named = [Pattern("unclassified")]
        findings += fewer if shows else [words.coarse_finding(max(values), coarsest, needed or 0.0), *fewer]
    else:
        findings.append(words.balance_finding(judged, limits, needed or 0.0, shows))
        if findings[0].severity is Verdict.UNPROVEN:
            findings += fewer
        if contradict:
            named = [Pattern("unclassified")]
            findings.append(words.CONTRADICTORY)
        elif not within(judged.lowest, limits.balance_sound.value):
            named = [Pattern("unclassified")]
            if width <= NAMES_UP_TO * mean:
                healthy = _healthy(winding, test, limits, one.pairs)
                named = _named(values, winding, max(0.02, 2 * width / mean), one, healthy)
                findings += words.pattern_findings(named)
        findings += _drift(corrected, one, winding, limits, even, width / mean)
    exact = one.star and all(read.readings[pair].amount.is_exact for pair in one.pairs)
    return ResistanceResult(
        pairs=one.pairs,
        unbalance=judged if measure == "unbalance" else balance(values, spans),
        judged=judged,
        spread_percent=spread_percent(values),
        difference_ohm=difference(values),
        ohms=ohms,
        at_reference_ohm=corrected,
        reference_temperature_c=reference_c,
        phase_wye_ohm=dict(zip([pair.split("-")[0] for pair in one.pairs], wye, strict=True)) if exact else {},
        phase_delta_ohm=dict(zip(one.pairs, delta_phases(*values), strict=True)) if exact and not contradict else {},
        patterns=tuple(named),
        resolution_needed_ohm=needed,
        criteria=limits.name,
        working=words.working(values, measure),
        findings=tuple(findings),
    )


def _resolution(reading: Reading, test: ResistanceTest) -> float:
    """What one step of the last digit is worth, as shown and by the meter's sheet, Ω."""
    return max(reading.count or 0.0, (test.meter.resolution or 0.0) if test.meter else 0.0)


def _shows_it(needed_ohm: float | None, test: ResistanceTest) -> bool:
    """Whether this meter, with all its digits typed, is fine enough for what is needed."""
    meter = test.meter
    if meter is None or meter.resolution is None or needed_ohm is None:
        return False
    return within(2 * max(meter.counts, 0.5) * meter.resolution, needed_ohm)


def _digits_fewer(one: PairSet, read: _Read, test: ResistanceTest) -> list[Finding]:
    """Figures typed with fewer digits than the meter shows: kept, and nothing is proven by them."""
    shows = test.meter.resolution if test.meter else None
    if shows is None:
        return []
    fewer = [pair for pair in one.pairs if not within(read.readings[pair].count or 0.0, shows)]
    return [words.fewer_finding([(pair, read.readings[pair].text) for pair in fewer], shows)] if fewer else []


def _named(
    values: Sequence[float], winding: Winding, tolerance: float, one: PairSet, healthy: float | None
) -> list[Pattern]:
    if not one.star:
        return coil_patterns(values, tolerance, one.pairs)
    connection = winding.internal_connection if one.pairs == LINE_PAIRS or one.expected is None else "wye"
    return patterns(values, False, connection, tolerance, one.pairs, healthy)


def _needed(values: Sequence[float], judged: Balance, limits: Criteria) -> float | None:
    """Resolution that would settle what is unproven: within the limit if it shows so, else beyond it."""
    limit, measure = limits.balance_sound.value, limits.balance_measure
    if within(judged.highest, limit) or not within(judged.lowest, limit):
        return None
    if within(judged.shown, limit):
        return resolution_needed_ohm(values, limit, measure)
    return resolution_to_show_ohm(values, limit, measure)


def _drift(
    corrected: Mapping[str, float], one: PairSet, winding: Winding, limits: Criteria, even: bool, doubt: float
) -> list[Finding]:
    """Against the baseline, where the meter's digits (`doubt`, relative) surely show a drift."""
    shared = [pair for pair in one.pairs if pair in winding.baseline_ohm and pair in corrected]
    earlier = sum(winding.baseline_ohm[pair] for pair in shared)
    if not shared or earlier <= 0:
        return []
    ratio = sum(corrected[pair] for pair in shared) / earlier
    reference_c = limits.reference_temperature_c.value
    finding = words.drift_finding(ratio, doubt, reference_c, limits.resistance_drift.value, even)
    return [] if finding is None else [finding]


def _apart(pairs: Sequence[str], read: _Read, scheme: str) -> list[Finding]:
    """Pairs the scheme leaves apart must be open."""
    closed = [(pair, ohm) for pair in pairs if (ohm := read.ohms[pair]) is not None]
    code = "path-between-windings" if scheme == LeadScheme.TWO_WINDINGS else "path-between-coils"
    return [act(code, f"{pair} reads {three_digits(ohm)} Ω, but nothing joins these inside.") for pair, ohm in closed]


def _odd(pairs: Sequence[str]) -> list[Finding]:
    if not pairs:
        return []
    return [unproven("resistance-missing", f"{', '.join(pairs)}: no such leads in this scheme; not judged.")]


def _between_sets(kinds: Sequence[PairSet], sets: Sequence[ResistanceResult]) -> list[Finding]:
    """Means of the sets against the ratio the scheme gives them."""
    means = [
        (one, sum(values) / len(values) / one.expected)
        for one, result in zip(kinds, sets, strict=True)
        if one.expected and (values := [ohm for ohm in result.ohms.values() if ohm is not None]) and not _separate(one)
    ]
    if len(means) < 2 or min(unit for _, unit in means) <= 0:
        return []
    low, high = min(means, key=lambda pair: pair[1]), max(means, key=lambda pair: pair[1])
    if high[1] / low[1] - 1 <= SETS_APART:
        return []
    times = high[1] * (high[0].expected or 1) / (low[1] * (low[0].expected or 1))
    should = (high[0].expected or 1) / (low[0].expected or 1)
    text = (
        f"{high[0].pairs[0]} and its like read {three_digits(times)} times {low[0].pairs[0]} and its like; this scheme"
        f" gives {three_digits(should)} times. Another scheme, a wrong label, or a bad coil."
    )
    return [watch("sets-misfit", text)]


def _separate(one: PairSet) -> bool:
    """The second winding of a two-speed motor has ohms of its own."""
    return one.pairs[0] == "11-12"


_ORDER = {"act": 3, "watch": 2, "unproven": 1, "sound": 0}


def _together(sets: list[ResistanceResult], loose: list[Finding], limits: Criteria) -> ResistanceResult:
    if not sets:
        return ResistanceResult(findings=(*loose, words.missing_finding(LINE_PAIRS)), criteria=limits.name)
    if len(sets) == 1:
        return replace(sets[0], findings=(*sets[0].findings, *loose)) if loose else sets[0]
    governing = max(sets, key=lambda one: (_ORDER[worst([one.verdict])], one.judged.shown if one.judged else math.inf))
    findings = [
        Finding(f.code, f.severity, f"{one.pairs[0]} and its like: {f.text}") for one in sets for f in one.findings
    ]
    return replace(
        governing,
        ohms={pair: ohm for one in sets for pair, ohm in one.ohms.items()},
        at_reference_ohm={pair: ohm for one in sets for pair, ohm in one.at_reference_ohm.items()},
        patterns=tuple(p for one in sets for p in one.patterns if p.pattern != "balanced") or (Pattern("balanced"),),
        findings=(*findings, *loose),
        sets=tuple(sets),
    )
