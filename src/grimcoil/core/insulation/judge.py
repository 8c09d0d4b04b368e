"""An insulation test from the timed readings to verdict."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.findings import Finding, Result, act, failed_tester, unproven, watch
from grimcoil.core.insulation import words
from grimcoil.core.insulation.correction import HIGHEST_C, LOWEST_C, correction_factor
from grimcoil.core.insulation.curve import DOES_NOT_FIT, Curve, curve_findings, curve_of
from grimcoil.core.insulation.hold import discharge_s
from grimcoil.core.insulation.minimum import OLD_BEFORE, Machine, minimum_mohm, stands_as_read
from grimcoil.core.insulation.ohmmeter import is_ohmmeter, ohmmeter_findings
from grimcoil.core.insulation.ratios import dar_findings, pi_findings
from grimcoil.core.insulation.spot import spot_value
from grimcoil.core.insulation.voltage import nothing_passed, passes_nothing, voltage_findings
from grimcoil.core.measured import InsulationTest, Timed
from grimcoil.core.points import FRAME, groups_of, groups_touched, lead_of, phases_of
from grimcoil.core.subject import Conditions, Subject

if TYPE_CHECKING:
    from grimcoil.core.insulation.absorption import Absorption


@dataclass(frozen=True, slots=True)
class InsulationResult(Result):
    """What a hold shows; resistances in MΩ, at the winding's temperature unless `_40c`.

    what: `to frame`, or which leads against which. route: `insulation-tester` or `ohmmeter`. dar_times_s: the
    two times of the ratio, usually 30 and 60.
    """

    what: str = "to frame"
    route: str = "insulation-tester"
    r_1min_mohm: Amount | None = None
    r_1min_40c_mohm: Amount | None = None
    r_spot_mohm: Amount | None = None
    correction_factor: float | None = None
    minimum_mohm: float | None = None
    minimum_rule: str = ""
    pi: Amount | None = None
    dar: Amount | None = None
    dar_times_s: tuple[float, float] | None = None
    curve_shape: str | None = None
    absorption: Absorption | None = None
    test_voltage_v: float | None = None
    discharge_s: float | None = None
    working: str = ""

    @property
    def reached(self) -> bool:
        """Whether it has a value that stands for a minute: as read, or at 40 °C by a tester that corrects by itself."""
        return self.r_1min_mohm is not None or self.r_1min_40c_mohm is not None

    @property
    def leakage_ua(self) -> float | None:
        """Steady leakage at the test voltage, µA (computed)."""
        if self.absorption is None or self.test_voltage_v is None or self.absorption.misfit > DOES_NOT_FIT:
            return None
        return self.absorption.leak * self.test_voltage_v


def judge_insulation(test: InsulationTest, subject: Subject) -> InsulationResult:
    """Judge one hold. A ban by the maker, an empty series and contradictory times are findings, not exceptions."""
    least, rule = minimum_of(subject)
    scheme = subject.winding.lead_scheme
    least *= phase_multiple(test, scheme)
    forbidden = subject.winding.insulation_test_forbidden
    refused = _hookup_finding(test, scheme) if test.series else words.FORBIDDEN if forbidden else words.MISSING
    if refused is not None:
        return InsulationResult(what=what_of(test), minimum_mohm=least, minimum_rule=rule, findings=(refused,))
    by_ohmmeter = is_ohmmeter(test, forbidden)
    result = (_judge_ohmmeter if by_ohmmeter else _judge_series)(test, subject, least, rule)
    return replace(result, findings=(failed_tester(test.failed_check),)) if test.failed_check else result


def has_index(test: InsulationTest) -> bool:
    """Whether a second value stands beside that of a minute, of which a ratio or an index is made."""
    if not test.series:
        return False
    curve = curve_of(test.series)
    return any(_at(curve, mark_s) is not None for mark_s in (30, 600))


def phase_multiple(test: InsulationTest, scheme: str) -> int:
    """How many times the winding's minimum this hold must reach: 1 for the whole, 2 for one phase with the others
    earthed, 3 with them on the guard (IEEE 43, standard, from memory).
    """
    phases = phases_of(scheme)
    if not phases or not test.to_frame or not test.ends:
        return 1
    touched = groups_touched(test.ends, scheme)
    own = next((phase for phase in phases if touched <= phase), None)
    if own is None:
        return 1
    if groups_touched(test.guard, scheme) - own:
        return 3
    return 2 if groups_touched(test.to, scheme) - own else 1


def _hookup_finding(test: InsulationTest, scheme: str) -> Finding | None:
    """Leads that aren't there, or joined inside to what they were tested against, say nothing of the insulation."""
    if not groups_of(scheme):
        return None
    leads = {lead for group in groups_of(scheme) for lead in group}
    odd = [name for name in (*test.ends, *test.to) if lead_of(name, scheme) not in {*leads, FRAME}]
    if odd:
        text = f"No such lead in this scheme: {', '.join(odd)}. Name the leads that were on the tester."
        return unproven("lead-unknown", text)
    if groups_touched(test.ends, scheme) & groups_touched(test.to, scheme):
        return unproven("joined-inside", f"Tested {what_of(test)}: these are joined inside, so it shows no insulation.")
    return None


