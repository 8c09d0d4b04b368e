"""The worked walks, and how they are made."""

import json

from grimcoil.core.circuit.place import Place
from grimcoil.exchange.walks import walked

PLACES = [
    Place(),
    Place(wound="delta", protection="breaker", disconnect="local", control="separate", brake="two-lines"),
    Place(starter="star-delta", protector="star-point", leads=(1, 2, 3, 4, 5, 6)),
    Place(starter="autotransformer", protector="brought-out", system="unearthed"),
    Place(starter="drive", protector="control-chain", chain=("stop", "permissive", "protector", "overload", "start")),
]


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


def answer(symptom, done, order="most-telling", **position):
    place = {"disconnect": "panel", "starter": "direct", "overload": {"dial_a": 21}} | position
    motor = {"tag": "LK-301", "rated_voltage_v": 460, "full_load_current_a": 21, "power": "15 hp"}
    document = {"format": "grimcoil-walk/1", "motor": motor, "supply_v": 480, "position": place}
    return walked(json.dumps(document | {"symptom": symptom, "order": order, "done": done}))


def bare(symptom, done, **more):
    """A walk on a plate alone, with more keys of the document."""
    motor = {"rated_voltage_v": 480, "full_load_current_a": 20}
    return walked(json.dumps({"format": "grimcoil-walk/1", "symptom": symptom, "done": done, "motor": motor, **more}))
