"""The tests of a job: readings taken together, where, with which meter and under which conditions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from grimcoil.core.choices import Occasion
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.readings import Reading
from grimcoil.core.side.kinds import SideTest
from grimcoil.core.subject import UNKNOWN, Conditions, Subject
from grimcoil.core.wishes import AS_USUAL, Wishes

NOTHING_READ: Mapping[str, Reading] = {}


@dataclass(frozen=True, slots=True)
class Hookup:
    """Where it was read. at: `starter`, `motor-box`, `cable`; part: winding `low` or `high` of a two-speed motor;
    links: `as-found` or `opened`; scope: `motor`, `motor+cable`, `cable`. None where not said.
    """

    at: str | None = None
    part: str | None = None
    links: str | None = None
    scope: str | None = None


ANYWHERE = Hookup()


@dataclass(frozen=True, slots=True)
class ResistanceTest:
    """Readings by pair (`1-2`), with the meter and the resistance of its leads, ohm.

    hot: read on the warm winding, to take its temperature from its resistance. failed_check: what the meter showed
    where it failed its own check, empty where it passed or nothing is known.
    """

    readings: Mapping[str, Reading]
    conditions: Conditions = UNKNOWN
    meter: InstrumentRange | None = None
    lead_resistance_ohm: float = 0.0
    hookup: Hookup = ANYWHERE
    hot: bool = False
    failed_check: str = ""


@dataclass(frozen=True, slots=True)
class Timed:
    """A reading at its time since voltage was applied."""

    t_s: float
    reading: Reading


_SCOPE_AT = {"starter": "motor+cable", "motor-box": "motor", "cable": "cable"}


@dataclass(frozen=True, slots=True)
class InsulationTest:
    """A hold from some leads (`ends`; none named: the whole winding) to others or the frame (`to`), others on the
    `guard` left out of the reading. failed_check: what the tester showed where it failed its own check.
    """

    series: tuple[Timed, ...]
    test_voltage_v: float | None = None
    conditions: Conditions = UNKNOWN
    meter: InstrumentRange | None = None
    hookup: Hookup = ANYWHERE
    ends: tuple[str, ...] = ()
    to: tuple[str, ...] = ("frame",)
    polarity: str | None = None
    guard: tuple[str, ...] = ()
    failed_check: str = ""

    @property
    def to_frame(self) -> bool:
        """Whether the frame is on the other side."""
        return not self.to or "frame" in self.to

    @property
    def corrects_to_40c(self) -> bool:
        """Whether the tester shows what the value would be at 40 °C, so that it isn't corrected once more."""
        return self.meter is not None and self.meter.corrects_to_40c

    @property
    def scope(self) -> str | None:
        """What hangs on the tester, said or by the place: `motor`, `motor+cable`, `cable`; None where neither is."""
        return self.hookup.scope or _SCOPE_AT.get(self.hookup.at or "")


@dataclass(frozen=True, slots=True)
class WindingToWindingTest(InsulationTest):
    """The same between two groups of leads that nothing should join."""


@dataclass(frozen=True, slots=True)
class SupplyTest:
    """Volts line to line (`L1-L2`) and line to earth (`L1`); frequency_hz of the supply where read."""

    line_to_line: Mapping[str, Reading]
    line_to_earth: Mapping[str, Reading] = field(default_factory=dict)
    loaded: bool | None = None
    frequency_hz: float | None = None
    hookup: Hookup = ANYWHERE


@dataclass(frozen=True, slots=True)
class CurrentTest:
    """Settled amps by line; brake_a is subtracted from the lines it names. loaded: False when uncoupled; speed_rpm: of
    the shaft while they were read.
    """

    readings: Mapping[str, Reading]
    brake_a: Mapping[str, float] = field(default_factory=dict)
    loaded: bool | None = None
    hookup: Hookup = ANYWHERE
    speed_rpm: float | None = None


@dataclass(frozen=True, slots=True)
class ContactTest:
    """Volts across each closed pole under load, and the current."""

    readings: Mapping[str, Reading]
    current_a: float | None = None


