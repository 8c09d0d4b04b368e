"""From readings to labels, up to what no test can tell."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from grimcoil.core.leads.coupling import Coupling
from grimcoil.core.leads.identify import Puzzle, identify
from grimcoil.core.stator.schemes import SCHEMES
from tests.core.leads.given import SIX, readings
from tests.core.leads.simulated import Motor, solve


@given(st.sampled_from(list(SCHEMES)), st.integers(0, 10_000))
def test_hidden_labels_come_back(scheme, seed):
    """Asking only what it proposes, through a meter with digits, contacts and an unknown coupling."""
    motor = Motor(scheme, seed)
    found, ohms, _ = solve(motor)
    assert motor.is_among(found.candidates)
    assert found.candidates[0].misfit <= 1
    assert not found.contradictions
    assert len(ohms) <= len(motor.leads) * (len(motor.leads) - 1) / 2
    if scheme not in ("three-lead-wye", "three-lead-delta"):
        assert [c.scheme for c in found.candidates] == [scheme]
        assert found.candidates[0].ways == 1


@settings(max_examples=2 * settings.default.max_examples)
@given(st.sampled_from(list(SCHEMES)), st.integers(0, 10_000), st.data())
def test_any_part_of_the_readings_in_any_order_never_rules_out_the_truth(scheme, seed, data):
    motor = Motor(scheme, seed)
    readings = data.draw(st.permutations(motor.all_ohms()))[: data.draw(st.integers(0, 20))]
    found = identify(Puzzle(motor.leads, tuple(readings)))
    assert motor.is_among(found.candidates)


couplings = st.builds(
    Coupling,
    st.sampled_from([(0, 3), (1, 4)]),
    st.sampled_from([(1, 4), (2, 5), (0, 2)]),
    st.sampled_from([(), (3, 4)]),
    st.none() | st.floats(0, 3),
    st.booleans(),
)


@given(st.lists(readings, max_size=5), st.lists(couplings, max_size=3))
def test_nothing_makes_it_raise(ohms, tests):
    found = identify(Puzzle(SIX, tuple(ohms), tuple(tests)))
    assert all(c.text for c in found.contradictions)
    assert found.candidates or found.contradictions or ohms


@pytest.mark.parametrize(("resolution", "both"), [(0.001, False), (0.01, False), (0.1, True), (0.5, True)])
def test_two_groups_alike_are_both_schemes_until_the_meter_can_tell(resolution, both):
    """Part winding has two equal halves, two speeds have two windings of their own: a coarse meter can't tell 5 %."""
    motor = Motor("part-winding", 3, resolution=resolution)
    found = identify(Puzzle(motor.leads, tuple(motor.all_ohms())))
    names = {one.scheme for one in found.candidates if one.fault is None}
    assert "part-winding" in names
    assert ("two-speed-two-winding" in names) == both
