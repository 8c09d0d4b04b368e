"""The forms of a motor: sections of fields, those of its record named as the formats name them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from grimcoil.core.choices import (
    BrakeFeed,
    Conductor,
    ControlSupply,
    Criticality,
    Disconnect,
    InsulationClass,
    Joining,
    LeadScheme,
    Lines,
    Protection,
    Protector,
    Reset,
    Speed,
    Starter,
    SupplySystem,
)
from grimcoil.core.points import LINES
from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.service.details import Details

RATINGS, ACCESSORIES = 2, 4
TRIP_CLASSES = ("5", "10", "20", "30")
SYSTEMS = {
    SupplySystem.WYE_EARTHED: "Wye, earthed neutral",
    SupplySystem.CORNER_EARTHED: "Delta, one corner earthed",
    SupplySystem.HIGH_LEG: "Delta, high leg",
    SupplySystem.UNEARTHED: "Unearthed",
    SupplySystem.HIGH_RESISTANCE: "High-resistance earthed",
    SupplySystem.PHASE_CONVERTER: "Phase converter",
}
YES_NO = (("", "Not known"), ("yes", "Yes"), ("no", "No"))


@dataclass(frozen=True, slots=True)
class Field:
    """One field: typed where it has no options."""

    name: str
    label: str
    unit: str = ""
    hint: str = ""
    options: Sequence[tuple[str, str]] = ()
    required: bool = False


@dataclass(frozen=True, slots=True)
class Section:
    """Fields under one heading."""

    title: str
    fields: Sequence[Field]
    note: str = ""

    def told(self, texts: Mapping[str, str], refused: Mapping[str, str]) -> bool:
        """Whether something stands in it or was refused there: then it is shown open."""
        return any(texts.get(field.name) or field.name in refused for field in self.fields)


def listed(words: type[StrEnum], none: str = "Not known") -> tuple[tuple[str, str], ...]:
    """Its words as options, none first."""
    return (("", none), *((one.value, one.value.replace("-", " ").capitalize()) for one in words))


def _lines(words: type[StrEnum]) -> tuple[tuple[str, str], ...]:
    return (("", "Not known"), *((one.value, one.value) for one in words))


def _under(base: str, fields: Iterable[Field]) -> tuple[Field, ...]:
    return tuple(replace(one, name=f"{base}.{one.name}") for one in fields)


_FED = (("", "No brake on record"), *listed(BrakeFeed)[2:])
_RATING = (
    Field("speed", "For the speed", options=listed(Speed, "Only one")),
    Field("voltage_v", "Voltage", "V"),
    Field("connection", "Joined as", options=listed(Joining)),
    Field("frequency_hz", "Frequency", "Hz"),
    Field("power", "Power", hint="11 kW or 15 hp"),
    Field("full_load_current_a", "Full-load current", "A"),
    Field("speed_rpm", "Rated speed", "r/min"),
)
_ACCESSORY = (Field("what", "What", hint="Thermostat, PTC, RTD, heater"), Field("leads", "Its leads", hint="P1 P2"))
_NEUTRAL = Field("motor.neutral_lead", "Neutral, where it is brought out")
_NAMES_NOTE = "They stand beside the numbers in every step of a job, on the drawings and on the report."
_OWN_LIMIT = (
    Field("motor.insulation_minimum_mohm", "Least insulation", "MΩ"),
    Field("motor.insulation_minimum_source", "Where it stands", hint="The maker's sheet and its date"),
)
_BUILD = (
    Field("mounting", "Mounting", hint="Foot, flange, face"),
    Field("enclosure", "Enclosure"),
    Field("brake.feed", "Brake fed from", options=_FED),
    Field("brake.coil", "Brake coil", "Ω"),
)
_MAKER = (
    Field("rated_voltage_v", "Rated voltage", "V", "230/460"),
    Field("full_load_current_a", "Full-load current", "A", "42/21"),
    Field("power", "Power"),
    Field("speed_rpm", "Rated speed", "r/min"),
    Field("insulation_class", "Insulation class", options=_lines(InsulationClass)),
)
_CIRCUIT = (
    Field("starter", "Starter", options=listed(Starter)),
    Field("disconnect", "Disconnect", options=listed(Disconnect)),
    Field("protection", "Short-circuit protection", options=listed(Protection)),
    Field("supply_system", "Supply system", options=(("", "Not known"), *SYSTEMS.items())),
    Field("system_voltage_v", "System voltage", "V"),
    Field("brake", "Brake", options=listed(BrakeFeed)),
    Field("brake_lines", "Brake between", options=_lines(Lines)),
    Field("protector", "Motor's own protector", options=listed(Protector)),
    *(Field(f"feed_colours.{line}", f"Colour of the feed's {line}") for line in LINES),
)
_CONTROL = (
    Field("control_v", "Control voltage", "V"),
    Field("control_supply", "Control fed from", options=_lines(ControlSupply)),
    Field("control_fuse", "Control fuse", options=YES_NO),
    Field("control_chain", "Devices in their order", hint="stop permissive protector overload start"),
    Field("relays", "Relays that watch the supply", hint="undervoltage phase-loss"),
    Field("generators", "Generators that feed its board"),
    Field("fed_from", "Fed from", hint="Panel and its way"),
)
_CABLE = (
    Field("size_mm2", "Size", "mm²"),
    Field("size_awg", "or gauge", "AWG"),
    Field("length_m", "Length", "m"),
    Field("conductor", "Conductor", options=listed(Conductor)),
)
_OVERLOAD = (
    Field("dial_a", "Dial", "A"),
    Field("trip_class", "Trip class", options=(("", "Not known"), *((one, one) for one in TRIP_CLASSES))),
    Field("reset", "Reset", options=listed(Reset)),
    Field("inside_delta", "Inside the delta", options=YES_NO),
    Field("run_up_s", "Run-up time", "s"),
)
_CALLS_FOR = (
    Field("power", "Power"),
    Field("speed_rpm", "Rated speed", "r/min"),
    Field("voltage_v", "Voltage", "V"),
    Field("mounting", "Mounting"),
    Field("enclosure", "Enclosure"),
    Field("brake", "Brake", options=YES_NO),
    Field("protectors", "Protectors", hint="Their kinds, with blanks between"),
)
_NAMED = (Field("name", "Name", hint="What it drives", required=True), Field("area", "Area"))
_MATTERS = (
    ("routine", "Routine"),
    ("critical", "Critical: tested twice as often as routine"),
    ("easy-spare", "Easy to spare: tested half as often"),
)


def sections(kept: Details) -> list[Section]:
    """Every section of this motor's form."""
    pairs = [Field(f"motor.baseline.readings.{pair}", pair, "Ω") for pair in kept.pairs]
    warm = Field("motor.baseline.winding_temperature_c", "Winding temperature then", "°C")
    more = [f for i in range(ACCESSORIES) for f in _under(f"motor.accessories.{i}", _ACCESSORY)]
    both = [
        Section(
            f"Rating {i + 1}",
            _under(f"motor.ratings.{i}", _RATING),
            "" if i else "Of a motor with several speeds or voltages.",
        )
        for i in range(RATINGS)
    ]
    names = [
        *(Field(f"motor.lead_names.{n}", f"Lead {n} is marked", hint="T1, U1, one notch") for n in kept.leads),
        *(Field(f"motor.lead_colours.{n}", f"Colour of {n}") for n in kept.leads),
    ]
    base = "Typed here it outranks the first accepted job, which stands as the baseline otherwise."
    return [
        *both,
        Section("Leads as they are marked in this box", [*names, _NEUTRAL], _NAMES_NOTE),
        Section("The maker's own limit", _OWN_LIMIT, "For this motor; it goes before every table."),
        Section("Accessories", more),
        Section("Built as", _under("motor", _BUILD)),
        Section("Maker's plate", _under("motor.maker_plate", _MAKER), "Where a rewinder has put a newer one on."),
        Section("Baseline of this winding", [*pairs, warm], base),
        *([] if kept.place else [Section("Position", _under("position", _NAMED))]),
        Section(f"Circuit of {kept.place or 'the position'}", _under("position", _CIRCUIT)),
        Section("Control", _under("position", _CONTROL)),
        Section("Cable to the motor", _under("position.cable", _CABLE)),
        Section("Overload", _under("position.overload", _OVERLOAD)),
        Section("What the position calls for", _under("position.calls_for", _CALLS_FOR)),
    ]


