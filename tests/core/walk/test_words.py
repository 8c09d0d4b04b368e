"""What was done and is asked, in the trade's words; no name of a file in any."""

import re

import pytest

from grimcoil.core.circuit.place import Place, State
from grimcoil.core.fields import LOW_OHM
from grimcoil.core.readings import parse_reading
from grimcoil.core.walk.catalogue import trials
from grimcoil.core.walk.evidence import Measured
from grimcoil.core.walk.words import answer_words, measured_words, pair_words, point_words, trial_words
from tests.core.walk.given import PLACES

NAME_OF_A_FILE = re.compile(r"\b[a-z]+-(?:[LTNFA]\d?|\d)\b|~|\b(?:ohms|volts|amps|drop)-")


def ohms(state, **readings):
    return Measured("ohms", State(supply="off", **state), tuple((*pair.split("~"), parse_reading(text, LOW_OHM))
                    for pair, text in readings.items()))  # fmt: skip


def test_readings_say_value_place_and_state():
    fuses = {f"supply-L{n}~protection-L{n}": "0.1" for n in (1, 2, 3)}
    assert measured_words(Place(), ohms({"fuses": "out"}, **fuses)) == "0.1 Ω each across the fuses, dead"
    earth = {f"lead-{n}~frame": text for n, text in zip((1, 2, 3), ("0.3", "1.1", "OL"), strict=True)}
    said = measured_words(Place(), ohms({"motor": "lifted-at-box"}, **earth))
    assert said == "0.3, 1.1, OL from the motor leads to the frame, dead, motor lifted at its box"


@pytest.mark.parametrize("place", PLACES, ids=lambda place: place.starter)
def test_no_test_no_point_and_no_answer_speaks_as_a_file_does(place):
    for trial in trials(place).values():
        said = [trial_words(place, trial), *(answer_words(trial, answer) for answer in trial.usual)]
        said += [pair_words(place, a, b) for a, b in trial.between]
        assert not [words for words in said if NAME_OF_A_FILE.search(words)], trial.name
    points = place.points() - {f"{kind}-T{n}" for kind in ("star", "delta", "bypass") for n in (1, 2, 3)}
    assert not [point for point in points if NAME_OF_A_FILE.search(point_words(place, point))]
