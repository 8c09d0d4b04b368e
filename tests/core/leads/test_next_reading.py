"""Which reading to take next: few do, and it comes to an end."""

import random
from collections import Counter

import pytest

from grimcoil.core.stator.network import Fault
from grimcoil.core.stator.schemes import SCHEMES
from tests.core.leads.simulated import Motor, solve


@pytest.mark.parametrize(("scheme", "most"), [("six-lead", 9), ("nine-lead-wye", 20), ("twelve-lead", 34)])
def test_few_readings_do(scheme, most):
    counts = [len(solve(Motor(scheme, seed))[1]) for seed in range(6)]
    assert sum(counts) / len(counts) <= most


def faults_of(scheme, seed):
    """A fault of each kind on a scheme, seeded."""
    made, dice = SCHEMES[scheme], random.Random(seed)
    coil, label = dice.choice(made.coils).name, dice.choice(made.labels)
    a, b = dice.sample(list(made.labels), 2)
    yield "open", Fault(opened=(coil,))
    yield "off", Fault(lifted=(label,))
    yield "leak", Fault(leaks=((a, b, dice.uniform(0.5, 20)),))
    yield "joint", Fault(scaled=((coil, dice.uniform(1.3, 8)),))
    yield "two", Fault(opened=(coil,), lifted=(label,))


MANY_LEADS = [scheme for scheme in SCHEMES if not scheme.startswith("three")]


@pytest.mark.parametrize("scheme", MANY_LEADS)
def test_following_a_faulty_motor_comes_to_an_end_and_asks_each_pair_twice_at_most(scheme):
    for kind, fault in faults_of(scheme, 5):
        motor = Motor(scheme, 5, resolution=0.001, fault=fault)
        found, ohms, _ = solve(motor, most=400)
        assert found.next_test is None, kind
        assert max(Counter(frozenset((r.first, r.second)) for r in ohms).values()) <= 2, kind
