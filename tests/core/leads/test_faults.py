"""Faults that mimic another scheme, told with their leads."""

import pytest

from grimcoil.core.leads.identify import Puzzle, identify
from grimcoil.core.stator.network import Fault
from grimcoil.core.stator.schemes import SCHEMES
from tests.core.leads.given import MANY_LEADS, faults_of
from tests.core.leads.simulated import Motor
from tests.core.quick import some


@pytest.mark.parametrize(
    ("scheme", "fault", "kind"),
    [
        ("three-lead-wye", Fault(opened=("1-4",)), {"open-coil", "lead-off"}),
        ("nine-lead-wye", Fault(opened=("9-12",)), {"open-coil", "lead-off"}),
        ("nine-lead-delta", Fault(opened=("7-10",)), {"open-coil"}),
        ("twelve-lead", Fault(lifted=("5",)), {"open-coil", "lead-off"}),
        ("six-lead", Fault(leaks=(("1", "2", 40.0),)), {"leak"}),
        ("nine-lead-wye", Fault(scaled=(("2-5", 0.7),)), {"coil-off"}),
    ],
)
def test_a_fault_that_mimics_another_scheme_is_told_with_its_leads(scheme, fault, kind):
    motor = Motor(scheme, 7, resolution=0.001, fault=fault)
    found = identify(Puzzle(motor.leads, tuple(motor.all_ohms())))
    best = found.candidates[0]
    assert best.scheme == scheme
    assert best.fault.kind in kind
    assert best.misfit <= 1
    assert set(best.fault_between) <= set(motor.leads)
    assert best.fault_between


@pytest.mark.parametrize("scheme", MANY_LEADS)
def test_a_faulty_motor_is_never_met_with_silence(scheme):
    """Candidate or contradiction, and a next reading wherever nothing sound is left."""
    for seed in (3, 8):
        for kind, fault in some(list(faults_of(scheme, seed))):
            motor = Motor(scheme, seed, resolution=0.001, fault=fault)
            found = identify(Puzzle(motor.leads, tuple(motor.all_ohms())))
            assert found.candidates or found.contradictions, (kind, fault)
            if all(one.fault for one in found.candidates):
                assert found.contradictions, (kind, fault)
                assert found.next_test is not None, (kind, fault)


@pytest.mark.parametrize("scheme", ["six-lead", "nine-lead-wye", "twelve-lead", "two-speed-one-winding-wye"])
@pytest.mark.parametrize("factor", [0.3, 1.7, 2.9, 7.0])
def test_a_coils_factor_is_searched_not_stepped(scheme, factor):
    coil = SCHEMES[scheme].coils[0].name
    motor = Motor(scheme, 4, resolution=0.0001, fault=Fault(scaled=((coil, factor),)))
    motor.dice.gauss = lambda *_: 0.0
    found = identify(Puzzle(motor.leads, tuple(motor.all_ohms())))
    best = next(one for one in found.candidates if one.scheme == scheme and one.fault and one.fault.kind == "coil-off")
    ratio = best.fault.size / 100
    assert min(abs(ratio / factor - 1), abs(ratio * factor - 1)) < 0.03


@pytest.mark.parametrize("scheme", ["two-speed-one-winding-delta", "two-speed-one-winding-wye", "nine-lead-delta"])
def test_a_leak_within_one_winding_is_told_with_its_leads_and_ohms(scheme):
    a, b = SCHEMES[scheme].labels[0], SCHEMES[scheme].labels[4]
    motor = Motor(scheme, 5, resolution=0.0001, fault=Fault(leaks=((a, b, 3.0),)))
    motor.dice.gauss = lambda *_: 0.0
    found = identify(Puzzle(motor.leads, tuple(motor.all_ohms())))
    leak = next(one.fault for one in found.candidates if one.scheme == scheme and one.fault.kind == "leak")
    assert leak.misfit < 0.5
    assert leak.size == pytest.approx(3.0 * 0.95, rel=0.25)


def test_two_windings_with_one_coil_open_are_told_at_their_own_ohms():
    motor = Motor("two-speed-two-winding", 6, resolution=0.001, fault=Fault(opened=("2",)))
    found = identify(Puzzle(motor.leads, tuple(motor.all_ohms())))
    assert "two-speed-two-winding" in [one.scheme for one in found.candidates if one.fault]
