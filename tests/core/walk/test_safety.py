"""Thousands of random plants and answers: no order of them brings an unsafe step."""

import json
from dataclasses import replace
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.circuit.place import State
from grimcoil.core.fields import INSULATION, WINDING
from grimcoil.core.readings import parse_reading
from grimcoil.core.walk.catalogue import suspects, trials
from grimcoil.core.walk.entries import Entry
from grimcoil.core.walk.evidence import Measured
from grimcoil.core.walk.safety import TRIPS, Guard, Ohms, after_answer, after_measuring, allowed, begun, proofs_needed
from grimcoil.core.walk.tell import findings_of
from grimcoil.core.walk.walk import PROVE_DEAD, walk
from grimcoil.exchange.walks import walked
from tests.core.quick import some
from tests.core.walk.given import PLACES
from tools.bench_walk import unsafe
from tools.plants.circuit import Site
from tools.plants.faults import FAULTS, makers
from tools.plants.person import left, plant, site
from tools.plants.play import doubles, play, play_two, singles

ORDERS_TRIED = ("most-telling", "motor-to-supply", "control-first", "overload-first", "from-local")


@given(st.integers(0, 10**6), st.sampled_from(ORDERS_TRIED), st.data())
def test_no_step_is_unsafe_whatever_is_answered(seed, order, data):
    """Unsafe is what is true at the plant: dead work that isn't, a closing onto its short."""
    at = plant(Random(seed))
    done = []
    for _ in range(10):
        told = walked(json.dumps(at.document(done, order)))
        if told["next"] is None:
            return
        entry = at.entry(told["next"])
        if told["next"]["answers"] and told["next"]["test"] not in ("breaker-look", "start-try", "breaker-reclose"):
            entry["answer"] = data.draw(st.sampled_from(told["next"]["answers"]))
        at.off = at.off and entry["answer"] != "live" if "answer" in entry else at.off
        done.append(entry)
        assert at.unsafe == []


def test_plants_are_found_without_condemning_the_sound():
    walks = [play(one) for one in some(singles(24, "eleven"))]
    assert unsafe(walks) == []
    assert [one.truth[0].name for one in walks if not one.found] == []


def test_of_two_faults_one_is_found_first_and_nothing_unsafe_is_done():
    walks = [play_two(one)[0] for one in some(doubles(15, "three"))]
    assert unsafe(walks) == []
    assert sum(one.found for one in walks) >= 0.9 * len(walks)


def plant_of(name):
    """A plant that has this fault."""
    dice = Random(name)
    for _ in range(200):
        at = site(dice)
        if name in makers(at):
            return left(at, [FAULTS[name](at, dice)], dice)
    raise AssertionError(f"{name}: at no position")


@pytest.mark.parametrize("name", some(sorted(FAULTS)))
def test_every_fault_is_found_or_handed_over_where_it_is(name):
    played = play(plant_of(name))
    assert (played.found, unsafe([played])) == (True, []), played.done


def test_the_plants_know_every_suspect_but_what_has_no_sign_of_its_own():
    """`reduced-voltage-not-full` needs a starter that the plants don't have."""
    assert {FAULTS[name](Site(), Random(1)).name for name in FAULTS} >= set(suspects()) - {"reduced-voltage-not-full"}


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
    sets = (frozenset({1, 2}), frozenset({2, 3}), frozenset({1, 3}))
    read = dict(zip(sets, (Ohms(share * likely) for share in pairs), strict=False))
    guard = Guard(earth=dict.fromkeys((1, 2, 3), (earth, 1.0)), pairs=read)
    assert guard.clear(place) == clear
    assert not replace(guard, earth={1: (earth, 1.0)}).clear(place)


def cold(motor="connected"):
    return State(supply="off", motor=motor)


def looked(*readings, motor="connected", quantity="ohms"):
    read = tuple(
        (a, b, parse_reading(text, INSULATION if quantity == "insulation" else WINDING)) for a, b, text in readings
    )
    return Measured(quantity, cold(motor), read)


NEXT = ((1, 2), (2, 3), (3, 1))
EARTH = [(f"overload-T{n}", "earth", "300M") for n in (1, 2, 3)]
TO_EARTH = looked(*EARTH, quantity="insulation")
AT_BOX = "lifted-at-box"
OF_MOTOR = looked(*((f"lead-{n}", "frame", "300M") for n in (1, 2, 3)), motor=AT_BOX, quantity="insulation")
OF_CABLE = looked(*EARTH, motor=AT_BOX, quantity="insulation")


def cores(text):
    return looked(*((f"box-T{a}", f"box-T{b}", text) for a, b in NEXT), motor=AT_BOX)


