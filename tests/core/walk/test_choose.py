"""Tests that tell something."""

from dataclasses import replace

import numpy as np
import pytest

from grimcoil.core.walk.catalogue import trials
from grimcoil.core.walk.choose import CHEAPER, METERED, bits_of, bits_of_both, choices
from grimcoil.core.walk.panel import Panel
from grimcoil.core.walk.safety import Guard, proofs_needed
from tests.core.walk.given import PLACES


@pytest.mark.parametrize("place", PLACES, ids=lambda place: place.starter)
def test_every_test_tells_something_and_every_live_one_warns(place):
    panel = Panel(place)
    flat = [1 / len(panel.owner)] * len(panel.owner)
    for trial in trials(place).values():
        assert bits_of(panel, trial, np.array(flat)) > 0 or trial.needs == "feeds", trial.name
        assert trial.why
        assert trial.minutes > 0
        if trial.circuit is not None and (trial.circuit.live or trial.closing):
            assert trial.caution, trial.name


@pytest.mark.parametrize("place", PLACES, ids=lambda place: place.starter)
def test_two_answers_tell_no_less_than_one_and_no_more_than_both_apart(place):
    panel = Panel(place)
    dice = np.random.default_rng(1)
    known = list(trials(place).values())
    for belief in dice.dirichlet(np.full(len(panel.owner), 0.2), 3):
        for first, second in zip(known, known[7:], strict=False):
            one, other = (bits_of(panel, trial, belief) for trial in (first, second))
            both = bits_of_both(panel, first, second, belief)
            assert both >= METERED * max(one, other) - 1e-9, (first.name, second.name)
            assert both <= (one + other) / METERED + 1e-9, (first.name, second.name)
            assert both == pytest.approx(bits_of_both(panel, second, first, belief))


def test_the_same_test_twice_tells_nothing_more():
    panel = Panel(PLACES[0])
    flat = np.full(len(panel.owner), 1 / len(panel.owner))
    for trial in trials(PLACES[0]).values():
        if not trial.asks:
            assert bits_of_both(panel, trial, trial, flat) == pytest.approx(bits_of(panel, trial, flat))


# What was read at the panel already, so that only the box is left.
AT_PANEL = (
    "ohms-overload-out", "breaker-look", "overload-look", "burn-look", "changed-lately", "insulation-load-earth",
    "ohms-load-earth", "look-closed",
)  # fmt: skip


def found(guard):
    """What is chosen where only cable, box and winding are left, and nothing may be closed."""
    place = replace(PLACES[1], disconnect="none")
    panel = Panel(place)
    motor = np.array([1.0 if one.element in ("winding", "cable", "box") else 0.0 for one in panel.suspects])
    inside = panel.of_variants(motor) * panel.weights
    made = choices(panel, guard, inside / inside.sum(), AT_PANEL, "most-telling", blown=False, every=True)
    return {one.trial.name: one for one in made}, made


def test_a_way_is_shared_and_only_a_way_that_is_shared():
    guard = Guard(tripped=True)
    known, made = found(guard)
    paired = [one for one in made if one.then]
    assert paired[0] is made[0]
    for one in paired:
        other = known[one.then]
        assert proofs_needed(guard, one.trial) == proofs_needed(guard, other.trial) == ["panel", "motor-box"]
        assert one.worth == one.ahead > CHEAPER * max(each.alone for each in made)
        assert one.alone >= other.alone
    again, _ = found(Guard(tripped=True, off=True, proved=frozenset({"panel", "motor-box"})))
    assert not any(one.then for one in again.values())


def test_the_most_worth_comes_first():
    _, made = found(Guard(tripped=True))
    assert [one.worth for one in made] == sorted((one.worth for one in made), reverse=True)
