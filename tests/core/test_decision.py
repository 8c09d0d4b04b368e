"""From findings to one action, and the next date."""

from datetime import date

import pytest

from grimcoil.core.catalogue import CATALOGUE
from grimcoil.core.decision.decide import decide
from grimcoil.core.decision.rules import ACTIONS, RULES
from grimcoil.core.decision.schedule import add_months, next_test
from grimcoil.core.findings import Finding, Verdict

ALL_SOUND = dict.fromkeys(("winding_resistance", "insulation", "supply_voltage", "line_current"), Verdict.SOUND)


def finding(code, severity=Verdict.ACT):
    return Finding(code, severity, code)


def test_all_sound_returns_or_looks_elsewhere():
    good = [finding("balanced", Verdict.SOUND), finding("insulation-sound", Verdict.SOUND)]
    assert decide(good, ALL_SOUND).action == "return"
    assert decide(good, ALL_SOUND, occasion="call-out").action == "look-elsewhere"


@pytest.mark.parametrize("missing", ["winding_resistance", "insulation"])
@pytest.mark.parametrize("verdict", [None, Verdict.UNPROVEN])
def test_no_sound_by_silence(missing, verdict):
    decision = decide([finding("balanced", Verdict.SOUND)], {**ALL_SOUND, missing: verdict})
    assert decision.action == "test-more"
    assert decision.verdict is Verdict.UNPROVEN
    assert len(decision.missing) == 1


@pytest.mark.parametrize(
    ("codes", "kind", "action"),
    [
        (["insulation-near-zero"], "insulation", "rewind-or-replace"),
        (["insulation-low"], "insulation", "clean-dry"),
        (["open-phase"], "winding_resistance", "rewind-or-replace"),
        (["all-open"], "winding_resistance", "repair-on-site"),
        (["unbalanced", "shorted-turns"], "winding_resistance", "rewind-or-replace"),
        (["unbalanced", "shorted-turns", "poor-joint"], "winding_resistance", "repair-on-site"),
        (["unbalanced", "pattern-unclassified"], "winding_resistance", "test-more"),
        (["line-lost"], "line_current", "remove-now"),
        (["path-between-windings", "insulation-near-zero"], "winding_to_winding", "replace"),
        (["insulation-low", "located-cable"], "insulation", "repair-on-site"),
        (["connection-misfit"], "winding_resistance", "correct-connection"),
        (["unbalanced", "parallel-path-open"], "winding_resistance", "repair-on-site"),
        (["curve-unsteady"], "insulation", "test-more"),
        (["contact-drop-burnt"], "contact_drop", "repair-on-site"),
        (["shaft-jammed"], "shaft", "send-repair"),
        (["roll-supply"], "lead_roll", "correct-supply"),
        (["roll-motor"], "lead_roll", "test-more"),
        (["dead-not-dead", "insulation-near-zero"], "dead_proof", "test-more"),
        (["position-wrong-motor", "open-phase"], "position", "test-more"),
        (["voltage-unbalance-act"], "supply_voltage", "correct-supply"),
    ],
)
def test_evidence_leads_to_its_action(codes, kind, action):
    findings = [finding(code) for code in codes]
    decision = decide(findings, {**ALL_SOUND, kind: Verdict.ACT})
    assert decision.action == action
    assert decision.verdict is Verdict.ACT
    assert findings[0] in decision.evidence_for


def test_a_failure_acts_even_with_the_other_key_test_missing():
    decision = decide([finding("insulation-near-zero")], {"insulation": Verdict.ACT, "winding_resistance": None})
    assert decision.action == "rewind-or-replace"
    assert decision.missing


def test_low_after_drying_is_no_longer_a_matter_of_drying():
    low = [finding("insulation-low")]
    assert decide(low, {**ALL_SOUND, "insulation": Verdict.ACT}, "after-drying").action == "rewind-or-replace"


def test_a_low_index_alone_does_not_condemn():
    decision = decide([finding("pi-low", Verdict.WATCH)], {**ALL_SOUND, "insulation": Verdict.WATCH})
    assert decision.action == "return-retest"
    assert "not by itself" in decision.why


def test_a_falling_trend_shortens_the_interval():
    decision = decide([finding("trend-falling", Verdict.WATCH)], ALL_SOUND)
    assert (decision.action, decision.verdict) == ("return-retest", Verdict.WATCH)


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
