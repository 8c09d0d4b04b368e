"""Coupling tests against ngspice with coupled inductors: k at -1/2 between phases, k between halves of one phase."""

import math

import pytest

from grimcoil.core.leads.coupling import COUPLINGS, ratio
from grimcoil.core.stator.coils import merged
from grimcoil.core.stator.schemes import SCHEMES
from tests.published.spice import run

K = float(COUPLINGS[12])


def simulated(scheme, source, across, joined=()):
    """Real part of volts across over source volts, at 60 Hz, coils as inductors with almost no resistance."""
    made = SCHEMES[scheme]
    ends = dict(made.leads)
    groups = [*made.joints, *([[ends[label] for label in joined]] if joined else [])]
    node = merged([end for coil in made.coils for end in (coil.start, coil.finish)], groups)
    plus, minus, one, two = (node[ends[label]] for label in (*source, *across))
    lines = ["coupled", f"V1 n{plus} n{minus} AC 1 0"]
    for c, coil in enumerate(made.coils):
        lines += [f"L{c} n{node[coil.start]} x{c} 1", f"R{c} x{c} n{node[coil.finish]} 1e-6"]
    for a, first in enumerate(made.coils):
        for b in range(a):
            cosine = math.cos(math.radians(first.axis_deg - made.coils[b].axis_deg))
            lines.append(f"K{a}_{b} L{a} L{b} {K * cosine!r}")
    lines += [f"Rg{n} n{n} 0 1e9" for n in set(node.values())]
    lines += [".control", "ac lin 1 60 60", "@PRINT", ".endc"]
    return run("\n".join(lines), f"vr(n{one},n{two})")[0]


def ours(scheme, source, across, joined=()):
    labels = SCHEMES[scheme].labels
    numbers = [tuple(labels.index(label) for label in group) for group in (source, across, joined)]
    return ratio(scheme, numbers[0], numbers[1], tuple(sorted(numbers[2])))[12]


TESTS = [
    # excite: the same phase's other half near full, other phases about half
    ("twelve-lead", "1 4", "7 10", "", K),
    ("twelve-lead", "1 4", "2 5", "", -K / 2),
    ("six-lead", "1 4", "2 5", "", None),
    ("nine-lead-wye", "1 4", "8 9", "", 0.0),
    ("nine-lead-wye", "1 4", "7 8", "", 1.5 * K),
    ("nine-lead-delta", "1 4", "2 7", "", None),
    # joined: about 1.5 like ends, 0.5 unlike; same phase about 0 or 2
    ("twelve-lead", "1 4", "1 2", "4 5", 1 + K / 2),
    ("twelve-lead", "1 4", "1 5", "4 2", 1 - K / 2),
    ("twelve-lead", "1 4", "1 7", "4 10", 1 - K),
    ("twelve-lead", "1 4", "1 10", "4 7", 1 + K),
    ("nine-lead-wye", "1 4", "1 8", "4 7", 1 + 1.5 * K),
    ("nine-lead-wye", "1 4", "4 8", "1 7", -1 + 1.5 * K),
    # series: near 0 with like ends in the middle, a clear voltage else
    ("twelve-lead", "1 2", "3 6", "4 5", 0.0),
    ("twelve-lead", "1 5", "3 6", "4 2", None),
    ("six-lead", "1 2", "3 6", "4 5", 0.0),
    ("part-winding", "1 2", "7 8", "", None),
]


@pytest.mark.parametrize(("scheme", "source", "across", "joined", "known"), TESTS)
def test_every_coupling_rule(scheme, source, across, joined, known):
    """known: the closed form with coupling k, where it gives one."""
    words = [tuple(text.split()) for text in (source, across, joined)]
    value = ours(scheme, *words)
    assert value == pytest.approx(simulated(scheme, *words), abs=2e-3)
    if known is not None:
        assert value == pytest.approx(known, abs=1e-9)


@pytest.mark.parametrize(("across", "up"), [("2 5", True), ("5 2", False), ("7 10", False), ("3 6", True)])
def test_a_kick_at_the_break(across, up):
    """Battery + on a start: at the break another phase's start kicks up, the same phase's other half down.

    The simulator takes the current of the source coil away (a falling ramp) and reads the other coil.
    """
    made = SCHEMES["twelve-lead"]
    lines = ["kick", "I1 0 n1 PWL(0 1 1m 1 2m 0)", "Rs n4 0 1e-6"]
    for c, coil in enumerate(made.coils):
        lines += [f"L{c} n{coil.start} n{coil.finish} 1m"]
        lines += [f"Rp{c} n{coil.start} n{coil.finish} 1e4"]
    for a, first in enumerate(made.coils):
        for b in range(a):
            cosine = math.cos(math.radians(first.axis_deg - made.coils[b].axis_deg))
            lines.append(f"K{a}_{b} L{a} L{b} {K * cosine!r}")
    lines += [f"Rg{n} n{n} 0 1e9" for n in range(1, 13) if n != 4]
    one, two = across.split()
    measure = "meas tran needle avg d from=1.3m to=1.8m"
    lines += [".control", "tran 10u 2m 0 10u uic", f"let d = v(n{one})-v(n{two})", measure, "@PRINT", ".endc"]
    (needle,) = run("\n".join(lines), "needle")
    assert (needle > 0) == up
    assert (ours("twelve-lead", ("1", "4"), (one, two)) < 0) == up
