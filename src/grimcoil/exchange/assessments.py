"""A core Assessment to `grimcoil-assessment/1`. Full precision; rounding is the screen's job."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import fields
from functools import cache
from math import isfinite
from typing import Any

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.assessment import Assessment
from grimcoil.core.decision.decide import Decision
from grimcoil.core.findings import Finding, Result
from grimcoil.core.insulation.judge import InsulationResult
from grimcoil.core.resistance.judge import ResistanceResult

Json = dict[str, Any]


def to_document(whole: Assessment) -> Json:
    """The assessment as a JSON-ready dictionary: each kind of test that was made, and always the four main ones."""
    return {
        "format": "grimcoil-assessment/1",
        "core_version": whole.core_version,
        "criteria": whole.criteria,
        "criteria_version": whole.criteria_version,
        "plate": [_finding(f) for f in whole.plate],
        "position": [_finding(f) for f in whole.position],
        "instruments": [_finding(f) for f in whole.instruments],
        **{kind: [_result(r) for r in results] for kind, results in whole.by_kind.items()},
        "together": [_finding(f) for f in whole.together],
        "decision": _decision(whole.decision),
    }


def _decision(decision: Decision) -> Json:
    return {
        "action": decision.action,
        "verdict": decision.verdict.value,
        "why": decision.why,
        "evidence_for": [_finding(f) for f in decision.evidence_for],
        "evidence_against": [_finding(f) for f in decision.evidence_against],
        "missing": list(decision.missing),
        "missing_words": list(decision.missing_words),
        "unproven": list(decision.unproven),
        "left_out": [
            {"step": one.step, "why": one.why, "stays_unproven": one.stays_unproven} for one in decision.left_out
        ],
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
        "severity": finding.severity._value_,
    }


def _number(value: float | None) -> float | None:
    """JSON knows no infinity."""
    return value if value is not None and isfinite(value) else None


def _numbers(values: Mapping[str, float | None]) -> dict[str, float | None]:
    return {name: value if value is not None and isfinite(value) else None for name, value in values.items()}


def _result(result: Result) -> Json:
    figures = _FIGURES.get(type(result), _plain)(result)
    figures["verdict"] = result.verdict.value
    figures["findings"] = [_finding(f) for f in result.findings]
    return figures


@cache
def _names(made: type[Any]) -> tuple[str, ...]:
    return tuple(f.name for f in fields(made) if f.name not in ("findings", "working"))


def _plain(result: Result) -> Json:
    """The figures of a result under their own names."""
    return {name: _value(getattr(result, name)) for name in _names(type(result))}  # type: ignore[arg-type]  # a class can be hashed


_AS_IT_IS = frozenset({str, int, bool, type(None)})


def _value(value: Any) -> Any:
    if type(value) in _AS_IT_IS:
        return value
    if isinstance(value, Amount):
        return amount_document(value)
    if isinstance(value, float):
        return value if isfinite(value) else None
    if isinstance(value, Mapping):
        return {name: _value(one) for name, one in value.items()}
    return [_value(one) for one in value] if isinstance(value, tuple) else value


def _resistance(result: ResistanceResult) -> Json:
    unbalance = result.unbalance
    document: Json = {
        "unbalance_percent": _number(unbalance.shown) if unbalance else None,
        "unbalance_percent_lowest": _number(unbalance.lowest) if unbalance else None,
        "unbalance_percent_highest": _number(unbalance.highest) if unbalance else None,
        "spread_percent": _number(result.spread_percent),
        "difference_ohm": _number(result.difference_ohm),
        "ohms": _numbers(result.ohms),
        "at_reference_ohm": _numbers(result.at_reference_ohm),
        "reference_temperature_c": result.reference_temperature_c,
        "phase_ohm": {"wye": _numbers(result.phase_wye_ohm), "delta": _numbers(result.phase_delta_ohm)},
        "patterns": [
            {
                "pattern": p.pattern,
                "phase": p.phase,
                "internal_connection": p.internal_connection,
                "deviation_percent": _number(p.deviation_percent),
            }
            for p in result.patterns
        ],
        "resolution_needed_ohm": _number(result.resolution_needed_ohm),
        "criteria": result.criteria,
    }
    if result.sets:
        document["sets"] = [{"pairs": list(one.pairs), **_result(one)} for one in result.sets]
    return document


def _insulation(result: InsulationResult) -> Json:
    fit, volts = result.absorption, result.test_voltage_v
    return {
        "what": result.what,
        "route": result.route,
        "r_1min_mohm": amount_document(result.r_1min_mohm),
        "r_1min_40c_mohm": amount_document(result.r_1min_40c_mohm),
        "r_spot_mohm": amount_document(result.r_spot_mohm),
        "correction_factor": result.correction_factor,
        "minimum_mohm": result.minimum_mohm,
        "minimum_rule": result.minimum_rule,
        "pi": amount_document(result.pi),
        "dar": amount_document(result.dar),
        "dar_times_s": list(result.dar_times_s) if result.dar_times_s else None,
        "curve_shape": result.curve_shape,
        "leakage_ua": result.leakage_ua,
        "absorption": None
        if fit is None
        else {
            "leakage_ua_lowest": None if volts is None else fit.leak_lowest * volts,
            "leakage_ua_highest": None if volts is None else fit.leak_highest * volts,
            "leak_mohm": None if fit.leak <= 0 else 1 / fit.leak,
            "exponent": fit.exponent,
            "misfit_percent": 100 * fit.misfit,
            "first_s": fit.first_s,
            "points": fit.points,
        },
        "discharge_s": result.discharge_s,
    }


_FIGURES: dict[type, Callable[[Any], Json]] = {ResistanceResult: _resistance, InsulationResult: _insulation}