def machine_of(subject: Subject) -> Machine:
    """What the minimum depends on."""
    plate, winding = subject.plate, subject.winding
    return Machine(
        rated_v(subject),
        winding.winding,
        winding.insulation_system or "",
        plate.built_year,
        winding.insulation_minimum_mohm,
        winding.insulation_minimum_source,
    )


def system_of(subject: Subject) -> str:
    """The insulation system; not on record, by the year: before about 1970 thermoplastic (common practice)."""
    known = subject.winding.insulation_system
    return known or ("thermoplastic" if (subject.plate.built_year or OLD_BEFORE) < OLD_BEFORE else "thermosetting")


def what_of(test: InsulationTest) -> str:
    """`to frame`, `from 1 to frame`, `from 1 to 2, 3`."""
    ends = ", ".join(test.ends)
    if test.to_frame:
        return f"from {ends} to frame" if len(test.ends) in (1, 2) else "to frame"
    return f"from {ends or 'one group'} to {', '.join(test.to)}"


def _judge_ohmmeter(test: InsulationTest, subject: Subject, least: float, rule: str) -> InsulationResult:
    last = curve_of(test.series).last
    return InsulationResult(
        what=what_of(test),
        route="ohmmeter",
        r_spot_mohm=last,
        minimum_mohm=least,
        minimum_rule=rule,
        findings=tuple(ohmmeter_findings(last, subject.criteria)),
    )


def _judge_series(test: InsulationTest, subject: Subject, least: float, rule: str) -> InsulationResult:
    series = [Timed(p.t_s, p.reading.with_top(test.meter.top if test.meter else None)) for p in test.series]
    curve = curve_of(series)
    shown, ten = _at(curve, 60), _at(curve, 600)
    spot = spot_value(curve, _cable_m(test, subject)) if shown is None else None
    counts = subject.criteria.spot_measure == "at-least"
    value = Amount.above(spot.mohm.low) if spot is not None and counts else shown
    early_s, early = _early(curve)
    k = _factor(test.conditions, system_of(subject))
    one, r40 = _as_read_and_at_40(value, k, test)
    in_order = curve.in_order
    pi = ten.over(shown) if in_order and ten is not None and shown is not None else None
    dar = shown.over(early) if in_order and shown is not None and early is not None else None
    findings = [
        *_before(test, subject),
        *curve_findings(curve, test.test_voltage_v, subject.criteria.insulation_good_mohm.value),
        *([words.counted(spot)] if spot is not None and counts else []),
        *_value_findings(one, r40, curve, least, test, subject),
    ]
    if pi is not None:
        old = (subject.plate.built_year or 9999) < 2000
        findings += pi_findings(pi, r40, subject.plate.insulation_class, old, subject.criteria)
    if dar is not None and early_s == 30:
        findings += dar_findings(dar, r40, subject.criteria)
    if test.test_voltage_v is not None and passes_nothing(test.test_voltage_v, rated_v(subject)):
        findings = nothing_passed(findings, test.test_voltage_v)
    return InsulationResult(
        what=what_of(test),
        r_1min_mohm=one,
        r_1min_40c_mohm=r40,
        r_spot_mohm=None if value is not None and spot is None else curve.last,
        correction_factor=k,
        minimum_mohm=least,
        minimum_rule=rule,
        pi=_defined(pi),
        dar=_defined(dar),
        dar_times_s=None if dar is None else (early_s, 60.0),
        curve_shape=curve.shape,
        absorption=curve.fit,
        test_voltage_v=test.test_voltage_v,
        discharge_s=discharge_s(max(point.t_s for point in series)),
        findings=tuple(findings),
        working="" if test.corrects_to_40c else words.working(one, k, r40),
    )


def rated_v(subject: Subject) -> float | None:
    """The rated voltage that test volts and minimum go by: the one in use, else the plate's highest, V.

    Common practice without source.
    """
    return subject.plate.voltage_in_use_v or max(subject.plate.rated_voltage_v, default=None)


