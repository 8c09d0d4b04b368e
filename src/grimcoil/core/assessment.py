"""All tests of one job together: every result, the decision, and which criteria and version judged."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from grimcoil.core.contacts import (
    AccessoryResult,
    ContactResult,
    judge_accessory,
    judge_contacts,
)
from grimcoil.core.current import CurrentResult, judge_current
from grimcoil.core.decision.decide import Decision, decide
from grimcoil.core.findings import Finding, Verdict, worst
from grimcoil.core.instruments import calibration_finding
from grimcoil.core.insulation.judge import InsulationResult, judge_insulation
from grimcoil.core.plate import check_plate, check_system
from grimcoil.core.resistance.judge import ResistanceResult, judge_resistance
from grimcoil.core.subject import (
    AccessoryTest,
    ContactTest,
    CurrentTest,
    InsulationTest,
    JobRecord,
    ResistanceTest,
    SupplyTest,
)
from grimcoil.core.supply import SupplyResult, judge_supply
from grimcoil.core.version import VERSION

Result = ResistanceResult | InsulationResult | SupplyResult | CurrentResult | ContactResult | AccessoryResult


@dataclass(frozen=True, slots=True)
class Assessment:
    """Results by kind of test, in the order of the record."""

    winding_resistance: tuple[ResistanceResult, ...]
    insulation: tuple[InsulationResult, ...]
    supply_voltage: tuple[SupplyResult, ...]
    line_current: tuple[CurrentResult, ...]
    contact_drop: tuple[ContactResult, ...]
    accessory: tuple[AccessoryResult, ...]
    plate: tuple[Finding, ...]
    instruments: tuple[Finding, ...]
    decision: Decision
    criteria: str
    criteria_version: int
    core_version: str = VERSION

    @property
    def results(self) -> list[Result]:
        """Every result, by kind."""
        return [
            *self.winding_resistance,
            *self.insulation,
            *self.supply_voltage,
            *self.line_current,
            *self.contact_drop,
            *self.accessory,
        ]

    @property
    def findings(self) -> list[Finding]:
        """Every finding of every test, in order."""
        return [finding for result in self.results for finding in result.findings]


def assess(record: JobRecord, trend_findings: Iterable[Finding] = (), called_out: bool = False) -> Assessment:
    """Judge every test of a record and decide. No reading can make it raise."""
    subject, tests = record.subject, record.tests
    criteria = subject.criteria
    resistance = [judge_resistance(t, subject.winding, criteria) for t in tests if isinstance(t, ResistanceTest)]
    insulation = [judge_insulation(t, subject) for t in tests if isinstance(t, InsulationTest)]
    supply = [judge_supply(t, subject) for t in tests if isinstance(t, SupplyTest)]
    volts = supply[0].unbalance_percent if supply else None
    current = [judge_current(t, subject, volts) for t in tests if isinstance(t, CurrentTest)]
    contacts = [judge_contacts(t, criteria) for t in tests if isinstance(t, ContactTest)]
    accessories = [judge_accessory(t, criteria) for t in tests if isinstance(t, AccessoryTest)]
    plate = [
        *check_plate(subject.plate),
        *_present(check_system(subject.plate, subject.system_voltage_v)),
    ]
    meters = _calibration(record)
    results: list[Result] = [*resistance, *insulation, *supply, *current, *contacts, *accessories]
    findings = [finding for result in results for finding in result.findings] + list(trend_findings)
    verdicts = {
        "winding_resistance": _verdict(resistance),
        "insulation": _verdict(insulation),
        "supply_voltage": _verdict(supply),
        "line_current": _verdict(current),
        **({"contact_drop": _verdict(contacts)} if contacts else {}),
        **({"accessory": _verdict(accessories)} if accessories else {}),
    }
    return Assessment(
        tuple(resistance),
        tuple(insulation),
        tuple(supply),
        tuple(current),
        tuple(contacts),
        tuple(accessories),
        tuple(plate),
        tuple(meters),
        decide(findings, verdicts, called_out),
        criteria.name,
        criteria.version,
    )


def _present(finding: Finding | None) -> list[Finding]:
    return [] if finding is None else [finding]


def _calibration(record: JobRecord) -> list[Finding]:
    on = record.conditions.on
    if on is None:
        return []
    return [f for meter in record.instruments for f in _present(calibration_finding(meter, on))]


def _verdict(results: Iterable[Result]) -> Verdict | None:
    verdicts = [result.verdict for result in results]
    return worst(verdicts) if verdicts else None
