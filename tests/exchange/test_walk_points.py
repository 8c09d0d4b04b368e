"""Any two points of a walk's circuit: read, or refused in words. The points are those of the format's text."""

import io
import json
import sys

import pytest

from grimcoil.cli.documents import each_line
from grimcoil.core.errors import Refusal
from grimcoil.exchange.walks import walked

NAMES = ("supply", "protection", "disconnect", "line", "load")
POWER = [f"{name}-L{n}" for name in NAMES for n in (1, 2, 3)] + [
    f"{name}-T{n}" for name in ("overload", "cable", "box") for n in (1, 2, 3)
]
CONTROL = ["control-L", "control-N", "control-F", "chain-1", "chain-2", "coil-A1", "coil-A2"]
CHAIN = ["stop", "overload", "start"]
OFF = {"supply": "off", "contactor": "out", "at": "rest", "motor": "connected", "load": "coupled"}


def asked(pair, quantity):
    position = {"name": "x", "starter": "direct", "disconnect": "panel", "protection": "fuses", "control_chain": CHAIN}
    state = OFF if quantity == "ohms" else OFF | {"supply": "on"}
    done = [{"quantity": quantity, "state": state, "readings": {"~".join(pair): "12"}}]
    plain = {
        "format": "grimcoil-walk/1",
        "motor": {"lead_scheme": "three-lead-wye"},
        "position": position,
        "symptom": "hums",
    }
    return json.dumps(plain | {"supply_v": 480, "supply_system": "wye-earthed", "done": done}).encode()


def said(text):
    """Suspects, or the refusal's words; anything else breaks the test."""
    try:
        return walked(text)["suspects"]
    except Refusal as refusal:
        return refusal.accepted


@pytest.mark.parametrize("quantity", ["ohms", "volts-ac"])
@pytest.mark.parametrize("control", CONTROL)
def test_every_pair_with_a_point_of_the_control_circuit_has_an_answer(control, quantity):
    for other in (*POWER, *CONTROL, "lead-1", "earth", "frame"):
        for pair in ((control, other), (other, control)):
            answer = said(asked(pair, quantity))
            live = quantity == "ohms" and other.startswith(("supply-", "protection-"))  # in front of what isolates
            assert isinstance(answer, list) is (other != control and not live), (pair, answer)


def test_a_line_nobody_foresaw_costs_that_line_only(monkeypatch, capsys):
    def work(line):
        return {"told": [1][int(line)]}

    monkeypatch.setattr(sys, "stdin", io.TextIOWrapper(io.BytesIO(b"0\n3\n0\n")))
    assert each_line("-", work) == 2
    first, broken, last = (json.loads(line) for line in capsys.readouterr().out.splitlines())
    assert (first, last) == ({"told": 1}, {"told": 1})
    assert "IndexError at test_walk_points.py" in broken["error"]["found"]
