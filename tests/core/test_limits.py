"""A value that stands on a limit is inside it."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.limits import reaches, within


@pytest.mark.parametrize(
    ("value", "limit"), [(100 * (506 / 460 - 1), 10), (0.64 + 1, 1.64), (100 * (1.05 - 1), 5), (0.0, 0.0), (-3, 0)]
)
def test_on_the_limit_is_inside(value, limit):
    assert within(value, limit)


@given(st.floats(1e-6, 1e12))
def test_both_ends_hold_on_the_limit_and_neither_beyond_it(limit):
    assert within(limit * (1 + 1e-10), limit)
    assert reaches(limit * (1 - 1e-10), limit)
    assert not within(limit * (1 + 1e-7), limit)
    assert not reaches(limit * (1 - 1e-7), limit)
