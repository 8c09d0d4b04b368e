"""Fault patterns of three line readings."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.resistance.patterns import coil_patterns, patterns
from grimcoil.core.resistance.phases import delta_lines, delta_phases, wye_phases


def found(ohms, connection=None, balanced=False):
    return [(p.pattern, p.phase, p.internal_connection) for p in patterns(ohms, balanced, connection, 0.02)]


def test_balanced():
    assert found([4.8, 4.8, 4.8], balanced=True) == [("balanced", None, None)]


def test_one_pair_sound_two_open():
    assert found([4.8, None, None]) == [
        ("open-phase", "3", "wye"),
        ("lead-open-delta", "3", "delta"),
        ("open-coil-delta", "2-3 and 3-1", "delta"),
    ]
    assert found([None, 4.8, None], "wye") == [("open-phase", "1", "wye")]
    assert found([None, None, 4.8], "delta")[0] == ("lead-open-delta", "2", "delta")


@pytest.mark.parametrize(
    ("times", "names"),
    [(1.0, ["open-phase", "lead-open-delta"]), (1.5, ["open-coil-delta"]), (3.0, ["open-phase", "lead-open-delta"])],
)
def test_the_sound_pair_against_its_history_tells_one_open_from_two(times, names):
    got = [p.pattern for p in patterns([4.8 * times, None, None], False, None, 0.02, healthy_ohm=4.8)]
    assert got == names + (["open-coil-delta"] if times == 3.0 else [])


def test_all_open_and_the_impossible_single_open():
    assert found([None] * 3) == [("all-open", None, None)]
    assert found([4.8, 4.8, None]) == [("unclassified", None, None)]


def test_open_coil_of_a_delta_reads_two_to_one_to_one():
    assert found(list(delta_lines(7.2, 7.2, 7.2)), balanced=True)[0][0] == "balanced"
    assert found([14.4, 7.2, 7.2])[0] == ("open-coil-delta", "1-2", "delta")


@pytest.mark.parametrize(("odd", "phase"), [(0, "1"), (1, "2"), (2, "3")])
def test_wye_phase_with_shorted_turns_is_named(odd, phase):
    a, b, c = (2.4 * (0.88 if i == odd else 1) for i in range(3))
    got = patterns([a + b, b + c, c + a], False, "wye", 0.02)
    assert [(p.pattern, p.phase) for p in got] == [("shorted-turns", phase)]
    assert got[0].deviation_percent == pytest.approx(-12)


@pytest.mark.parametrize(("odd", "side"), [(0, "1-2"), (1, "2-3"), (2, "3-1")])
def test_delta_side_with_shorted_turns_is_named(odd, side):
    sides = [7.2 * (0.88 if i == odd else 1) for i in range(3)]
    lines = list(delta_lines(*sides))
    got = patterns(lines, False, "delta", 0.02, healthy_ohm=4.8)
    assert [(p.pattern, p.phase) for p in got] == [("shorted-turns", side)]
    assert got[0].deviation_percent == pytest.approx(-12)
    lead = {"1-2": "3", "2-3": "1", "3-1": "2"}[side]
    unknown = patterns(lines, False, "delta", 0.02)
    assert [(p.pattern, p.phase) for p in unknown] == [("shorted-turns", side), ("poor-joint", lead)]


def test_two_high_by_the_same_ohms_is_a_joint_in_the_line_lead_of_a_delta():
    """A delta of 4.8 Ω lines with 0.4 Ω in line lead 2: 5.2, 5.2, 4.8; the level of the sound pair proves it."""
    joint = patterns([5.2, 5.2, 4.8], False, "delta", 0.02, healthy_ohm=4.8)
    assert [(p.pattern, p.phase) for p in joint] == [("poor-joint", "2")]
    assert "poor-joint" in [p.pattern for p in patterns([5.2, 5.2, 4.8], False, "delta", 0.02)]


def test_where_ohms_cannot_tell_both_readings_stand():
    assert found([4.512, 4.8, 4.512]) == [("shorted-turns", "1", "wye"), ("poor-joint", "2-3", "delta")]


def test_one_of_two_parallel_paths_open():
    """Low star: two pairs × 1.5; low delta: 1.5, 1.125, 1.125 × (computed)."""
    assert found([4.5, 3.0, 4.5], "wye") == [("parallel-path-open", "1", "wye")]
    assert found([4.5, 3.375, 3.375], "delta") == [("parallel-path-open", "1-2", "delta")]


def test_single_coils_have_no_connection():
    got = coil_patterns([2.0, 2.0, 1.7], 0.02, ["1-4", "2-5", "3-6"])
    assert [(p.pattern, p.phase, p.internal_connection) for p in got] == [("shorted-turns", "3-6", None)]
    assert [p.pattern for p in coil_patterns([2.0, 2.2, 1.7], 0.02, ["1-4", "2-5", "3-6"])] == ["unclassified"]


def test_poor_joint_in_a_wye():
    assert found([5.0, 5.0, 4.8], "wye") == [("poor-joint", "2", "wye")]


three = st.tuples(*[st.floats(0.05, 50)] * 3)


@given(three)
def test_wye_and_delta_come_back_from_their_lines(phases):
    a, b, c = phases
    assert wye_phases(a + b, b + c, c + a) == pytest.approx(phases)
    assert delta_phases(*delta_lines(*phases)) == pytest.approx(phases, rel=1e-6)
