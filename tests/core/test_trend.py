"""Trend, steps and forecast."""

from datetime import date, timedelta

import numpy as np
import pytest

from grimcoil.core.amount import Amount
from grimcoil.core.decision.schedule import next_test
from grimcoil.core.findings import Verdict
from grimcoil.core.trend import likelihood
from grimcoil.core.trend.fit import TrendPoint, crossing, fit_trend, usable
from grimcoil.core.trend.judge import judge_trend, next_after
from grimcoil.core.trend.likelihood import Censored, bend, best, terms
from grimcoil.core.trend.steps import step_finding

START = date(2018, 1, 1)


def points(values, every=180):
    out = []
    for i, value in enumerate(values):
        amount = value if isinstance(value, Amount) else Amount.exact(value)
        out.append(TrendPoint(START + timedelta(days=i * every), amount))
    return out


def scattered(n, slope, sigma, dice, top=None):
    days = np.sort(dice.choice(np.arange(n * 200), n, replace=False))
    logs = 2.6 + slope * days / 365.25 + dice.normal(0, sigma, n)
    return [
        TrendPoint(START + timedelta(days=int(d)), Amount.above(top) if top and 10**y > top else Amount.exact(10**y))
        for d, y in zip(days, logs, strict=True)
    ]


@pytest.mark.parametrize("seed", range(5))
def test_without_censoring_it_is_ordinary_regression(seed):
    """Line to 1e-9 and its 90 % band to 0.2 % against the closed forms (numpy's least squares)."""
    series = scattered(9, -0.08, 0.12, np.random.default_rng(seed))
    fit = fit_trend(series)
    t = np.array([(p.on - fit.reference_date).days / 365.25 for p in series])
    y = np.log10([p.r40_mohm.value for p in series])
    design = np.c_[np.ones_like(t), t]
    beta, rss, _, _ = np.linalg.lstsq(design, y, rcond=None)
    assert abs(fit.intercept_log10_mohm - beta[0]) < 1e-9
    assert abs(fit.slope_decades_per_year - beta[1]) < 1e-9
    sigma = np.sqrt(rss[0] / 7)
    assert fit.sigma_decades == pytest.approx(sigma, rel=1e-9)
    years = np.array([-2.0, 0.0, 3.0])
    x = np.c_[np.ones(3), years]
    half = 1.8945786 * sigma * np.sqrt(np.einsum("ij,jk,ik->i", x, np.linalg.inv(design.T @ design), x))
    low, high = fit.band(years)
    assert high - fit.at(years) == pytest.approx(half, rel=2e-3)
    assert fit.at(years) - low == pytest.approx(half, rel=2e-3)


@pytest.mark.parametrize(("n", "top"), [(5, None), (8, None), (8, 300.0), (12, 300.0)])
def test_ninety_percent_bands_cover_85_to_95(n, top):
    dice = np.random.default_rng(11 * n + int(top or 0))
    hits = total = 0
    while total < 150:
        series = scattered(n, -0.1, 0.15, dice, top)
        if usable(series):
            continue
        fit = fit_trend(series)
        ahead = (fit.reference_date - START).days / 365.25 + 1
        low, high = fit.band(np.array([1.0]))
        hits += low[0] <= 2.6 - 0.1 * ahead <= high[0]
        total += 1
    assert 0.82 <= hits / total <= 0.97  # 85 to 95 % give or take what 150 draws can show


def test_bounds_taken_as_values_would_flatten_the_fall():
    dice = np.random.default_rng(4)
    series = scattered(14, -0.3, 0.1, dice, top=150.0)
    as_values = [TrendPoint(p.on, Amount.exact(p.r40_mohm.value)) for p in series]
    assert any(not p.r40_mohm.is_exact for p in series)
    assert fit_trend(series).slope_decades_per_year < fit_trend(as_values).slope_decades_per_year


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


FLAT = [900, 930, 880, 910, 905, 890, 915]
DOWN = [900, 620, 400, 270, 190, 130, 88]


