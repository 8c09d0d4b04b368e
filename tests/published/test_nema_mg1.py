"""NEMA MG-1 and the US DOE motor tip sheet on voltage unbalance; Fortescue's components. Figures from memory."""

import cmath
import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from grimcoil.core.resistance.balance import unbalance_percent
from grimcoil.core.supply import extra_temperature_rise_percent, negative_sequence_percent


def test_the_standards_own_example():
    assert round(unbalance_percent([460, 467, 450]), 2) == 1.96


def test_the_tip_sheets_example():
    assert round(unbalance_percent([462, 463, 455]), 2) == 1.09


def test_extra_rise_of_the_example():
    assert round(extra_temperature_rise_percent(1.9608), 1) == 7.7


def fortescue(ab, bc, ca):
    """Negative over positive sequence of the triangle with these sides, from phasors (numpy's matrix product)."""
    corner = math.acos((ab**2 + ca**2 - bc**2) / (2 * ab * ca))
    a, b, c = 0, ab + 0j, ca * cmath.exp(1j * corner)
    lines = np.array([b - a, c - b, a - c])
    turn = cmath.exp(2j * math.pi / 3)
    one, two = np.abs(np.array([[1, turn, turn**2], [1, turn**2, turn]]) @ lines)
    return 100 * min(one, two) / max(one, two)


@pytest.mark.parametrize("volts", [(460, 467, 450), (478, 471, 482), (480, 400, 390)])
def test_closed_form_against_phasors(volts):
    assert negative_sequence_percent(volts) == pytest.approx(fortescue(*volts), rel=1e-9)


@given(st.tuples(*[st.floats(300, 500)] * 3))
def test_closed_form_against_phasors_anywhere(volts):
    low, middle, high = sorted(volts)
    assume(high < 0.98 * (low + middle))
    assert negative_sequence_percent(volts) == pytest.approx(fortescue(*volts), rel=1e-6, abs=1e-5)


@pytest.mark.parametrize(("volts", "percent"), [((480, 240, 240), 100), ((480, 480, 0), 100), ((480, 200, 200), None)])
def test_edges(volts, percent):
    found = negative_sequence_percent(volts)
    assert found is None if percent is None else found == pytest.approx(percent)
