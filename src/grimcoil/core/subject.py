"""What is tested: the motor with its winding, the conditions, and the tests with their readings."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date

from grimcoil.core.criteria import FIELD_GENERAL, Criteria
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.plate import Plate
from grimcoil.core.readings import Reading

SUPPLY_SYSTEMS = (
    "wye-earthed",
    "corner-earthed",
    "high-leg",
    "unearthed",
    "high-resistance-earthed",
    "phase-converter",
)
LEAD_SCHEMES = (
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
)


@dataclass(frozen=True, slots=True)
class Winding:
    """The winding in the motor now; a rewind starts a new one."""

    winding: str = "random"
    insulation_system: str = "thermosetting"
    conductor: str = "copper"
    lead_scheme: str = "three-lead"
    insulation_test_forbidden: bool = False

    @property
    def internal_connection(self) -> str | None:
        """`wye` or `delta` where the lead scheme tells, else None: ohms alone don't."""
        return {"three-lead-wye": "wye", "three-lead-delta": "delta"}.get(self.lead_scheme)


@dataclass(frozen=True, slots=True)
class Conditions:
    """Under which the readings were taken; None where not recorded."""

    winding_temperature_c: float | None = None
    ambient_temperature_c: float | None = None
    relative_humidity_percent: float | None = None
    on: date | None = None


@dataclass(frozen=True, slots=True)
class Subject:
    """The motor as the verdicts need it."""

    plate: Plate
    winding: Winding = Winding()
    criteria: Criteria = FIELD_GENERAL
    supply_system: str | None = None
    system_voltage_v: float | None = None


@dataclass(frozen=True, slots=True)
class ResistanceTest:
    """Line or coil readings by pair (`1-2`), with the meter and the resistance of its leads, ohm."""

    readings: Mapping[str, Reading]
    conditions: Conditions = Conditions()
    meter: InstrumentRange | None = None
    lead_resistance_ohm: float = 0.0


@dataclass(frozen=True, slots=True)
class Timed:
    """A reading at its time since voltage was applied."""

    t_s: float
    reading: Reading


@dataclass(frozen=True, slots=True)
class InsulationTest:
    """A hold. phase_multiple: 1 for the whole winding, 2 one phase with the others earthed, 3 on the guard."""

    series: tuple[Timed, ...]
    test_voltage_v: float | None = None
    conditions: Conditions = Conditions()
    meter: InstrumentRange | None = None
    phase_multiple: int = 1


@dataclass(frozen=True, slots=True)
class SupplyTest:
    """Volts line to line (`L1-L2`) and line to earth (`L1`)."""

    line_to_line: Mapping[str, Reading]
    line_to_earth: Mapping[str, Reading] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class CurrentTest:
    """Settled amps by line; brake_a is subtracted from the lines it names."""

    readings: Mapping[str, Reading]
    brake_a: Mapping[str, float] = field(default_factory=dict)


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


Test = ResistanceTest | InsulationTest | SupplyTest | CurrentTest | ContactTest | AccessoryTest


@dataclass(frozen=True, slots=True)
class JobRecord:
    """One visit: the motor, its tests, and the instruments used."""

    subject: Subject
    conditions: Conditions = Conditions()
    tests: tuple[Test, ...] = ()
    instruments: tuple[InstrumentRange, ...] = ()
