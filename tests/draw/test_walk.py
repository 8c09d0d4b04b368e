"""The circuit of a position from supply to load."""

import pytest

from grimcoil.core.circuit.place import ELEMENTS
from grimcoil.draw.walk import LONGEST, NAMES, Part, circuit
from tests.drawn import count, named, words


def test_every_element_of_a_circuit_has_its_name():
    assert set(NAMES) == set(ELEMENTS)


@pytest.mark.parametrize(("state", "strikes"), [("cleared", 1), ("suspect", 0), ("condemned", 0), ("untested", 0)])
def test_only_what_is_cleared_is_struck_through(state, strikes):
    drawn = circuit([Part("supply", "untested"), Part("contactor", state, True, "480 V")], False)
    assert count(drawn, "strike") == strikes
    assert count(drawn, "probe-here") == 6  # a probe at each end of each line
    assert f"Contactor {state}" in named(drawn)[0]
    assert "480 V" in words(drawn)


def test_live_has_its_rail_and_a_long_reading_is_cut_where_the_frame_ends():
    part = Part("winding", "suspect", by="0.352 Ω on 1-2, 0.361 Ω on 2-3, 0.358 Ω on 3-1, all by the fine meter")
    assert count(circuit([part], True), "live-rail") == 1
    assert count(circuit([part], False), "live-rail") == 0
    assert len(words(circuit([part], True))[-1]) <= LONGEST


def test_a_clamp_goes_round_its_lines_and_a_probe_beside_what_stands_beside():
    assert count(circuit([Part("overload", "suspect", True, clamp=True)], True), "probe-here") == 3
    assert count(circuit([Part("supply", "untested"), Part("control", "suspect", True)], True), "probe-here") == 1
