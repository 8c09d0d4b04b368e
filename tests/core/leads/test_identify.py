"""From readings to labels, up to what no test can tell."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from grimcoil.core.leads.coupling import Coupling
from grimcoil.core.leads.identify import Puzzle, identify
from grimcoil.core.leads.ohms import OhmReading, Path
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


def two_groups(low, high, half_width, **more):
    ohms = [
        OhmReading(a, b, Path.VALUE, low if a < 3 else high, half_width)
        for a, b in ((0, 1), (1, 2), (0, 2), (3, 4), (4, 5), (3, 5))
    ] + [OhmReading(a, b, Path.OPEN) for a in range(3) for b in range(3, 6)]
    found = identify(Puzzle(SIX, tuple(ohms), **more))
    return next((one for one in found.candidates if one.scheme == "two-speed-two-winding" and not one.fault), None)


def test_groups_that_a_coarse_meter_shows_alike_are_not_marked_low_and_high_speed():
    coarse, fine = two_groups(0.9, 0.8, 0.05), two_groups(0.90, 0.80, 0.005)
    assert any("low speed" in words for words in coarse.free)
    assert all(
        any(label.startswith("1") and len(label) == 2 for label in labels) for labels in coarse.markings.values()
    )
    assert all(any(len(label) == 1 for label in labels) for labels in coarse.markings.values())
    assert not any("low speed" in words for words in fine.free)
    assert [len(labels[0]) for labels in fine.markings.values()] == [1, 1, 1, 2, 2, 2]
    swapped = two_groups(0.80, 0.90, 0.005)
    assert [len(labels[0]) for labels in swapped.markings.values()] == [2, 2, 2, 1, 1, 1]


@pytest.mark.parametrize(
    ("test", "stays"),
    [
        (Coupling((0, 1), (3, 4), (), 0.45), False),
        (Coupling((0, 1), (3, 4), (), None, True), False),
        (Coupling((0, 1), (3, 4), (), None, None), True),
        (Coupling((0, 1), (3, 4), (), 0.02), True),
        (Coupling((0, 1), (1, 2), (), 0.45), True),
    ],
)
def test_coupling_between_groups_speaks_against_two_windings(test, stays):
    assert (two_groups(0.9, 0.8, 0.05, coupling=(test,)) is not None) == stays
