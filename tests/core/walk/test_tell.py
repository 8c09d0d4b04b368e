"""A walk in words."""

import pytest

from grimcoil.core.circuit.place import Place
from grimcoil.core.walk.catalogue import SYMPTOMS
from grimcoil.core.walk.tell import element_states, findings_of, name_of, name_of_end, so_far
from grimcoil.core.walk.walk import walk


def made(symptom="hums", entries=()):
    return walk(Place(), symptom, "most-telling", list(entries))


@pytest.mark.parametrize("symptom", sorted(SYMPTOMS))
def test_a_walk_just_begun_says_what_is_complained_of_and_what_comes_next(symptom):
    told = so_far(made(symptom))
    assert told.startswith(f"The complaint: {SYMPTOMS[symptom]}.")
    assert "Left: " in told
    assert "Next, at the " in told
    assert "{" not in told


def test_every_element_has_a_state_and_nothing_is_condemned_by_silence():
    one = made()
    states = element_states(one, ("supply", "contactor", "nowhere"))
    assert set(states) == {"supply", "contactor"}
    assert all(state in ("suspect", "untested", "cleared") for state, _ in states.values())
    assert name_of_end(one) == ""
    assert findings_of(one) == []
    assert all(name_of(standing) for standing in one.standings)
