"""Readings as evidence: any order, taken back, two faults."""

import pytest

from tests.core.walk.given import WALKS, answer


@pytest.mark.parametrize("name", WALKS)
def test_the_order_of_readings_changes_nothing(name):
    symptom, done, end = WALKS[name]
    acts = [one for one in done if one.get("test") == "prove-dead"]
    rest = [one for one in done if one not in acts]
    told = answer(symptom, [*acts, *reversed(rest)])
    assert told["suspects"][0]["suspect"] == end[0]


def test_taken_back_is_as_if_it_had_never_been():
    symptom, done, _ = WALKS["hums, OL at the box"]
    assert answer(symptom, done[:3]) == answer(symptom, [one for one in done if one in done[:3]])
    assert answer(symptom, done[:3])["verdict"] is None
