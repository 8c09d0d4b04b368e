"""The line through values and bounds, and its bands."""

from datetime import timedelta

import numpy as np
import pytest

from grimcoil.core.amount import Amount
from grimcoil.core.trend.fit import (
    TrendPoint,
    _ellipse,
    _level_set,
    crossing,
    fit_trend,
    horizon_of,
    maximum_likelihood,
    usable,
)
from grimcoil.core.trend.likelihood import Censored
from tests.core.trend.given import START, points


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


@pytest.mark.parametrize(("days", "why"), [(2, "span 8 days"), (22, "span 88 days"), (23, None)])
def test_no_forecast_from_a_few_weeks(days, why):
    some = points([900, 800, 700, 600, 500], every=days)
    assert (why is None and usable(some) is None) or why in usable(some)


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


@pytest.mark.parametrize("seed", range(6))
def test_where_a_band_of_exact_points_ends_is_solved_as_it_is_searched(seed):
    dice = np.random.default_rng(seed)
    t, cut = np.sort(dice.uniform(-6, 0, 4 + seed)), 2.9
    t -= t.mean()
    y = 2.5 - 0.1 * t + dice.normal(0, 0.1, t.size)
    data = Censored(t, y, y)
    line, theta = maximum_likelihood(data)
    assert _ellipse(t, theta, cut) + line == pytest.approx(_level_set(data, line, theta, cut), abs=1e-6)


def test_a_band_comes_down_when_its_first_line_stays_down():
    """A band drawn as a table of days: between two of them the edges are straight."""
    for seed in range(40):
        dice = np.random.default_rng(seed)
        days = sorted(int(day) for day in dice.choice(3000, 7, replace=False))
        values = [10 ** (2 - day / 3000 + dice.normal(0, 0.15)) for day in days]
        given = [TrendPoint(START + timedelta(days=d), Amount(v, v)) for d, v in zip(days, values, strict=True)]
        fit = fit_trend(given)
        found = crossing(fit, 5.0)
        years = np.linspace(fit.first_years, horizon_of(fit), 200_001)
        for edge, when in zip((*fit.band(years), fit.at(years)), _edges(found), strict=True):
            above = np.flatnonzero(edge > np.log10(5.0))
            ends_above = bool(above.size) and above[-1] == years.size - 1
            assert (when is None) == ends_above
            if when is not None:
                last = years[above[-1]] if above.size else years[0]
                assert (when - fit.reference_date).days == pytest.approx(last * 365.25, abs=1)


def _edges(found):
    return (found.earliest, found.latest, found.on) if found else (None, None, None)
