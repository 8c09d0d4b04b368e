"""Pydantic models of the tests of a `grimcoil-job/1`, one for each kind."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import Field, FiniteFloat

from grimcoil.core.choices import Scope, Speed, Spot
from grimcoil.core.measured import ANYWHERE, Hookup
from grimcoil.core.subject import Conditions as CoreConditions
from grimcoil.exchange.strict import (
    MOST_NAMES,
    MOST_POINTS,
    Celsius,
    NotNegative,
    Positive,
    ReadingText,
    Strict,
    Text,
)

ByName = Annotated[dict[Text, ReadingText], Field(max_length=MOST_NAMES)]


Names = Annotated[list[Text], Field(max_length=MOST_NAMES)]
MOST_ROLLS = 12


class Conditions(Strict):
    """Conditions of the job or of one test."""

    winding_temperature_c: Celsius | None = None
    ambient_temperature_c: Celsius | None = None
    relative_humidity_percent: Annotated[FiniteFloat, Field(gt=0, le=100)] | None = None
    date_: date | None = Field(default=None, alias="date")

    def to_core(self) -> CoreConditions:
        """The core's conditions."""
        return CoreConditions(
            self.winding_temperature_c, self.ambient_temperature_c, self.relative_humidity_percent, self.date_
        )


class AnyTest(Strict):
    """Keys every kind of test may carry."""

    instrument: Text | None = None
    taken_from: Text | None = None
    conditions: Conditions | None = None


class PlacedTest(AnyTest):
    """A test that is made at some place, on some part."""

    winding: Speed | None = None
    links: Literal["as-found", "opened"] | None = None
    at: Spot | None = None
    scope: Scope | None = None

    def hookup(self) -> Hookup:
        """The core's hookup."""
        if not (self.winding or self.links or self.at or self.scope):
            return ANYWHERE
        return Hookup(self.at, self.winding, self.links, self.scope)


class WindingResistance(PlacedTest):
    """Ohms by pair of leads. `hot`: read warm, for the winding's temperature."""

    kind: Literal["winding_resistance"]
    lead_resistance: ReadingText | None = None
    resolution: ReadingText | None = None
    readings: ByName = Field(default_factory=dict)
    hot: bool = False
    failed_check: Text | None = None


class Point(Strict):
    """A reading at its time since voltage on."""

    t_s: Positive
    reading: ReadingText


class Hold(PlacedTest):
    """A hold at direct voltage."""

    from_: Names = Field(default=[], alias="from")
    to: Names = Field(default_factory=list)
    guard: Names = Field(default_factory=list)
    polarity: Text | None = None
    test_voltage_v: Positive | None = None
    resolution: ReadingText | None = None
    series: Annotated[list[Point], Field(max_length=MOST_POINTS)] = Field(default_factory=list)
    failed_check: Text | None = None


class Insulation(Hold):
    """Insulation of leads to frame, or of some leads to others."""

    kind: Literal["insulation"]


class WindingToWinding(Hold):
    """Insulation between two groups of leads that nothing should join."""

    kind: Literal["winding_to_winding"]


class SupplyVoltage(PlacedTest):
    """Volts line to line and line to earth."""

    kind: Literal["supply_voltage"]
    line_to_line: ByName = Field(default_factory=dict)
    line_to_earth: ByName = Field(default_factory=dict)
    loaded: bool | None = None
    frequency_hz: Positive | None = None


class LineCurrent(PlacedTest):
    """Settled amps by line."""

    kind: Literal["line_current"]
    readings: ByName = Field(default_factory=dict)
    brake_a: dict[Text, NotNegative] = Field(default_factory=dict)
    loaded: bool | None = None
    speed_rpm: NotNegative | None = None


class ContactDrop(PlacedTest):
    """Volts across closed poles."""

    kind: Literal["contact_drop"]
    readings: ByName = Field(default_factory=dict)
    current_a: NotNegative | None = None
    loaded: bool | None = None


class Accessory(PlacedTest):
    """An accessory's own value and to frame."""

    kind: Literal["accessory"]
    what: Text
    reading: ReadingText | None = None
    to_frame: ReadingText | None = None


class CableAlone(PlacedTest):
    """A cable alone; with the far end open in MΩ, joined in Ω. A terminal block by itself has studs as cores."""

    kind: Literal["cable"]
    cores: ByName = Field(default_factory=dict)
    to_earth: ByName = Field(default_factory=dict)
    end: Literal["open", "joined"] = "open"
    what: Literal["cable", "terminal-block"] = "cable"
    test_voltage_v: Positive | None = None


class Fuse(PlacedTest):
    """One fuse."""

    kind: Literal["fuse"]
    id: Text = ""
    state: Literal["out", "live-loaded", "live-unloaded"]
    reading: ReadingText | None = None


class OverloadPole(PlacedTest):
    """Ohms through each pole, dead."""

    kind: Literal["overload_pole"]
    readings: ByName = Field(default_factory=dict)


class ContactorCoil(PlacedTest):
    """Volts at the coil while called for, its ohms dead."""

    kind: Literal["contactor_coil"]
    volts: ReadingText | None = None
    ohms: ReadingText | None = None
    rated_v: Positive | None = None
    pulls_in: bool | None = None


class Capacitor(PlacedTest):
    """A capacitor's amps and volts."""

    kind: Literal["capacitor"]
    current_a: ReadingText | NotNegative | None = None
    voltage_v: ReadingText | NotNegative | None = None
    frequency_hz: Positive | None = None
    marked_uf: Positive | None = None


class Roll(Strict):
    """Line -> motor lead, amps by line, volts by pair of lines."""

    map: dict[Text, Text]
    amps: ByName
    volts: ByName = Field(default_factory=dict)


class LeadRoll(AnyTest):
    """The three leads rolled."""

    kind: Literal["lead_roll"]
    rolled_at: Literal["starter", "motor-box"] | None = None
    rolls: Annotated[list[Roll], Field(max_length=MOST_ROLLS)] = Field(default_factory=list)


class Brake(PlacedTest):
    """The brake's coil, to frame, whether it lifts, whether it holds."""

    kind: Literal["brake"]
    reading: ReadingText | None = None
    to_frame: ReadingText | None = None
    lifts: bool | None = None
    holds: bool | None = None


class FrameTemperature(PlacedTest):
    """The frame after steady normal work."""

    kind: Literal["frame_temperature"]
    reading: ReadingText | None = None
    spot: Text = ""


class Shaft(PlacedTest):
    """Turned by hand."""

    kind: Literal["shaft"]
    turns: Literal["free", "stiff", "jammed", "locked"] | None = None
    coupled: bool | None = None


class DeadProof(AnyTest):
    """Live, dead, live: `readings` by point (`L1-L2` … `L3-E`), `at` the places."""

    kind: Literal["dead_proof"]
    proved_before: ReadingText | None = None
    proved_after: ReadingText | None = None
    at: list[Text] = Field(default_factory=list)
    readings: ByName = Field(default_factory=dict)


MainTest = (
    WindingResistance
    | Insulation
    | WindingToWinding
    | SupplyVoltage
    | LineCurrent
    | ContactDrop
    | Accessory
    | CableAlone
    | Fuse
    | OverloadPole
    | ContactorCoil
    | Capacitor
    | LeadRoll
    | Brake
    | FrameTemperature
    | Shaft
    | DeadProof
)
