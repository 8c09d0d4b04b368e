"""Coil volts from line volts."""

import math

import pytest

from grimcoil.core.stator.connections import CONNECTIONS
from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.core.stator.volts import coil_volts, line_potentials
from tests.core.stator.given import codes, judged


@pytest.mark.parametrize(
    ("duty", "speed", "share"),
    [
        ("constant-torque", "low", 1 / 2),
        ("constant-torque", "high", 1 / math.sqrt(3)),
        ("constant-power", "low", 1 / math.sqrt(3)),
        ("constant-power", "high", 1 / 2),
        ("variable-torque", "low", 1 / (2 * math.sqrt(3))),
        ("variable-torque", "high", 1 / math.sqrt(3)),
    ],
)
def test_design_volts_of_consequent_poles(duty, speed, share):
    """Volts of a half-coil per line volt, by hand: delta side halved, or a star's leg (computed)."""
    scheme = "two-speed-one-winding-wye" if duty == "variable-torque" else "two-speed-one-winding-delta"
    (right,) = [c for c in CONNECTIONS if (c.scheme, c.speed, c.duty) == (scheme, speed, duty)]
    solved = coil_volts(SCHEMES[scheme], right.lines, right.joined, line_potentials((1, 1, 1)))
    assert [abs(v) for v in solved.volts] == pytest.approx([share] * 6)


@pytest.mark.parametrize("volts", [(460, 430, 350), (460, 430, 250), (400, 460, 300)])
@pytest.mark.parametrize("lines", ["1 2 3", "1 3 2", "3 1 2"])
def test_an_uneven_supply_turns_no_coil(volts, lines):
    result = judged("nine-lead-wye", "230Y/460Y", volts, lines, "4-7 5-8 6-9")
    assert "reversed-coil" not in codes(result)
    assert all(abs(c.off_axis_deg) < 1e-6 for c in result.coils)
    turned = judged("nine-lead-wye", "230Y/460Y", volts, lines.replace("3", "6"), "4-7 5-8 3-9")
    assert "reversed-coil" in codes(turned)


def test_an_uneven_supply_is_solved_as_it_is():
    result = judged("nine-lead-wye", "230Y/460Y", (478, 471, 482), "1 2 3", "4-7 5-8 6-9")
    assert codes(result) == ["right"]
    assert len({round(c.volts, 2) for c in result.coils}) == 3
