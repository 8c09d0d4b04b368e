"""What governs of several findings, and that nothing found is nothing proven."""

from itertools import permutations

import pytest

from grimcoil.core.findings import SIDE, Result, Verdict, act, by_weight, sound, unproven, verdict_of, watch, worst

ALL = [
    sound("balanced", "a"),
    unproven("insulation-unproven", "b"),
    watch("unbalance-watch", "c"),
    act("unbalanced", "d"),
]


@pytest.mark.parametrize("order", list(permutations(range(4))))
def test_order_makes_no_difference(order):
    findings = tuple(ALL[i] for i in order)
    assert verdict_of(findings) is Verdict.ACT
    assert by_weight(findings)[0].severity is Verdict.ACT
    assert Result(findings=findings).verdict is Verdict.ACT


def test_silence_is_unproven():
    assert worst([]) is Verdict.UNPROVEN
    assert Result().verdict is Verdict.UNPROVEN


def test_what_stays_open_governs_what_is_on_watch_in_a_result():
    opened = Result(findings=(ALL[1], ALL[2]))
    assert (opened.verdict, opened.is_open) == (Verdict.UNPROVEN, True)
    assert worst([Verdict.WATCH, Verdict.UNPROVEN]) is Verdict.WATCH  # a list of findings shows the weightier first


@pytest.mark.parametrize("code", sorted(SIDE))
def test_a_remark_beside_the_value_does_not_unprove_it(code):
    result = Result(findings=(sound("insulation-sound", "a"), unproven(code, "b")))
    assert (result.verdict, result.is_open) == (Verdict.SOUND, False)


def test_a_finding_names_its_source():
    assert sound("balanced", "a").source.endswith(")")


def test_what_asks_for_action_now_leads_what_asks_for_it_soon():
    soon, now = act("trend-step-act", "act soon"), act("trend-below-minimum", "act now")
    remark, on_watch = watch("series-restarted", "counted from"), watch("trend-falling", "falls")
    assert [f.text for f in by_weight([remark, soon, on_watch, now])] == [
        "act now",
        "act soon",
        "falls",
        "counted from",
    ]
