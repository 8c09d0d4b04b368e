"""All tests of one job together: every result, the decision, and which criteria and version judged."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from grimcoil.core.accessories import judge_accessory
from grimcoil.core.circuit.cable import judge_cable
from grimcoil.core.circuit.coils import judge_brake, judge_capacitor, judge_contactor_coil
from grimcoil.core.circuit.contacts import judge_contacts, judge_poles
from grimcoil.core.circuit.fuses import judge_fuse
from grimcoil.core.criteria import Criteria
from grimcoil.core.current import CurrentResult, judge_current
from grimcoil.core.decision.decide import Decision, Evidence, decide
from grimcoil.core.decision.standing import Standing, standing
from grimcoil.core.findings import Finding, Result, Verdict, worst
from grimcoil.core.hands import judge_dead_proof, judge_shaft
from grimcoil.core.heat import judge_frame_temperature
from grimcoil.core.instruments import calibration_finding
from grimcoil.core.insulation.between import judge_between
from grimcoil.core.insulation.judge import InsulationResult, judge_insulation
from grimcoil.core.measured import (
    AccessoryTest,
    BrakeTest,
    CableTest,
    CapacitorTest,
    ContactorCoilTest,
    ContactTest,
    CurrentTest,
    DeadProofTest,
    FrameTemperatureTest,
    FuseTest,
    InsulationTest,
    JobRecord,
    LeadRollTest,
    OverloadPoleTest,
    ResistanceTest,
    ShaftTest,
    SupplyTest,
    Test,
    WindingToWindingTest,
)
from grimcoil.core.plate import check_leads, check_plate, check_system
from grimcoil.core.position import check_position, check_rewound
from grimcoil.core.resistance.judge import ResistanceResult, judge_resistance
from grimcoil.core.resistance.opens import settled_opens
from grimcoil.core.side.kinds import SIDE_KINDS
from grimcoil.core.subject import Subject
from grimcoil.core.supply import SupplyResult, judge_supply
from grimcoil.core.together import insulation_together, resistance_together, through_cable, turns_unsettled
from grimcoil.core.version import VERSION

Judge = Callable[[Any, Subject], Result]


@dataclass(frozen=True, slots=True)
class _Kind:
    """A kind of test as the open format names it: the record's class and its judge."""

    name: str
    made: type
    judge: Judge


def _limits_only(judge: Callable[[Any, Criteria], Result]) -> Judge:
    return lambda test, subject: judge(test, subject.criteria)


def _alone(judge: Callable[[Any], Result]) -> Judge:
    return lambda test, _: judge(test)


def _judge_lead_roll(test: LeadRollTest, _: Subject) -> Result:
    from grimcoil.core.lead_roll import judge_lead_roll  # loads numpy, which few jobs need

    return judge_lead_roll(test)


KINDS: tuple[_Kind, ...] = (
    _Kind("winding_resistance", ResistanceTest, lambda t, s: judge_resistance(t, s.winding, s.criteria)),
    _Kind("insulation", InsulationTest, judge_insulation),
    _Kind("winding_to_winding", WindingToWindingTest, judge_between),
    _Kind("supply_voltage", SupplyTest, lambda t, s: judge_supply(t, s.at_speed(t.hookup.part))),
    _Kind("line_current", CurrentTest, lambda t, s: judge_current(t, s.at_speed(t.hookup.part))),
    _Kind("lead_roll", LeadRollTest, _judge_lead_roll),
    _Kind("contact_drop", ContactTest, _limits_only(judge_contacts)),
    _Kind("overload_pole", OverloadPoleTest, _limits_only(judge_poles)),
    _Kind("fuse", FuseTest, _limits_only(judge_fuse)),
    _Kind("contactor_coil", ContactorCoilTest, lambda t, _: judge_contactor_coil(t)),
    _Kind("cable", CableTest, lambda t, s: judge_cable(t, s.position.cable, s.criteria)),
    _Kind("capacitor", CapacitorTest, _limits_only(judge_capacitor)),
    _Kind("accessory", AccessoryTest, _limits_only(judge_accessory)),
    _Kind("brake", BrakeTest, lambda t, s: judge_brake(t, s.fittings, s.criteria)),
    _Kind(
        "frame_temperature",
        FrameTemperatureTest,
        lambda t, s: judge_frame_temperature(t, s.plate.insulation_class, s.criteria),
    ),
    _Kind("shaft", ShaftTest, lambda t, _: judge_shaft(t)),
    _Kind("dead_proof", DeadProofTest, _limits_only(judge_dead_proof)),
    *(_Kind(name, made, _alone(judge)) for name, (made, judge) in SIDE_KINDS.items()),
)
_KIND_OF = {kind.made: kind for kind in KINDS}


def kind_of(test: Test) -> str:
    """What the open format calls this kind of test."""
    return _KIND_OF[type(test)].name


ALWAYS = ("winding_resistance", "insulation", "supply_voltage", "line_current")
PROVEN = Standing()
GRADED = frozenset({*ALWAYS, "winding_to_winding"})


