"""Pydantic models of `grimcoil-job/1`. Unknown keys are refused with their path."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, FiniteFloat, StringConstraints

Positive = Annotated[FiniteFloat, Field(gt=0)]
NotNegative = Annotated[FiniteFloat, Field(ge=0)]
Text = Annotated[str, StringConstraints(max_length=200)]
ReadingText = Annotated[str, StringConstraints(max_length=60)]


class Strict(BaseModel):
    """Refuses unknown keys and silent conversions between kinds."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)


class Brake(Strict):
    """How the brake is fed, and its coil."""

    feed: Text | None = None
    coil: ReadingText | None = None


class Accessory(Strict):
    """What hangs on the motor."""

    what: Text
    leads: list[Text] = []


class Rating(Strict):
    """One speed or voltage of a motor with several."""

    speed: Literal["low", "high"] | None = None
    voltage_v: Positive | None = None
    connection: Literal["wye", "delta"] | None = None
    frequency_hz: Positive | None = None
    power: Text | None = None
    full_load_current_a: Positive | None = None
    speed_rpm: Positive | None = None


LeadScheme = Literal[
    "three-lead",
    "three-lead-wye",
    "three-lead-delta",
    "six-lead",
    "nine-lead-wye",
    "nine-lead-delta",
    "twelve-lead",
    "part-winding",
    "two-speed-two-winding",
    "two-speed-one-winding-delta",
    "two-speed-one-winding-wye",
    "unknown",
]
SupplySystem = Literal[
    "wye-earthed", "corner-earthed", "high-leg", "unearthed", "high-resistance-earthed", "phase-converter"
]


class Motor(Strict):
    """The nameplate and the winding."""

    tag: Text = ""
    rated_voltage_v: list[Positive] | Positive = []
    connected_voltage_v: Positive | None = None
    frequency_hz: Positive | None = None
    power: Text | None = None
    full_load_current_a: list[Positive] | Positive = []
    speed_rpm: Positive | None = None
    service_factor: Annotated[FiniteFloat, Field(ge=1, le=2)] = 1.0
    insulation_class: Literal["A", "E", "B", "F", "H"] | None = None
    winding: Literal["random", "form"] = "random"
    insulation_system: Literal["thermosetting", "thermoplastic"] = "thermosetting"
    built_year: Annotated[int, Field(ge=1880, le=2200)] | None = None
    conductor: Literal["copper", "aluminium"] = "copper"
    lead_scheme: LeadScheme = "three-lead"
    insulation_test_forbidden: bool = False
    accessories: list[Accessory] = []
    brake: Brake | None = None
    ratings: list[Rating] = []


class Cable(Strict):
    """Cable between starter and motor."""

    size_mm2: Positive | None = None
    length_m: NotNegative | None = None
    conductor: Literal["copper", "aluminium"] = "copper"


class Overload(Strict):
    """Overload relay."""

    dial_a: Positive | None = None
    trip_class: Literal[5, 10, 20, 30] | None = None
    inside_delta: bool = False


class Position(Strict):
    """The place in the plant the motor drives."""

    name: Text = ""
    starter: Text | None = None
    cable: Cable | None = None
    overload: Overload | None = None


class Instrument(Strict):
    """One range of an instrument."""

    id: Text
    function: Text
    top: ReadingText | None = None
    resolution: ReadingText | None = None
    accuracy_percent: NotNegative = 0.0
    counts: NotNegative = 0.0
    calibration_due: date | None = None


class Conditions(Strict):
    """Conditions of the job or of one test."""

    winding_temperature_c: FiniteFloat | None = None
    ambient_temperature_c: FiniteFloat | None = None
    relative_humidity_percent: Annotated[FiniteFloat, Field(gt=0, le=100)] | None = None
    date_: date | None = Field(default=None, alias="date")


class TestBase(Strict):
    """Keys every kind of test may carry."""

    instrument: Text | None = None
    winding: Literal["low", "high"] | None = None
    links: Literal["as-found", "opened"] | None = None
    at: Literal["starter", "motor-box", "cable"] | None = None
    scope: Literal["motor", "motor+cable", "cable"] | None = None
    conditions: Conditions | None = None


class WindingResistance(TestBase):
    """Ohms by pair of leads."""

    kind: Literal["winding_resistance"]
    lead_resistance: ReadingText | None = None
    resolution: ReadingText | None = None
    readings: dict[Text, ReadingText] = {}


class Point(Strict):
    """A reading at its time since voltage on."""

    t_s: Positive
    reading: ReadingText


class Insulation(TestBase):
    """A hold at direct voltage."""

    kind: Literal["insulation"]
    from_: list[Text] = Field(default=[], alias="from")
    to: list[Text] = []
    guard: list[Text] = []
    polarity: Text | None = None
    test_voltage_v: Positive | None = None
    resolution: ReadingText | None = None
    series: list[Point] = []


class SupplyVoltage(TestBase):
    """Volts line to line and line to earth."""

    kind: Literal["supply_voltage"]
    line_to_line: dict[Text, ReadingText] = {}
    line_to_earth: dict[Text, ReadingText] = {}
    loaded: bool | None = None


class LineCurrent(TestBase):
    """Settled amps by line."""

    kind: Literal["line_current"]
    readings: dict[Text, ReadingText] = {}
    brake_a: dict[Text, NotNegative] = {}
    loaded: bool | None = None


class ContactDrop(TestBase):
    """Volts across closed poles."""

    kind: Literal["contact_drop"]
    readings: dict[Text, ReadingText] = {}
    current_a: NotNegative | None = None


class AccessoryTest(TestBase):
    """An accessory's own value and to frame."""

    kind: Literal["accessory"]
    what: Text
    reading: ReadingText | None = None
    to_frame: ReadingText | None = None


AnyTest = Annotated[
    WindingResistance | Insulation | SupplyVoltage | LineCurrent | ContactDrop | AccessoryTest,
    Field(discriminator="kind"),
]
CriteriaName = Literal["field-general", "service-shop", "field-coarse", "low-ohm", "under-water"]


class Job(Strict):
    """`grimcoil-job/1`: one visit to one motor."""

    format: Literal["grimcoil-job/1"]
    motor: Motor
    position: Position = Position()
    instruments: list[Instrument] = []
    criteria: CriteriaName = "field-general"
    conditions: Conditions = Conditions()
    supply_system: SupplySystem | None = None
    tests: list[AnyTest] = []
