"""Which reading to take next: few do, and it comes to an end."""

from collections import Counter

import pytest

from tests.core.leads.given import MANY_LEADS, faults_of
from tests.core.leads.simulated import Motor, solve
from tests.core.quick import some


@pytest.mark.parametrize(("scheme", "most"), [("six-lead", 9), ("nine-lead-wye", 20), ("twelve-lead", 34)])
def test_few_readings_do(scheme, most):
    counts = [len(solve(Motor(scheme, seed))[1]) for seed in range(4)]
    assert sum(counts) / len(counts) <= most


@pytest.mark.parametrize("scheme", MANY_LEADS)
def test_following_a_faulty_motor_comes_to_an_end_and_asks_each_pair_twice_at_most(scheme):
    for kind, fault in some(list(faults_of(scheme, 5))):
        motor = Motor(scheme, 5, resolution=0.001, fault=fault)
        found, ohms, _ = solve(motor, most=400)
        assert found.next_test is None, kind
        assert max(Counter(frozenset((r.first, r.second)) for r in ohms).values()) <= 2, kind
