"""Coupling tests: kicks and needles that stood still."""

from dataclasses import replace

import pytest

from grimcoil.core.leads.coupling import Coupling
from grimcoil.core.leads.identify import Puzzle, identify
from grimcoil.core.leads.next_reading import NextTest
from grimcoil.core.leads.ohms import Path
from tests.core.leads.given import SIX, opened, value
from tests.core.leads.simulated import Motor
from tests.core.quick import some

PAIRS = (value(0, 3, 1.91), value(1, 4, 1.90), value(2, 5, 1.91), opened(0, 1))


@pytest.mark.parametrize(
    ("tests", "b"),
    [
        ((Coupling((0, 3), (0, 1), (3, 4), 1.43), Coupling((0, 3), (0, 2), (3, 5), 1.43)), "2"),
        ((Coupling((0, 3), (0, 1), (3, 4), 0.57), Coupling((0, 3), (0, 2), (3, 5), 1.43)), "5"),
        ((Coupling((0, 3), (1, 4), up=True), Coupling((0, 3), (2, 5), up=True)), "2"),
        ((Coupling((0, 3), (1, 4), up=False), Coupling((0, 3), (2, 5), up=True)), "5"),
        ((Coupling((0, 1), (2, 5), (3, 4), 0.02), Coupling((0, 3), (2, 5), up=True)), "2"),
        ((Coupling((0, 1), (2, 5), (3, 4), 0.75), Coupling((0, 3), (2, 5), up=True)), "5"),
    ],
)
def test_each_kind_of_coupling_test_turns_a_coil_round(tests, b):
    """Joined: about 1.5 like ends, 0.5 unlike; series: near 0 like ends in the middle; kick: up on a start."""
    (six,) = identify(Puzzle(SIX, PAIRS, tests)).candidates
    assert (six.ways, six.markings["B"]) == (1, (b,))


def test_coupling_alone_says_which_leads_belong_together():
    tests = (Coupling((0, 3), (1, 4), (), 0.43), Coupling((0, 3), (2, 5), (), 0.43))
    found = identify(Puzzle(SIX, (), tests))
    best = found.candidates[0]
    assert (best.scheme, best.groups) == ("six-lead", (("A", "D"), ("B", "E"), ("C", "F")))


def test_the_contradicting_coupling_test_is_named():
    tests = tuple(Coupling((0, 3), (1, 4), up=up) for up in (True, True, False))
    found = identify(Puzzle(SIX, PAIRS, tests))
    assert not found.candidates
    assert "odd-coupling" in [c.code for c in found.contradictions]


def kicked(motor):
    """Ohms of every pair, and a kick from each coil into each other."""
    ohms = motor.all_ohms()
    coils = [(r.second, r.first) for r in ohms if r.path is Path.VALUE]
    asked = [NextTest("kick", source=a, across=b) for a in coils for b in coils if a != b and not set(a) & set(b)]
    return tuple(ohms), [motor.couple(test) for test in asked]


@pytest.mark.parametrize("seed", range(6))
def test_a_wrong_kick_is_not_swallowed(seed):
    """A needle seen to move shows a coupling: a marking where nothing should have moved is no answer."""
    motor = Motor("six-lead", seed)
    ohms, kicks = kicked(motor)
    right = identify(Puzzle(motor.leads, ohms, tuple(kicks)))
    assert motor.is_among([one for one in right.candidates if one.misfit < 0.5])
    for i, kick in enumerate(kicks):
        odd = (*kicks[:i], replace(kick, up=not kick.up), *kicks[i + 1 :])
        found = identify(Puzzle(motor.leads, ohms, odd))
        assert not any(one.fault is None for one in found.candidates)
        assert {one.code for one in found.contradictions} & {"odd-coupling", "coupling"}


@pytest.mark.parametrize("seed", range(2))
def test_twelve_leads_take_no_kick_where_nothing_should_move(seed):
    motor = Motor("twelve-lead", seed)
    ohms, kicks = kicked(motor)
    for i in some(range(0, len(kicks), 7)):
        odd = (*kicks[:i], replace(kicks[i], up=not kicks[i].up), *kicks[i + 1 :])
        found = identify(Puzzle(motor.leads, ohms, odd))
        assert not any(one.fault is None and one.ways == 1 for one in found.candidates)


def test_a_needle_that_stood_still_counts():
    motor = Motor("six-lead", 2)
    ohms, kicks = kicked(motor)
    still = identify(Puzzle(motor.leads, ohms, (*kicks, replace(kicks[0], up=None))))
    assert not any(one.fault is None for one in still.candidates)
    assert "odd-coupling" in [one.code for one in still.contradictions]
