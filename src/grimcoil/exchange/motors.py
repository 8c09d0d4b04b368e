"""The motor, its position and the instruments of a `grimcoil-job/1`, and what the core makes of them."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, FiniteFloat, StringConstraints

from grimcoil.core.choices import (
    BrakeFeed,
    Conductor,
    ControlSupply,
    Disconnect,
    InsulationClass,
    InsulationSystem,
    Joining,
    LeadScheme,
    Lines,
    Protection,
    Protector,
    Reset,
    SourceKind,
    Speed,
    Starter,
    SupplySystem,
    WindingType,
)
from grimcoil.core.circuit.cable import awg_diameter_mm
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.fields import CURRENT, INSULATION, LOW_OHM, VOLTAGE
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.plate import Plate, parse_power
from grimcoil.core.points import groups_of, lead_of
from grimcoil.core.resistance.naming import pair_of
from grimcoil.core.resistance.temperature import at_reference
from grimcoil.core.subject import Cable as CoreCable
from grimcoil.core.subject import Calling, Fitting, Fittings, Source, Winding
from grimcoil.core.subject import Overload as CoreOverload
from grimcoil.core.subject import Position as CorePosition
from grimcoil.exchange.strict import (
    MOST_NAMES,
    Celsius,
    NotNegative,
    Positive,
    ReadingText,
    Strict,
    Text,
    exact,
    no_hidden,
)

_TOP_FIELD = {"insulation": INSULATION, "volt-ac": VOLTAGE, "volt-dc": VOLTAGE, "amp-clamp": CURRENT}


ShortName = Annotated[
    str, StringConstraints(min_length=1, max_length=20, strip_whitespace=True), AfterValidator(no_hidden)
]


class Brake(Strict):
    """How the brake is fed (`two-lines` or separately), and its coil."""

    feed: Text | None = None
    coil: ReadingText | None = None


class Accessory(Strict):
    """What hangs on the motor."""

    what: Text
    leads: list[Text] = Field(default_factory=list)


class Rating(Strict):
    """One speed or voltage of a motor with several."""

    speed: Speed | None = None
    voltage_v: Positive | None = None
    connection: Joining | None = None
    frequency_hz: Positive | None = None
    power: Text | None = None
    full_load_current_a: Positive | None = None
    speed_rpm: Positive | None = None


class MakerPlate(Strict):
    """The maker's plate of a motor whose rewinder put a newer one on."""

    rated_voltage_v: list[Positive] | Positive = Field(default_factory=list)
    full_load_current_a: list[Positive] | Positive = Field(default_factory=list)
    power: Text | None = None
    speed_rpm: Positive | None = None
    insulation_class: InsulationClass | None = None


class Baseline(Strict):
    """The first accepted line readings and the winding temperature they were taken at."""

    readings: Annotated[dict[Text, ReadingText], Field(max_length=MOST_NAMES)]
    winding_temperature_c: Celsius = 25.0


class Motor(Strict):
    """The nameplate and the winding."""

    tag: Text = ""
    rated_voltage_v: list[Positive] | Positive = Field(default_factory=list)
    connected_voltage_v: Positive | None = None
    frequency_hz: Positive | None = None
    power: Text | None = None
    full_load_current_a: list[Positive] | Positive = Field(default_factory=list)
    speed_rpm: Positive | None = None
    service_factor: Annotated[FiniteFloat, Field(ge=1, le=2)] = 1.0
    insulation_class: InsulationClass | None = None
    winding: WindingType = WindingType.RANDOM
    insulation_system: InsulationSystem | None = None
    built_year: Annotated[int, Field(ge=1880, le=2200)] | None = None
    conductor: Conductor = Conductor.COPPER
    lead_scheme: LeadScheme = LeadScheme.THREE
    insulation_test_forbidden: bool = False
    accessories: list[Accessory] = Field(default_factory=list)
    brake: Brake | None = None
    ratings: list[Rating] = Field(default_factory=list)
    mounting: Text | None = None
    enclosure: Text | None = None
    frame_size: Text | None = None
    bearings: Text | None = None
    efficiency_percent: Annotated[FiniteFloat, Field(ge=10, le=100)] | None = None
    power_factor: Annotated[FiniteFloat, Field(ge=0.1, le=1)] | None = None
    maker_plate: MakerPlate | None = None
    baseline: Baseline | None = None
    lead_names: Annotated[dict[Text, ShortName], Field(max_length=MOST_NAMES)] = Field(default_factory=dict)
    lead_colours: Annotated[dict[Text, ShortName], Field(max_length=MOST_NAMES)] = Field(default_factory=dict)
    neutral_lead: ShortName | None = None
    insulation_minimum_mohm: Positive | None = None
    insulation_minimum_source: Text | None = None