# Of a motor that has more than one speed, or a brake, asked with its plate.
BUILD = (
    Section("First speed", _under("motor.ratings.0", _RATING), "Of a motor with two: the one its plate begins with."),
    Section("Second speed", _under("motor.ratings.1", _RATING)),
    Section("Brake", _under("motor", [one for one in _BUILD if one.name.startswith("brake.")])),
)


def told(texts: Mapping[str, str]) -> dict[str, str]:
    """Those fields in which something stands."""
    return {name: text for name, text in texts.items() if text.strip()}


def place_sections() -> list[Section]:
    """Every section of a position's own form."""
    matters = Field("position.criticality", "Criticality", options=_MATTERS)
    return [
        Section("Position", [*_under("position", _NAMED), matters]),
        Section("Circuit", _under("position", _CIRCUIT)),
        Section("Control", _under("position", _CONTROL)),
        Section("Cable to the motor", _under("position.cable", _CABLE)),
        Section("Overload", _under("position.overload", _OVERLOAD)),
        Section("What the position calls for", _under("position.calls_for", _CALLS_FOR)),
    ]


_OTHER_SCHEMES = {
    LeadScheme.THREE: "Three, wye or delta not known",
    LeadScheme.THREE_WYE: "Three, wye inside",
    LeadScheme.THREE_DELTA: "Three, delta inside",
    LeadScheme.UNKNOWN: "Not known, or nine of which wye or delta isn't known",
}
_CLASSES = {"A": 105, "E": 120, "B": 130, "F": 155, "H": 180}


