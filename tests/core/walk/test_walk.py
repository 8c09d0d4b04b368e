"""The worked walks of the trade (common practice without source) come out at their end with the readings shown."""

import pytest

from grimcoil.core.errors import RecordRefusal
from tests.core.walk.given import DEAD, DEAD_BOX, LOOK, OUTGOING, POLES, TRYING, WALKS, answer, pairs

OHMS = {"quantity": "ohms", "state": {"supply": "off"}}


@pytest.mark.parametrize("name", WALKS)
def test_it_comes_out_at_its_end(name):
    symptom, done, (suspect, line) = WALKS[name]
    told = answer(symptom, done)
    assert (told["verdict"]["suspect"], told["verdict"]["line"]) == (suspect, line)
    assert told["contradictions"] == []
    assert told["next"] is None
    assert told["verdict"]["root_causes"]
    assert sum(one["belief"] for one in told["suspects"]) == pytest.approx(1.0)
    element = next(one for one in told["elements"] if one["element"] == told["verdict"]["element"])
    assert element["state"] == "condemned"


def test_dead_work_without_its_proof_counts_and_asks_for_the_proof():
    told = answer("hums", [LOOK, OUTGOING])
    assert [one["code"] for one in told["findings"]] == ["done-unproved"]
    assert told["next"]["test"] == "prove-dead"
    assert told["suspects"][0]["suspect"] in ("winding-open", "cable-open")


@pytest.mark.parametrize(
    "entry",
    [
        OUTGOING | {"quantity": "ohms", "state": {"supply": "on"}},
        {"quantity": "insulation", "state": {"supply": "on"}, "readings": {"overload-T1~earth": "5M"}},
        {"test": "shaft-by-hand", "answer": "free", "state": {"supply": "on"}},
        {"quantity": "ohms", "state": {"supply": "off"}, "readings": {"supply-L1~supply-L2": "1"}},
        {"quantity": "ohms", "state": {"supply": "off"}, "readings": {"protection-L1~line-L1": "1"}},
    ],
)
def test_dangerous_work_is_refused_by_its_danger(entry):
    with pytest.raises(RecordRefusal, match="danger"):
        answer("hums", [DEAD, entry])


@pytest.mark.parametrize(
    ("entry", "where"),
    [
        ({"test": "volts-breaker", "readings": {}}, "done.0.test"),
        ({"test": "breaker-look", "answer": "on"}, "done.0.test"),
        ({"test": "overload-look", "answer": "perhaps"}, "done.0.answer"),
        ({"test": "ohms-coil"}, "done.0.readings"),
        (OHMS | {"readings": {"lead-1~lead-9": "1"}}, "done.0.readings.lead-1~lead-9"),
        (OHMS | {"readings": {"lead-1~lead-2": "1 V"}}, "done.0.readings.lead-1~lead-2"),
        ({"quantity": "amps", "readings": {"L4": "1"}, "state": {}}, "done.0.readings.L4"),
        ({"quantity": "warmth", "readings": {"L1": "1"}, "state": {}}, "done.0.quantity"),
        ({"quantity": "ohms", "readings": {"lead-1~lead-2": "1"}}, "done.0.state"),
        ({"mended": "the-thing"}, "done.0.mended"),
        ({"mended": "fuse-blown", "line": "L4"}, "done.0.line"),
        ({"skip": "volts-local"}, "done.0.skip"),
        ({}, "done.0"),
    ],
)  # fmt: skip
def test_what_cannot_be_used_says_where(entry, where):
    with pytest.raises(RecordRefusal) as refused:
        answer("hums", [entry])
    assert refused.value.where == where


def test_two_faults_one_after_the_other():
    done = [
        *WALKS["hums, 416 V across one pole"][1],
        {"mended": "contactor-pole-open", "line": "L3"},
        {"test": "amps-start", "readings": {"L1": "0", "L2": "104", "L3": "105"}},
        POLES,
        TRYING,
        DEAD, OUTGOING, DEAD_BOX, {"test": "ohms-box-leads", "readings": pairs("lead-", "OL", "1.0", "OL")},
    ]  # fmt: skip
    told = answer("hums", done)
    assert (told["verdict"]["suspect"], told["verdict"]["line"]) == ("winding-open", "L1")
    assert "contactor pole open L3" in told["so_far"]


