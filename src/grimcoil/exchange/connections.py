"""Words of a connection check in, `grimcoil-connection/1` out."""

from __future__ import annotations

import re
from typing import Any

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.stator.coils import Group
from grimcoil.core.stator.connect import ConnectionResult, Wiring
from grimcoil.core.stator.connections import Connection
from grimcoil.core.stator.letters import iec_letters, number_of
from grimcoil.core.stator.volts import Three


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
    """Three lines and what is joined."""
    on_lines = read_groups("lines", lines, scheme)
    if len(on_lines) != 3:
        raise RecordRefusal("lines", lines, "three groups, for L1, L2 and L3", "1-7 2-8 3-9")
    return Wiring(on_lines, read_groups("joined", joined, scheme))


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