@pytest.mark.parametrize("factor", [1000, 1 / 1000, 100, 1 / 100])
@pytest.mark.parametrize("at", range(7))
@pytest.mark.parametrize("values", [FLAT, DOWN], ids=["flat", "falling"])
def test_a_slip_of_a_thousand_hides_no_fall_and_makes_none(values, at, factor):
    slipped = [*values]
    slipped[at] *= factor
    result = judge_trend(points(slipped), 5)
    plain = judge_trend(points(values[:at] + values[at + 1 :]), 5)
    assert [p.r40_mohm.value for p in result.off] == [slipped[at]]
    falls = [f.code for f in result.findings if f.code in ("trend-falling", "trend-no-fall")]
    assert falls == ["trend-falling" if values is DOWN else "trend-no-fall"]
    assert (result.without.fit.slope_decades_per_year < -0.2) == (values is DOWN)
    assert plain.fit.surely_falling == result.without.fit.surely_falling
    said = [f for f in result.findings if f.code in ("trend-outlier", "trend-below-minimum")]
    assert said
    assert "read again" in said[0].text
    if at == 6 and slipped[at] < 5:
        assert (said[0].code, said[0].severity) == ("trend-below-minimum", Verdict.ACT)
        assert result.below


def test_two_slips_are_two():
    result = judge_trend(points([900, 930, 0.88, 910, 905, 890_000, 915, 900]), 5)
    assert [p.r40_mohm.value for p in result.off] == [0.88, 890_000]


def test_what_scatters_or_steps_is_no_slip():
    for values in (
        FLAT,
        DOWN,
        [1000, 950, 1050, 1000, 120, 118],
        [900, 100, 700, 60, 1200, 300],
        [800, 3, 700, 4, 900, 5],
    ):
        assert judge_trend(points(values), 1).off == ()


def test_a_lower_bound_above_the_line_stands_off_and_one_below_it_does_not():
    assert judge_trend(points([*FLAT[:4], Amount.above(50_000), *FLAT[4:]]), 5).off
    assert not judge_trend(points([*FLAT[:4], Amount.above(5), *FLAT[4:]]), 5).off


def test_the_newest_value_under_the_minimum_is_act_and_the_next_test_at_once():
    for last in (4.9, Amount.below(4), Amount(1, 4.99)):
        result = judge_trend(points([900, 620, 400, 270, last]), 5)
        assert Verdict.ACT in [f.severity for f in result.findings if f.code == "trend-below-minimum"]
        following = next_after(date(2026, 1, 1), "easy-spare", result.verdict, result)
        assert (following.on, following.why) == (date(2026, 1, 1), "At once: below the minimum")
    for last in (5.0, Amount.above(3), Amount(4, 6)):
        assert not judge_trend(points([900, 620, 400, 270, last]), 5).below


def test_an_early_edge_that_is_past_asks_at_once():
    last = date(2026, 1, 1)
    for edge in (date(2025, 6, 1), last):
        assert next_test(last, "routine", Verdict.WATCH, early_edge=edge).on == last
    assert next_test(last, "routine", Verdict.WATCH, early_edge=date(2026, 1, 3)).on == date(2026, 1, 2)


@pytest.mark.parametrize(("days", "why"), [(2, "span 8 days"), (22, "span 88 days"), (23, None)])
def test_no_forecast_from_a_few_weeks(days, why):
    some = points([900, 800, 700, 600, 500], every=days)
    assert (why is None and usable(some) is None) or why in usable(some)


def test_a_forecast_reaches_five_times_its_span():
    short = points([900, 840, 780, 730, 680], every=60)  # 240 days, reaching 3.3 years
    result = judge_trend(short, 5)
    assert result.fit.surely_falling
    assert result.crosses is None
    (finding,) = [f for f in result.findings if f.code == "trend-falling"]
    assert finding.severity is Verdict.SOUND
    assert "Falls 0.19 decades a year, doesn't reach 5 MΩ in 3.29 years" in finding.text


def test_a_sure_fall_that_reaches_nothing_is_no_level_line():
    result = judge_trend(points([900, 870, 845, 815, 790, 765, 742], every=365), 5)
    assert [f.code for f in result.findings] == ["trend-falling"]
    assert "doesn't reach 5 MΩ in 20 years" in result.findings[0].text


