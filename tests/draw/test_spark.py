"""The register's small trend."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.amount import Amount
from grimcoil.draw.spark import HEIGHT, WIDTH, spark
from tests.drawn import count, numbers

DAY = date(2020, 1, 1)


@pytest.mark.parametrize(
    ("values", "lines", "arrows", "torn", "end"),
    [
        ([100, 90, 80], 1, 0, 0, 1),
        ([100, Amount.above(550), 80, 70], 1, 1, 0, 1),  # a bound isn't joined
        ([100, 90, Amount.above(550)], 1, 1, 0, 0),
        ([(100, 1), (90, 1), (900, 2), (800, 2)], 2, 0, 1, 1),  # a rewind tears it
        ([None, None], 0, 0, 0, 0),
        ([], 0, 0, 0, 0),
    ],
)
def test_bounds_and_rewinds_break_the_line(values, lines, arrows, torn, end):
    pairs = [value if isinstance(value, tuple) else (value, 1) for value in values]
    dots = [(DAY, Amount.exact(v) if isinstance(v, int) else v, winding) for v, winding in pairs]
    drawn = spark(dots, 5)
    assert (count(drawn, "sp-line"), count(drawn, "sp-up")) == (lines, arrows)
    assert (count(drawn, "sp-torn"), count(drawn, "sp-end")) == (torn, end)


@given(st.lists(st.floats(1e-9, 1e9), max_size=40), st.floats(0.1, 500))
def test_it_stays_in_its_frame(values, minimum):
    drawn = spark([(DAY, Amount.exact(value), 1) for value in values], minimum)
    assert all(-8 <= figure <= max(WIDTH, HEIGHT) + 8 for figure in numbers(drawn))
