"""Bounds stay bounds through arithmetic."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.amount import Amount, Bound

values = st.floats(1e-6, 1e9)
amounts = values.flatmap(
    lambda v: st.sampled_from([Amount.exact(v), Amount.above(v), Amount.below(v), Amount(v / 2, v)])
)


def test_over_range_at_20_degrees_stays_a_lower_bound():
    corrected = Amount.above(550).scaled(0.7622)
    assert corrected.bound is Bound.ABOVE
    assert math.isclose(corrected.value, 419.21)


def test_index_of_a_bound_over_a_value_is_a_bound():
    ratio = Amount.above(550).over(Amount.exact(520))
    assert (ratio.bound, round(ratio.value, 2)) == (Bound.ABOVE, 1.06)


def test_index_of_a_value_over_a_bound_is_an_upper_bound():
    ratio = Amount.exact(600).over(Amount.above(550))
    assert (ratio.bound, ratio.value) == (Bound.BELOW, 600 / 550)


def test_index_of_two_bounds_is_undefined():
    assert Amount.above(550).over(Amount.above(550)).bound is Bound.NOTHING


@pytest.mark.parametrize("ends", [(2, 1), (math.nan, 1)])
def test_ends_in_order(ends):
    with pytest.raises(ValueError, match="low to high"):
        Amount(*ends)


@given(amounts, values)
def test_scaling_keeps_the_kind_of_bound(amount, factor):
    assert amount.scaled(factor).bound is amount.bound


@given(amounts, values, st.floats(0, 1))
def test_a_ratio_contains_every_ratio(amount, other, share):
    top = amount.low * 3 if amount.high == math.inf else amount.high
    inside = amount.low + share * (top - amount.low)
    ratio = amount.over(Amount.exact(other))
    assert ratio.low <= inside / other * (1 + 1e-9)
    assert inside / other <= ratio.high * (1 + 1e-9)


@given(amounts, values)
def test_surely_below_and_at_least_exclude_each_other(amount, limit):
    assert not (amount.surely_at_least(limit) and amount.surely_below(limit)) or amount.high == limit == 0


def test_less_than_the_limit_is_below_it():
    assert Amount.below(5).surely_below(5)
    assert not Amount.exact(5).surely_below(5)
