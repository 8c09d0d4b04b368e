"""A table with one reading a row, whose place says what it is: our own readings as they go out."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from grimcoil.exchange.sheets.mapping import UNITS, Column
from grimcoil.exchange.trails import READINGS

# Our own readings as CSV and XLSX. What stands beside the readings is where and by whom: the trail has it.
OWN_READINGS: Mapping[str, Mapping[str, str]] = {
    **{name: {"as": "leave_out"} for name in READINGS},
    "motor": {"as": "tag"}, "tested_on": {"as": "date"}, "place": {"as": "place"}, "text": {"as": "reading"},
    "unit": {"as": "unit"}, "taken_back_at": {"as": "taken_back"},
}  # fmt: skip
_PLACES = (
    (re.compile(r"winding_resistance\.(?P<pair>\d+-\d+)"), "winding_resistance"),
    (re.compile(r"insulation\.(?P<from>[\d-]+)\.(?P<t>\d+)"), "insulation"),
    (re.compile(r"insulation\.(?P<from>[\d-]+)\.volts"), "test_voltage_v"),
    (re.compile(r"temperature\.winding"), "winding_temperature_c"),
    (re.compile(r"temperature\.ambient"), "ambient_temperature_c"),
    (re.compile(r"temperature\.humidity"), "relative_humidity_percent"),
)


def column_of(place: str, unit: str) -> Column | None:
    """What a column of this reading alone would be; None for a place that isn't kept from sheets, or one repeated at
    another spot. unit: of a bare figure.

    >>> column_of("insulation.1-2-3.60", "MΩ").from_, column_of("winding_resistance.1-2@panel", "Ω")
    ('1-2-3', None)
    """
    for pattern, name in _PLACES:
        match = pattern.fullmatch(place)
        if match is None:
            continue
        found = match.groupdict()
        told: dict[str, Any] = {"as": name} | ({"unit": unit} if unit in UNITS[name] else {})
        if "pair" in found:
            told["pair"] = found["pair"]
        if "t" in found:
            told |= {"from": found["from"], "to": "frame", "t_s": float(found["t"])}
        return Column.model_validate(told)
    return None
