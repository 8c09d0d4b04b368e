"""Words of a connection check in, `grimcoil-connection/1` out."""

from __future__ import annotations

import re
from typing import Annotated, Any, Literal

from pydantic import Field, FiniteFloat, ValidationError

from grimcoil.core.choices import Speed
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.stator.coils import Group
from grimcoil.core.stator.connect import ConnectionResult, Duty, Supply, Wiring, judge_connection, right_connections
from grimcoil.core.stator.connections import Connection
from grimcoil.core.stator.letters import iec_letters, number_of
from grimcoil.core.stator.rating import parse_rated
from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.core.stator.volts import Three
from grimcoil.exchange.strict import Strict, Text, first_refusal, load_json

Hertz = Annotated[FiniteFloat, Field(gt=0, lt=1000)]


def read_supply(text: str) -> Three:
    """`460` or `478,471,482`."""
    parts = [part.strip() for part in text.split(",")]
    try:
        volts = [float(part) for part in parts]
    except ValueError:
        volts = []
    if len(volts) not in (1, 3) or not all(0 < v < 1e5 for v in volts):
        raise RecordRefusal("supply", text, "one line voltage, or three: L1-L2, L2-L3, L3-L1", "478,471,482")
    return (volts[0], volts[0], volts[0]) if len(volts) == 1 else (volts[0], volts[1], volts[2])


def read_groups(where: str, text: str, scheme: str) -> tuple[Group, ...]:
    """`1-7 2-8 3-9`; numbers or letters of the scheme."""
    out = []
    for part in text.split():
        if not re.fullmatch(r"[0-9A-Za-z]{1,4}(-[0-9A-Za-z]{1,4})*", part):
            raise RecordRefusal(where, part, "leads joined by -, groups apart by spaces", "1-7 2-8 3-9")
        out.append(tuple(number_of(lead, scheme) for lead in part.split("-")))
    return tuple(out)


def read_wiring(lines: str, joined: str, scheme: str) -> Wiring:
    """Three lines and what is joined. A line that is missing is `-`, or left out at the end: `1 - 3`, `1 2`."""
    groups = [() if part == "-" else read_groups("lines", part, scheme)[0] for part in lines.split()]
    if not 1 <= len(groups) <= 3 or not any(groups):
        raise RecordRefusal("lines", lines, "groups for L1, L2 and L3, - for a line that is missing", "1-7 2-8 3-9")
    one, two, three = [*groups, (), ()][:3]
    return Wiring((one, two, three), read_groups("joined", joined, scheme))


class Asked(Strict):
    """`grimcoil-connect/1`: a connection to be judged, keys as the command's options."""

    format: Literal["grimcoil-connect/1"] = "grimcoil-connect/1"
    scheme: Text
    rated: Text = ""
    supply: Text = ""
    lines: Text | None = None
    joined: Text = ""
    frequency: Hertz | None = None
    rated_frequency: Hertz | None = None
    speed: Speed | None = None
    mode: Literal["start", "run"] = "run"
    duty: Literal["constant-torque", "constant-power", "variable-torque"] | None = None


def read_asked(text: str | bytes) -> Asked:
    """A document of one connection. Raises RecordRefusal."""
    try:
        return Asked.model_validate(load_json(text))
    except ValidationError as error:
        raise first_refusal(error, "grimcoil-connect/1") from None


def answer(asked: Asked) -> dict[str, Any]:
    """The connection as `grimcoil-connection/1`; without lines, the table's right ones. Raises Refusal."""
    scheme = asked.scheme
    if scheme not in SCHEMES:
        raise RecordRefusal("scheme", scheme, f"one of {', '.join(SCHEMES)}", "nine-lead-wye")
    if asked.frequency is not None and asked.rated_frequency is None:
        raise RecordRefusal(
            "rated_frequency", "", "the plate's hertz beside the supply's: volts go by their ratio", "60"
        )
    duty = Duty(asked.speed, asked.mode, asked.duty)
    rated = parse_rated(asked.rated) if asked.rated else ()
    supply = Supply((1.0, 1.0, 1.0))
    if asked.lines is not None or asked.supply:
        supply = Supply(read_supply(asked.supply), asked.frequency, asked.rated_frequency)
    if asked.lines is None:
        right = right_connections(scheme, rated if asked.supply else (), supply, duty)
        return {"format": "grimcoil-connection/1", "scheme": scheme, "right": [connection_document(r) for r in right]}
    if not rated:
        raise RecordRefusal("rated", "", "the plate's voltages with Y or D", "230Y/460Y")
    wiring = read_wiring(asked.lines, asked.joined, scheme)
    return to_document(judge_connection(scheme, rated, supply, wiring, duty), scheme)


def to_document(result: ConnectionResult, scheme: str) -> dict[str, Any]:
    """`grimcoil-connection/1`."""
    return {
        "format": "grimcoil-connection/1",
        "scheme": scheme,
        "coils": [
            {
                "coil": state.coil,
                "volts": state.volts,
                "percent_of_design": state.percent_of_design,
                "angle_deg": state.angle_deg,
                "off_axis_deg": state.off_axis_deg,
                "fed": state.fed,
                "times_rated": state.times_rated,
            }
            for state in result.coils
        ],
        "design_v": result.design_v,
        "sequence": result.sequence,
        "right": [connection_document(one) for one in result.right],
        "letters": iec_letters(scheme),
        "verdict": result.verdict.value,
        "findings": [
            {"code": f.code, "text": f.text, "source": f.source, "severity": f.severity.value} for f in result.findings
        ],
    }


def connection_document(one: Connection) -> dict[str, Any]:
    """A right connection of the table."""
    return {"for": one.purpose, "lines": one.lines_text, "joined": one.joined_text}
