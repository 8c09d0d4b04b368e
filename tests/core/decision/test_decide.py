"""From findings to one action, and the next date."""

from datetime import date

import pytest

from grimcoil.core.catalogue import CATALOGUE
from grimcoil.core.decision.decide import Evidence, decide
from grimcoil.core.decision.needs import needs
from grimcoil.core.decision.rules import ACTIONS, RULES
from grimcoil.core.decision.schedule import add_months, next_test
from grimcoil.core.decision.standing import Standing
from grimcoil.core.findings import Finding, Verdict

PROVEN = Standing()
MISSING = Standing(missing=needs("three-lead", "dead-only").keys[:1])
UNSURE = Standing(unproven=needs("three-lead", "dead-only").keys[:1])


def finding(code, severity=Verdict.ACT):
    return Finding(code, severity, code)


def decided(findings, worst=Verdict.SOUND, stands=PROVEN, occasion="routine"):
    return decide(Evidence(findings, frozenset(f.code for f in findings), worst, stands), occasion)


GOOD = [finding("balanced", Verdict.SOUND), finding("insulation-sound", Verdict.SOUND)]


def test_all_sound_returns_or_looks_elsewhere():
    assert decided(GOOD).action == "return"
    assert decided(GOOD, occasion="call-out").action == "look-elsewhere"


@pytest.mark.parametrize("stands", [MISSING, UNSURE])
@pytest.mark.parametrize("worst", [Verdict.SOUND, Verdict.WATCH, Verdict.UNPROVEN])
def test_no_sound_by_silence_whatever_else_is_on_watch(stands, worst):
    decision = decided([*GOOD, finding("trend-falling", Verdict.WATCH)], worst, stands)
    assert (decision.action, decision.verdict) == ("test-more", Verdict.UNPROVEN)
    assert (decision.missing or decision.unproven) == ("winding_resistance.1-2",)
    assert decision.missing_words == (("winding resistance 1-2",) if stands is MISSING else ())


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


def test_a_failure_acts_even_with_the_other_key_test_missing():
    decision = decided([finding("insulation-near-zero")], Verdict.ACT, MISSING)
    assert decision.action == "rewind-or-replace"
    assert decision.missing


def test_low_after_drying_is_no_longer_a_matter_of_drying():
    assert decided([finding("insulation-low")], Verdict.ACT, occasion="after-drying").action == "rewind-or-replace"


def test_a_low_index_alone_does_not_condemn():
    decision = decided([finding("pi-low", Verdict.WATCH)], Verdict.WATCH)
    assert decision.action == "return-retest"
    assert "not by itself" in decision.why


def test_a_falling_trend_shortens_the_interval():
    decision = decided([finding("trend-falling", Verdict.WATCH)])
    assert (decision.action, decision.verdict) == ("return-retest", Verdict.WATCH)


def test_nothing_that_asks_for_action_is_returned_by_a_softer_rule():
    """A falling trend beside a failure that no rule names must not send the motor back."""
    decision = decided([finding("trend-falling", Verdict.WATCH), finding("poles-differ")], Verdict.ACT)
    assert (decision.action, decision.verdict) == ("test-more", Verdict.ACT)


def test_an_overload_alike_in_all_lines_looks_elsewhere_only_once_the_key_tests_are_proven():
    overload = [finding("overload-alike")]
    assert decided(overload, Verdict.ACT).action == "look-elsewhere"
    assert decided([*overload, finding("volts-low", Verdict.WATCH)], Verdict.ACT).action == "correct-supply"
    assert decided(overload, Verdict.ACT, MISSING).action == "test-more"


def test_what_the_maker_forbids_is_named_and_the_motor_goes_back_unproven():
    left = Standing(left_out=needs("three-lead", "routine", forbidden=True).left_out)
    decision = decided(GOOD, stands=left)
    assert (decision.action, decision.verdict) == ("return", Verdict.UNPROVEN)
    assert "insulation to frame stays unproven" in decision.why


def test_rules_and_catalogue_speak_of_the_same_codes():
    for rule in RULES:
        assert rule.action in ACTIONS
        codes = {c for c in rule.any_of | rule.needs | rule.unless if not c.startswith("occasion-")}
        assert codes <= set(CATALOGUE)
        assert rule.why


def test_every_code_has_a_source_or_says_it_is_common_practice():
    for code in CATALOGUE:
        assert Finding(code, Verdict.SOUND, "").source


@pytest.mark.parametrize(
    ("criticality", "verdict", "stepped", "edge", "on"),
    [
        ("routine", Verdict.SOUND, False, None, date(2027, 3, 14)),
        ("critical", Verdict.SOUND, False, None, date(2026, 9, 14)),
        ("easy-spare", Verdict.SOUND, False, None, date(2028, 3, 14)),
        ("routine", Verdict.WATCH, False, None, date(2026, 9, 14)),
        ("routine", Verdict.SOUND, True, None, date(2026, 4, 14)),
        ("routine", Verdict.SOUND, False, date(2026, 9, 14), date(2026, 6, 14)),
        ("routine", Verdict.SOUND, False, date(2040, 1, 1), date(2027, 3, 14)),
    ],
)
def test_next_date(criticality, verdict, stepped, edge, on):
    due = next_test(date(2026, 3, 14), criticality, verdict, stepped, edge)
    assert due.on == on
    assert due.why


def test_months_end_where_they_end():
    assert add_months(date(2026, 1, 31), 1) == date(2026, 2, 28)
    assert add_months(date(2026, 11, 30), 3) == date(2027, 2, 28)
