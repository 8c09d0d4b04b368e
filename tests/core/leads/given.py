"""What the tests of leads are given."""

import random

from hypothesis import strategies as st

from grimcoil.core.leads.ohms import OhmReading, Path
from grimcoil.core.stator.network import Fault
from grimcoil.core.stator.schemes import SCHEMES

SIX = ("A", "B", "C", "D", "E", "F")


def value(i, j, ohm, half=0.005):
    return OhmReading(i, j, Path.VALUE, ohm, half)


def opened(i, j):
    return OhmReading(i, j, Path.OPEN)


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


readings = st.builds(
    OhmReading, st.integers(0, 4), st.just(5), st.sampled_from(Path), st.floats(0, 5000), st.floats(0, 1)
)