def _scheme_words() -> tuple[tuple[str, str], ...]:
    return tuple((one.value, _OTHER_SCHEMES.get(one) or SCHEMES[one].title) for one in LeadScheme)


def _classes() -> tuple[tuple[str, str], ...]:
    return (("", "Not known"), *((one.value, f"{one.value}, {_CLASSES[one]} °C") for one in InsulationClass))


# What the metal shows, in the order it stands on the plate.
STAMPED = (
    Field("power", "Power", hint="11 kW or 15 hp"),
    Field("speed_rpm", "Rated speed", "r/min"),
    Field("frequency_hz", "Frequency", "Hz"),
    Field("service_factor", "Service factor"),
    Field("rated_voltage_v", "Rated voltage", "V", required=True),
    Field("rated_voltage_2_v", "Second voltage", "V"),
    Field("full_load_current_a", "Full-load current", "A"),
    Field("full_load_current_2_a", "Current at the second", "A"),
    Field("connected_voltage_v", "Connected for", "V"),
    Field("insulation_class", "Insulation class", options=_classes()),
    Field("built_year", "Built in"),
    Field("serial", "Serial number"),
    Field("frame_size", "Frame size", hint="160M or 254T"),
    Field("efficiency_percent", "Efficiency", "%", "91.4"),
    Field("power_factor", "Power factor", hint="0.86"),
    Field("bearings", "Bearings", hint="6309 C3, 6209 C3"),
)
WINDING = Section(
    "Winding",
    (
        Field("lead_scheme", "Leads in the box", options=_scheme_words()),
        Field("winding", "Winding", options=(("random", "Random-wound"), ("form", "Form-wound"))),
        Field(
            "insulation_system",
            "Insulation system",
            options=(("thermosetting", "Thermosetting"), ("thermoplastic", "Thermoplastic, or before about 1970")),
        ),
        Field("conductor", "Conductor", options=listed(Conductor)[1:]),
        Field(
            "insulation_test_forbidden",
            "Maker forbids insulation tests",
            options=(("", "No"), ("yes", "Yes: ohmmeter only")),
        ),
    ),
)
REGISTRATION = (
    Section("Motor", (Field("tag", "Tag", hint="As on its label, for example BW-114", required=True),)),
    WINDING,
    Section(
        "Position",
        (
            Field("position", "Name", hint="What it drives"),
            Field("area", "Area"),
            Field("criticality", "Criticality", options=listed(Criticality)[1:]),
            Field("supply_system", "Supply system", options=(("", "Not known"), *SYSTEMS.items())),
            Field("system_voltage_v", "System voltage", "V"),
        ),
    ),
)