class Cable(Strict):
    """Cable between starter and motor."""

    size_mm2: Positive | None = None
    size_awg: Text | None = None
    length_m: NotNegative | None = None
    conductor: Conductor = Conductor.COPPER


class Overload(Strict):
    """Overload relay."""

    dial_a: Positive | None = None
    trip_class: Literal[5, 10, 20, 30] | None = None
    inside_delta: bool = False
    automatic_reset: bool | None = None
    reset: Reset | None = None
    run_up_s: Positive | None = None


class StarterSheet(Strict):
    """What is read off or set in a starter."""

    coil_v: Positive | None = None
    control_primary_v: Positive | None = None
    control_va: Positive | None = None
    control_fuse_a: Positive | None = None
    fuse_a: Positive | None = None
    timer_s: Positive | None = None
    run_up_s: Positive | None = None
    tap_percent: Positive | None = None
    line_a_star: Positive | None = None
    line_a_delta: Positive | None = None
    start_a: Positive | None = None
    starts_per_hour: Positive | None = None
    undervoltage_release: bool | None = None


class CallsFor(Strict):
    """What the position calls for."""

    power: Text | None = None
    speed_rpm: Positive | None = None
    voltage_v: Positive | None = None
    mounting: Text | None = None
    enclosure: Text | None = None
    brake: bool | None = None
    protectors: list[Text] = Field(default_factory=list)


class IsolationSource(Strict):
    """One source of energy of the position's isolation card."""

    source: SourceKind
    name: Text | None = None
    from_: Text | None = Field(default=None, alias="from")
    lock_at: Text | None = None
    found_v: NotNegative | None = None
    found_at: Text | None = None
    found_by: Text | None = None


MOST_SOURCES = 12


class Position(Strict):
    """The place in the plant the motor drives, with its circuit: one model for job, plan, walk and register."""

    name: Text = ""
    area: Text | None = None
    starter: Starter | None = None
    disconnect: Disconnect | None = None
    protection: Protection | None = None
    control_v: Positive | None = None
    control_fuse: bool | None = None
    control_supply: ControlSupply | None = None
    control_chain: list[Text] | None = None
    protector: Protector | None = None
    brake: BrakeFeed | None = None
    brake_lines: Lines | None = None
    cable: Cable | None = None
    overload: Overload | None = None
    starter_figures: StarterSheet | None = None
    calls_for: CallsFor | None = None
    system_voltage_v: Positive | None = None
    supply_system: SupplySystem | None = None
    sources: Annotated[list[IsolationSource], Field(max_length=MOST_SOURCES)] = Field(default_factory=list)
    fed_from: Text | None = None
    relays: Annotated[list[Literal["undervoltage", "phase-loss"]], Field(max_length=2)] = Field(default_factory=list)
    generators: Annotated[int, Field(ge=0, le=99)] | None = None
    feed_colours: dict[Literal["L1", "L2", "L3"], ShortName] = Field(default_factory=dict)


class Instrument(Strict):
    """One range of an instrument."""

    id: Text
    function: Text
    top: ReadingText | None = None
    resolution: ReadingText | None = None
    accuracy_percent: NotNegative = 0.0
    counts: NotNegative = 0.0
    calibration_due: date | None = None
    beep_below_ohm: Positive | None = None
    corrects_to_40c: bool = False
    shows: Literal["megohms", "microamps"] = "megohms"
    address: Text | None = None
    identity: Text | None = None


