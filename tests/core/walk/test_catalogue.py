"""The catalogue holds together: everybody can be reached, cleared and condemned, and every text has what it needs."""

from itertools import product

import numpy as np
import pytest

from grimcoil.core.choices import RootCause
from grimcoil.core.circuit.place import Place
from grimcoil.core.decision.rules import ACTIONS
from grimcoil.core.walk.catalogue import STATES, SYMPTOMS, questions, suspects, trials
from grimcoil.core.walk.choose import bits_of
from grimcoil.core.walk.evidence import Panel, answers, expected
from grimcoil.core.walk.faults import line_up

PLACES = [
    Place(),
    Place(wound="delta", protection="breaker", disconnect="local", control="separate", brake="two-lines"),
    Place(starter="star-delta", protector="star-point", many_leads=True),
    Place(starter="autotransformer", protector="brought-out", system="unearthed"),
    Place(starter="drive", protector="control-chain", chain=("stop", "permissive", "protector", "overload", "start")),
]


def test_every_symptom_has_suspects_and_every_suspect_a_symptom():
    fits = [symptom for kind in suspects().values() for symptom in kind.fits]
    assert set(fits) == set(SYMPTOMS)
    assert all(kind.fits for kind in suspects().values())


def test_every_suspect_stands_at_some_position_with_a_cause_and_an_action_we_know():
    standing = {one.name for place in PLACES for one in line_up(place)}
    assert standing == set(suspects())
    causes = {cause.value for cause in RootCause}
    for kind in suspects().values():
        assert kind.action in ACTIONS
        assert set(kind.causes) <= causes
        assert kind.text[0].isupper()


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


@pytest.mark.parametrize("place", PLACES, ids=lambda place: place.starter)
def test_every_test_tells_something_and_every_live_one_warns(place):
    panel = Panel(place)
    flat = [1 / len(panel.suspects)] * len(panel.suspects)
    for trial in trials(place).values():
        assert bits_of(panel, trial, np.array(flat)) > 0, trial.name
        assert trial.why
        assert trial.minutes > 0
        if trial.circuit is not None and (trial.circuit.live or trial.closing):
            assert trial.caution, trial.name


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


def test_every_suspect_is_told_from_a_sound_circuit_by_some_test():
    unseen = set(suspects())
    for place in PLACES:
        panel = Panel(place)
        for (i, one), trial in product(enumerate(panel.suspects), trials(place).values()):
            if one.name not in unseen:
                continue
            if trial.asks:
                row, usual = answers(panel, trial)[i], trial.usual
                if max(abs(row[answer] - usual[answer]) for answer in usual) > 0.2:
                    unseen.discard(one.name)
            else:
                for a, b in trial.between or (("L1", ""), ("L2", ""), ("L3", "")):
                    shown = panel.by_suspect(expected(panel, trial.quantity, trial.circuit, a, b))
                    if abs(shown[i] - sorted(shown)[len(shown) // 2]) > 0.1 * max(shown[i], 1.0):
                        unseen.discard(one.name)
    assert unseen == set()


def test_every_state_is_used():
    used = {trial.state for place in PLACES for trial in trials(place).values()}
    assert used - {""} == set(STATES)
