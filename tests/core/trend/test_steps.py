"""Sudden falls against the scatter of their own series."""

import numpy as np
import pytest

from grimcoil.core.amount import Amount
from grimcoil.core.findings import Verdict
from grimcoil.core.trend.judge import judge_trend
from grimcoil.core.trend.steps import halving_finding, step_finding
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


@pytest.mark.parametrize(
    ("values", "told"),
    [
        ([1000, 500, 250], False),
        ([1000, 500, 250, 125], True),  # four tests, before the fifth
        ([1000, 500, 250, 125.1], False),
        ([1000, 501, 250, 125, 62], True),
        ([1000, 500, 250, 125, 70], False),
        ([Amount.above(1000), 500, 250, 125], True),
        ([1000, 500, 250, Amount.above(60)], False),
        ([1000, 500, Amount.below(250), 125], False),  # it may have been lower still
    ],
)
def test_halved_from_test_to_test_is_warned_about_before_the_last(values, told):
    found = judge_trend(points(values), 5)
    assert ("trend-halving" in [f.code for f in found.findings]) == told
    assert found.stepped >= told
    if told:
        assert found.verdict in (Verdict.WATCH, Verdict.ACT)


def test_flat_scatter_seldom_halves_three_times_running():
    dice = np.random.default_rng(9)
    told = sum(halving_finding(points(10 ** dice.normal(2.8, 0.2, 6))) is not None for _ in range(4000))
    assert told <= 80


def test_flat_scatter_seldom_steps():
    """Two falls in a row happen to half of all flat histories; the step rule must not cry at them."""
    dice = np.random.default_rng(8)
    for count in (5, 8, 12, 20):
        told = [step_finding(points(10 ** dice.normal(2.8, 0.2, count))) for _ in range(1500)]
        assert sum(one is not None and one.severity is Verdict.WATCH for one in told) <= 40
        assert sum(one is not None and one.severity is Verdict.ACT for one in told) <= 6
