"""What an assessment tells people, from the core's or from a stored `grimcoil-assessment/1`: the same either way."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from grimcoil.core.amount import Amount
from grimcoil.core.assessment import Assessment
from grimcoil.core.decision.rules import ACTIONS
from grimcoil.core.findings import Finding, Verdict

KINDS_WITH_WORKING = ("winding_resistance", "insulation", "supply_voltage", "line_current")
WORKING_WORDS = {
    "winding_resistance": "Resistance",
    "insulation": "Insulation",
    "supply_voltage": "Volts",
    "line_current": "Amps",
}


@dataclass(frozen=True, slots=True)
class Line:
    """A finding as it is printed."""

    code: str
    severity: Verdict
    text: str
    source: str


@dataclass(frozen=True, slots=True)
class Told:
    """The decision with its evidence, what is missing or left out, the workings, and the figures of a trend.

    r40_mohm: the first insulation value at 40 °C, MΩ; unbalance: shown, lowest, highest, percent.
    """

    action: str
    verdict: Verdict
    why: str
    evidence_for: Sequence[Line]
    evidence_against: Sequence[Line]
    missing_words: Sequence[str]
    left_out: Sequence[str]
    workings: Sequence[tuple[str, str]]
    criteria: str
    core_version: str
    codes: Sequence[str]
    r40_mohm: Amount | None = None
    unbalance: tuple[float, float, float] | None = None

    @property
    def words(self) -> str:
        """The action as a sentence's beginning."""
        return ACTIONS.get(self.action, self.action)


def told_of(whole: Assessment) -> Told:
    """What an assessment made now tells."""
    decision = whole.decision
    insulation = whole.insulation[0].r_1min_40c_mohm if whole.insulation else None
    unbalance = whole.winding_resistance[0].unbalance if whole.winding_resistance else None
    return Told(
        decision.action,
        decision.verdict,
        decision.why,
        _lines(decision.evidence_for),
        _lines(decision.evidence_against),
        decision.missing_words,
        tuple(f"{one.stays_unproven}: {one.why}" for one in decision.left_out),
        tuple(
            (WORKING_WORDS[kind], text)
            for kind in KINDS_WITH_WORKING
            for result in whole.by_kind.get(kind, ())
            if (text := getattr(result, "working", ""))
        ),
        whole.criteria,
        whole.core_version,
        tuple(sorted({finding.code for finding in whole.findings})),
        insulation,
        None if unbalance is None else (unbalance.shown, unbalance.lowest, unbalance.highest),
    )


def _lines(findings: Sequence[Finding]) -> tuple[Line, ...]:
    return tuple(Line(f.code, f.severity, f.text, f.source) for f in findings)


def told_of_document(document: Mapping[str, Any]) -> Told:
    """What a stored assessment tells. Keys that an earlier version didn't write say nothing."""
    decision = document["decision"]
    left = decision.get("left_out", ())
    return Told(
        decision["action"],
        Verdict(decision["verdict"]),
        decision.get("why", ""),
        _read_lines(decision["evidence_for"]),
        _read_lines(decision["evidence_against"]),
        tuple(decision.get("missing_words", decision.get("missing", ()))),
        tuple(f"{one['stays_unproven']}: {one['why']}" for one in left),
        tuple((words, text) for words, text in document.get("workings", ())),
        document.get("criteria", ""),
        document.get("core_version", ""),
        tuple(sorted(_codes(document))),
        amount_of(first_of(document, "insulation").get("r_1min_40c_mohm")),
        _unbalance(first_of(document, "winding_resistance")),
    )


def first_of(document: Mapping[str, Any], kind: str) -> Mapping[str, Any]:
    """The first result of a kind of test; empty where there is none."""
    results: Sequence[Mapping[str, Any]] = document.get(kind, ())
    return results[0] if results else {}


def _read_lines(given: Sequence[Mapping[str, str]]) -> tuple[Line, ...]:
    return tuple(Line(one["code"], Verdict(one["severity"]), one["text"], one["source"]) for one in given)


def _codes(document: Mapping[str, Any]) -> set[str]:
    results = [one for value in document.values() if isinstance(value, list) for one in value if isinstance(one, dict)]
    nested = [finding for one in results for finding in one.get("findings", ())]
    return {one["code"] for one in [*results, *nested] if "code" in one}


def amount_of(given: Mapping[str, Any] | None) -> Amount | None:
    """As `amount_document` wrote it."""
    if given is None:
        return None
    value, bound = given["value"], given["bound"]
    if bound == "above":
        return Amount(value, given.get("upper", math.inf))
    return Amount.below(value) if bound == "below" else Amount.exact(value)


def _unbalance(given: Mapping[str, Any]) -> tuple[float, float, float] | None:
    three = [given.get(f"unbalance_percent{end}") for end in ("", "_lowest", "_highest")]
    if three[0] is None or three[1] is None:
        return None
    return three[0], three[1], math.inf if three[2] is None else three[2]
