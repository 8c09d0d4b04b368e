"""Weigh the findings of one job: the action, what speaks for it and against it, and what is missing."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from grimcoil.core.decision.rules import ACTIONS, RULES, Rule
from grimcoil.core.findings import Finding, Verdict, by_weight, unproven, worst

FEW_TURNS = unproven(
    "few-turns-hidden", "Balanced ohms don't exclude a short of a few turns in many; a surge test would show it."
)


@dataclass(frozen=True, slots=True)
class Decision:
    """One recommended action with its evidence; the person decides."""

    action: str
    verdict: Verdict
    evidence_for: tuple[Finding, ...]
    evidence_against: tuple[Finding, ...]
    missing: tuple[str, ...]
    why: str = ""

    @property
    def words(self) -> str:
        """The action as a sentence's beginning."""
        return ACTIONS[self.action]


def decide(
    findings: Sequence[Finding],
    verdicts: dict[str, Verdict | None],
    occasion: str = "routine",
) -> Decision:
    """Decide from all findings and the verdict of each kind of test (None where it wasn't made).

    occasion: `call-out` and `after-drying` change what follows; rules name them as `occasion-…` beside codes.
    Winding resistance and insulation are the key tests: without both proven nothing is called sound.
    """
    missing = tuple(_missing(verdicts))
    codes = {finding.code for finding in findings} | {f"occasion-{occasion}"}
    rule = next((rule for rule in RULES if _fits(rule, codes)), None)
    key_open = [kind for kind in ("winding_resistance", "insulation") if verdicts.get(kind) in (None, Verdict.UNPROVEN)]
    overall = worst([v for v in verdicts.values() if v is not None] or [Verdict.UNPROVEN])
    if rule is not None and (overall is Verdict.ACT or not key_open):
        trend = worst(f.severity for f in findings if f.code in rule.any_of)
        return _decision(
            rule.action,
            worst([overall, trend]),
            findings,
            rule.any_of | rule.needs,
            missing,
            rule.why,
        )
    if key_open:
        why = "no verdict by silence: the key tests must be proven"
        return _decision(
            "test-more",
            worst([overall, Verdict.UNPROVEN]),
            findings,
            frozenset(),
            missing,
            why,
        )
    if overall is Verdict.ACT:
        return _decision(
            "test-more",
            overall,
            findings,
            frozenset(),
            missing,
            "a finding asks for action, no rule names one",
        )
    return _returned(overall, findings, missing, occasion == "call-out")


def _returned(
    overall: Verdict,
    findings: Sequence[Finding],
    missing: tuple[str, ...],
    called_out: bool,
) -> Decision:
    if overall is Verdict.SOUND:
        action, why = (
            ("look-elsewhere", "electrically sound") if called_out else ("return", "all that was tested is sound")
        )
    else:
        action, why = "return-retest", "nothing stops it, something wants watching"
    good = frozenset(f.code for f in findings if f.severity is Verdict.SOUND)
    return _decision(action, overall, findings, good, missing, why)


def _fits(rule: Rule, codes: set[str]) -> bool:
    return not rule.any_of.isdisjoint(codes) and rule.needs <= codes and rule.unless.isdisjoint(codes)


def _decision(
    action: str,
    verdict: Verdict,
    findings: Sequence[Finding],
    speaking: frozenset[str],
    missing: tuple[str, ...],
    why: str,
) -> Decision:
    returning = action in ("return", "return-retest", "look-elsewhere")
    favours: list[Finding] = []
    rest: list[Finding] = []
    for finding in findings:
        speaks = finding.code in speaking or (finding.severity is Verdict.SOUND) == returning
        (favours if speaks else rest).append(finding)
    if returning and any(finding.code == "balanced" for finding in findings):
        rest.append(FEW_TURNS)
    return Decision(action, verdict, tuple(by_weight(favours)), tuple(by_weight(rest)), missing, why)


_WANTED = {
    "winding_resistance": "winding resistance, three pairs read finely enough",
    "insulation": "insulation to frame held 1 minute, with winding temperature",
    "supply_voltage": "supply volts, three line-to-line readings",
    "line_current": "line currents, settled, three lines",
}


def _missing(verdicts: dict[str, Verdict | None]) -> list[str]:
    return [words for kind, words in _WANTED.items() if verdicts.get(kind) in (None, Verdict.UNPROVEN)]
