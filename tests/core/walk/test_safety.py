"""Thousands of random plants and answers: no order of them brings an unsafe step."""

from dataclasses import replace
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.bench.plant import Plant, double_plants, plants, random_place
from grimcoil.core.walk.catalogue import SYMPTOMS, suspects, trials
from grimcoil.core.walk.faults import line_up
from grimcoil.core.walk.safety import TRIPS, Guard
from grimcoil.core.walk.walk import PROVE_DEAD, Entry, walk
from tests.core.quick import some
from tests.core.walk.given import PLACES
from tools.bench_walk import entry_of, one_walk, unsafe


@given(st.integers(0, 10**6), st.data())
def test_no_step_is_unsafe_whatever_is_answered(seed, data):
    dice = Random(seed)
    place = random_place(dice)
    symptom = data.draw(st.sampled_from(sorted(SYMPTOMS)))
    order = data.draw(st.sampled_from(["most-telling", "motor-to-supply", "control-first"]))
    plant = plants(1, seed)[0]
    entries = []
    for _ in range(8):
        made = walk(place, symptom, order, entries)
        assert not unsafe(made)
        if made.next is None:
            return
        trial = made.next.trial
        if trial.quantity == "prove-dead":
            answer = data.draw(st.sampled_from(["dead", "dead", "live"]))
            entries.append(Entry(PROVE_DEAD, answer=answer, where=made.next.where))
        elif trial.asks:
            entries.append(Entry(trial, answer=data.draw(st.sampled_from(sorted(trial.usual)))))
        elif trial.name in trials(plant.place) and plant.place == place:
            entries.append(entry_of(plant, trial.name, made.next.where))
        else:
            entries.append(Entry(skip=trial.name))


@pytest.mark.parametrize("symptom", sorted(TRIPS))
def test_after_a_trip_nothing_is_closed_until_the_load_side_is_shown_clear(symptom):
    for plant in [one for one in plants(60, 7) if one.symptom == symptom][:5]:
        entries = []
        for _ in range(12):
            made = walk(plant.place, plant.symptom, "most-telling", entries)
            if made.next is None:
                break
            following = made.next
            if following.trial.closing or following.state.closing:
                assert made.guard.clear(plant.place)
            entries.append(entry_of(plant, following.trial.name, following.where))


def test_random_plants_are_found_without_condemning_the_sound():
    walks = [one_walk(plant) for plant in some(plants(24, 11))]
    assert sum(one.unsafe for one in walks) == 0
    assert sum(one.found for one in walks) == len(walks)
    assert sum(one.condemned_sound for one in walks) == 0


def test_of_two_faults_one_is_found_first_and_nothing_unsafe_is_done():
    walks = [one_walk(plant) for plant in some(double_plants(15, 3))]
    assert sum(one.unsafe for one in walks) == 0
    assert sum(one.found for one in walks) >= 0.9 * len(walks)


def plant_of(name):
    """A position that has this suspect, with it as its fault and what it makes people complain of."""
    dice = Random(5)
    for place in (*PLACES, *(random_place(dice) for _ in range(20))):
        fault = next((one for one in line_up(place) if one.name == name), None)
        if fault is not None:
            return Plant(place, fault, 0, max(fault.kind.fits, key=fault.kind.fits.get), 7)
    raise AssertionError(f"{name}: at no position")


@pytest.mark.parametrize("name", some(sorted(suspects())))
def test_every_suspect_is_found_or_handed_over_where_it_is_the_fault(name):
    walked = one_walk(plant_of(name))
    assert (walked.found, walked.condemned_sound, walked.unsafe) == (True, False, 0), walked.steps


@pytest.mark.parametrize(
    ("pairs", "earth", "clear"),
    [
        ((1.0, 1.0, 1.0), 2.0, True),
        ((0.3, 0.3, 0.3), 2.0, True),  # on the least share of the likely ohms
        ((0.29, 0.29, 0.29), 2.0, False),  # three pairs shorted alike
        ((0.0, 0.0, 0.0), 2.0, False),
        ((1.0, 1.0, 1.59), 2.0, True),
        ((1.0, 1.0, 1.6), 2.0, False),
        ((1.0, 1.0), 2.0, False),
        ((1.0, 1.0, 1.0), 1.0, True),  # on the least to earth
        ((1.0, 1.0, 1.0), 0.99, False),
    ],
)
@pytest.mark.parametrize("wound", ["wye", "delta"])
def test_clear_is_three_pairs_near_the_likely_ohms_and_three_lines_to_earth(pairs, earth, clear, wound):
    """Pairs in parts of what the plate makes likely: two phases of a wye, two thirds of one of a delta."""
    place = replace(PLACES[0], wound=wound)
    likely = place.phase_ohm * (2 if wound == "wye" else 2 / 3)
    read = dict(zip(((1, 2), (2, 3), (1, 3)), (share * likely for share in pairs), strict=False))
    guard = Guard(earth=dict.fromkeys((1, 2, 3), (earth, 1.0)), pairs=read)
    assert guard.clear(place) == clear
    assert not replace(guard, earth={1: (earth, 1.0)}).clear(place)
