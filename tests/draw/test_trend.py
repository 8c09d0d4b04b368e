"""A motor's life over one time axis."""

from datetime import date

import pytest

from grimcoil.core.amount import Amount
from grimcoil.draw import trend
from grimcoil.draw.trend import Forecast, Life, life_plots
from tests.drawn import count, named, words

TODAY = date(2026, 11, 26)


def dot(year, mohm, winding=1, unbalance=(1.0, 0.8, 1.2)):
    return trend.TestDot(date(year, 3, 1), winding, mohm, unbalance, 101.0)


def life(*dots, **more):
    return Life("BW-114", dots, ((date(2019, 1, 1), "built", "built"),), TODAY, 5.0, 2.0, **more)


@pytest.mark.parametrize("size", ["wide", "beside", "phone"])
def test_it_is_named_by_its_motor_and_the_number_of_its_tests(size):
    drawn = life_plots(
        life(dot(2020, Amount.exact(900)), dot(2022, Amount.above(550)), dot(2024, Amount.exact(400))), size
    )
    assert named(drawn) == ["Life and trends of BW-114: 3 tests."]
    assert any(text.startswith("20") for text in words(drawn))
    assert count(drawn, size) == 1


def test_what_lies_before_the_axis_is_not_drawn_as_its_first_day():
    told = (
        (date(2009, 1, 1), "built", "Built 2009"),
        (date(2012, 5, 1), "moved", "Moved"),
        (date(2022, 2, 1), "dried", "Dried"),
    )
    tests = tuple(dot(year, Amount.exact(900)) for year in (2020, 2022, 2024))
    cut = life_plots(Life("BW-114", tests, told, TODAY, 5.0, 2.0))
    assert "Built 2009, 1 more before 2019" in words(cut)
    assert "Dried" in words(cut)
    assert (count(cut, "torn"), count(cut, "ev-move")) == (1, 0)
    whole = life_plots(Life("BW-114", (dot(2010, Amount.exact(900)), *tests), told, TODAY, 5.0, 2.0))
    assert "Built 2009" in words(whole)
    assert (count(whole, "torn"), count(whole, "ev-move")) == (0, 1)


def test_no_test_at_all():
    assert named(life_plots(life())) == ["Life and trends of BW-114: 0 tests."]


def test_a_forecast_from_the_stored_trend_or_none():
    assert Forecast.of(None) is Forecast.of({}) is Forecast.of({"fit": None}) is None
    fit = {
        "reference_date": "2024-01-01",
        "intercept_log10_mohm": 2.5,
        "slope_decades_per_year": -0.3,
        "surely_falling": True,
    }
    fit |= {name: [0.0, 1.0] for name in ("years", "low", "high", "next_low", "next_high")}
    made = Forecast.of({"fit": fit, "crosses": {"earliest": "2027-02-01", "latest": None}})
    assert (made.slope, made.earliest, made.latest) == (-0.3, date(2027, 2, 1), None)
    with_it = life_plots(life(dot(2022, Amount.exact(900)), dot(2024, Amount.exact(400)), forecast=made))
    without = life_plots(life(dot(2022, Amount.exact(900)), dot(2024, Amount.exact(400))))
    assert with_it.count("<path") > without.count("<path")


def test_a_rewind_parts_the_line():
    one = life_plots(life(dot(2020, Amount.exact(50)), dot(2022, Amount.exact(40))))
    two = life_plots(life(dot(2020, Amount.exact(50)), dot(2022, Amount.exact(900), winding=2)))
    assert one != two