@dataclass(frozen=True, slots=True)
class AccessoryTest:
    """A protector, brake coil or heater: its own value, then to frame."""

    what: str
    reading: Reading | None = None
    to_frame: Reading | None = None
    winding_temperature_c: float | None = None


@dataclass(frozen=True, slots=True)
class CableTest:
    """A cable alone. cores: by pair of cores; to_earth: by core; end: far end `open` or `joined`; what: `cable`, or
    `terminal-block`, its studs as cores.
    """

    cores: Mapping[str, Reading] = field(default_factory=dict)
    to_earth: Mapping[str, Reading] = field(default_factory=dict)
    end: str = "open"
    meter: InstrumentRange | None = None
    what: str = "cable"


@dataclass(frozen=True, slots=True)
class FuseTest:
    """One fuse: out (ohms), or volts across it in circuit under load or not. state: `out`, `live-loaded`,
    `live-unloaded`.
    """

    name: str
    state: str
    reading: Reading | None = None


@dataclass(frozen=True, slots=True)
class OverloadPoleTest:
    """Ohms through each pole of the overload relay (or of a closed contactor), dead."""

    readings: Mapping[str, Reading] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class ContactorCoilTest:
    """A contactor's coil: volts at it while called for, its ohms dead, whether it pulled in."""

    volts: Reading | None = None
    ohms: Reading | None = None
    rated_v: float | None = None
    pulls_in: bool | None = None


@dataclass(frozen=True, slots=True)
class CapacitorTest:
    """A capacitor in alternating current: amps and volts at a frequency, against its marking in µF."""

    current_a: Reading | None = None
    voltage_v: Reading | None = None
    frequency_hz: float | None = None
    marked_uf: float | None = None


@dataclass(frozen=True, slots=True)
class Roll:
    """One way the motor leads were put on the lines: line -> lead, amps by line, volts by pair of lines."""

    map: Mapping[str, str]
    amps: Mapping[str, Reading]
    volts: Mapping[str, Reading] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class LeadRollTest:
    """All three leads shifted one terminal at a time, currents read each time."""

    rolls: tuple[Roll, ...]
    rolled_at: str | None = None


@dataclass(frozen=True, slots=True)
class BrakeTest:
    """The brake's coil in ohms and to frame; whether it lifts, whether it holds."""

    reading: Reading | None = None
    to_frame: Reading | None = None
    lifts: bool | None = None
    holds: bool | None = None


@dataclass(frozen=True, slots=True)
class FrameTemperatureTest:
    """The frame after steady normal work, always at the same spot, °C."""

    reading: Reading | None = None
    ambient_c: float | None = None
    spot: str = ""


@dataclass(frozen=True, slots=True)
class ShaftTest:
    """Turned by hand, dead and locked. turns: `free`, `stiff`, `jammed`; coupled: with the load or without."""

    turns: str | None = None
    coupled: bool | None = None


@dataclass(frozen=True, slots=True)
class DeadProofTest:
    """Known live source before, every point dead, known live source after; volts."""

    proved_before: Reading | None = None
    readings: Mapping[str, Reading] = field(default_factory=dict)
    proved_after: Reading | None = None


Test = (
    ResistanceTest
    | InsulationTest
    | SupplyTest
    | CurrentTest
    | ContactTest
    | AccessoryTest
    | CableTest
    | FuseTest
    | OverloadPoleTest
    | ContactorCoilTest
    | CapacitorTest
    | LeadRollTest
    | BrakeTest
    | FrameTemperatureTest
    | ShaftTest
    | DeadProofTest
    | SideTest
)


@dataclass(frozen=True, slots=True)
class JobRecord:
    """One visit: the motor, its tests, the instruments used, and what it was for."""

    subject: Subject
    conditions: Conditions = UNKNOWN
    tests: tuple[Test, ...] = ()
    instruments: tuple[InstrumentRange, ...] = ()
    occasion: Occasion = Occasion.ROUTINE
    wishes: Wishes = AS_USUAL
