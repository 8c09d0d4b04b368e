"""`grimcoil-map/1`: what each column, tab and cell of a sheet holds."""

from __future__ import annotations

import re
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.fields import HUMIDITY, INSULATION, TEMPERATURE, VOLTAGE, WINDING
from grimcoil.core.fields import Field as ReadingField
from grimcoil.exchange.strict import Positive, Strict, Text, first_refusal, load_json

FORMAT = "grimcoil-map/1"
READINGS: dict[str, ReadingField] = {"insulation": INSULATION, "winding_resistance": WINDING}
CONDITIONS: dict[str, ReadingField] = {
    "winding_temperature_c": TEMPERATURE,
    "ambient_temperature_c": TEMPERATURE,
    "test_voltage_v": VOLTAGE,
    "relative_humidity_percent": HUMIDITY,
}
UNITS = {
    "insulation": {"Ω": 1e-6, "kΩ": 1e-3, "MΩ": 1.0, "GΩ": 1e3, "TΩ": 1e6},
    "winding_resistance": {"µΩ": 1e-6, "mΩ": 1e-3, "Ω": 1.0, "kΩ": 1e3},
    "winding_temperature_c": {"°C": 1.0, "°F": 0.0},
    "ambient_temperature_c": {"°C": 1.0, "°F": 0.0},
    "test_voltage_v": {"V": 1.0, "kV": 1e3},
    "relative_humidity_percent": {"%": 1.0},
}
HOME = {"insulation": "MΩ", "winding_resistance": "Ω", "winding_temperature_c": "°C", "ambient_temperature_c": "°C",
        "test_voltage_v": "V", "relative_humidity_percent": "%"}  # fmt: skip
As = Literal[
    "tag", "date", "insulation", "winding_resistance", "winding_temperature_c", "ambient_temperature_c",
    "test_voltage_v", "relative_humidity_percent", "note", "leave_out",
    "reading", "place", "unit", "taken_back",
    "plate.serial", "plate.rated_voltage_v", "plate.rated_voltage_2_v", "plate.connected_voltage_v",
    "plate.full_load_current_a", "plate.full_load_current_2_a", "plate.frequency_hz", "plate.power",
    "plate.speed_rpm", "plate.service_factor", "plate.insulation_class", "plate.built_year",
    "plate.frame_size", "plate.bearings", "plate.efficiency_percent", "plate.power_factor",
    "plate.lead_scheme", "plate.winding", "plate.insulation_system", "plate.conductor", "position.name",
    "position.area", "position.criticality", "position.supply_system", "position.system_voltage_v",
]  # fmt: skip
CELL = re.compile(r"[A-Z]{1,3}[1-9]\d{0,6}")


class Part(Strict):
    """One of several readings in a cell."""

    as_: As | None = Field(default=None, alias="as")
    pair: Text | None = None
    from_: Text | None = Field(default=None, alias="from")
    to: Text | None = None
    unit: Text | None = None
    t_s: Positive | None = None


class Column(Part):
    """What a column holds; with a tag or date of its own it is one reading of that motor or day."""

    order: Literal["dmy", "mdy", "ymd"] | None = None
    tag: Text | None = None
    date: Text | None = None
    parts: list[Part] | None = Field(default=None, min_length=2, max_length=12)


class TagFrom(Strict):
    """Where the motor is named when no column does."""

    from_: Text | None = Field(default=None, alias="from")
    is_: Text | None = Field(default=None, alias="is")


class Asked(Strict):
    """Something that the file doesn't tell."""

    about: Text | None = None
    key: Text
    why: Text = ""
    choices: list[Text] = Field(default_factory=list)


class OneTab(Strict):
    """Keys that differ in one tab."""

    headings: list[Annotated[int, Field(ge=1, le=1_048_576)]] | None = None
    units_row: Annotated[int, Field(ge=1, le=1_048_576)] | None = None
    tag: TagFrom | None = None
    columns: dict[Text, Column] | None = None
    decimal: Literal[".", ","] | None = None
    incomplete_dates: Literal["first", "middle", "last"] | None = None


class SheetMap(OneTab):
    """`grimcoil-map/1`."""

    format: Literal["grimcoil-map/1"]
    encoding: Text | None = None
    delimiter: Annotated[str, Field(min_length=1, max_length=1)] | None = None
    sheet: Text | list[Text] | None = None
    tabs: dict[Text, OneTab | None] = Field(default_factory=dict)
    answers: dict[Text, Text] = Field(default_factory=dict)
    ask: list[Asked] = Field(default_factory=list)


def read_map(text: str | bytes) -> SheetMap:
    """A map. Raises RecordRefusal with its path."""
    try:
        given = SheetMap.model_validate(load_json(text))
    except ValidationError as error:
        raise first_refusal(error, FORMAT) from None
    for name, columns in [("columns", given.columns or {}), *_tab_columns(given)]:
        for kind in ("tag", "date"):
            of_kind = [column for column, one in columns.items() if one.as_ == kind]
            if len(of_kind) > 1:
                raise RecordRefusal(f"{name}.{of_kind[1]}", kind, f"one {kind} column")
        for column, one in columns.items():
            _check(one, f"{name}.{column}")
    return given


def _tab_columns(given: SheetMap) -> list[tuple[str, dict[str, Column]]]:
    return [(f"tabs.{name}.columns", one.columns) for name, one in given.tabs.items() if one and one.columns]


def _check(column: Column, path: str) -> None:
    for one, where in [(column, path), *((part, f"{path}.parts.{i}") for i, part in enumerate(column.parts or ()))]:
        if one.unit is not None and one.as_ in UNITS and _unit(one.unit) not in UNITS[one.as_]:
            raise RecordRefusal(f"{where}.unit", one.unit, "one of " + ", ".join(UNITS[one.as_]))
        if one.as_ == "winding_resistance" and one.pair is None:
            raise RecordRefusal(f"{where}.pair", "", "the two leads it was read between", "1-2")


def _unit(text: str) -> str:
    return text.replace("\u2126", "Ω").replace("μ", "µ").replace("ohm", "Ω").replace("Ohm", "Ω")


def unit_of(one: Part) -> str:
    """The unit of a column's bare figures."""
    return _unit(one.unit) if one.unit else HOME.get(one.as_ or "", "")


def merged_map(given: SheetMap, tab: OneTab | None) -> dict[str, Any]:
    """The keys that hold in one tab."""
    names = ("headings", "units_row", "tag", "columns", "decimal", "incomplete_dates")
    out = {name: getattr(given, name) for name in names}
    if tab is not None:
        out |= {name: getattr(tab, name) for name in names if getattr(tab, name) is not None}
    return out
