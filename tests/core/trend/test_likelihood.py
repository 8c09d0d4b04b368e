"""The likelihood of a line through values and bounds: its top, and the way there."""

import numpy as np
import pytest

from grimcoil.core.amount import Amount
from grimcoil.core.trend import likelihood
from grimcoil.core.trend.fit import fit_trend
from grimcoil.core.trend.likelihood import Censored, bend, best, terms
from tests.core.trend.given import points


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
