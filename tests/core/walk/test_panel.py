"""Circuits of all suspects in one row, and the sound one last."""

import numpy as np
import pytest

from grimcoil.core.circuit.place import Place, State
from grimcoil.core.walk.panel import Panel, expected, pulls_in, starts
from tests.core.walk.given import PLACES


@pytest.mark.parametrize("place", PLACES, ids=lambda place: place.starter)
def test_the_sound_circuit_comes_in_and_runs(place):
    panel = Panel(place)
    assert pulls_in(panel)[-1] == pytest.approx(0.98)
    assert starts(panel)[-1] == "runs"
    assert panel.weights.sum() == pytest.approx(len(panel.suspects))
    held = State(contactor="in", at="start")
    shown = [expected(panel, "volts-ac", held, "overload-T1", "overload-T2")[-1] for _ in range(2)]
    assert shown[0] == shown[1] == pytest.approx(place.volts, rel=0.05)


def test_what_is_wanted_is_solved_as_all_are():
    panel, state = Panel(Place()), State(supply="off")
    every = expected(panel, "ohms", state, "overload-T1", "overload-T2")
    wanted = tuple(i % 5 == 0 for i in range(len(every)))
    some = expected(Panel(Place(), wanted=wanted), "ohms", state, "overload-T1", "overload-T2")
    assert np.array_equal(some[list(wanted)], every[list(wanted)])


def test_a_coil_of_six_leads_is_read_from_end_to_end_and_other_leads_say_nothing():
    place = Place(leads=(1, 2, 3, 4, 5, 6))
    panel, box = Panel(place), State(supply="off", motor="lifted-at-box")
    assert expected(panel, "ohms", box, "lead-1", "lead-4")[-1] == pytest.approx(place.phase_ohm + 0.2, rel=0.02)
    nine = Panel(Place(leads=tuple(range(1, 10))))
    assert np.isnan(expected(nine, "ohms", box, "lead-4", "lead-7")).all()