def shown(*entries, place=PLACES[0]):
    guard = begun("trips-at-once")
    for number, one in enumerate(entries):
        guard = after_measuring(guard, place, number, one)
    return guard.clear(place)


def ohm(share):
    return f"{share * 2 * PLACES[0].phase_ohm:.3f}"


def three(at, share=1.0):
    return [(f"{at}{a}", f"{at}{b}", ohm(share)) for a, b in NEXT]


TWICE = (("overload-T1", "overload-T2"), ("overload-T2", "overload-T1"), ("overload-T2", "overload-T3"))
STARTER = "lifted-at-starter"


@pytest.mark.parametrize(
    ("entries", "clear"),
    [
        ((looked(*three("overload-T")), TO_EARTH), True),
        ((looked(*((a, b, ohm(1)) for a, b in TWICE)), TO_EARTH), False),  # one pair twice, and reversed, is one
        ((looked(*three("overload-T"), motor=AT_BOX), OF_CABLE), False),  # the cable alone says nothing of the motor
        ((looked(*three("overload-T"), motor=STARTER), looked(*EARTH, motor=STARTER, quantity="insulation")), False),
        ((looked(*three("overload-T", 0.02)), TO_EARTH), False),  # three legs shorted alike
        ((cores("OL"), OF_CABLE, looked(*three("lead-"), motor=AT_BOX), OF_MOTOR), True),
        ((cores("0.2"), OF_CABLE, looked(*three("lead-"), motor=AT_BOX), OF_MOTOR), False),
    ],
)
def test_clear_is_of_everything_that_closing_will_feed(entries, clear):
    assert shown(*entries) == clear


def test_uncoupling_needs_its_own_lock_and_proof():
    """Hands on a coupling: whatever came before, live tests too."""
    place = PLACES[0]
    uncoupled = trials(place)["uncoupled-run"]
    assert proofs_needed(Guard(), uncoupled) == ["panel"]
    assert proofs_needed(Guard(off=True, proved=frozenset({"panel"})), uncoupled) == []
    for name, trial in trials(place).items():
        hands = trial.circuit is not None and (trial.circuit.motor != "connected" or trial.circuit.load == "uncoupled")
        assert not hands or proofs_needed(Guard(), trial), name


def test_live_at_a_proof_is_a_stop_until_it_is_proved_dead():
    found = [Entry(PROVE_DEAD, answer="live", where="panel")]
    for symptom in ("hums", "blows-fuse", "dead-silent"):
        made = walk(PLACES[0], symptom, "most-telling", found)
        assert made.next.trial.name == "prove-dead"
        assert "found-live" in [one.code for one in findings_of(made)]
        again = walk(PLACES[0], symptom, "most-telling", [*found, Entry(PROVE_DEAD, answer="dead", where="panel")])
        assert "found-live" not in [one.code for one in findings_of(again)]


@pytest.mark.parametrize("symptom", sorted(TRIPS))
def test_after_a_trip_nothing_live_follows_until_the_load_side_is_clear(symptom):
    for place in PLACES:
        guard = begun(symptom)
        for trial in trials(place).values():
            if trial.circuit is not None and trial.circuit.live:
                assert not allowed(guard, place, trial, blown=False), trial.name


def test_what_tripped_is_closed_first_with_the_door_shut_and_nothing_measured_live():
    """Common practice: after a short nobody stands at an open panel while it is closed for the first time."""
    place = PLACES[0]
    likely = place.phase_ohm * (2 if place.wound == "wye" else 2 / 3)
    sets = (frozenset({1, 2}), frozenset({2, 3}), frozenset({1, 3}))
    clear = Guard(tripped=True, earth=dict.fromkeys((1, 2, 3), (5e8, 1e6)), pairs=dict.fromkeys(sets, Ohms(likely)))
    assert clear.clear(place)
    known = trials(place)
    live = [one for one in known.values() if one.circuit is not None and one.circuit.live and one.quantity != "look"]
    offered = {one.name for one in live if allowed(clear, place, one, blown=False)}
    assert offered <= {"breaker-reclose", "start-try"}
    tried = known["start-try"]
    assert allowed(clear, place, tried, blown=False)
    held = after_answer(clear, 3, tried, "hums", "panel")
    assert allowed(held, place, known["amps-start"], blown=False)
    for name, answer in (("breaker-reclose", "will-not-latch"), ("start-try", "nothing")):
        fed = after_answer(clear, 3, known.get(name, tried), answer, "panel")
        assert not allowed(fed, place, known["amps-start"], blown=False)  # the load side was never closed
    again = after_answer(clear, 3, tried, "blows", "panel")
    assert not again.held
    assert not allowed(again, place, tried, blown=False)