def _listed(value: list[float] | float) -> tuple[float, ...]:
    return tuple(value) if isinstance(value, list) else (value,)


def plate_of(motor: Motor) -> Plate:
    """The plate; volts and amps of `ratings` without a speed stand in where the flat keys are missing."""
    volts, amps = _listed(motor.rated_voltage_v), _listed(motor.full_load_current_a)
    plain = [rating for rating in motor.ratings if rating.speed is None]
    first = motor.ratings[0] if motor.ratings else _NO_RATING
    return Plate(
        rated_voltage_v=volts or tuple(r.voltage_v for r in plain or [first] if r.voltage_v is not None),
        full_load_current_a=amps or tuple(r.full_load_current_a for r in plain if r.full_load_current_a is not None),
        connected_voltage_v=motor.connected_voltage_v,
        frequency_hz=motor.frequency_hz or first.frequency_hz,
        power_w=parse_power(motor.power, "motor.power") if motor.power else None,
        speed_rpm=motor.speed_rpm,
        service_factor=motor.service_factor,
        insulation_class=motor.insulation_class,
        built_year=motor.built_year,
        efficiency_percent=motor.efficiency_percent,
        power_factor=motor.power_factor,
    )


def speeds_of(motor: Motor) -> dict[str, Plate]:
    """The plate by speed, of a motor with several."""
    return {
        rating.speed: Plate(
            rated_voltage_v=(rating.voltage_v,) if rating.voltage_v else _listed(motor.rated_voltage_v),
            full_load_current_a=(rating.full_load_current_a,) if rating.full_load_current_a else (),
            frequency_hz=rating.frequency_hz or motor.frequency_hz,
            power_w=parse_power(rating.power, f"motor.ratings.{i}.power") if rating.power else None,
            speed_rpm=rating.speed_rpm,
            service_factor=motor.service_factor,
            insulation_class=motor.insulation_class,
            built_year=motor.built_year,
        )
        for i, rating in enumerate(motor.ratings)
        if rating.speed is not None
    }


def maker_plate_of(motor: Motor) -> Plate | None:
    """The maker's plate beside a rewinder's."""
    given = motor.maker_plate
    if given is None:
        return None
    return Plate(
        _listed(given.rated_voltage_v),
        _listed(given.full_load_current_a),
        power_w=parse_power(given.power, "motor.maker_plate.power") if given.power else None,
        speed_rpm=given.speed_rpm,
        insulation_class=given.insulation_class,
    )


def checked(motor: Motor) -> None:
    """Read every figure of it once. Raises RecordRefusal where one isn't a figure of its kind."""
    plate_of(motor)
    speeds_of(motor)
    maker_plate_of(motor)
    winding_of(motor, 25.0)
    fittings_of(motor)


def winding_of(motor: Motor, reference_c: float) -> Winding:
    """The winding, its baseline brought to the criteria's reference temperature."""
    return Winding(
        motor.winding,
        motor.insulation_system,
        motor.conductor,
        motor.lead_scheme,
        motor.insulation_test_forbidden,
        _baseline(motor, reference_c) if motor.baseline else {},
        motor.insulation_minimum_mohm,
        motor.insulation_minimum_source or "",
        _by_lead(motor, "lead_names"),
        _by_lead(motor, "lead_colours"),
        motor.neutral_lead or "",
    )


def _by_lead(motor: Motor, key: str) -> dict[str, str]:
    """Names or colours by the scheme's numbers. Raises RecordRefusal for a lead the scheme hasn't, or a name twice."""
    given: dict[str, str] = getattr(motor, key)
    leads = [lead for group in groups_of(motor.lead_scheme) for lead in group]
    out: dict[str, str] = {}
    for lead, name in given.items():
        number = lead_of(lead, motor.lead_scheme)
        if leads and number not in leads:
            raise RecordRefusal(f"motor.{key}.{lead}", lead, f"a lead of this scheme: {', '.join(leads)}", leads[0])
        same = next((other for other, known in out.items() if known.casefold() == name.casefold()), None)
        if key == "lead_names" and (same is not None or name == motor.neutral_lead):
            says = "a name of its own for each lead"
            raise RecordRefusal(f"motor.{key}.{lead}", name, says)
        out[number] = name
    return out


