"""Manners of the trade: what comes before what (common practice without source)."""

import pytest

from tests.core.walk.given import LOOK, answer, pairs

CLOSED = {"test": "look-closed", "answer": "nothing"}
CHANGED = {"test": "changed-lately", "answer": "nothing"}
LOOKED = [LOOK, CLOSED, CHANGED]


def offered_by(told):
    return [told["next"]["test"], *(one["test"] for one in told["others"])]


CONTROL = {"volts-coil", "volts-chain", "volts-control", "volts-control-fuse", "volts-coil-rest", "contactor-look"}


def test_hums_with_even_amps_goes_to_the_shaft_before_the_control_circuit():
    even = {"test": "amps-start", "readings": {"L1": "104", "L2": "103", "L3": "104"}}
    right = {"test": "volts-overload", "readings": pairs("overload-T", "478", "479", "477")}
    told = answer("hums", [*LOOKED, even], control_supply="L1-L2")
    assert not CONTROL & set(offered_by(told))
    dead = {"test": "prove-dead", "answer": "dead", "where": "panel"}
    whole = {"test": "ohms-overload-out", "readings": pairs("overload-T", "1.1", "1.1", "1.1")}
    told = answer("hums", [*LOOKED, even, right, dead, whole], control_supply="L1-L2")
    assert told["next"]["test"] == "shaft-by-hand"


def test_trips_later_with_running_amps_read_asks_no_coil_and_no_chain_live():
    run = {"test": "amps-run", "readings": {"L1": "24", "L2": "24", "L3": "24"}}
    told = answer("trips-later", [*LOOKED, run], control_supply="L1-L2")
    assert not CONTROL & set(offered_by(told))


@pytest.mark.parametrize("symptom", ["hums", "trips-later", "trips-at-once", "dead-silent", "slow-weak"])
def test_what_is_seen_and_asked_with_nothing_opened_comes_first(symptom):
    done, seen = [], []
    answers = {"overload-look": "not-tripped", "look-closed": "nothing", "changed-lately": "nothing"}
    while (told := answer(symptom, done))["next"]["test"] in answers:
        seen.append(told["next"]["test"])
        done.append({"test": seen[-1], "answer": answers[seen[-1]]})
    assert seen[:2] == ["overload-look", "look-closed"] or set(seen) >= {"overload-look", "look-closed"}


@pytest.mark.parametrize("symptom", ["hums", "trips-later", "dead-silent"])
def test_a_tripped_overload_has_its_one_reset_before_anything_is_measured_with_a_start(symptom):
    done = [{"test": "overload-look", "answer": "tripped"}, CLOSED, CHANGED]
    while (told := answer(symptom, done))["next"]["quantity"] in ("look", "ask"):
        done.append({"test": told["next"]["test"], "answer": told["next"]["answers"][0]})
    assert told["next"]["test"] == "overload-reset"


def test_after_a_trip_at_once_nothing_is_reset_before_the_load_side_is_clear():
    told = answer("trips-at-once", [{"test": "overload-look", "answer": "tripped"}, CLOSED, CHANGED])
    assert told["next"]["test"] == "prove-dead"
    assert "overload-reset" not in offered_by(told)


def test_a_relay_that_will_not_reset_is_not_condemned_as_one_that_tripped_rightly():
    done = [{"test": "overload-look", "answer": "tripped"}, CLOSED, CHANGED]
    told = answer("trips-later", [*done, {"test": "overload-reset", "answer": "will-not"}])
    assert told["verdict"] is None or told["verdict"]["suspect"] != "overload-tripped"


def test_control_volts_that_are_low_wait_for_the_lines_they_come_from():
    low = {"test": "volts-control", "readings": {"control-L~control-N": "78"}}
    fuse = {"test": "volts-control-fuse", "readings": {"control-F~control-N": "78"}}
    told = answer("chatters", [*LOOKED, low, fuse], control_supply="L1-L2")
    assert told["verdict"] is None
    assert told["next"]["test"] in ("volts-line-side", "volts-supply", "volts-line-side-start")
    lines = {"test": "volts-line-side", "readings": pairs("line-L", "480", "481", "479")}
    after = answer("chatters", [*LOOKED, low, fuse, lines], control_supply="L1-L2")
    assert after["verdict"]["suspect"] == "control-volts-low"


@pytest.mark.parametrize("order", ["motor-to-supply", "control-first", "overload-first", "from-local"])
def test_every_order_comes_to_a_test_and_after_the_looks_to_its_own(order):
    local = {"disconnect": "local", "control_supply": "L1-L2"}
    told = answer("hums", LOOKED, order=order, **local)
    first = {"motor-to-supply": "prove-dead", "overload-first": "prove-dead", "from-local": "volts-local"}
    assert told["next"]["test"].startswith(first.get(order, "volts-c")), offered_by(told)


def test_insulation_volunteered_into_a_drive_is_kept_with_its_danger():
    cold = {"supply": "off", "contactor": "out", "at": "rest"}
    read = {"quantity": "insulation", "state": cold, "readings": {"overload-T1~earth": "500M"}}
    dead = {"test": "prove-dead", "answer": "dead", "where": "panel"}
    told = answer("hums", [dead, read], starter="drive")
    assert "insulation-into-electronics" in [one["code"] for one in told["findings"]]


def test_what_does_not_fit_says_what_would_be_read_instead():
    dead = {"test": "prove-dead", "answer": "dead", "where": "panel"}
    out = {"test": "ohms-overload-out", "readings": pairs("overload-T", "OL", "1.1", "OL")}
    even = {"test": "amps-start", "readings": {"L1": "104", "L2": "103", "L3": "104"}}
    ran = {"test": "start-try", "answer": "runs"}
    told = answer("hums", [LOOK, even, ran, dead, out])
    said = [one["text"] for one in told["findings"] if one["code"] == "walk-contradiction"]
    assert any("it would read" in words for words in said), told["contradictions"]
