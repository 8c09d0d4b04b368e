"""Coils, their ends and what joins them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.stator.coils import merged
from grimcoil.core.stator.schemes import SCHEMES

NAMES = [str(i) for i in range(12)]


@given(st.lists(st.lists(st.sampled_from(NAMES), min_size=2, max_size=3, unique=True), max_size=8), st.randoms())
def test_joined_is_joined_in_any_order(groups, dice):
    turned = [list(reversed(group)) for group in groups]
    dice.shuffle(turned)
    one, other = merged(NAMES, groups), merged(NAMES, turned)
    assert one == other
    assert all(one[group[0]] == one[end] for group in groups for end in group)
    assert set(one.values()) == set(range(len(set(one.values()))))


@pytest.mark.parametrize("scheme", SCHEMES.values(), ids=list(SCHEMES))
def test_every_lead_ends_at_a_coil(scheme):
    ends = {end for coil in scheme.coils for end in (coil.start, coil.finish)}
    joined = ends | {end for group in scheme.joints for end in group}
    assert all(scheme.end_of(label) in joined for label in scheme.labels)
    assert len(set(scheme.labels)) == len(scheme.labels)
