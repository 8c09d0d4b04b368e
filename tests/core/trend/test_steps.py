"""Sudden falls against the scatter of their own series."""

import numpy as np
import pytest

from grimcoil.core.amount import Amount
from grimcoil.core.findings import Verdict
from grimcoil.core.trend.judge import judge_trend
from grimcoil.core.trend.steps import step_finding
from tests.core.trend.given import points


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
