"""Idle windings in the field of the fed ones against ngspice with coupled inductors: open, closed, part closed."""

import cmath
import math

import pytest

from grimcoil.core.stator.coils import merged
from grimcoil.core.stator.connect import Duty, Supply, Wiring, judge_connection
from grimcoil.core.stator.connections import groups
from grimcoil.core.stator.rating import parse_rated
from grimcoil.core.stator.schemes import SCHEMES
from tests.published.spice import run

LINE_V = 460.0
TIGHT, LEAKY = 0.9995, 0.92
SHUNT = 1e-3


def simulated(scheme, lines, joined, coupling):
    """Volts across and amperes through each coil, of 1 H coils at 60 Hz on a symmetrical supply."""
    made = SCHEMES[scheme]
    ends = dict(made.leads)
    joints = [*made.joints, *([ends[lead] for lead in group] for group in joined)]
    joints += [[f"line{i}", *(ends[lead] for lead in group)] for i, group in enumerate(lines)]
    names = [end for coil in made.coils for end in (coil.start, coil.finish)] + [f"line{i}" for i in range(3)]
    node = merged(names, joints)
    deck = ["idle"]
    for i in range(3):
        deck.append(f"V{i} n{node[f'line{i}']} 0 AC {LINE_V / math.sqrt(3)!r} {-120 * i}")
    for c, coil in enumerate(made.coils):
        deck += [f"L{c} n{node[coil.start]} x{c} 1", f"R{c} x{c} n{node[coil.finish]} {SHUNT}"]
    for a, first in enumerate(made.coils):
        for b in range(a):
            cosine = math.cos(math.radians(first.axis_deg - made.coils[b].axis_deg))
            deck.append(f"K{a}_{b} L{a} L{b} {coupling * cosine!r}")
    deck += [f"Rg{n} n{n} 0 1e9" for n in set(node.values())]
    deck += [".control", "ac lin 1 60 60", "@PRINT", ".endc"]
    pairs = [(f"n{node[coil.start]}", f"n{node[coil.finish]}") for coil in made.coils]
    pairs += [(f"x{c}", f"n{node[coil.finish]}") for c, coil in enumerate(made.coils)]
    asked = list(dict.fromkeys(f"v{part}({a},{b})" for a, b in pairs if a != b for part in "ri"))
    found = dict(zip(asked, run("\n".join(deck), *asked), strict=True))
    volts = [complex(found.get(f"vr({a},{b})", 0.0), found.get(f"vi({a},{b})", 0.0)) for a, b in pairs]
    count = len(made.coils)
    return volts[:count], [one / SHUNT for one in volts[count:]]


def ours(scheme, lines, joined, **duty):
    made = Duty(duty.get("speed"), duty.get("mode", "run"))
    return judge_connection(
        scheme, parse_rated("460Y"), Supply((LINE_V,) * 3), Wiring(groups(lines), groups(joined)), made
    )


OPEN = [
    ("two-speed-two-winding", "1 2 3", "", {"speed": "low"}),
    ("two-speed-two-winding", "11 12 13", "", {"speed": "high"}),
    ("part-winding", "1 2 3", "", {"mode": "start"}),
    ("twelve-lead", "1 2 3", "4-5-6", {}),
    ("twelve-lead", "1 2 3", "4-5-6 10-11-12", {}),
]


@pytest.mark.parametrize(("scheme", "lines", "joined", "duty"), OPEN)
def test_open_idle_coils_show_what_a_transformer_gives(scheme, lines, joined, duty):
    """Magnitude within 0.2 % at tight coupling, and the angle of each against the first coil within 0.1 degree."""
    volts, _ = simulated(scheme, groups(lines), groups(joined), TIGHT)
    result = ours(scheme, lines, joined, **duty)
    first = next(i for i, coil in enumerate(result.coils) if coil.fed)
    for i, coil in enumerate(result.coils):
        assert coil.volts == pytest.approx(abs(volts[i]), rel=2e-3), coil.coil
        turned = math.degrees(cmath.phase(volts[i] / volts[first])) - (coil.angle_deg - result.coils[first].angle_deg)
        assert abs((turned + 180) % 360 - 180) < 0.1, coil.coil


CLOSED = [
    ("two-speed-two-winding", "1 2 3", "11-12-13", "11-12", {"speed": "low"}),
    ("part-winding", "1 2 3", "7-8-9", "7-8", {"mode": "start"}),
]


@pytest.mark.parametrize(("scheme", "lines", "whole", "part", "duty"), CLOSED)
def test_closed_ones_carry_a_short_circuits_current_and_part_closed_ones_root_three_halves_of_it(
    scheme, lines, whole, part, duty
):
    """With leakage as a real winding has it: no volts across a closed star, and the currents' share."""
    volts, amps = simulated(scheme, groups(lines), groups(whole), LEAKY)
    _, fewer = simulated(scheme, groups(lines), groups(part), LEAKY)
    _, none = simulated(scheme, groups(lines), (), LEAKY)
    told, less = ours(scheme, lines, whole, **duty), ours(scheme, lines, part, **duty)
    closed = [i for i, coil in enumerate(told.coils) if coil.times_rated is not None]
    looped = [i for i, coil in enumerate(less.coils) if coil.times_rated is not None]
    assert max(abs(volts[i]) for i in closed) < 1e-3 * LINE_V
    assert all(abs(amps[i]) > 4 * max(map(abs, none)) for i in closed)
    assert all(abs(fewer[i]) < 1e-3 * abs(amps[i]) for i in closed if i not in looped)
    share = abs(fewer[looped[0]]) / abs(amps[looped[0]])
    mine = less.coils[looped[0]].times_rated / told.coils[looped[0]].times_rated
    assert share == pytest.approx(mine, rel=0.02)
    assert mine == pytest.approx(math.sqrt(3) / 2)
