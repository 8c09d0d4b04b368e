"""Entries folded: what a start did, what was read twice, what was mended."""

import json
from random import Random

import pytest

from grimcoil.core.walk.catalogue import trials
from grimcoil.core.walk.ending import PAIRS
from grimcoil.exchange.walks import read_walk, walked
from tests.at_plant import done_at
from tests.core.quick import some
from tests.core.walk.given import DEAD, LOOK, OUTGOING, answer, pairs
from tools.plants.play import singles

AMPS = {"test": "amps-start", "readings": {"L1": "0", "L2": "0", "L3": "0"}}


def belief(told, name):
    return sum(one["belief"] for one in told["suspects"] if one["suspect"] == name)


def test_a_start_asked_for_is_no_contactor_in_and_the_walk_asks_what_it_did():
    told = answer("dead-silent", [LOOK, AMPS])
    assert told["next"]["test"] == "contactor-did"
    assert told["next"]["answers"] == ["in", "out", "chatters"]
    out = answer("dead-silent", [LOOK, AMPS, {"test": "contactor-did", "answer": "out"}])
    assert belief(out, "control-chain-open") + belief(out, "contactor-coil-open") > 0.3
    came = answer("dead-silent", [LOOK, AMPS, {"test": "contactor-did", "answer": "in"}])
    assert belief(came, "control-chain-open") < 0.05
    assert came["next"]["test"] != "contactor-did"


def test_what_flows_tells_by_itself_that_it_came_in():
    told = answer("hums", [LOOK, AMPS | {"readings": {"L1": "104", "L2": "103", "L3": "0"}}])
    assert told["next"]["test"] != "contactor-did"


def test_a_reading_that_differs_from_the_one_before_is_named_with_both_and_read_again():
    again = OUTGOING | {"readings": pairs("overload-T", "1.1", "1.1", "1.1")}
    told = answer("hums", [LOOK, DEAD, OUTGOING, again])
    assert told["next"]["test"] == "ohms-overload-out"
    assert any("overload-T1~overload-T2 OL" in said and "1.1" in said for said in told["contradictions"])
    assert told["verdict"] is None
    third = answer("hums", [LOOK, DEAD, OUTGOING, again, again])
    assert third["contradictions"] == []
    assert belief(third, "winding-open") < 0.05  # two of three


def test_the_same_value_again_is_none():
    told = answer("hums", [LOOK, DEAD, OUTGOING, OUTGOING])
    assert told["contradictions"] == []


@pytest.mark.parametrize("reading", ["control-F~earth", "coil-A1~line-L2", "chain-1~load-L3", "frame~earth"])
def test_every_pair_of_points_is_read(reading):
    entry = {"quantity": "volts-ac", "state": {"supply": "on"}, "readings": {reading: "110"}}
    assert answer("dead-silent", [LOOK, entry])["next"] is not None


def test_where_the_control_supply_comes_from_is_asked_before_anything_rests_on_it():
    known = answer("dead-silent", [LOOK, {"test": "look-closed", "answer": "nothing"}], control_supply="L1-L2")
    asked = answer("dead-silent", [LOOK, {"test": "look-closed", "answer": "nothing"}])
    assert known["next"]["test"] == "volts-chain"
    assert asked["next"]["test"] == "control-supply-ask"
    assert asked["next"]["answers"] == ["lines", "transformer", "separate", "unknown"]


def test_a_lost_line_takes_a_control_that_hangs_on_it_and_no_other():
    dead = {"quantity": "volts-ac", "state": {"supply": "on"}, "readings": {"control-L~control-N": "0"}}
    told = {feed: answer("dead-silent", [LOOK, dead], control_supply=feed) for feed in ("L1-L2", "separate")}
    lost = {feed: belief(one, "supply-line-lost") for feed, one in told.items()}
    assert lost["L1-L2"] > 10 * lost["separate"]


ACTS = {"start-try", "overload-reset", "breaker-reclose", "uncoupled-run", "prove-dead", "contactor-did"}


def everything(at, dice):
    """All that can be read and seen at a plant, in any order."""
    _, place, _ = read_walk(json.dumps(at.document([])))
    known = [trial for name, trial in trials(place).items() if name not in ACTS]
    dice.shuffle(known)
    return place, [done_at(at, trial) for trial in known]


def test_after_all_readings_in_any_order_the_true_one_is_first_and_no_less_likely_than_before():
    """Or one that no test tells from it."""
    first, risen, plants = 0, 0, some(singles(20, "all"))
    for number, at in enumerate(plants):
        truth = at.faults[0]
        before = walked(json.dumps(at.document([])))
        _, done = everything(at, Random(number))
        after = walked(json.dumps(at.document(done)))
        alike = {truth.name}.union(*(names for names, _ in PAIRS if truth.name in names))
        first += after["suspects"][0]["suspect"] in alike or after["suspects"][0]["suspect"] == "overload-tripped"
        share = [sum(one["belief"] for one in told["suspects"] if one["suspect"] in alike) for told in (before, after)]
        risen += share[1] >= share[0]
        assert not at.unsafe or all("not proved" in said or "short" in said for said in at.unsafe)
    assert first >= 0.95 * len(plants)
    assert risen >= 0.95 * len(plants)


def test_the_order_of_readings_changes_no_belief():
    at = singles(1, "order")[0]
    _, done = everything(at, Random(1))
    told = [walked(json.dumps(at.document(list(each)))) for each in (done, done[::-1])]
    beliefs = [{(one["suspect"], one["line"]): one["belief"] for one in each["suspects"]} for each in told]
    assert beliefs[0] == pytest.approx(beliefs[1], abs=0.02)
