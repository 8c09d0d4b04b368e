"""A motor out of a file of the open formats onto the register: plate, winding, position, all that is known of them."""

from __future__ import annotations

from datetime import datetime

from grimcoil.core.errors import FormRefused, RecordRefusal
from grimcoil.core.people import Actor
from grimcoil.exchange.motors import Motor, Position, checked, plate_of, position_of
from grimcoil.service.motors import Checked, check_registration, register_motor
from grimcoil.service.subjects import circuit_of, take_in
from grimcoil.store.engine import Store


def checked_file(motor: Motor, place: Position, supply_system: str | None, now: datetime) -> Checked:
    """Read it as a registration. Raises RecordRefusal with the path."""
    checked(motor)
    position_of(place)
    plate = plate_of(motor)
    volts, amps = _two(plate.rated_voltage_v), _two(plate.full_load_current_a)
    texts = {
        "tag": motor.tag, "rated_voltage_v": volts[0], "rated_voltage_2_v": volts[1],
        "connected_voltage_v": motor.connected_voltage_v, "full_load_current_a": amps[0],
        "full_load_current_2_a": amps[1], "frequency_hz": plate.frequency_hz, "power": motor.power,
        "speed_rpm": motor.speed_rpm, "service_factor": motor.service_factor,
        "insulation_class": motor.insulation_class, "lead_scheme": str(motor.lead_scheme),
        "frame_size": motor.frame_size, "bearings": motor.bearings,
        "efficiency_percent": motor.efficiency_percent, "power_factor": motor.power_factor,
        "built_year": motor.built_year, "winding": motor.winding, "insulation_system": motor.insulation_system,
        "conductor": motor.conductor, "position": place.name, "area": place.area,
        "supply_system": supply_system or place.supply_system, "system_voltage_v": place.system_voltage_v,
        "insulation_test_forbidden": "yes" if motor.insulation_test_forbidden else None,
    }  # fmt: skip
    try:
        found = check_registration({key: _text(value) for key, value in texts.items()}, now)
    except FormRefused as refused:
        where, sentence = next(iter(refused.fields.items()))
        raise RecordRefusal(f"motor.{where}", _text(texts.get(where)), sentence) from None
    take_in(motor, found.motor, found.winding)
    if found.position is not None:
        found.position.circuit = circuit_of(place)
    return found


def register_file(store: Store, actor: Actor, motor: Motor, place: Position, now: datetime) -> str:
    """Register it and return its tag. Raises Forbidden, RecordRefusal; the same motor again is that motor."""
    found = checked_file(motor, place, None, now)
    try:
        return register_motor(store, actor, found)
    except FormRefused as refused:
        if "position" in refused.fields:
            raise RecordRefusal("position.name", place.name, refused.fields["position"].removesuffix(".")) from None
        raise RecordRefusal("motor.tag", found.motor.tag, refused.fields["tag"]) from None


def _two(values: tuple[float, ...]) -> list[float | None]:
    return [*values[:2], None, None][:2]


def _text(value: object) -> str:
    return "" if value is None else f"{value:.12g}" if isinstance(value, float) else str(value)
