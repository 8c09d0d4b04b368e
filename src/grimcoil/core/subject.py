"""What is tested: the motor with its winding, its place in the plant, and the criteria it is judged by."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date

from grimcoil.core.choices import SourceKind
from grimcoil.core.criteria import FIELD_GENERAL, Criteria
from grimcoil.core.plate import Plate


@dataclass(frozen=True, slots=True)
class Winding:
    """The winding in the motor now; a rewind starts a new one.

    insulation_system: None where it isn't on record. baseline_ohm: earlier line readings by pair (`1-2`) at the
    criteria's reference temperature. insulation_minimum_mohm: the maker's own limit for this motor, and where
    it stands. lead_names, lead_colours: the scheme's number -> what stands on that lead in this box.
    neutral_lead: the name of a fourth lead, the star point brought out.
    """

    winding: str = "random"
    insulation_system: str | None = "thermosetting"
    conductor: str = "copper"
    lead_scheme: str = "three-lead"
    insulation_test_forbidden: bool = False
    baseline_ohm: Mapping[str, float] = field(default_factory=dict)
    insulation_minimum_mohm: float | None = None
    insulation_minimum_source: str = ""
    lead_names: Mapping[str, str] = field(default_factory=dict)
    lead_colours: Mapping[str, str] = field(default_factory=dict)
    neutral_lead: str = ""

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


UNKNOWN = Conditions()


@dataclass(frozen=True, slots=True)
class Cable:
    """The cable between starter and motor: size in mm² or as an AWG number, length in m."""

    size_mm2: float | None = None
    length_m: float | None = None
    conductor: str = "copper"
    size_awg: str | None = None


@dataclass(frozen=True, slots=True)
class Overload:
    """The overload relay: dial in A, trip class in s at 7.2 x, and whether it sits inside the delta."""

    dial_a: float | None = None
    trip_class: int | None = None
    inside_delta: bool = False
    automatic_reset: bool = False
    run_up_s: float | None = None


@dataclass(frozen=True, slots=True)
class Calling:
    """What the position calls for; None where it doesn't matter or isn't on record."""

    power_w: float | None = None
    speed_rpm: float | None = None
    voltage_v: float | None = None
    mounting: str | None = None
    enclosure: str | None = None
    brake: bool | None = None
    protectors: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Source:
    """One source of energy of the isolation card: where it comes from, where it is locked, and what was ever found live
    of it: volts, the day and who found it, as on record.
    """

    kind: SourceKind
    name: str = ""
    from_: str = ""
    lock_at: str = ""
    found_v: float | None = None
    found_at: str = ""
    found_by: str = ""


@dataclass(frozen=True, slots=True)
class Position:
    """The place in the plant that the motor drives, as far as verdicts and plans need it. control_separate: the control
    circuit has a supply of its own; local: its disconnect is at the motor. brake_lines: the two lines that feed the
    brake (`L1-L2`), empty where it has none or they aren't on record. feed_colours: of the cores that come from the
    starter, by line.
    """

    cable: Cable = Cable()
    overload: Overload = Overload()
    calls_for: Calling = Calling()
    starter: str | None = None
    sources: tuple[Source, ...] = ()
    control_separate: bool = False
    local: bool = False
    brake_lines: str = ""
    feed_colours: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Fitting:
    """Something on the motor that is tested by itself: a protector, a heater, an encoder, with its leads."""

    what: str
    leads: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Fittings:
    """What the motor is built as and what hangs on it."""

    mounting: str | None = None
    enclosure: str | None = None
    protectors: tuple[str, ...] = ()
    brake: bool = False
    brake_coil_ohm: float | None = None
    brake_feed: str | None = None
    extras: tuple[Fitting, ...] = ()


@dataclass(frozen=True, slots=True)
class Subject:
    """The motor as the verdicts need it. plate: the one that governs the winding (the newer of two).

    maker_plate: the maker's plate where a rewinder has put a newer one on. speeds: the plate's figures by speed
    (`low`, `high`) of a motor with several.
    """

    plate: Plate
    winding: Winding = field(default_factory=Winding)
    criteria: Criteria = FIELD_GENERAL
    supply_system: str | None = None
    system_voltage_v: float | None = None
    position: Position = Position()
    fittings: Fittings = Fittings()
    maker_plate: Plate | None = None
    speeds: Mapping[str, Plate] = field(default_factory=dict)

    def at_speed(self, part: str | None) -> Subject:
        """The same motor with the figures of one speed on its plate."""
        return self if part is None or part not in self.speeds else replace(self, plate=self.speeds[part])