def _baseline(motor: Motor, reference_c: float) -> dict[str, float]:
    given = motor.baseline or Baseline(readings={})
    if given.winding_temperature_c <= -200:
        raise RecordRefusal(
            "motor.baseline.winding_temperature_c", f"{given.winding_temperature_c:g}", "a temperature in °C", "25"
        )
    out = {}
    for name, text in given.readings.items():
        ohm = exact(text, LOW_OHM, f"motor.baseline.readings.{name}") or 0.0
        out[pair_of(name, motor.lead_scheme)] = at_reference(
            ohm, given.winding_temperature_c, reference_c, motor.conductor
        )
    return out


def fittings_of(motor: Motor) -> Fittings:
    """Build and what hangs on it."""
    coil = motor.brake.coil if motor.brake else None
    return Fittings(
        motor.mounting,
        motor.enclosure,
        tuple(accessory.what for accessory in motor.accessories),
        motor.brake is not None,
        exact(coil, LOW_OHM, "motor.brake.coil"),
        motor.brake.feed if motor.brake else None,
        tuple(Fitting(accessory.what, tuple(accessory.leads)) for accessory in motor.accessories),
    )


_NO_CABLE, _NO_RELAY, _NO_CALL, _NO_RATING = Cable(), Overload(), CallsFor(), Rating()
_NO_CORE_POSITION = CorePosition()


def position_of(given: Position) -> CorePosition:
    """The position."""
    own = (given.cable, given.overload, given.calls_for, given.starter, given.control_supply, given.disconnect)
    if own == (None,) * len(own) and not (given.sources or given.brake_lines or given.feed_colours):
        return _NO_CORE_POSITION
    cable, relay, calls = given.cable or _NO_CABLE, given.overload or _NO_RELAY, given.calls_for or _NO_CALL
    return CorePosition(
        CoreCable(cable.size_mm2, cable.length_m, cable.conductor, _awg(cable.size_awg)),
        CoreOverload(relay.dial_a, relay.trip_class, relay.inside_delta, _by_itself(relay), relay.run_up_s),
        Calling(
            parse_power(calls.power, "position.calls_for.power") if calls.power else None,
            calls.speed_rpm,
            calls.voltage_v,
            calls.mounting,
            calls.enclosure,
            calls.brake,
            tuple(calls.protectors),
        ),
        given.starter,
        tuple(
            Source(
                one.source,
                one.name or "",
                one.from_ or "",
                one.lock_at or "",
                one.found_v,
                one.found_at or "",
                one.found_by or "",
            )
            for one in given.sources
        ),
        given.control_supply == ControlSupply.SEPARATE,
        given.disconnect == Disconnect.LOCAL,
        given.brake_lines or "",
        {str(line): colour for line, colour in given.feed_colours.items()},
    )


def _by_itself(relay: Overload) -> bool:
    """Resets by itself; the walk's spelling counts where the job's own isn't given."""
    return relay.reset == "automatic" if relay.automatic_reset is None else relay.automatic_reset


def _awg(size: str | None) -> str | None:
    if size is None:
        return None
    try:
        diameter = awg_diameter_mm(size)
    except ValueError:
        diameter = 0.0
    if not 0.02 < diameter < 12:
        raise RecordRefusal("position.cable.size_awg", size, "a gauge from 4/0 to 50", "10")
    return size


def meter_of(given: Instrument, path: str) -> InstrumentRange:
    """An instrument's range."""
    field = _TOP_FIELD.get(given.function, LOW_OHM)
    return InstrumentRange(
        given.id,
        given.function,
        exact(given.top, field, f"{path}.top"),
        exact(given.resolution, field, f"{path}.resolution"),
        given.accuracy_percent,
        given.counts,
        None,
        given.calibration_due,
        (),
        given.corrects_to_40c,
        given.shows,
        given.beep_below_ohm,
    )
