"""The simulated motor by figures that theory gives for its coils, and what each fault does to them."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.simulator.machine import COILS, FAULTS, Machine, between

PAIRS = (("1", "2"), ("2", "3"), ("3", "1"))


def lines(machine):
    return [machine.ohms((a,), (b,)) for a, b in PAIRS]


def test_three_leads_read_two_coils_in_wye_and_two_thirds_of_one_in_delta():
    """Series and parallel resistors (Ohm's law)."""
    assert lines(Machine(coil_ohm=0.5)) == pytest.approx([1.0, 1.0, 1.0], rel=0.003)
    assert lines(Machine("three-lead-delta", coil_ohm=0.9)) == pytest.approx([0.6, 0.6, 0.6], rel=0.003)


def test_nine_leads_in_delta_are_three_groups_of_two_coils_in_series():
    """A group has one coil on each side of its shared lead; its far ends read both (NEMA MG 1, from memory)."""
    machine = Machine("nine-lead-delta", coil_ohm=0.5)
    assert machine.ohms(("1",), ("4",)) == pytest.approx(0.5, rel=0.003)
    assert machine.ohms(("4",), ("9",)) == pytest.approx(1.0, rel=0.003)
    assert math.isinf(machine.ohms(("1",), ("2",)))


def test_an_open_coil_is_two_opens_in_wye_and_one_double_reading_in_delta():
    assert [math.isinf(ohm) for ohm in lines(Machine(fault="open-coil"))] == [True, True, False]
    healthy = 2 / 3 * 0.25
    opened = lines(Machine("three-lead-delta", fault="open-coil"))
    assert opened == pytest.approx([1.5 * healthy, 3 * healthy, 1.5 * healthy], rel=0.005)


def test_shorted_turns_lower_and_a_joint_raises_the_lines_of_their_coil():
    assert lines(Machine(fault="turns-shorted")) == pytest.approx([0.475, 0.475, 0.5], rel=0.003)
    assert lines(Machine(fault="high-joint")) == pytest.approx([0.5, 0.52, 0.52], rel=0.003)


def test_a_sound_winding_rises_to_twice_in_ten_minutes_and_a_damp_one_stays():
    sound, damp = Machine(), Machine(fault="damp")
    assert sound.insulation(600) / sound.insulation(60) == pytest.approx(2.0, rel=0.01)
    assert sound.insulation(60) == pytest.approx(1e9, rel=0.01)
    assert damp.insulation(600) / damp.insulation(60) == pytest.approx(1.0, rel=0.01)
    assert damp.insulation(60) == pytest.approx(2e6, rel=0.01)
    assert Machine(fault="to-frame").ohms(("1",), ("frame",)) == 2000.0


@given(st.floats(0, 3600), st.floats(0, 3600), st.sampled_from(sorted(FAULTS)))
def test_insulation_never_falls_while_its_voltage_is_on(one, other, fault):
    machine = Machine(fault=fault)
    assert machine.insulation(min(one, other)) <= machine.insulation(max(one, other))


@given(st.sampled_from(sorted(COILS)), st.sampled_from(sorted(FAULTS)), st.data())
def test_probes_turned_round_read_the_same(scheme, fault, data):
    machine = Machine(scheme, fault=fault)
    leads = sorted({end for coil in COILS[scheme] for end in coil} - {"S"})
    red, black = data.draw(st.sampled_from(leads)), data.draw(st.sampled_from(leads))
    assert machine.ohms((red,), (black,)) == pytest.approx(machine.ohms((black,), (red,)))


def test_probes_on_one_point_read_nothing_and_joined_leads_are_one_probe():
    net = [("1", "4", 2.0), ("2", "5", 2.0)]
    assert between(net, ("1",), ("1", "2")) == 0.0
    assert between(net, ("1", "2"), ("4", "5")) == pytest.approx(1.0)


def test_supply_and_amps_of_a_sound_line_and_of_a_lost_one():
    sound, lost = Machine(volts=480, amps=20), Machine(volts=480, amps=20, fault="line-lost")
    assert sound.supply("L1", "L2") == pytest.approx(480, rel=0.005)
    assert sound.supply("L1", "E") == pytest.approx(480 / math.sqrt(3), rel=0.005)
    assert sound.line_amps("L2") == pytest.approx(18, rel=0.01)
    assert lost.supply("L2", "L3") < 50
    assert lost.line_amps("L2") == 0.0
    assert lost.line_amps("L1") > 20
