"""Rows to the core's subject: what the verdicts need of a motor. The rows are read as the open formats' own motor and
position, so that a motor on the register and the same motor in a file are judged alike.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from decimal import Decimal
from typing import Any, TypeVar

from pydantic import ValidationError

from grimcoil.core.criteria import Criteria
from grimcoil.core.plate import Plate
from grimcoil.core.points import groups_of, lead_of
from grimcoil.core.resistance.temperature import at_reference
from grimcoil.core.subject import Subject
from grimcoil.exchange import motors as formats
from grimcoil.exchange.strict import first_refusal
from grimcoil.exchange.subjects import Named
from grimcoil.store.jobs import FirstOhms
from grimcoil.store.lines import MotorLine, PlaceLine
from grimcoil.store.motors import WindingLine
from grimcoil.store.tables import Motor, Position, WindingRow

M = TypeVar("M", formats.Motor, formats.Position)
AnyMotor = Motor | MotorLine
AnyPlace = Position | PlaceLine
AnyWinding = WindingRow | WindingLine
# What a winding's row keeps as documents of the formats' motor, and a position's as one document of its circuit.
DOCUMENTS = ("ratings", "accessories", "brake", "maker_plate", "baseline")
# What of the formats' motor is this motor's own: one document beside the others.
OWN = ("lead_names", "lead_colours", "neutral_lead", "insulation_minimum_mohm", "insulation_minimum_source")
ON_POSITION = ("name", "area", "supply_system", "system_voltage_v")


def motor_file(motor: AnyMotor, winding: AnyWinding | None = None) -> formats.Motor:
    """Motor and winding as the formats write them. Raises RecordRefusal where a stored document can't be read."""
    volts = [motor.rated_voltage_v, motor.rated_voltage_2_v]
    amps = [motor.full_load_current_a, motor.full_load_current_2_a]
    document: dict[str, Any] = {
        "tag": motor.tag,
        "rated_voltage_v": [float(v) for v in volts if v is not None],
        "full_load_current_a": [float(a) for a in amps if a is not None],
        "connected_voltage_v": _number(motor.connected_voltage_v),
        "frequency_hz": _number(motor.frequency_hz),
        "power": motor.power_text or None,
        "speed_rpm": _number(motor.speed_rpm),
        "service_factor": float(motor.service_factor),
        "insulation_class": motor.insulation_class,
        "built_year": motor.built_year,
        "mounting": motor.mounting,
        "enclosure": motor.enclosure,
        "frame_size": motor.frame_size,
        "bearings": motor.bearings,
        "efficiency_percent": _number(motor.efficiency_percent),
        "power_factor": _number(motor.power_factor),
    }
    if winding is not None:
        document |= {
            "winding": winding.winding,
            "insulation_system": winding.insulation_system,
            "conductor": winding.conductor,
            "lead_scheme": winding.lead_scheme,
            "insulation_test_forbidden": winding.insulation_test_forbidden,
        }
        document |= {key: kept for key in DOCUMENTS if (kept := getattr(winding, key)) is not None}
        document |= own_of(winding)
    return _read(formats.Motor, document, "the register's motor")


def position_file(position: AnyPlace | None, works: bool = False) -> formats.Position:
    """A position as the formats write it; one with nothing on record where there is none. works: with the supply of the
    works where it has none of its own, as what is measured there is judged.
    """
    if position is None:
        return formats.Position()
    system, volts = position.supply_system, position.system_voltage_v
    if works:
        system, volts = system or position.works_supply, volts or position.works_voltage_v
    document = {
        "name": position.name,
        "area": position.area or None,
        "supply_system": system,
        "system_voltage_v": _number(volts),
    }
    return _read(formats.Position, (position.circuit or {}) | document, "the register's position")


def take_in(given: formats.Motor, motor: Motor, winding: WindingRow) -> None:
    """Onto the rows what a file or form says beyond the plain plate."""
    motor.mounting, motor.enclosure = given.mounting, given.enclosure
    document = given.model_dump(mode="json", exclude_none=True, exclude_unset=True)
    for key in DOCUMENTS:
        setattr(winding, key, document.get(key) or None)
    winding.own = {key: document[key] for key in OWN if document.get(key)} or None


def own_of(winding: AnyWinding) -> dict[str, Any]:
    """The motor's own, with names and colours of leads that its scheme still has."""
    leads = {lead for group in groups_of(winding.lead_scheme) for lead in group}
    return {
        key: {n: word for n, word in kept.items() if not leads or lead_of(n, winding.lead_scheme) in leads}
        if key.startswith("lead_")
        else kept
        for key, kept in (winding.own or {}).items()
    }


def without_names(own: Mapping[str, Any] | None) -> dict[str, Any] | None:
    """What stays a motor's own where its leads aren't the same any more."""
    return {key: value for key, value in (own or {}).items() if not key.startswith("lead_")} or None


def circuit_of(given: formats.Position) -> dict[str, Any] | None:
    """What a position's row keeps of its circuit, as one document."""
    document = given.model_dump(mode="json", exclude_none=True, exclude_unset=True, by_alias=True)
    return {key: value for key, value in document.items() if key not in ON_POSITION} or None


def put_circuit(position: Position, given: formats.Position) -> None:
    """Supply and circuit onto a position's row; the starter's figures and the isolation card, which have pages of their
    own, stay where nothing is said of them.
    """
    kept = _read(formats.Position, position.circuit or {}, "the register's position")
    apart = {"starter_figures": given.starter_figures or kept.starter_figures, "sources": given.sources or kept.sources}
    position.circuit = circuit_of(given.model_copy(update={key: value for key, value in apart.items() if value}))
    position.supply_system = given.supply_system
    volts = given.system_voltage_v
    position.system_voltage_v = None if volts is None else Decimal(f"{volts:.12g}")


def _read(model: type[M], document: Mapping[str, Any], name: str) -> M:
    try:
        return model.model_validate(document)
    except ValidationError as error:
        raise first_refusal(error, name) from None


def plate_of(motor: AnyMotor) -> Plate:
    """The nameplate of a motor."""
    return formats.plate_of(motor_file(motor))


def subject_of(
    motor: AnyMotor,
    winding: AnyWinding,
    position: AnyPlace | None,
    limits: Criteria,
    first: FirstOhms | None = None,
) -> Subject:
    """What the verdicts need. first: the winding's first accepted ohms, its baseline where none was typed."""
    kept, place = motor_file(motor, winding), position_file(position, works=True)
    reference_c = limits.reference_temperature_c.value
    made = formats.winding_of(kept, reference_c)
    if not made.baseline_ohm and first is not None:
        made = replace(made, baseline_ohm=_brought(first, reference_c, made.conductor))
    return Subject(
        formats.plate_of(kept),
        made,
        limits,
        place.supply_system,
        place.system_voltage_v,
        formats.position_of(place),
        formats.fittings_of(kept),
        formats.maker_plate_of(kept),
        formats.speeds_of(kept),
    )


def _brought(first: FirstOhms, reference_c: float, conductor: str) -> dict[str, float]:
    then = first.temperature_c
    return {pair: at_reference(ohm, then, reference_c, conductor) for pair, ohm in first.ohms.items()}


def named_of(motor: AnyMotor, place: AnyPlace | None) -> Named:
    """How it is called on paper."""
    return Named(
        motor.tag, motor.serial, motor.power_text, place.name if place else "", (place.area or "") if place else ""
    )


def _number(value: Decimal | None) -> float | None:
    return None if value is None else float(value)
