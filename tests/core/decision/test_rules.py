"""The table of rules: from codes to an action."""

import pytest

from grimcoil.core.catalogue import CATALOGUE
from grimcoil.core.decision.decide import Evidence, decide
from grimcoil.core.decision.rules import ACTIONS, RULES
from grimcoil.core.decision.standing import Standing
from grimcoil.core.findings import Finding, Verdict

PROVEN = Standing()


def finding(code, severity=Verdict.ACT):
    return Finding(code, severity, code)


def decided(findings, worst=Verdict.SOUND, stands=PROVEN, occasion="routine"):
    return decide(Evidence(findings, frozenset(f.code for f in findings), worst, stands), occasion)


@pytest.mark.parametrize(
    ("codes", "action"),
    [
        (["insulation-near-zero"], "rewind-or-replace"),
        (["insulation-low"], "clean-dry"),
        (["open-phase"], "rewind-or-replace"),
        (["all-open"], "repair-on-site"),
        (["unbalanced", "shorted-turns"], "rewind-or-replace"),
        (["unbalanced", "shorted-turns", "poor-joint"], "repair-on-site"),
        (["unbalanced", "pattern-unclassified"], "test-more"),
        (["line-lost"], "remove-now"),
        (["path-between-windings", "insulation-near-zero"], "replace"),
        (["insulation-low", "located-cable"], "repair-on-site"),
        (["connection-misfit"], "correct-connection"),
        (["unbalanced", "parallel-path-open"], "repair-on-site"),
        (["curve-unsteady"], "test-more"),
        (["contact-drop-burnt"], "repair-on-site"),
        (["shaft-jammed"], "send-repair"),
        (["shaft-locked-coupled"], "test-more"),
        (["turns-unsettled"], "test-more"),
        (["roll-supply"], "correct-supply"),
        (["roll-motor"], "test-more"),
        (["dead-not-dead", "insulation-near-zero"], "test-more"),
        (["position-wrong-motor", "open-phase"], "test-more"),
        (["voltage-unbalance-act"], "correct-supply"),
    ],
)
def test_evidence_leads_to_its_action(codes, action):
    findings = [finding(code) for code in codes]
    decision = decided(findings, Verdict.ACT)
    assert decision.action == action
    assert decision.verdict is Verdict.ACT
    assert findings[0] in decision.evidence_for


def test_nothing_that_asks_for_action_is_returned_by_a_softer_rule():
    """A falling trend beside a failure that no rule names must not send the motor back."""
    decision = decided([finding("trend-falling", Verdict.WATCH), finding("poles-differ")], Verdict.ACT)
    assert (decision.action, decision.verdict) == ("test-more", Verdict.ACT)


def test_rules_and_catalogue_speak_of_the_same_codes():
    for rule in RULES:
        assert rule.action in ACTIONS
        codes = {c for c in rule.any_of | rule.needs | rule.unless if not c.startswith("occasion-")}
        assert codes <= set(CATALOGUE)
        assert rule.why
