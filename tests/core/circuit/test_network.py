"""The circuit as a network, by figures that theory gives; an independent simulator checks it in `tests/published`."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.circuit.network import LEADS_OHM, NONE, OPEN_S, Change, coil_ohm, layout_of, merged, solve
from grimcoil.core.circuit.place import LINES, Place, State

RUNNING = State(contactor="in", at="run")
DEAD = State(supply="off")


@given(st.sampled_from(["wye", "delta"]), st.floats(0.05, 5.0))
def test_ohms_between_two_lines_of_a_sound_winding(wound, phase):
    """A wye shows two phases in series, a delta two thirds of one (series and parallel resistance, computed)."""
    place = Place(wound=wound, phase_ohm=phase)
    shown = solve(place, DEAD, [NONE]).ohms("box-T1", "box-T2")[0]
    expected = 2 * phase if wound == "wye" else phase * 2 / 3
    assert shown == pytest.approx(expected + LEADS_OHM, abs=0.02)


def test_volts_of_a_sound_supply():
    solved = solve(Place(), RUNNING, [NONE])
    assert solved.between("line-L1", "line-L2")[0] == pytest.approx(480, rel=0.01)
    assert solved.between("line-L1", "earth")[0] == pytest.approx(480 / math.sqrt(3), rel=0.01)
    amps = [solved.amps(line)[0] for line in LINES]
    assert max(amps) == pytest.approx(min(amps), rel=1e-3)
    assert amps[0] == pytest.approx(21 * 0.9, rel=0.1)  # nine tenths of full load


@pytest.mark.parametrize("line", LINES)
def test_an_open_fuse_takes_the_current_of_its_line(line):
    blown = Change(branch={("protection", line): OPEN_S})
    solved = solve(Place(), State(contactor="in", at="start"), [NONE, blown])
    assert solved.amps(line)[1] < 0.01 * solved.amps(line)[0]
    others = [solved.amps(other)[1] for other in LINES if other != line]
    assert others[0] == pytest.approx(others[1], rel=1e-3)  # out on one, back on the other


def test_faults_add_up_and_the_weaker_contact_governs():
    both = merged([Change(branch={("pole", 1): 5.0}), Change(branch={("pole", 1): 2.0}, source=(0.5, 1.0, 1.0)), NONE])
    assert both.branch == {("pole", 1): 2.0}
    assert both.source == (0.5, 1.0, 1.0)
    assert merged([NONE]).load == NONE.load


def test_points_of_the_layout_are_those_of_the_position():
    for place in (Place(), Place(disconnect="local"), Place(starter="drive"), Place(control_fuse=False)):
        missing = {point for point in place.points() if not point.startswith(("star-", "delta-"))}
        assert missing <= {*layout_of(place).index, *layout_of(place, control=True).index}
    assert coil_ohm(Place(control_volts=110.0)) == pytest.approx(403.3, abs=0.1)
