"""The catalogue holds together: everybody can be reached, cleared and condemned, and every text has what it needs."""

import numpy as np
import pytest

from grimcoil.core.walk.catalogue import STATES, SYMPTOMS, questions, suspects, trials
from grimcoil.core.walk.evidence import shares
from grimcoil.core.walk.faults import line_up
from grimcoil.core.walk.panel import Panel
from tests.core.walk.given import PLACES

# What feeds the control circuit is asked to know the circuit; a brake that isn't there is no sign of anything.
SAYS_NOTHING = {("brake-look", "none"), *(("control-supply-ask", a) for a in questions()["control-supply-ask"].usual)}


def test_every_symptom_has_suspects_and_every_suspect_a_symptom():
    fits = [symptom for kind in suspects().values() for symptom in kind.fits]
    assert set(fits) == set(SYMPTOMS)
    assert all(kind.fits for kind in suspects().values())


@pytest.mark.parametrize("place", PLACES, ids=lambda place: place.starter)
def test_only_what_the_position_has_is_suspected_and_measured(place):
    names = {one.name for one in line_up(place)}
    assert ("fuse-blown" in names) == (place.protection == "fuses")
    assert ("breaker-tripped" in names) == (place.protection == "breaker")
    assert ("brake-not-lifting" in names) == (place.brake != "none")
    points = place.points()
    for trial in trials(place).values():
        assert {point for pair in trial.between for point in pair} <= points
        if trial.quantity in ("ohms", "insulation"):
            assert not trial.circuit.live
            touched = {point for pair in trial.between for point in pair}
            assert not touched & place.live_when_off() or trial.circuit.fuses == "out"
        if trial.quantity == "insulation":
            assert not place.electronics


@pytest.mark.parametrize("trial", questions().values(), ids=lambda trial: trial.name)
def test_every_answer_moves_something(trial):
    rows = np.concatenate([shares(Panel(place), trial) for place in PLACES])
    for number, answer in enumerate(trial.usual):
        assert len(set(rows[:, number].round(6))) > 1 or (trial.name, answer) in SAYS_NOTHING, answer
    assert rows.sum(axis=1) == pytest.approx(1.0)
    assert rows.min() > 0  # an answer is never proof by itself


def test_every_state_is_used():
    used = {trial.state for place in PLACES for trial in trials(place).values()}
    assert used - {""} == set(STATES)