@pytest.mark.parametrize(
    "values",
    [
        [500, 450, 400, 380, 360, Amount.below(0.1)],
        [500, 450, Amount.above(300), 380, 360, Amount.below(200)],
        [900, Amount(200, 400), 300, 500, Amount.above(450), 260, Amount.below(250), 240],
    ],
)
def test_the_likelihood_is_at_its_top(values):
    """Against a coarse grid over line and scatter."""
    some = points(values)
    fit = fit_trend(some)
    years = np.array([(p.on - fit.reference_date).days / 365.25 for p in some])
    low = np.array([np.log10(p.r40_mohm.low) if p.r40_mohm.low > 0 else -np.inf for p in some])
    high = np.array([np.log10(p.r40_mohm.high) if np.isfinite(p.r40_mohm.high) else np.inf for p in some])
    data = Censored(years, low, high)
    top = best(data, np.array([2.5 * 5, 0.0, 5.0]), 1000.0)
    found = bend(data, top)[0]
    assert top[1] / top[2] == pytest.approx(fit.slope_decades_per_year, rel=1e-6, abs=1e-9)
    levels, slopes = np.linspace(-3, 4, 141), np.linspace(-2, 1, 121)
    lines = np.array([(a, b) for a in levels for b in slopes])
    for theta in np.geomspace(0.1, 200, 40):
        assert terms(data, lines, np.full(len(lines), theta))[0].max() <= found + 1e-9


@pytest.mark.parametrize(
    "values",
    [
        [556.5521059555232, 460.4178309450076, 520.8175371301367, 624.7936883778219, Amount(200, 500)],
        [Amount(500, 1000), 253.08829879822113, 281.4651200065385, 356.5465054295051, 207.56669911515147],
    ],
)
def test_the_top_is_found_in_a_few_steps(values, monkeypatch):
    """Steps that promise less than the last digit of a float aren't taken: they never end."""
    asked = []
    monkeypatch.setattr(likelihood, "bend", lambda *given: asked.append(1) or bend(*given))
    fit_trend(points(values))
    assert len(asked) < 20


def test_the_worst_case_of_a_left_bound_by_its_figures():
    fit = fit_trend(points([500, 450, 400, 380, 360, Amount.below(0.1)], every=365.25))
    assert fit.slope_decades_per_year == pytest.approx(-0.62, abs=0.005)


def test_a_flat_series_shows_no_fall():
    result = judge_trend(points([900, 930, 880, 910, 905, 890]), 5)
    assert [f.code for f in result.findings] == ["trend-no-fall"]
    assert crossing(result.fit, 5) is None


@pytest.mark.parametrize(
    ("values", "code"),
    [
        ([1000, 950, 1050, 1000, 430], "trend-step-watch"),
        ([1000, 950, 1050, 1000, 120], "trend-step-act"),
        ([1000, 950, 1050, 1000, 430, 410], "trend-step-act"),
        ([1000, 300, 1050, 400, 430], None),
        ([1000, 950, 1050, 1000, 800], None),
        ([1000, 950, 1050, Amount.above(100)], None),
    ],
)
def test_steps_are_judged_by_the_series_own_scatter(values, code):
    found = [f.code for f in judge_trend(points(values), 5).findings if "step" in f.code]
    assert found == ([code] if code else [])


def test_flat_scatter_seldom_steps():
    """Two falls in a row happen to half of all flat histories; the step rule must not cry at them."""
    dice = np.random.default_rng(8)
    for count in (5, 8, 12, 20):
        told = [step_finding(points(10 ** dice.normal(2.8, 0.2, count))) for _ in range(1500)]
        assert sum(one is not None and one.severity is Verdict.WATCH for one in told) <= 40
        assert sum(one is not None and one.severity is Verdict.ACT for one in told) <= 6


def test_bands_of_lamps_and_under_range_enter_as_intervals():
    mixed = points([900, 700, Amount(100, 1000), 300, 200, Amount.below(200), 60])
    fit = fit_trend(mixed)
    assert fit.n_censored == 2
    assert fit.slope_decades_per_year < 0


def test_reading_band_is_wider_than_the_lines():
    fit = fit_trend(points([900, 800, 950, 700, 820]))
    years = np.array([0.0, 2.0])
    (low, high), (next_low, next_high) = fit.band(years), fit.reading_band(years)
    assert (next_low < low).all()
    assert (next_high > high).all()
