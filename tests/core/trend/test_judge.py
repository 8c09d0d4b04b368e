"""What a trend says, how far a forecast reaches, when to test again."""

from datetime import date

import pytest

from grimcoil.core.amount import Amount
from grimcoil.core.findings import Verdict
from grimcoil.core.trend.fit import crossing, usable
from grimcoil.core.trend.judge import judge_trend, next_after
from tests.core.trend.given import points


@pytest.mark.parametrize(
    ("values", "why"),
    [
        ([], "no tests"),
        ([100], "one day"),
        ([Amount.above(550)] * 6, "bounds"),
        ([Amount.above(550)] * 5 + [300], "bounds"),
        ([100, 90, 80], "1 more exact value needed"),
        ([100, 90, Amount.above(550)], "2 more exact values needed"),
    ],
)
def test_what_no_line_can_be_fitted_to_says_why(values, why):
    assert why in usable(points(values))
    result = judge_trend(points(values), 5)
    assert result.fit is None
    assert "trend-too-few" in [f.code for f in result.findings]
    assert result.verdict is not Verdict.UNPROVEN


def test_a_steep_fall_meets_the_minimum_inside_its_band():
    result = judge_trend(points([900, 450, 240, 110, 60, 31]), 5)
    assert result.crosses.earliest < result.crosses.on < result.crosses.latest
    assert "trend-falling" in [f.code for f in result.findings]
    assert result.verdict is Verdict.WATCH or result.stepped


def test_the_newest_value_under_the_minimum_is_act_and_the_next_test_at_once():
    for last in (4.9, Amount.below(4), Amount(1, 4.99)):
        result = judge_trend(points([900, 620, 400, 270, last]), 5)
        assert Verdict.ACT in [f.severity for f in result.findings if f.code == "trend-below-minimum"]
        following = next_after(date(2026, 1, 1), "easy-spare", result.verdict, result)
        assert (following.on, following.why) == (date(2026, 1, 1), "At once: below the minimum")
    for last in (5.0, Amount.above(3), Amount(4, 6)):
        assert not judge_trend(points([900, 620, 400, 270, last]), 5).below


def test_a_forecast_reaches_five_times_its_span():
    short = points([900, 840, 780, 730, 680], every=60)  # 240 days, reaching 3.3 years
    result = judge_trend(short, 5)
    assert result.fit.surely_falling
    assert result.crosses is None
    (finding,) = [f for f in result.findings if f.code == "trend-falling"]
    assert finding.severity is Verdict.SOUND
    assert "Insulation falls about 35 % a year. By this trend it stays above 5 MΩ for 3.29 years" in finding.text


def test_a_sure_fall_that_reaches_nothing_is_no_level_line():
    result = judge_trend(points([900, 870, 845, 815, 790, 765, 742], every=365), 5)
    assert [f.code for f in result.findings] == ["trend-falling"]
    assert "it stays above 5 MΩ for 20 years" in result.findings[0].text


def test_a_flat_series_shows_no_fall():
    result = judge_trend(points([900, 930, 880, 910, 905, 890]), 5)
    assert [f.code for f in result.findings] == ["trend-no-fall"]
    assert crossing(result.fit, 5) is None
