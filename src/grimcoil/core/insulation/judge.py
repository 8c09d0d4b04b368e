"""An insulation test from the timed readings to verdict."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.findings import Finding, Verdict, verdict_of
from grimcoil.core.insulation.correction import (
    HIGHEST_C,
    LOWEST_C,
    correction_factor,
    dew_point_c,
)
from grimcoil.core.insulation.hold import discharge_s, usual_test_voltage_v
from grimcoil.core.insulation.minimum import (
    Machine,
    judge,
    judge_uncorrected,
    minimum_mohm,
)
from grimcoil.core.insulation.ratios import dar_findings, pi_findings
from grimcoil.core.readings import three_digits
from grimcoil.core.subject import Conditions, InsulationTest, Subject, Timed


@dataclass(frozen=True, slots=True)
class InsulationResult:
    """What a hold shows; resistances in MΩ, at the winding's temperature unless `_40c`."""

    r_1min_mohm: Amount | None = None
    r_1min_40c_mohm: Amount | None = None
    r_spot_mohm: Amount | None = None
    correction_factor: float | None = None
    minimum_mohm: float | None = None
    minimum_rule: str = ""
    pi: Amount | None = None
    dar: Amount | None = None
    discharge_s: float | None = None
    findings: tuple[Finding, ...] = ()
    working: str = ""

    @property
    def verdict(self) -> Verdict:
        """The one-minute value governs; an index or a ratio that is merely unproven doesn't unprove it."""
        governing = [f for f in self.findings if not (f.severity is Verdict.UNPROVEN and f.code in _SIDE)]
        return verdict_of(governing)


_SIDE = {"pi-unproven", "dar-unproven"}


def judge_insulation(test: InsulationTest, subject: Subject) -> InsulationResult:
    """Judge one hold. A ban by the maker, an empty series and contradictory times are findings, not exceptions."""
    machine = _machine(subject)
    least, rule = minimum_mohm(machine, subject.criteria)
    least *= test.phase_multiple
    if not test.series:
        code = "insulation-forbidden" if subject.winding.insulation_test_forbidden else "insulation-missing"
        text = {
            "insulation-forbidden": "The maker forbids high-voltage insulation tests here: insulation stays unproven.",
            "insulation-missing": "No insulation reading taken.",
        }[code]
        finding = Finding(code, Verdict.UNPROVEN, text)
        return InsulationResult(minimum_mohm=least, minimum_rule=rule, findings=(finding,))
    return _judge_series(test, subject, least, rule)


def _machine(subject: Subject) -> Machine:
    plate, winding = subject.plate, subject.winding
    rated = plate.voltage_in_use_v or (max(plate.rated_voltage_v) if plate.rated_voltage_v else None)
    return Machine(rated, winding.winding, winding.insulation_system, plate.built_year)


def _judge_series(test: InsulationTest, subject: Subject, least: float, rule: str) -> InsulationResult:
    series = [Timed(p.t_s, p.reading.with_top(test.meter.top if test.meter else None)) for p in test.series]
    one, ten, half = _at(series, 60), _at(series, 600), _at(series, 30)
    k = _factor(test.conditions, subject.winding.insulation_system)
    r40 = one.scaled(k) if one is not None and k is not None else None
    pi = ten.over(one) if ten is not None and one is not None else None
    dar = one.over(half) if one is not None and half is not None else None
    last = _mohm(series[-1])
    findings = [
        *_voltage_findings(test.test_voltage_v, subject),
        *_order_findings(series),
        *_value_findings(one, r40, last, least, test, subject),
    ]
    if pi is not None:
        old = (subject.plate.built_year or 9999) < 2000
        findings += pi_findings(pi, r40, subject.plate.insulation_class, old, subject.criteria)
    if dar is not None:
        findings += dar_findings(dar, r40, subject.criteria)
    return InsulationResult(
        r_1min_mohm=one,
        r_1min_40c_mohm=r40,
        r_spot_mohm=None if one is not None else last,
        correction_factor=k,
        minimum_mohm=least,
        minimum_rule=rule,
        pi=_defined(pi),
        dar=_defined(dar),
        discharge_s=discharge_s(max(point.t_s for point in series)),
        findings=tuple(findings),
        working=_working(one, k, r40),
    )


def _defined(ratio: Amount | None) -> Amount | None:
    return None if ratio is None or ratio.bound is Bound.NOTHING else ratio


def _mohm(point: Timed) -> Amount:
    amount = point.reading.amount
    if amount.bound is Bound.NOTHING:
        return amount
    return Amount(amount.low / 1e6, amount.high / 1e6)


def _at(series: Sequence[Timed], t_s: float) -> Amount | None:
    """The reading of a mark, within a twelfth of its time."""
    near = [point for point in series if abs(point.t_s - t_s) <= t_s / 12]
    return _mohm(min(near, key=lambda point: abs(point.t_s - t_s))) if near else None


def _factor(conditions: Conditions, insulation_system: str) -> float | None:
    warm = conditions.winding_temperature_c
    if warm is None or not LOWEST_C <= warm <= HIGHEST_C:
        return None
    return correction_factor(warm, insulation_system)


