"""The catalogue holds together: everybody can be reached, cleared and condemned, and every text has what it needs."""

import pytest

from grimcoil.core.walk.catalogue import STATES, SYMPTOMS, questions, suspects, trials
from grimcoil.core.walk.evidence import Panel, answers
from grimcoil.core.walk.faults import line_up
from tests.core.walk.given import PLACES


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
    panels = [Panel(place) for place in PLACES]
    for answer in trial.usual:
        shares = {round(row[answer], 6) for panel in panels for row in answers(panel, trial)}
        assert len(shares) > 1, answer
    for panel in panels:
        for row in answers(panel, trial):
            assert sum(row.values()) == pytest.approx(1.0)
            assert min(row.values()) > 0  # an answer is never proof by itself


def test_every_state_is_used():
    used = {trial.state for place in PLACES for trial in trials(place).values()}
    assert used - {""} == set(STATES)