def minimum_of(subject: Subject) -> tuple[float, str]:
    """The minimum at 40 °C of this winding, MΩ, and the rule that gave it. The rule names its source."""
    return minimum_mohm(machine_of(subject), subject.criteria)


def _before(test: InsulationTest, subject: Subject) -> list[Finding]:
    """What can be said before any value: the ban, the voltage, the polarity."""
    rated = rated_v(subject)
    out = []
    if subject.winding.insulation_test_forbidden:
        text = "The maker forbids high-voltage insulation tests here, and one was made: say why on the record."
        out.append(watch("insulation-forbidden-done", text))
    if test.test_voltage_v is None:
        out.append(words.NO_VOLTAGE)
    out += voltage_findings(test.test_voltage_v, rated, subject.criteria.test_voltage_school)
    if (test.polarity or "").lower() in ("winding-positive", "positive-to-winding"):
        out.append(words.TURNED)
    return out


def _defined(ratio: Amount | None) -> Amount | None:
    return None if ratio is None or ratio.bound is Bound.NOTHING else ratio


def _at(curve: Curve, t_s: float) -> Amount | None:
    """The reading of a mark, within a twelfth of its time."""
    near = [(abs(t - t_s), i) for i, t in enumerate(curve.times_s) if abs(t - t_s) <= t_s / 12]
    return curve.mohm[min(near)[1]] if near else None


def _early(curve: Curve) -> tuple[float, Amount | None]:
    """The early value of the absorption ratio: 30 s, or 15 s where only that was read."""
    thirty = _at(curve, 30)
    return (30.0, thirty) if thirty is not None else (15.0, _at(curve, 15))


def _factor(conditions: Conditions, insulation_system: str) -> float | None:
    warm = conditions.winding_temperature_c
    if warm is None or not LOWEST_C <= warm <= HIGHEST_C:
        return None
    return correction_factor(warm, insulation_system)


def _as_read_and_at_40(
    shown: Amount | None, k: float | None, test: InsulationTest
) -> tuple[Amount | None, Amount | None]:
    """The value as the winding had it, and at 40 °C, MΩ. A tester that corrects by itself shows the second."""
    if shown is None:
        return None, None
    if test.corrects_to_40c:
        return None if k is None else shown.scaled(1 / k), shown
    return shown, None if k is None else shown.scaled(k)


def _cable_m(test: InsulationTest, subject: Subject) -> float:
    """How much cable hangs on the tester, m; 0 where none is on record."""
    return (subject.position.cable.length_m or 0.0) if test.scope != "motor" else 0.0


def _value_findings(
    one: Amount | None,
    r40: Amount | None,
    curve: Curve,
    least: float,
    test: InsulationTest,
    subject: Subject,
) -> Sequence[Finding]:
    near_zero, last = subject.criteria.near_zero_mohm.value, curve.last
    what, limits = what_of(test), _limits(test, least, subject)
    value = one if one is not None else r40 if r40 is not None else last
    if value.surely_below(near_zero) or last.surely_below(near_zero):
        text = f"Insulation {what} below {near_zero:g} MΩ: failed. Do not repeat at a higher test voltage."
        return [act("insulation-near-zero", text)]
    if one is None and r40 is None:
        return [words.spot_only(curve, _cable_m(test, subject))]
    if (one or r40 or last).bound is Bound.NOTHING:
        text = "Over range, but the tester's top isn't known: enter it as more than that top, for example >550M."
        return [unproven("range-unknown", text)]
    if stands_as_read(machine_of(subject), subject.criteria):
        if one is None:
            return [words.CORRECTED_ALREADY]
        around = (test.conditions.winding_temperature_c, test.conditions.ambient_temperature_c)
        cold = next((celsius < LOWEST_C for celsius in around if celsius is not None), False)
        return [words.as_read(one, limits, what, cold), *words.wet(one, least, test.conditions)]
    if r40 is not None:
        return [words.corrected(r40, limits, what), *words.wet(r40, least, test.conditions)]
    return words.uncorrected(value, limits, test.conditions, subject.winding.insulation_system, what)


def _limits(test: InsulationTest, least: float, subject: Subject) -> words.Limits:
    """What the value is held against, MΩ: where 1 MΩ may run, one phase alone has its multiple of that too."""
    criteria = subject.criteria
    may_run = criteria.insulation_may_run_mohm.value
    if criteria.low_measure != "watch":
        return words.Limits(least, may_run)
    return words.Limits(least, min(may_run * phase_multiple(test, subject.winding.lead_scheme), least), True)
