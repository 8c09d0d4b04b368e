"""Weigh the findings of one job: the action, what speaks for it and against it, and what is missing."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from grimcoil.core.choices import Occasion
from grimcoil.core.decision.needs import BAN, LeftOut
from grimcoil.core.decision.rules import ACTIONS, NAMED, OUTSIDE_THE_MOTOR, RETURNING, RULES, Rule
from grimcoil.core.decision.standing import Standing
from grimcoil.core.findings import Finding, Verdict, by_weight, unproven, worst

FEW_TURNS = unproven(
    "few-turns-hidden", "Balanced ohms don't exclude a short of a few turns in many; a surge test would show it."
)


@dataclass(frozen=True, slots=True)
class Decision:
    """One recommended action with its evidence; the person decides.

    missing: places of key tests not on record; missing_words: the same for people; unproven: places of key tests
    whose reading proves nothing; left_out: what this motor can't have, and what stays unproven for it.
    """

    action: str
    verdict: Verdict
    evidence_for: tuple[Finding, ...]
    evidence_against: tuple[Finding, ...]
    missing: tuple[str, ...] = ()
    missing_words: tuple[str, ...] = ()
    unproven: tuple[str, ...] = ()
    left_out: tuple[LeftOut, ...] = ()
    why: str = ""

    @property
    def words(self) -> str:
        """The action as a sentence's beginning."""
        return ACTIONS[self.action]


@dataclass(frozen=True, slots=True)
class Evidence:
    """What a decision rests on.

    findings: all, in order. heard: the codes that may name an action; what was read through the cable isn't among them
    until the box has spoken. worst: the worst verdict of any kind of test.
    """

    findings: Sequence[Finding]
    heard: frozenset[str]
    worst: Verdict
    standing: Standing


def decide(evidence: Evidence, occasion: str = Occasion.ROUTINE) -> Decision:
    """Decide by the first rule that fits; without every key test proven nothing is called sound or returned.

    occasion: rules name it as `occasion-…` beside codes.
    """
    stands = evidence.standing
    rule = _governing_rule(evidence, occasion)
    acting = evidence.worst is Verdict.ACT
    if rule is not None:
        trend = worst(f.severity for f in evidence.findings if f.code in rule.any_of)
        overall = worst([evidence.worst, trend, *([Verdict.UNPROVEN] if stands.open else [])])
        return _decision(rule.action, overall, evidence, rule.any_of | rule.needs, rule.why)
    if stands.open:
        verdict = Verdict.ACT if acting else Verdict.UNPROVEN
        return _decision("test-more", verdict, evidence, frozenset(), _why_open(evidence))
    if acting:
        why = "a finding asks for action, no rule names one"
        return _decision("test-more", evidence.worst, evidence, frozenset(), why)
    return _returned(evidence, called_out=occasion == Occasion.CALL_OUT)


def _governing_rule(evidence: Evidence, occasion: str) -> Rule | None:
    """The first by rank that fits and keeps the motor from work; where none does, the least mild that lets it go."""
    heard = evidence.heard & NAMED
    if not heard:
        return None
    codes = heard | {f"occasion-{occasion}"}
    fitting = [rule for rule in RULES if _fits(rule, codes) and _may_govern(rule, evidence)]
    holding = next((rule for rule in fitting if rule.action not in RETURNING), None)
    return holding or max(fitting, key=lambda rule: RETURNING.index(rule.action), default=None)


def _may_govern(rule: Rule, evidence: Evidence) -> bool:
    """A fault is a fault whatever wasn't read; what sends the motor back to work waits for every key test, and for
    everything that speaks against the motor.
    """
    acting, key_open = evidence.worst is Verdict.ACT, evidence.standing.open
    if rule.action not in RETURNING:
        return acting or not key_open
    against = {f.code for f in evidence.findings if f.severity is Verdict.ACT} - OUTSIDE_THE_MOTOR
    return not key_open and not (acting and against)


def _why_open(evidence: Evidence) -> str:
    stands = evidence.standing
    if stands.at_box:
        return "it may be the cable: read the same at the motor box before anything is said of the motor"
    unsure = _listed(need.words for need in stands.unproven)
    if stands.unproven and not stands.missing:
        return f"no verdict yet. Unproven: {unsure}"
    return "no verdict yet. Every key test has to be proven"


def _listed(words: Iterable[str]) -> str:
    return "; ".join(words)


def _returned(evidence: Evidence, called_out: bool) -> Decision:
    """Nothing asks for action and every key test is proven, or left out by the maker's ban and named."""
    left = evidence.standing.left_out
    good = frozenset(f.code for f in evidence.findings if f.severity is Verdict.SOUND)
    if evidence.worst is Verdict.WATCH:
        return _watched(evidence, good)
    if left:
        stays = _listed(one.stays_unproven for one in left)
        action = "return" if all(one.why == BAN for one in left) else "return-retest"  # a tester can be fetched
        reasons = ", ".join(dict.fromkeys(one.why for one in left))
        return _decision(action, Verdict.UNPROVEN, evidence, good, f"{reasons}: {stays} stays unproven")
    if evidence.worst is Verdict.UNPROVEN:
        why = "the key tests are proven, a test beside them isn't"
        return _decision("return-retest", Verdict.UNPROVEN, evidence, good, why)
    action, why = ("look-elsewhere", "electrically sound") if called_out else ("return", "all that was tested is sound")
    return _decision(action, Verdict.SOUND, evidence, good, why)


def _watched(evidence: Evidence, good: frozenset[str]) -> Decision:
    """It goes back and is tested sooner, and what is on watch says why."""
    watched = [finding for finding in evidence.findings if finding.severity is Verdict.WATCH]
    why = (
        f"nothing asks for action. On watch: {watched[0].text}"
        if watched
        else "nothing asks for action, something is on watch"
    )
    return _decision("return-retest", Verdict.WATCH, evidence, good | {f.code for f in watched}, why)


def _fits(rule: Rule, codes: frozenset[str]) -> bool:
    return not rule.any_of.isdisjoint(codes) and rule.needs <= codes and rule.unless.isdisjoint(codes)


def _decision(action: str, verdict: Verdict, evidence: Evidence, speaking: frozenset[str], why: str) -> Decision:
    returning = action in RETURNING
    favours: list[Finding] = []
    rest: list[Finding] = []
    for finding in evidence.findings:
        speaks = finding.code in speaking or (finding.severity is Verdict.SOUND) == returning
        (favours if speaks else rest).append(finding)
    codes = {finding.code for finding in evidence.findings}
    if returning and "balanced" in codes and "surge-alike" not in codes:
        rest.append(FEW_TURNS)
    stands = evidence.standing
    return Decision(
        action,
        verdict,
        tuple(by_weight(favours)),
        tuple(by_weight(rest)),
        tuple(stands.place(need) for need in stands.missing),
        tuple(stands.words(need) for need in stands.missing),
        tuple(need.place for need in stands.unproven),
        stands.left_out,
        why,
    )
