"""Worked figures recomputed by hand from the formulas named beside them; none is taken from the code."""

import csv
from datetime import date
from pathlib import Path

import pytest

from grimcoil.core.amount import Amount
from grimcoil.core.fields import INSULATION
from grimcoil.core.insulation.correction import correction_factor, dew_point_c
from grimcoil.core.readings import parse_reading
from grimcoil.core.resistance.balance import balance, spread_percent, unbalance_percent
from grimcoil.core.resistance.phases import delta_lines, delta_phases, wye_phases
from grimcoil.core.resistance.temperature import at_reference, temperature_by_resistance
from grimcoil.core.supply import negative_sequence_percent
from grimcoil.core.trend.fit import TrendPoint, fit_trend

SERIES = Path(__file__).parent / "series"


def test_wye_and_delta_of_three_line_readings():
    lines = (1.86, 2.00, 1.88)
    assert [round(r, 3) for r in wye_phases(*lines)] == [0.870, 0.990, 1.010]
    assert [round(r, 3) for r in delta_phases(*lines)] == [2.713, 3.149, 2.768]
    assert round(unbalance_percent(lines), 2) == 4.53
    assert round(spread_percent(lines), 2) == 7.53


def test_delta_with_one_side_low_or_open():
    assert [round(r, 3) for r in delta_lines(6, 6, 6 * 0.88)] == [3.917, 3.917, 3.667]
    assert [round(r, 3) for r in delta_lines(7.2, 7.2 * 0.88, 7.2)] == [4.7, 4.4, 4.7]


def test_what_a_tenth_of_an_ohm_hides():
    box = [(0.55, 0.65)] * 3
    assert round(balance([0.6] * 3, box).highest, 2) == 11.43


def test_last_digit_of_a_fine_meter():
    values = (12.31, 12.28, 12.35)
    found = balance(values, [(v - 0.005, v + 0.005) for v in values])
    assert (round(found.shown, 3), round(found.highest, 3)) == (0.298, 0.352)


@pytest.mark.parametrize(
    ("ohm", "at", "to", "metal", "gives"),
    [(0.520, 18, 25, "copper", 0.5344), (1.0, 20, 75, "copper", 1.2161), (1.0, 20, 75, "aluminium", 1.2245)],
)
def test_resistance_at_another_temperature(ohm, at, to, metal, gives):
    """IEEE 118 / IEEE 112 constants 234.5 and 225, from memory."""
    assert round(at_reference(ohm, at, to, metal), 4) == gives
    assert at_reference(at_reference(ohm, at, to, metal), to, at, metal) == pytest.approx(ohm)


def test_winding_as_its_own_thermometer():
    assert round(temperature_by_resistance(1.489, 1.120, 21), 1) == 105.2


@pytest.mark.parametrize(("celsius", "k"), [(20, 0.7622), (30, 0.8770), (50, 1.5195), (60, 2.2517), (80, 4.6245)])
def test_correction_factor(celsius, k):
    """IEEE 43-2013's two exponentials, evaluated by hand."""
    assert round(correction_factor(celsius), 4) == k


@pytest.mark.parametrize(("celsius", "k"), [(20, 0.25), (30, 0.5), (60, 4.0)])
def test_halving_per_ten_degrees(celsius, k):
    assert correction_factor(celsius, "thermoplastic") == k


@pytest.mark.parametrize(("air", "humidity", "dew"), [(25, 60, 16.69), (12, 88, 10.07)])
def test_dew_point(air, humidity, dew):
    """Magnus formula with 17.62 and 243.12 °C."""
    assert round(dew_point_c(air, humidity), 2) == dew


@pytest.mark.parametrize(("volts", "mg1", "vuf"), [((460, 467, 450), 1.961, 2.146), ((478, 471, 482), 1.258, 1.346)])
def test_two_ways_of_voltage_unbalance(volts, mg1, vuf):
    assert round(unbalance_percent(volts), 3) == mg1
    assert round(negative_sequence_percent(volts), 3) == vuf


@pytest.mark.parametrize(
    ("name", "censored", "likelihood", "as_values"), [("a", 2, -0.3425, -0.3344), ("b", 9, -0.0581, -0.0352)]
)
def test_slopes_of_two_censored_series(name, censored, likelihood, as_values):
    with (SERIES / f"trend-{name}.csv").open(encoding="utf-8") as file:
        rows = list(csv.DictReader(file))
    amounts = [parse_reading(row["reading"], INSULATION).amount for row in rows]
    days = [date.fromisoformat(row["date"]) for row in rows]
    fit = fit_trend([TrendPoint(d, Amount(a.low / 1e6, a.high / 1e6)) for d, a in zip(days, amounts, strict=True)])
    plain = fit_trend([TrendPoint(d, Amount.exact(a.value / 1e6)) for d, a in zip(days, amounts, strict=True)])
    assert fit.n_censored == censored
    assert round(fit.slope_decades_per_year, 4) == likelihood
    assert round(plain.slope_decades_per_year, 4) == as_values
