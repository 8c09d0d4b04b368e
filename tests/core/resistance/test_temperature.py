"""Corrections there and back."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.amount import Amount
from grimcoil.core.insulation.correction import correction_factor
from grimcoil.core.resistance.temperature import at_reference, temperature_by_resistance

celsius = st.floats(-40, 180)
conductors = st.sampled_from(["copper", "aluminium"])


@given(st.floats(1e-4, 1e3), celsius, celsius, conductors)
def test_resistance_to_another_temperature_and_back(ohm, first, second, conductor):
    there = at_reference(ohm, first, second, conductor)
    assert at_reference(there, second, first, conductor) == pytest.approx(ohm)
    assert temperature_by_resistance(there, ohm, first, conductor) == pytest.approx(second, abs=1e-6)


@given(st.floats(1e-3, 1e5), st.floats(10, 85), st.sampled_from(["thermosetting", "thermoplastic"]))
def test_insulation_to_40_degrees_and_back_keeps_its_bound(mohm, warm, system):
    k = correction_factor(warm, system)
    for amount in (Amount.exact(mohm), Amount.above(mohm), Amount.below(mohm)):
        back = amount.scaled(k).scaled(1 / k)
        assert (back.low, back.high) == pytest.approx((amount.low, amount.high))
        assert back.bound is amount.bound or (amount.is_exact and back.low == pytest.approx(back.high))


@pytest.mark.parametrize(("conductor", "ohm"), [("copper", 1.2161), ("aluminium", 1.2245)])
def test_one_ohm_at_20_degrees_at_75(conductor, ohm):
    """Handbook 4, from IEEE 118's constants 234.5 and 225 (standard, from memory)."""
    assert at_reference(1.0, 20.0, 75.0, conductor) == pytest.approx(ohm, abs=5e-5)
