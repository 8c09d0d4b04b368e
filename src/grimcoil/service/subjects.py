"""Rows to the core's subject: what the verdicts need of a motor."""

from __future__ import annotations

from decimal import Decimal

from grimcoil.core.criteria import CRITERIA, FIELD_GENERAL
from grimcoil.core.plate import Plate, parse_power
from grimcoil.core.subject import Subject, Winding
from grimcoil.exchange.subjects import Named
from grimcoil.store.motors import WindingLine
from grimcoil.store.tables import Motor, Position, WindingRow


def plate_of(motor: Motor) -> Plate:
    """The nameplate of a motor."""
    volts = [motor.rated_voltage_v, motor.rated_voltage_2_v]
    amps = [motor.full_load_current_a, motor.full_load_current_2_a]
    return Plate(
        rated_voltage_v=tuple(float(v) for v in volts if v is not None),
        full_load_current_a=tuple(float(a) for a in amps if a is not None),
        connected_voltage_v=_number(motor.connected_voltage_v),
        frequency_hz=_number(motor.frequency_hz),
        power_w=parse_power(motor.power_text) if motor.power_text else None,
        speed_rpm=_number(motor.speed_rpm),
        service_factor=float(motor.service_factor),
        insulation_class=motor.insulation_class,
        built_year=motor.built_year,
    )


def winding_of(row: WindingRow | WindingLine) -> Winding:
    """The core's winding."""
    return Winding(row.winding, row.insulation_system, row.conductor, row.lead_scheme, row.insulation_test_forbidden)


def subject_of(motor: Motor, winding: WindingRow | WindingLine, position: Position | None, criteria: str) -> Subject:
    """What the verdicts need."""
    return Subject(
        plate_of(motor),
        winding_of(winding),
        CRITERIA.get(criteria, FIELD_GENERAL),
        position.supply_system if position else None,
        _number(position.system_voltage_v) if position else None,
    )


def named_of(motor: Motor, place: Position | None) -> Named:
    """How it is called on paper."""
    return Named(
        motor.tag, motor.serial, motor.power_text, place.name if place else "", (place.area or "") if place else ""
    )


def _number(value: Decimal | None) -> float | None:
    return None if value is None else float(value)
