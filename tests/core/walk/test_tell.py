"""A walk in words."""

import pytest

from grimcoil.core.circuit.place import Place
from grimcoil.core.walk.catalogue import SYMPTOMS
from grimcoil.core.walk.tell import element_states, end_words, findings_of, name_of, name_of_end, so_far
from grimcoil.core.walk.walk import walk
from tests.core.walk.given import CONTACTOR, DEAD, LOOK, across, answer, pairs
from tests.core.walk.given import earth as earth_of


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
    assert name_of_end(one) == end_words(one) == ""
    assert findings_of(one) == []
    assert all(name_of(standing) for standing in one.standings)


def test_a_verdict_on_the_chain_names_the_contact_by_what_was_read():
    points = ("control-F", "chain-1", "chain-2", "chain-3", "chain-4", "coil-A1")
    shown = ("110", "110", "0", "0", "0", "0")
    volts = {f"{point}~control-N": text for point, text in zip(points, shown, strict=True)}
    held = {"quantity": "volts-ac", "state": {"supply": "on", "at": "start"}, "readings": volts}
    chain = ["stop", "permissive", "overload", "start"]
    told = answer("dead-silent", [LOOK, CONTACTOR, held], control_supply="L1-L2", control_chain=chain)
    assert told["verdict"]["text"] == "The control chain is open at “permissive” (chain-2)"


def test_a_lost_line_that_feeds_the_control_circuit_explains_what_comes_back():
    """Figures of the table of numbers: fuse 1 out, control from L1 and L2, at rest 0, 481 and 269 V."""
    at_rest = {"test": "volts-line-side", "readings": pairs("line-L", "0", "481", "269")}
    above = {"test": "volts-supply", "readings": pairs("supply-L", "480", "481", "479")}
    fuse = {"test": "ohms-protection", "readings": across("supply-L", "protection-L", "OL", "0.2", "0.2")}
    earth = {"test": "insulation-load-earth", "readings": earth_of("overload-T", "500M", "500M", "500M")}
    whole = {"test": "ohms-overload-out", "readings": pairs("overload-T", "1.1", "1.1", "1.1")}
    told = answer("dead-silent", [LOOK, at_rest, above, DEAD, fuse, earth, whole], control_supply="L1-L2")
    assert (told["verdict"]["suspect"], told["verdict"]["line"]) == ("fuse-blown", "L1")
    assert "back-feed" in [one["code"] for one in told["findings"]]
    other = answer("dead-silent", [LOOK, at_rest, above, DEAD, fuse, earth, whole], control_supply="separate")
    assert "back-feed" not in [one["code"] for one in other["findings"]]
