"""The usual test voltage by IEEE 43-2013 Table 1 (standard, from memory), and the discharge after it."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.insulation.hold import TEST_VOLTAGE_V, discharge_s, usual_test_voltage_v


@pytest.mark.parametrize(
    ("rated", "volts"),
    [(208, (500, 500)), (999, (500, 500)), (1000, (500, 1000)), (2500, (500, 1000)), (2501, (1000, 2500)),
     (5000, (1000, 2500)), (12000, (2500, 5000)), (12001, (5000, 10000))],
)  # fmt: skip
def test_the_table_and_its_edges(rated, volts):
    assert usual_test_voltage_v(rated) == volts


@given(st.floats(1, 20000), st.floats(1, 20000))
def test_a_higher_winding_is_never_tested_lower(a, b):
    low, high = sorted((a, b))
    assert usual_test_voltage_v(low) <= usual_test_voltage_v(high)
    assert [row[0] for row in TEST_VOLTAGE_V] == sorted(row[0] for row in TEST_VOLTAGE_V)


@given(st.floats(0, 1e5))
def test_shorted_four_times_as_long_as_it_was_charged(applied):
    assert discharge_s(applied) == 4 * applied
