"""The worked walks of the trade (common practice without source) come out at their end with the readings shown."""

import json

import pytest

from grimcoil.core.errors import RecordRefusal
from grimcoil.exchange.walks import walked

LOOK = {"test": "overload-look", "answer": "not-tripped"}


DEAD = {"test": "prove-dead", "where": "panel", "answer": "dead"}


DEAD_BOX = {"test": "prove-dead", "where": "motor-box", "answer": "dead"}


def pairs(point, *texts):
    return {f"{point}{a}~{point}{b}": text for (a, b), text in zip(((1, 2), (2, 3), (3, 1)), texts, strict=True)}


def across(one, other, *texts):
    return {f"{one}{n}~{other}{n}": text for n, text in zip((1, 2, 3), texts, strict=True)}


def earth(point, *texts, to="earth"):
    return {f"{point}{n}~{to}": text for n, text in zip((1, 2, 3), texts, strict=True)}


LINE_SIDE = {"test": "volts-line-side", "readings": pairs("line-L", "480", "481", "479")}


TRYING = {"test": "volts-line-side-start", "readings": pairs("line-L", "480", "481", "479")}


POLES = {"test": "drop-poles", "readings": across("line-L", "load-L", "0.05", "0.06", "0.05")}


RELAY = {"test": "drop-overload", "readings": across("load-L", "overload-T", "0.1", "0.1", "0.12")}


OUTGOING = {"test": "ohms-overload-out", "readings": pairs("overload-T", "OL", "1.1", "OL")}


OHMS = {"quantity": "ohms", "state": {"supply": "off"}}


CONTACTOR = {"test": "contactor-look", "answer": "stays-out"}


WALKS = {
    "hums, OL at the box": (
        "hums",
        [LOOK, RELAY, TRYING, POLES, DEAD, OUTGOING, DEAD_BOX,
         {"test": "ohms-box-leads", "readings": pairs("lead-", "OL", "1.0", "OL")}],
        ("winding-open", "L1"),
    ),
    "hums, low at the box": (
        "hums",
        [LOOK, RELAY, TRYING, POLES, DEAD, OUTGOING, DEAD_BOX,
         {"test": "ohms-box-leads", "readings": pairs("lead-", "1.0", "1.0", "1.0")}],
        ("cable-open", "L1"),
    ),
    "silent, volts at the coil": (
        "dead-silent",
        [LINE_SIDE, CONTACTOR, {"test": "volts-coil", "readings": {"coil-A1~coil-A2": "110"}}, DEAD,
         {"test": "ohms-coil", "readings": {"coil-A1~coil-A2": "OL"}}],
        ("contactor-coil-open", None),
    ),
    "silent, no volts at the coil": (
        "dead-silent",
        [LINE_SIDE, CONTACTOR, {"test": "volts-coil", "readings": {"coil-A1~coil-A2": "0"}}, DEAD,
         {"test": "ohms-control-fuse", "readings": {"control-L~control-F": "OL"}}],
        ("control-fuse-blown", None),
    ),
    "blows fuses": (
        "blows-fuse",
        [DEAD, {"test": "ohms-load-earth", "readings": earth("overload-T", "0.3", "1.1", "1.1")}, DEAD_BOX,
         {"test": "ohms-cable-earth", "readings": earth("overload-T", "OL", "OL", "OL")},
         {"test": "ohms-motor-frame", "readings": earth("lead-", "0.2", "1.0", "1.0", to="frame")}],
        ("winding-to-frame", "L1"),
    ),
    "trips, 118 % on all": (
        "trips-later",
        [{"test": "amps-run", "readings": {"L1": "24.8", "L2": "24.7", "L3": "24.9"}},
         {"test": "volts-load-side", "state": {"contactor": "in", "at": "run"}, "quantity": "volts-ac",
          "readings": pairs("load-L", "478", "479", "480")},
         DEAD, {"test": "connection-look", "answer": "right"}, DEAD_BOX,
         {"test": "ohms-box-leads", "readings": pairs("lead-", "1.0", "1.0", "1.01")},
         {"test": "insulation-load-earth", "readings": earth("overload-T", "500M", "500M", "500M")},
         {"test": "uncoupled-run", "answer": "normal"}],
        ("load-grown", None),
    ),
    "trips, 92 % and even": (
        "trips-later",
        [{"test": "overload-look", "answer": "tripped"},
         {"test": "amps-run", "readings": {"L1": "19.3", "L2": "19.3", "L3": "19.3"}},
         {"test": "overload-setting", "answer": "right"}, {"test": "starts-per-hour", "answer": "few"},
         {"test": "run-up", "answer": "short"}],
        ("overload-faulty", None),
    ),
    "hums, 416 V across one pole": (
        "hums",
        [{"test": "amps-start", "readings": {"L1": "105", "L2": "104", "L3": "0"}}, TRYING,
         {"test": "drop-poles", "readings": across("line-L", "load-L", "0.1", "0.1", "416")}],
        ("contactor-pole-open", "L3"),
    ),
}  # fmt: skip


def answer(symptom, done, **position):
    place = {"disconnect": "panel", "starter": "direct", "overload": {"dial_a": 21}} | position
    motor = {"tag": "LK-301", "rated_voltage_v": 460, "full_load_current_a": 21, "power": "15 hp"}
    document = {"format": "grimcoil-walk/1", "motor": motor, "supply_v": 480, "position": place}
    return walked(json.dumps(document | {"symptom": symptom, "done": done}))


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
