"""Fields of a motor's plate and its place out of a list, each as text in its home unit, as a form would take it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from grimcoil.core.choices import (
    Conductor,
    Criticality,
    InsulationClass,
    InsulationSystem,
    LeadScheme,
    SupplySystem,
    WindingType,
)
from grimcoil.core.errors import RecordRefusal, UnclearReading
from grimcoil.core.plate import parse_power
from grimcoil.core.plate_text import AMPS, HERTZ, PERCENT, SPEED, VOLTS, Factors, measure, pair, year

PLATE, POSITION = "plate.", "position."
BY_LEADS = {"3": "three-lead", "6": "six-lead", "12": "twelve-lead"}
NINE = ("nine-lead-wye", "nine-lead-delta")


@dataclass(frozen=True, slots=True)
class PlateField:
    """How it is read, the name of its form's field, what it is called, and its unit."""

    read: Callable[[str, int], str]
    form: str
    words: str
    unit: str = ""


def _figure(units: Factors, unit: str, least: float, most: float) -> Callable[[str, int], str]:
    return lambda text, _: f"{measure(text, units, unit, least, most).normalize():f}"


def _power(text: str, _: int) -> str:
    parse_power(text, "")
    return text


def _one_of(choices: type[str]) -> Callable[[str, int], str]:
    names = [str(one) for one in choices]  # type: ignore[attr-defined]

    def read(text: str, _: int) -> str:
        plain = text.strip().casefold().replace(" ", "-")
        for name in names:
            if name.casefold() == plain:
                return name
        raise RecordRefusal("", text, "one of " + ", ".join(names))

    return read


def _scheme(text: str, _: int) -> str:
    plain = text.casefold().replace("leads", "").replace("lead", "").strip(" -")
    if plain == "9":
        raise UnclearReading("", text, "nine leads joined in wye, or in delta?", (*NINE, "unknown"))
    return BY_LEADS[plain] if plain in BY_LEADS else _one_of(LeadScheme)(text, 0)


def _short(most: int) -> Callable[[str, int], str]:
    def read(text: str, _: int) -> str:
        if len(text) > most:
            raise RecordRefusal("", text[:30] + "…", f"at most {most} characters")
        return text

    return read


_VOLTS, _AMPS = _figure(VOLTS, "V", 10, 15000), _figure(AMPS, "A", 0.05, 5000)
FIELDS: Mapping[str, PlateField] = {
    "plate.serial": PlateField(_short(60), "serial", "serial number"),
    "plate.rated_voltage_v": PlateField(_VOLTS, "rated_voltage_v", "rated volts", "V"),
    "plate.rated_voltage_2_v": PlateField(_VOLTS, "rated_voltage_2_v", "second volts", "V"),
    "plate.connected_voltage_v": PlateField(_VOLTS, "connected_voltage_v", "volts it is joined for", "V"),
    "plate.full_load_current_a": PlateField(_AMPS, "full_load_current_a", "full-load amps", "A"),
    "plate.full_load_current_2_a": PlateField(_AMPS, "full_load_current_2_a", "second full-load amps", "A"),
    "plate.frequency_hz": PlateField(_figure(HERTZ, "Hz", 10, 400), "frequency_hz", "frequency", "Hz"),
    "plate.power": PlateField(_power, "power", "power"),
    "plate.speed_rpm": PlateField(_figure(SPEED, "r/min", 50, 30000), "speed_rpm", "speed, r/min", "r/min"),
    "plate.service_factor": PlateField(_figure({}, "", 1, 2), "service_factor", "service factor"),
    "plate.insulation_class": PlateField(_one_of(InsulationClass), "insulation_class", "insulation class"),
    "plate.built_year": PlateField(lambda text, now: str(year(text, now)), "built_year", "year built"),
    "plate.frame_size": PlateField(_short(30), "frame_size", "frame size"),
    "plate.bearings": PlateField(_short(60), "bearings", "bearings"),
    "plate.efficiency_percent": PlateField(_figure(PERCENT, "%", 10, 100), "efficiency_percent", "efficiency", "%"),
    "plate.power_factor": PlateField(_figure({}, "", 0.1, 1), "power_factor", "power factor"),
    "plate.lead_scheme": PlateField(_scheme, "lead_scheme", "leads"),
    "plate.winding": PlateField(_one_of(WindingType), "winding", "winding"),
    "plate.insulation_system": PlateField(_one_of(InsulationSystem), "insulation_system", "insulation system"),
    "plate.conductor": PlateField(_one_of(Conductor), "conductor", "conductor"),
    "position.name": PlateField(_short(100), "position", "position"),
    "position.area": PlateField(_short(100), "area", "area"),
    "position.criticality": PlateField(_one_of(Criticality), "criticality", "criticality"),
    "position.supply_system": PlateField(_one_of(SupplySystem), "supply_system", "supply system"),
    "position.system_voltage_v": PlateField(_VOLTS, "system_voltage_v", "system volts", "V"),
}
SECOND = {
    "plate.rated_voltage_v": "plate.rated_voltage_2_v",
    "plate.full_load_current_a": "plate.full_load_current_2_a",
}


def read_fields(name: str, text: str, now: int) -> dict[str, str]:
    """A cell's value by field; two where the plate prints two with a stroke. Raises RecordRefusal, UnclearReading.

    >>> read_fields("plate.rated_voltage_v", "400D/690Y", 2026)
    {'plate.rated_voltage_v': '400', 'plate.rated_voltage_2_v': '690'}
    """
    both = pair(text) if name in SECOND else None
    if both is None:
        return {name: FIELDS[name].read(text, now)}
    second = SECOND[name]
    return {name: FIELDS[name].read(both[0], now), second: FIELDS[second].read(both[1], now)}
