"""What a reading leaves open by the meter that showed it."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.fields import WINDING
from grimcoil.core.instruments import InstrumentRange, calibration_finding, half_width, interval
from grimcoil.core.readings import parse_reading

FINE = InstrumentRange("M1", "low-ohm", 6, 1e-4, 0.25, 2)


def test_counts_times_resolution_and_percent_of_reading():
    reading = parse_reading("0.3520", WINDING)
    assert half_width(reading, FINE) == pytest.approx(2e-4)
    low, high = interval(reading, FINE)
    assert (low, high) == pytest.approx((0.3520 * 0.9975 - 2e-4, 0.3520 * 1.0025 + 2e-4))


def test_the_typed_digits_are_the_meters_where_nothing_else_is_known():
    assert half_width(parse_reading("0.4", WINDING), None) == pytest.approx(0.05)
    assert half_width(parse_reading("0.4", WINDING), FINE) == pytest.approx(0.2)  # fewer digits than it shows


@given(st.floats(0.001, 900), st.floats(0, 5), st.floats(0, 10), st.sampled_from([1e-4, 1e-2, 0.1]))
def test_the_true_value_is_never_taken_as_better_known_than_half_a_digit(ohm, percent, counts, resolution):
    reading = parse_reading(f"{ohm:.4f}", WINDING)
    meter = InstrumentRange("M", "ohm", 1000, resolution, percent, counts)
    low, high = interval(reading, meter)
    assert high - low >= max(resolution, reading.count) * (1 - 1e-9)
    assert low < reading.amount.value < high


@pytest.mark.parametrize(("due", "overdue"), [(None, False), (date(2026, 3, 1), False), (date(2026, 2, 28), True)])
def test_calibration_is_due_after_its_day(due, overdue):
    found = calibration_finding(InstrumentRange("M", "ohm", calibration_due=due), date(2026, 3, 1))
    assert (found is not None) == overdue
