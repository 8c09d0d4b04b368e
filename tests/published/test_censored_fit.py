"""The right-censored line against lifelines' log-normal accelerated-failure fit, an independent maximum likelihood."""

import csv
import math
from datetime import date
from pathlib import Path

import pandas as pd
import pytest
from lifelines import LogNormalAFTFitter

from grimcoil.core.amount import Amount
from grimcoil.core.fields import INSULATION
from grimcoil.core.readings import parse_reading
from grimcoil.core.trend.fit import TrendPoint, fit_trend

SERIES = Path(__file__).parent / "series"


@pytest.mark.parametrize("name", ["a", "b"])
def test_slope_and_level_of_two_series(name):
    """A log-normal time to failure with a covariate is a straight line in the logarithm with normal scatter."""
    with (SERIES / f"trend-{name}.csv").open(encoding="utf-8") as file:
        rows = list(csv.DictReader(file))
    points = [
        TrendPoint(date.fromisoformat(row["date"]), Amount(amount.low / 1e6, amount.high / 1e6))
        for row in rows
        for amount in [parse_reading(row["reading"], INSULATION).amount]
    ]
    ours = fit_trend(points)
    frame = pd.DataFrame(
        {
            "value": [p.r40_mohm.value for p in points],
            "exact": [int(p.r40_mohm.is_exact) for p in points],
            "years": [(p.on - ours.reference_date).days / 365.25 for p in points],
        }
    )
    theirs = LogNormalAFTFitter().fit(frame, duration_col="value", event_col="exact")
    mu = theirs.params_["mu_"]
    assert ours.slope_decades_per_year == pytest.approx(mu["years"] / math.log(10), rel=2e-4)
    assert ours.intercept_log10_mohm == pytest.approx(mu["Intercept"] / math.log(10), rel=2e-4)
