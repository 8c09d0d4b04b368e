"""A core Assessment to `grimcoil-assessment/1`. Full precision; rounding is the screen's job."""

from __future__ import annotations

import math
from typing import Any

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.assessment import Assessment
from grimcoil.core.contacts import AccessoryResult, ContactResult
from grimcoil.core.current import CurrentResult
from grimcoil.core.findings import Finding
from grimcoil.core.insulation.judge import InsulationResult
from grimcoil.core.resistance.judge import ResistanceResult
from grimcoil.core.supply import SupplyResult

Json = dict[str, Any]


def to_document(whole: Assessment) -> Json:
    """The assessment as a JSON-ready dictionary."""
    decision = whole.decision
    return {
        "format": "grimcoil-assessment/1",
        "core_version": whole.core_version,
        "criteria": whole.criteria,
        "criteria_version": whole.criteria_version,
        "plate": [_finding(f) for f in whole.plate],
        "instruments": [_finding(f) for f in whole.instruments],
        "winding_resistance": [_resistance(r) for r in whole.winding_resistance],
        "insulation": [_insulation(r) for r in whole.insulation],
        "supply_voltage": [_supply(r) for r in whole.supply_voltage],
        "line_current": [_current(r) for r in whole.line_current],
        "contact_drop": [_contact(r) for r in whole.contact_drop],
        "accessory": [_accessory(r) for r in whole.accessory],
        "decision": {
            "action": decision.action,
            "verdict": decision.verdict.value,
            "why": decision.why,
            "evidence_for": [_finding(f) for f in decision.evidence_for],
            "evidence_against": [_finding(f) for f in decision.evidence_against],
            "missing": list(decision.missing),
        },
    }


def amount_document(amount: Amount | None) -> Json | None:
    """`{"value", "bound"}`; a band carries its upper end beside the bound `above`."""
    if amount is None or amount.bound is Bound.NOTHING:
        return None
    if amount.bound is Bound.BETWEEN:
        return {"value": amount.low, "bound": "above", "upper": amount.high}
    return {"value": amount.value, "bound": amount.bound.value}


def _finding(finding: Finding) -> Json:
    return {
        "code": finding.code,
        "text": finding.text,
        "source": finding.source,
        "severity": finding.severity.value,
    }


def _number(value: float | None) -> float | None:
    """JSON knows no infinity."""
    return None if value is None or not math.isfinite(value) else value


def _resistance(result: ResistanceResult) -> Json:
    unbalance = result.unbalance
    return {
        "unbalance_percent": _number(unbalance.shown) if unbalance else None,
        "unbalance_percent_lowest": _number(unbalance.lowest) if unbalance else None,
        "unbalance_percent_highest": _number(unbalance.highest) if unbalance else None,
        "spread_percent": _number(result.spread_percent),
        "difference_ohm": _number(result.difference_ohm),
        "at_reference_ohm": result.at_reference_ohm,
        "reference_temperature_c": result.reference_temperature_c,
        "phase_ohm": {
            "wye": result.phase_wye_ohm,
            "delta": {pair: _number(ohm) for pair, ohm in result.phase_delta_ohm.items()},
        },
        "patterns": [
            {
                "pattern": p.pattern,
                "phase": p.phase,
                "internal_connection": p.internal_connection,
                "deviation_percent": _number(p.deviation_percent),
            }
            for p in result.patterns
        ],
        "resolution_needed_ohm": result.resolution_needed_ohm,
        "criteria": result.criteria,
        "verdict": result.verdict.value,
        "findings": [_finding(f) for f in result.findings],
    }


def _insulation(result: InsulationResult) -> Json:
    return {
        "r_1min_mohm": amount_document(result.r_1min_mohm),
        "r_1min_40c_mohm": amount_document(result.r_1min_40c_mohm),
        "r_spot_mohm": amount_document(result.r_spot_mohm),
        "correction_factor": result.correction_factor,
        "minimum_mohm": result.minimum_mohm,
        "pi": amount_document(result.pi),
        "dar": amount_document(result.dar),
        "leakage_ua": None,
        "discharge_s": result.discharge_s,
        "verdict": result.verdict.value,
        "findings": [_finding(f) for f in result.findings],
    }


def _supply(result: SupplyResult) -> Json:
    return {
        "mean_v": result.mean_v,
        "unbalance_percent": result.unbalance_percent,
        "negative_sequence_percent": result.negative_sequence_percent,
        "spread_percent": _number(result.spread_percent),
        "deviation_from_rated_percent": result.deviation_from_rated_percent,
        "derating": result.derating,
        "extra_temperature_rise_percent": result.extra_temperature_rise_percent,
        "verdict": result.verdict.value,
        "findings": [_finding(f) for f in result.findings],
    }


def _current(result: CurrentResult) -> Json:
    return {
        "mean_a": result.mean_a,
        "unbalance_percent": result.unbalance_percent,
        "load_percent": result.load_percent,
        "pattern": result.pattern,
        "verdict": result.verdict.value,
        "findings": [_finding(f) for f in result.findings],
    }


def _contact(result: ContactResult) -> Json:
    findings = [_finding(f) for f in result.findings]
    return {"worst": result.worst, "watts": result.watts, "verdict": result.verdict.value, "findings": findings}


def _accessory(result: AccessoryResult) -> Json:
    return {
        "what": result.what,
        "verdict": result.verdict.value,
        "findings": [_finding(f) for f in result.findings],
    }
