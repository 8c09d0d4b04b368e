"""NEMA MG-1 part 2 and IEC 60034-8: which leads go where. Every row here is from memory of the standards."""

import cmath
import math

import pytest

from grimcoil.core.stator.connections import CONNECTIONS
from grimcoil.core.stator.letters import iec_letters
from grimcoil.core.stator.schemes import HALVES, SCHEMES
from grimcoil.core.stator.volts import coil_volts, line_potentials

# scheme, purpose: lines, joined
TABLE = {
    ("six-lead", "star"): ("1 2 3", "4-5-6"),
    ("six-lead", "delta"): ("1-6 2-4 3-5", ""),
    ("nine-lead-wye", "high voltage"): ("1 2 3", "4-7 5-8 6-9"),
    ("nine-lead-wye", "low voltage"): ("1-7 2-8 3-9", "4-5-6"),
    ("nine-lead-delta", "high voltage"): ("1 2 3", "4-7 5-8 6-9"),
    ("nine-lead-delta", "low voltage"): ("1-6-7 2-4-8 3-5-9", ""),
    ("twelve-lead", "high star"): ("1 2 3", "4-7 5-8 6-9 10-11-12"),
    ("twelve-lead", "high delta"): ("1-12 2-10 3-11", "4-7 5-8 6-9"),
    ("twelve-lead", "low star"): ("1-7 2-8 3-9", "4-5-6 10-11-12"),
    ("twelve-lead", "low delta"): ("1-6-7-12 2-4-8-10 3-5-9-11", ""),
    ("part-winding", "one winding to start"): ("1 2 3", ""),
    ("part-winding", "both windings"): ("1-7 2-8 3-9", ""),
    ("two-speed-two-winding", "low speed"): ("1 2 3", ""),
    ("two-speed-two-winding", "high speed"): ("11 12 13", ""),
    ("two-speed-one-winding-delta", "low speed, delta"): ("1 2 3", ""),
    ("two-speed-one-winding-delta", "high speed, two stars"): ("6 4 5", "1-2-3"),
    ("two-speed-one-winding-wye", "low speed, star"): ("1 2 3", ""),
    ("two-speed-one-winding-wye", "high speed, two stars"): ("6 4 5", "1-2-3"),
    ("two-speed-one-winding-delta", "low speed, two stars"): ("1 2 3", "4-5-6"),
    ("two-speed-one-winding-delta", "high speed, delta"): ("6 4 5", ""),
}


@pytest.mark.parametrize(("scheme", "purpose"), TABLE)
def test_the_table(scheme, purpose):
    (one,) = [c for c in CONNECTIONS if (c.scheme, c.purpose) == (scheme, purpose)]
    assert (one.lines_text, one.joined_text) == TABLE[scheme, purpose]


@pytest.mark.parametrize("one", [c for c in CONNECTIONS if c.mode == "run"], ids=lambda c: f"{c.scheme}-{c.purpose}")
def test_every_coil_that_is_driven_gets_the_same_volts_on_its_own_axis(one):
    """Whatever the table says, physics must agree: equal volts, and phasors that follow the coils round the stator."""
    scheme = SCHEMES[one.scheme]
    solved = coil_volts(scheme, one.lines, one.joined, line_potentials((1.0, 1.0, 1.0)))
    driven = [(coil, v) for coil, v, idle in zip(scheme.coils, solved.volts, solved.idle, strict=True) if not idle]
    assert len(driven) == (3 if one.scheme == "two-speed-two-winding" else len(scheme.coils))
    assert {round(abs(v), 9) for _, v in driven} == {round(abs(driven[0][1]), 9)}
    if scheme.coils is HALVES:
        turned = [cmath.exp(1j * (cmath.phase(v) + math.radians(coil.axis_deg))) for coil, v in driven]
        assert all(abs(t - turned[0]) < 1e-9 for t in turned)


def test_letters_of_six_leads_and_two_speeds():
    letters = iec_letters("six-lead")
    assert [letters[str(i)] for i in range(1, 7)] == ["U1", "V1", "W1", "U2", "V2", "W2"]
    low_high = iec_letters("two-speed-two-winding")
    assert [low_high[lead] for lead in ("1", "2", "3", "11", "12", "13")] == ["1U", "1V", "1W", "2U", "2V", "2W"]