@dataclass(frozen=True, slots=True)
class Assessment:
    """Results by kind of test, each in the order of the record; `together`: what several tests show as one."""

    by_kind: Mapping[str, tuple[Result, ...]]
    together: tuple[Finding, ...]
    plate: tuple[Finding, ...]
    position: tuple[Finding, ...]
    instruments: tuple[Finding, ...]
    decision: Decision
    criteria: str
    criteria_version: int
    stands: Standing = PROVEN
    evidence: Evidence | None = None
    occasion: str = "routine"
    core_version: str = VERSION

    @property
    def winding_resistance(self) -> tuple[ResistanceResult, ...]:
        """Winding resistance results."""
        return self.by_kind["winding_resistance"]  # type: ignore[return-value]

    @property
    def insulation(self) -> tuple[InsulationResult, ...]:
        """Insulation results."""
        return self.by_kind["insulation"]  # type: ignore[return-value]

    @property
    def supply_voltage(self) -> tuple[SupplyResult, ...]:
        """Supply results."""
        return self.by_kind["supply_voltage"]  # type: ignore[return-value]

    @property
    def line_current(self) -> tuple[CurrentResult, ...]:
        """Current results."""
        return self.by_kind["line_current"]  # type: ignore[return-value]

    @property
    def results(self) -> list[Result]:
        """Every result, by kind."""
        return [result for results in self.by_kind.values() for result in results]

    @property
    def findings(self) -> list[Finding]:
        """Every finding of every test, in order, and those of several tests together."""
        return [finding for result in self.results for finding in result.findings] + list(self.together)


def assess(record: JobRecord, trend_findings: Iterable[Finding] = ()) -> Assessment:
    """Judge every test of a record and decide. No reading can make it raise."""
    subject = record.subject
    tests, lost = _settled(record.tests, subject)
    done = _judged(tests, subject)
    by_kind = {
        kind: tuple(result for _, result in done.get(kind, ()))
        for kind in (*ALWAYS, *(k for k in done if k not in ALWAYS))
    }
    together = [
        *lost,
        *resistance_together(done.get("winding_resistance", ()), subject),
        *insulation_together(done.get("insulation", ()), done.get("winding_to_winding", ())),
    ]
    position = check_position(subject)
    stands = standing(done, subject, record.occasion, record.wishes)
    together += turns_unsettled(done)
    findings = [finding for results in by_kind.values() for result in results for finding in result.findings]
    evidence = Evidence(
        [*findings, *together, *position, *trend_findings],
        _heard(done) | {finding.code for finding in (*together, *position, *trend_findings)},
        _worst(done, [*together, *position]),
        stands,
    )
    return Assessment(
        by_kind,
        tuple(together),
        tuple(_plate_findings(subject)),
        tuple(position),
        tuple(_calibration(record)),
        decide(evidence, record.occasion),
        subject.criteria.name,
        subject.criteria.version,
        stands,
        evidence,
        record.occasion,
    )


def with_trend(whole: Assessment, trend_findings: Sequence[Finding]) -> Assessment:
    """The same readings decided anew with what the trend shows; nothing is judged twice."""
    before = whole.evidence
    if before is None or not trend_findings:
        return whole
    codes = frozenset(finding.code for finding in trend_findings)
    evidence = replace(before, findings=[*before.findings, *trend_findings], heard=before.heard | codes)
    return replace(whole, decision=decide(evidence, whole.occasion), evidence=evidence)


def _heard(done: Mapping[str, Sequence[tuple[Any, Result]]]) -> frozenset[str]:
    """Codes that may name an action: nothing read through the cable condemns the motor by itself."""
    return frozenset(
        finding.code
        for pairs in done.values()
        for test, result in pairs
        if not through_cable(test)
        for finding in result.findings
    )


def _judged(tests: Sequence[Test], subject: Subject) -> dict[str, list[tuple[Any, Any]]]:
    """Each test with its result, by kind; the supply first, since current is judged beside it."""
    done: dict[str, list[tuple[Any, Any]]] = {}
    unbalance: float | None = None
    for test in sorted(tests, key=lambda t: not isinstance(t, SupplyTest)) if len(tests) > 1 else tests:
        kind = _KIND_OF[type(test)]
        if isinstance(test, CurrentTest) and unbalance is not None:
            result: Result = judge_current(test, subject.at_speed(test.hookup.part), unbalance)
        else:
            result = kind.judge(test, subject)
        if unbalance is None and isinstance(result, SupplyResult):
            unbalance = result.unbalance_percent
        done.setdefault(kind.name, []).append((test, result))
    return done


def _settled(tests: Sequence[Test], subject: Subject) -> tuple[Sequence[Test], tuple[Finding, ...]]:
    """The tests in their order, without opens that another reading of the same pair contradicts."""
    ohms = [test for test in tests if isinstance(test, ResistanceTest)]
    settled, findings = settled_opens(ohms, subject)
    if not findings:
        return tests, ()
    left = iter(settled)
    return [next(left) if isinstance(test, ResistanceTest) else test for test in tests], findings


def _plate_findings(subject: Subject) -> list[Finding]:
    plates = [subject.plate, *subject.speeds.values()]
    return [
        *(finding for plate in plates for finding in check_plate(plate)),
        *check_leads(subject.plate, subject.winding.lead_scheme),
        *_present(check_system(subject.plate, subject.system_voltage_v)),
        *check_rewound(subject.plate, subject.maker_plate),
    ]


def _present(finding: Finding | None) -> list[Finding]:
    return [] if finding is None else [finding]


def _calibration(record: JobRecord) -> list[Finding]:
    on = record.conditions.on
    if on is None:
        return []
    return [f for meter in record.instruments for f in _present(calibration_finding(meter, on))]


def _worst(done: Mapping[str, Sequence[tuple[Any, Result]]], rest: Sequence[Finding]) -> Verdict:
    """The worst verdict of any test. What the key tests leave unproven is the standing's to say, need by need."""
    verdicts = [finding.severity for finding in rest]
    for kind, pairs in done.items():
        for _, result in pairs:
            if kind in GRADED and result.verdict is Verdict.UNPROVEN:  # what it shows beside that isn't dropped
                verdicts += [f.severity for f in result.findings if f.severity is not Verdict.UNPROVEN]
            else:
                verdicts.append(result.verdict)
    return worst([Verdict.SOUND, *verdicts])
