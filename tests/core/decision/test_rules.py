"""The table of rules: from codes to an action."""

import ast
from pathlib import Path

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from grimcoil.core.catalogue import CATALOGUE
from grimcoil.core.decision.decide import Evidence, decide
from grimcoil.core.decision.rules import ACTIONS, RETURNING, RULES
from grimcoil.core.decision.standing import Standing
from grimcoil.core.findings import Finding, Verdict

PROVEN = Standing()
CORE = Path(__file__).parents[3] / "src/grimcoil/core"


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
        (["insulation-low", "located-cable"], "clean-dry"),
        (["located-cable"], "repair-on-site"),
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
        (["position-wrong-motor"], "test-more"),
        (["position-wrong-motor", "open-phase"], "rewind-or-replace"),
        (["open-once", "open-phase"], "test-more"),
        (["no-load-over-plate"], "remove-now"),
        (["no-load-slow"], "test-more"),
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


ALL = sorted({code for rule in RULES for code in rule.any_of})
UNSETTLED = {"repeat-differs", "reading-twice", "open-once"}


def governs(codes):
    """The rule whose action was taken, told by its sentence."""
    decision = decided([finding(code) for code in codes], Verdict.ACT)
    return next(rule for rule in RULES if (rule.action, rule.why) == (decision.action, decision.why))


@given(st.sets(st.sampled_from(ALL), min_size=1, max_size=5), st.sampled_from(ALL))
def test_another_finding_never_makes_the_action_milder_nor_turns_it_to_a_lesser_part(codes, more):
    assume(any(decided([finding(c) for c in codes], Verdict.ACT).why == rule.why for rule in RULES))
    before, after = governs(codes), governs({*codes, more})
    mild = [rule.action in RETURNING for rule in (before, after)]
    assert mild[1] <= mild[0]
    assert after.rank <= before.rank or (mild[0] and not mild[1])
    if before.rank == after.rank and before.action == "remove-now" and more not in UNSETTLED:
        assert after.action in (
            "remove-now",
            "correct-supply",
            "repair-on-site",
            "replace",
            "rewind-or-replace",
            "test-more",
        )


@pytest.mark.parametrize(
    "grave",
    ["insulation-near-zero", "line-lost", "contact-drop-burnt", "voltage-stalls", "overload-alike", "winding-hot",
     "life-shortened", "shaft-jammed", "current-over-service-factor", "no-load-over-plate"],
)  # fmt: skip
@pytest.mark.parametrize(
    "lesser",
    ["starts-many", "brushes-worn", "capacitor-off", "rotation-wrong", "trend-falling", "poor-joint", "open-phase",
     "located-cable", "fuse-blown", "position-wrong-motor", "brake-disc-worn"],
)  # fmt: skip
def test_what_must_not_run_speaks_before_anything_lesser(grave, lesser):
    alone = decided([finding(grave)], Verdict.ACT)
    both = decided([finding(lesser), finding(grave)], Verdict.ACT)
    assert (both.action, both.why) == (alone.action, alone.why)
    assert both.action not in RETURNING
    assert lesser in {f.code for f in (*both.evidence_for, *both.evidence_against)}


def test_every_finding_that_asks_for_action_is_named_by_a_rule():
    """Of a drying the page decides while it goes on."""
    made = {
        node.args[0].value
        for path in CORE.rglob("*.py")
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8")))
        if isinstance(node, ast.Call)
        and getattr(node.func, "id", "") == "act"
        and isinstance(node.args[0], ast.Constant)
    }
    assert made - set(ALL) == {"drying-too-hot"}


def test_rules_and_catalogue_speak_of_the_same_codes():
    for rule in RULES:
        assert rule.action in ACTIONS
        codes = {c for c in rule.any_of | rule.needs | rule.unless if not c.startswith("occasion-")}
        assert codes <= set(CATALOGUE)
        assert rule.why
