"""Star-delta and autotransformer starts against ngspice: a motor at standstill as coils of ohms and henries."""

import math

import pytest

from grimcoil.core.circuit.overload import right_dial_a
from grimcoil.core.side.starting import AutotransformerTest, StarDeltaTest, judge_autotransformer, judge_star_delta
from tests.published.spice import run

OMEGA = 2 * math.pi * 60
VOLTS, OHM, HENRY = 480 / math.sqrt(3), 0.4, 1.1 / OMEGA


def lines_of(coils, taps=None):
    """Amps in line and coil 1: coils as pairs of nodes `1`, `2`, `3`, `n`; taps: of an autotransformer in each line."""
    deck = ["start", "Vzero n0 0 0"]
    for n in (1, 2, 3):
        deck += [f"V{n} s{n} 0 AC {VOLTS!r} {-120 * (n - 1)}", f"Rline{n} s{n} l{n} 1e-6"]
        if taps is None:
            deck.append(f"Rjoin{n} l{n} m{n} 1e-6")
        else:  # an ideal autotransformer: volts of the tap by a source, its amps given back to the line
            deck += [f"E{n} e{n} 0 l{n} 0 {taps!r}", f"Vm{n} e{n} m{n} 0", f"F{n} l{n} 0 Vm{n} {taps!r}"]
    for k, (a, b) in enumerate(coils):
        ends = [f"m{end}" if end in "123" else "star" for end in (a, b)]
        deck += [f"Rc{k} {ends[0]} x{k} {OHM!r}", f"Lc{k} x{k} {ends[1]} {HENRY!r}"]
    deck += ["Rstar star 0 1e9", ".control", "ac lin 1 60 60", "@PRINT", ".endc"]
    line, coil = run("\n".join(deck), "mag(v(s1)-v(l1))", "mag(v(m1)-v(x0))")
    return line / 1e-6, coil / OHM


STAR, DELTA = (("1", "n"), ("2", "n"), ("3", "n")), (("1", "2"), ("2", "3"), ("3", "1"))


def test_a_star_takes_a_third_of_the_lines_and_a_delta_branch_its_share():
    star, _ = lines_of(STAR)
    delta, branch = lines_of(DELTA)
    assert star / delta == pytest.approx(1 / 3, rel=1e-4)
    assert right_dial_a(delta, inside_delta=True) == pytest.approx(branch, rel=1e-4)
    codes = [one.code for one in judge_star_delta(StarDeltaTest(line_a_star=star, line_a_delta=delta)).findings]
    assert codes == ["star-delta-third"]


@pytest.mark.parametrize("tap", [0.5, 0.65, 0.8])
def test_a_tap_gives_the_motor_its_share_and_the_line_its_square(tap):
    full, _ = lines_of(STAR)
    line, motor = lines_of(STAR, tap)
    said = judge_autotransformer(AutotransformerTest(tap, full))
    assert said.motor_a == pytest.approx(motor, rel=1e-4)
    assert said.line_a == pytest.approx(line, rel=1e-4)
    assert said.torque_share == pytest.approx((motor / full) ** 2, rel=1e-4)
