"""One bad line never ends a stream, and none takes long: bounds with their path, and a fuzzer over bytes and values."""

import io
import json
import sys
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from grimcoil.cli import assess, identify, trend
from grimcoil.cli.documents import each_line
from grimcoil.core.errors import Refusal
from grimcoil.exchange.histories import read_history
from grimcoil.exchange.strict import MOST_BYTES

FORMATS = Path(__file__).parents[2] / "docs" / "formats"
EXAMPLE = json.loads((FORMATS / "example-job.json").read_text("utf-8"))
LEADS = json.loads((FORMATS / "example-leads.json").read_text("utf-8"))
HISTORY = {"format": "grimcoil-history/1", "minimum_mohm": 5, "rows": [{"date": "2020-01-01", "reading": "520"}]}
HOLD = EXAMPLE["tests"][1]


def streamed(lines, monkeypatch, capsys):
    monkeypatch.setattr(sys, "stdin", io.TextIOWrapper(io.BytesIO(lines)))
    status = each_line("-", lambda line: assess.judged(line, {}))
    return status, [json.loads(line) for line in capsys.readouterr().out.splitlines()]


def line(**changes):
    return json.dumps(EXAMPLE | changes).encode()


def motor(**changes):
    return line(motor=EXAMPLE["motor"] | changes)


POINTS = [{"t_s": t + 1, "reading": "500M"} for t in range(2001)]
SAME = b'{"format": "grimcoil-job/1", ' + b", ".join([b'"motor": {}'] * 5000) + b"}"


@pytest.mark.parametrize(
    ("bad", "path"),
    [
        (motor(tag="\ud800"), "motor.tag"),
        (motor(connected_voltage_v=5e-324), "motor.connected_voltage_v"),
        (motor(speed_rpm=1e308), "motor.speed_rpm"),
        (motor(full_load_current_a=1e308), "motor.full_load_current_a"),
        (SAME, "motor"),
        (line(tests=[EXAMPLE["tests"][0]] * 501), "tests"),
        (line(tests=[HOLD | {"series": POINTS}]), "tests.0.series"),
        (b'{"a":' * 70 + b"1" + b"}" * 70, "document"),
        (b'"' + b"a" * MOST_BYTES + b'"', "document"),
        (b"\xff\xfe", "document"),
        (line(conditions={"winding_temperature_c": -300}), "conditions.winding_temperature_c"),
        (line(tests=[{"kind": "line_current", "readings": {"L4": "1"}}]), "tests.0.readings.L4"),
        (line(tests=[{"kind": "supply_voltage", "line_to_line": {"1-2": "480"}}]), "tests.0.line_to_line.1-2"),
    ],
)
def test_a_bad_line_is_an_error_in_its_place_and_the_rest_goes_on(bad, path, monkeypatch, capsys):
    status, told = streamed(b"\n".join([line(), bad, line()]), monkeypatch, capsys)
    assert status == 2
    assert [("error" in one) for one in told] == [False, True, False]
    assert told[1]["error"]["path"] == path
    assert told[1]["error"]["accepted"]


def test_the_bounds_themselves_are_taken():
    whole = assess.judged(line(tests=[HOLD | {"series": POINTS[:2000]}]), {})
    assert whole["insulation"][0]["curve_shape"] == "flat"
    assert len(assess.judged(line(tests=[EXAMPLE["tests"][0]] * 500), {})["winding_resistance"]) == 500


def test_a_history_has_five_thousand_rows_at_most():
    rows = [{"date": "2020-01-01", "reading": "520"}] * 5001
    with pytest.raises(Refusal) as refused:
        read_history(json.dumps(HISTORY | {"rows": rows}))
    assert refused.value.where == "rows"


scalars = st.one_of(
    st.none(), st.booleans(), st.integers(), st.floats(), st.text(max_size=12), st.just("\ud800"),
    st.sampled_from([5e-324, 1e308, -1e308, 2**70, "OL", ">550M", "0", "1,204", "short", "beep", "L1", "1-2", "frame"]),
)  # fmt: skip
values = st.recursive(scalars, lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=6), inner))
WHOLE = (
    (EXAMPLE, lambda text: assess.judged(text, {})),
    (LEADS, identify.identified),
    (HISTORY, lambda text: trend.judged(*read_history(text), "routine")),
)


def places(value, path=()):
    yield path
    inner = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, one in inner:
        yield from places(one, (*path, key))


def put(document, path, value):
    if not path:
        return value
    copied = json.loads(json.dumps(document))
    at = copied
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = value
    return copied


@settings(max_examples=300)
@given(st.sampled_from(range(len(WHOLE))), st.data())
def test_any_value_in_any_place_is_judged_or_refused(which, data):
    document, work = WHOLE[which]
    path = data.draw(st.sampled_from(list(places(document))))
    changed = put(document, path, data.draw(values))
    try:
        json.dumps(work(json.dumps(changed).encode()), allow_nan=False)
    except Refusal as refusal:
        assert refusal.accepted


@settings(max_examples=200)
@given(st.sampled_from(range(len(WHOLE))), st.data())
def test_any_bytes_are_judged_or_refused(which, data):
    document, work = WHOLE[which]
    text = bytearray(json.dumps(document).encode())
    for _ in range(data.draw(st.integers(1, 6))):
        text[data.draw(st.integers(0, len(text) - 1))] = data.draw(st.integers(0, 255))
    try:
        work(bytes(text))
    except Refusal as refusal:
        assert refusal.accepted
