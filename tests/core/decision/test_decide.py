"""From findings to one action, and the next date."""

import pytest

from grimcoil.core.decision.decide import Evidence, decide
from grimcoil.core.decision.needs import needs
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


def test_a_failure_acts_even_with_the_other_key_test_missing():
    decision = decided([finding("insulation-near-zero")], Verdict.ACT, MISSING)
    assert decision.action == "rewind-or-replace"
    assert decision.missing


def test_low_after_drying_is_no_longer_a_matter_of_drying():
    assert decided([finding("insulation-low")], Verdict.ACT, occasion="after-drying").action == "rewind-or-replace"


def test_a_low_index_alone_does_not_condemn():
    decision = decided([finding("pi-low", Verdict.WATCH)], Verdict.WATCH)
    assert decision.action == "return-retest"
    assert "by itself no fault proven" in decision.why


def test_a_falling_trend_shortens_the_interval():
    decision = decided([finding("trend-falling", Verdict.WATCH)])
    assert (decision.action, decision.verdict) == ("return-retest", Verdict.WATCH)


def test_an_overload_alike_in_all_lines_is_stopped_whatever_else_was_read():
    overload = [finding("overload-alike")]
    assert decided(overload, Verdict.ACT).action == "remove-now"
    assert decided([*overload, finding("volts-low", Verdict.WATCH)], Verdict.ACT).action == "correct-supply"
    assert decided(overload, Verdict.ACT, MISSING).action == "remove-now"


def test_many_starts_look_elsewhere_only_once_the_key_tests_are_proven_and_nothing_speaks_against_the_motor():
    starts = [finding("starts-many")]
    assert decided(starts, Verdict.ACT).action == "look-elsewhere"
    assert decided(starts, Verdict.ACT, MISSING).action == "test-more"
    assert decided([*starts, finding("trend-falling", Verdict.WATCH)], Verdict.ACT).action == "return-retest"
    assert decided([*starts, finding("trend-below-minimum")], Verdict.ACT).action == "test-more"


def test_a_passed_surge_test_takes_the_doubt_of_a_few_turns_away():
    codes = lambda found: {f.code for f in found.evidence_against}  # noqa: E731
    assert "few-turns-hidden" in codes(decided(GOOD))
    assert "few-turns-hidden" not in codes(decided([*GOOD, finding("surge-alike", Verdict.SOUND)]))


def test_what_is_on_watch_is_the_reason_to_test_sooner():
    decision = decided([*GOOD, finding("ohmmeter-suspect", Verdict.WATCH)], Verdict.WATCH)
    assert decision.action == "return-retest"
    assert "ohmmeter-suspect" in decision.why
    assert "ohmmeter-suspect" in {f.code for f in decision.evidence_for}


def test_what_the_maker_forbids_is_named_and_the_motor_goes_back_unproven():
    left = Standing(left_out=needs("three-lead", "routine", forbidden=True).left_out)
    decision = decided(GOOD, stands=left)
    assert (decision.action, decision.verdict) == ("return", Verdict.UNPROVEN)
    assert "insulation to frame stays unproven" in decision.why