def _voltage_findings(volts: float | None, subject: Subject) -> list[Finding]:
    rated = subject.plate.voltage_in_use_v or max(subject.plate.rated_voltage_v, default=None)
    if volts is None or rated is None:
        return []
    low, high = usual_test_voltage_v(rated)
    advice = f"{low} V" if low == high else f"{low} to {high} V"
    if volts > high * 1.05:
        text = f"{volts:g} V is an over-voltage test for a {rated:g} V winding; {advice} is usual."
        return [Finding("test-voltage-high", Verdict.WATCH, text)]
    if volts < low * 0.95:
        text = f"{volts:g} V stresses a {rated:g} V winding little; {advice} is usual."
        return [Finding("test-voltage-low", Verdict.WATCH, text)]
    return []


def _order_findings(series: Sequence[Timed]) -> list[Finding]:
    times = [point.t_s for point in series]
    if times != sorted(times) or len(set(times)) != len(times):
        text = "The times of the series are out of order; repeat the hold or put the times right."
        return [Finding("series-out-of-order", Verdict.UNPROVEN, text)]
    falls = [(a, b) for a, b in pairwise(series) if _mohm(b).high < 0.97 * _mohm(a).low and a.t_s >= 15]
    if falls:
        a, b = falls[0]
        text = f"The value falls from {a.t_s:g} s to {b.t_s:g} s under steady voltage: water or a breakdown path."
        return [Finding("curve-falling", Verdict.ACT, text)]
    return []


def _value_findings(
    one: Amount | None,
    r40: Amount | None,
    last: Amount,
    least: float,
    test: InsulationTest,
    subject: Subject,
) -> list[Finding]:
    near_zero = subject.criteria.near_zero_mohm.value
    value = one if one is not None else last
    if value.surely_below(near_zero):
        text = f"Near zero to frame: below {near_zero:g} MΩ on any instrument is bad. No repeat at higher volts."
        return [Finding("insulation-near-zero", Verdict.ACT, text)]
    if one is None:
        text = f"A spot value of {_text(last)} MΩ is no 1-minute value: hold 1 minute."
        return [Finding("spot-only", Verdict.UNPROVEN, text)]
    if one.bound is Bound.NOTHING:
        text = "Over range, but the tester's top isn't known: enter it as more than that top, for example >550M."
        return [Finding("range-unknown", Verdict.UNPROVEN, text)]
    if r40 is None:
        return _uncorrected(one, least, test.conditions, subject)
    return [_corrected(r40, least), *_wet(r40, least, test.conditions)]


def _text(amount: Amount) -> str:
    lead = {Bound.ABOVE: ">", Bound.BELOW: "<"}.get(amount.bound, "")
    return lead + three_digits(amount.value)


def _corrected(r40: Amount, least: float) -> Finding:
    verdict = judge(r40, least)
    shown = f"{_text(r40)} MΩ at 40 °C after 1 minute, minimum {least:g}"
    if verdict is Verdict.SOUND:
        return Finding("insulation-sound", verdict, f"Insulation to frame is good: {shown}.")
    if verdict is Verdict.UNPROVEN:
        return Finding(
            "insulation-unproven",
            verdict,
            f"Insulation unproven: {shown} isn't decided by a bound.",
        )
    if r40.high < 1:
        return Finding("insulation-failed", verdict, f"Insulation failed: {shown}.")
    text = f"Insulation below the minimum: {shown}. Not accepted; it may run only by a signed exception."
    return Finding("insulation-low", verdict, text)


def _uncorrected(one: Amount, least: float, conditions: Conditions, subject: Subject) -> list[Finding]:
    system = subject.winding.insulation_system
    verdict = judge_uncorrected(one, least, system, conditions.ambient_temperature_c)
    warm = conditions.winding_temperature_c
    if warm is None:
        why = Finding(
            "temperature-missing",
            verdict,
            "No winding temperature recorded, so no value at 40 °C.",
        )
    else:
        text = f"{warm:g} °C is outside 10 to 85 °C, where the correction to 40 °C holds."
        why = Finding("correction-out-of-range", verdict, text)
    shown = f"{_text(one)} MΩ as read, minimum {least:g} at 40 °C"
    if verdict is Verdict.SOUND:
        return [
            why,
            Finding(
                "insulation-sound",
                verdict,
                f"Far enough above even uncorrected: {shown} (from 10 °C up).",
            ),
        ]
    if verdict is Verdict.ACT:
        return [
            why,
            Finding(
                "insulation-low",
                verdict,
                f"Below the minimum at any temperature: {shown}.",
            ),
        ]
    return [
        why,
        Finding(
            "insulation-unproven",
            verdict,
            f"Insulation unproven: {shown}. Take the winding temperature.",
        ),
    ]


def _wet(r40: Amount, least: float, conditions: Conditions) -> list[Finding]:
    warm, air, humid = (
        conditions.winding_temperature_c,
        conditions.ambient_temperature_c,
        conditions.relative_humidity_percent,
    )
    if warm is None or air is None or not humid:
        return []
    dew = dew_point_c(air, humid)
    if warm > dew:
        return []
    text = f"The winding at {warm:g} °C is not above the dew point {dew:.1f} °C: a wet surface, not bad insulation."
    return [
        Finding(
            "wet-surface",
            Verdict.WATCH if r40.surely_at_least(least) else Verdict.UNPROVEN,
            text,
        )
    ]


def _working(one: Amount | None, k: float | None, r40: Amount | None) -> str:
    if one is None or k is None or r40 is None:
        return ""
    return f"{_text(one)} MΩ read × {k:.4f} = {_text(r40)} MΩ at 40 °C"