def test_what_only_motor_or_cable_can_be_is_handed_over():
    told = answer("hums", [LOOK, TRYING, POLES, DEAD, OUTGOING])
    assert told["hand_over"] is None or {one["suspect"] for one in told["hand_over"]["suspects"]} <= {
        "winding-open", "cable-open", "protector-failed", "protector-open-hot",
    }  # fmt: skip
    assert told["verdict"] is None
    assert told["next"]["test"] == "prove-dead"
    assert told["next"]["where"] == "motor-box"


LOOKED, RESET = {"test": "overload-look", "answer": "tripped"}, {"test": "overload-reset", "answer": "at-once"}


def test_an_overload_that_tripped_is_reset_runs_with_even_current_and_was_right():
    ran = [
        {"test": "start-try", "answer": "runs"},
        {"test": "amps-run", "readings": {"L1": "17", "L2": "17", "L3": "17"}},
    ]
    assert answer("dead-silent", [LOOKED, RESET, *ran])["verdict"]["suspect"] == "overload-tripped"


def test_a_reset_closes_what_the_overload_had_opened_and_a_contactor_that_comes_in_tells_of_one():
    runs = {"test": "contactor-look", "answer": "pulls-in"}
    out = {"test": "contactor-look", "answer": "stays-out"}

    def tripped(*done):
        return {one["suspect"]: one["belief"] for one in answer("dead-silent", list(done))["suspects"]}[
            "overload-tripped"
        ]

    assert tripped(LOOKED, RESET, runs) > 0.5
    assert tripped(LOOKED, runs) == pytest.approx(tripped(LOOKED, RESET, runs), abs=0.2)
    assert tripped(LOOKED, RESET, out) < 0.1  # it stays in, and still nothing comes


@pytest.mark.parametrize("symptom", ["hums", "trips-later", "runs-hot", "slow-weak", "noisy"])
def test_no_clamp_goes_on_before_the_overload_was_looked_at(symptom):
    first = answer(symptom, [])["next"]["test"]
    assert first == "overload-look"
    then = answer(symptom, [{"test": "overload-look", "answer": "not-tripped"}])
    assert then["next"]["test"] != "overload-look"


def test_readings_nobody_named_make_the_test_they_make_once():
    """Of one pair in two entries, turned round and by the cable's name: the same three pairs."""
    dead = {"test": "prove-dead", "answer": "dead"}
    cold = {"supply": "off", "contactor": "out", "at": "rest", "motor": "connected", "load": "coupled"}

    def ohms(read):
        return {"quantity": "ohms", "state": cold, "readings": read}

    amps = {"quantity": "amps", "state": cold | {"supply": "on", "contactor": "in", "at": "run"}}
    read = answer("runs-hot", [amps | {"readings": {"L1": "21", "L2": "21", "L3": "21"}}])
    assert "amps-run" not in {read["next"]["test"], *(one["test"] for one in read["others"])}

    two = ohms({"overload-T2~overload-T1": "1.1", "cable-T2~cable-T3": "1.1"})
    last = ohms({"overload-T1~overload-T3": "1.1"})

    looked = [LOOK, *({"test": f"{name}", "answer": "nothing"} for name in ("look-closed", "changed-lately"))]

    def offered(*done):
        made = answer("trips-at-once", [*looked, dead, *done, *looked])
        return {made["next"]["test"], *(one["test"] for one in made["others"])}

    assert "ohms-overload-out" in offered(two)
    assert "ohms-overload-out" not in offered(two, last)
    assert "ohms-overload-out" in offered(two, last, {"mended": "winding-phase-to-phase", "line": "L1-L2"})


def test_what_cannot_be_done_here_is_passed_over_and_nothing_is_closed_for_it():
    done = [{"test": "breaker-look", "answer": "tripped"}]
    while (made := answer("trips-at-once", done, protection="breaker"))["next"] is not None:
        test = made["next"]["test"]
        assert {"skip": test, "reason": "no room"} not in done  # asked once
        assert test not in ("breaker-reclose", "start-try", "overload-reset", "amps-start")
        dead = {"test": "prove-dead", "answer": "dead", "where": made["next"]["where"]}
        done.append(dead if test == "prove-dead" else {"skip": test, "reason": "no room"})
    assert "load-not-clear" in [finding["code"] for finding in made["findings"]]
    assert made["verdict"] is None
