"""A core JobRecord out as `grimcoil-job/1`: read back, it is judged the same."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from decimal import Decimal
from typing import Any

from grimcoil.core import measured as m
from grimcoil.core.instruments import MEGOHMS, InstrumentRange
from grimcoil.core.plate import Plate
from grimcoil.core.readings import Reading
from grimcoil.core.subject import Conditions, Fitting, Position, Subject
from grimcoil.exchange.plans import wishes_document
from grimcoil.exchange.side import side_document
from grimcoil.exchange.subjects import Named

FORMAT = "grimcoil-job/1"
Json = dict[str, Any]
_UNIT = {"volt-ac": "V", "volt-dc": "V", "amp-clamp": "A"}


def job_document(record: m.JobRecord, named: Named) -> Json:
    """The record with the motor's names. Keys that would say nothing are left out."""
    subject = record.subject
    return _said(
        {
            "format": FORMAT,
            "motor": _motor(subject, named),
            "position": _position(subject.position, named) | _said({"system_voltage_v": subject.system_voltage_v}),
            "instruments": [_instrument(meter) for meter in record.instruments],
            "criteria": subject.criteria.name,
            "conditions": _conditions(record.conditions),
            "supply_system": subject.supply_system,
            "occasion": str(record.occasion),
            "tests": [_test(test, record) for test in record.tests],
        }
        | wishes_document(record.wishes)
    )


def _said(document: Json) -> Json:
    return {key: value for key, value in document.items() if value not in (None, "", [], {}, ())}


def _plain(value: float, unit: str) -> str:
    """The shortest decimal of this float, with its unit: exact both ways."""
    return f"{Decimal(repr(value)):f} {unit}"


def _motor(subject: Subject, named: Named) -> Json:
    winding, fittings = subject.winding, subject.fittings
    brake = _said({"feed": fittings.brake_feed, "coil": _ohm(fittings.brake_coil_ohm)}) if fittings.brake else None
    base = {"readings": {p: _plain(v, "ohm") for p, v in winding.baseline_ohm.items()}}
    base["winding_temperature_c"] = subject.criteria.reference_temperature_c.value  # type: ignore[assignment]
    document = _plate(subject.plate, named.power_text) | {
        "tag": named.tag,
        "winding": winding.winding,
        "insulation_system": winding.insulation_system,
        "conductor": winding.conductor,
        "lead_scheme": str(winding.lead_scheme),
        "insulation_test_forbidden": winding.insulation_test_forbidden,
        "accessories": [_accessory(fitting) for fitting in fittings.extras]
        or [{"what": what} for what in fittings.protectors],
        "ratings": [_rating(speed, plate) for speed, plate in subject.speeds.items()],
        "mounting": fittings.mounting,
        "enclosure": fittings.enclosure,
        "maker_plate": _maker(subject.maker_plate),
        "baseline": base if winding.baseline_ohm else None,
        "lead_names": dict(winding.lead_names),
        "lead_colours": dict(winding.lead_colours),
        "neutral_lead": winding.neutral_lead,
        "insulation_minimum_mohm": winding.insulation_minimum_mohm,
        "insulation_minimum_source": winding.insulation_minimum_source,
    }
    return _said(document) | ({"brake": brake} if brake is not None else {})


def _accessory(fitting: Fitting) -> Json:
    return _said({"what": fitting.what, "leads": list(fitting.leads)})


def _ohm(value: float | None) -> str | None:
    return None if value is None else _plain(value, "ohm")


def _watts(plate: Plate, text: str = "") -> str | None:
    return text or (None if plate.power_w is None else _plain(plate.power_w, "W"))


def _plate(plate: Plate, power_text: str) -> Json:
    return {
        "rated_voltage_v": list(plate.rated_voltage_v),
        "connected_voltage_v": plate.connected_voltage_v,
        "frequency_hz": plate.frequency_hz,
        "power": _watts(plate, power_text),
        "full_load_current_a": list(plate.full_load_current_a),
        "speed_rpm": plate.speed_rpm,
        "service_factor": plate.service_factor,
        "insulation_class": plate.insulation_class,
        "built_year": plate.built_year,
        "efficiency_percent": plate.efficiency_percent,
        "power_factor": plate.power_factor,
    }


def _rating(speed: str, plate: Plate) -> Json:
    return _said(
        {
            "speed": speed,
            "voltage_v": next(iter(plate.rated_voltage_v), None),
            "frequency_hz": plate.frequency_hz,
            "power": _watts(plate),
            "full_load_current_a": next(iter(plate.full_load_current_a), None),
            "speed_rpm": plate.speed_rpm,
        }
    )


def _maker(plate: Plate | None) -> Json | None:
    if plate is None:
        return None
    kept = ("rated_voltage_v", "full_load_current_a", "power", "speed_rpm", "insulation_class")
    return _said({key: value for key, value in _plate(plate, "").items() if key in kept})


def _position(position: Position, named: Named) -> Json:
    cable, relay, calls = position.cable, position.overload, position.calls_for
    called = {
        "power": None if calls.power_w is None else _plain(calls.power_w, "W"),
        "speed_rpm": calls.speed_rpm,
        "voltage_v": calls.voltage_v,
        "mounting": calls.mounting,
        "enclosure": calls.enclosure,
        "protectors": list(calls.protectors),
    }
    called = _said(called) | ({} if calls.brake is None else {"brake": calls.brake})
    wire = _said({"size_mm2": cable.size_mm2, "size_awg": cable.size_awg, "length_m": cable.length_m})
    overload = _said({"dial_a": relay.dial_a, "trip_class": relay.trip_class, "run_up_s": relay.run_up_s})
    overload |= {"inside_delta": True} if relay.inside_delta else {}
    overload |= {"automatic_reset": True} if relay.automatic_reset else {}
    return _said(
        {
            "name": named.position,
            "area": named.area,
            "cable": wire | {"conductor": cable.conductor} if wire else None,
            "overload": overload,
            "calls_for": called,
            "brake_lines": position.brake_lines,
            "feed_colours": dict(position.feed_colours),
        }
    )


def _instrument(meter: InstrumentRange) -> Json:
    unit = _UNIT.get(meter.function, "ohm")
    return _said(
        {
            "id": meter.name,
            "function": meter.function,
            "top": None if meter.top is None else _plain(meter.top, unit),
            "resolution": None if meter.resolution is None else _plain(meter.resolution, unit),
            "accuracy_percent": meter.accuracy_percent,
            "counts": meter.counts,
            "calibration_due": meter.calibration_due.isoformat() if meter.calibration_due else None,
            "beep_below_ohm": meter.beep_below_ohm,
            "corrects_to_40c": meter.corrects_to_40c or None,
            "shows": None if meter.shows == MEGOHMS else meter.shows,
        }
    )


def _conditions(conditions: Conditions) -> Json:
    return _said(
        {
            "winding_temperature_c": conditions.winding_temperature_c,
            "ambient_temperature_c": conditions.ambient_temperature_c,
            "relative_humidity_percent": conditions.relative_humidity_percent,
            "date": conditions.on.isoformat() if conditions.on else None,
        }
    )


def _test(test: Any, record: m.JobRecord) -> Json:
    if type(test) not in _KINDS:
        kind, figures_of_side = side_document(test)
        return {"kind": kind} | figures_of_side
    kind, figures = _KINDS[type(test)]
    meter = getattr(test, "meter", None)
    hookup = getattr(test, "hookup", m.ANYWHERE)
    own = getattr(test, "conditions", record.conditions)
    around = {
        "kind": kind,
        "at": hookup.at,
        "winding": hookup.part,
        "links": hookup.links,
        "scope": hookup.scope,
        "conditions": None if own == record.conditions else _conditions(own),
        "instrument": meter.name if meter in record.instruments else None,
    }
    if meter is not None and meter not in record.instruments and meter.resolution is not None:
        around["resolution"] = _plain(meter.resolution, "ohm")
    return _said(around) | figures(test)


def _texts(readings: Mapping[str, Reading]) -> dict[str, str]:
    return {name: reading.text for name, reading in readings.items()}


def _text(reading: Reading | None) -> str | None:
    return None if reading is None else reading.text


def _ohms(test: m.ResistanceTest) -> Json:
    lead = _plain(test.lead_resistance_ohm, "ohm") if test.lead_resistance_ohm else None
    return {"readings": _texts(test.readings)} | _said(
        {"lead_resistance": lead, "hot": test.hot or None, "failed_check": test.failed_check or None}
    )


def _hold(test: m.InsulationTest) -> Json:
    return _said(
        {
            "from": list(test.ends),
            "to": list(test.to),
            "guard": list(test.guard),
            "polarity": test.polarity,
            "test_voltage_v": test.test_voltage_v,
            "failed_check": test.failed_check or None,
            "series": [{"t_s": point.t_s, "reading": point.reading.text} for point in test.series],
        }
    )


def _supply(test: m.SupplyTest) -> Json:
    earth, loaded = _texts(test.line_to_earth), {} if test.loaded is None else {"loaded": test.loaded}
    more = _said({"line_to_earth": earth, "frequency_hz": test.frequency_hz})
    return {"line_to_line": _texts(test.line_to_line)} | more | loaded


def _current(test: m.CurrentTest) -> Json:
    more = _flags(loaded=test.loaded, speed_rpm=test.speed_rpm)
    return {"readings": _texts(test.readings)} | _said({"brake_a": dict(test.brake_a)}) | more


def _flags(**given: Any) -> Json:
    return {key: value for key, value in given.items() if value is not None}


_KINDS: dict[type, tuple[str, Callable[[Any], Json]]] = {
    m.ResistanceTest: ("winding_resistance", _ohms),
    m.InsulationTest: ("insulation", _hold),
    m.WindingToWindingTest: ("winding_to_winding", _hold),
    m.SupplyTest: ("supply_voltage", _supply),
    m.CurrentTest: ("line_current", _current),
    m.ContactTest: ("contact_drop", lambda t: {"readings": _texts(t.readings)} | _flags(current_a=t.current_a)),
    m.OverloadPoleTest: ("overload_pole", lambda t: {"readings": _texts(t.readings)}),
    m.FuseTest: ("fuse", lambda t: {"id": t.name, "state": t.state} | _flags(reading=_text(t.reading))),
    m.ContactorCoilTest: (
        "contactor_coil",
        lambda t: _flags(volts=_text(t.volts), ohms=_text(t.ohms), rated_v=t.rated_v, pulls_in=t.pulls_in),
    ),
    m.CableTest: (
        "cable",
        lambda t: (
            {"cores": _texts(t.cores), "to_earth": _texts(t.to_earth), "end": t.end}
            | ({"what": t.what} if t.what != "cable" else {})
        ),
    ),
    m.CapacitorTest: (
        "capacitor",
        lambda t: _flags(
            current_a=_text(t.current_a),
            voltage_v=_text(t.voltage_v),
            frequency_hz=t.frequency_hz,
            marked_uf=t.marked_uf,
        ),
    ),
    m.AccessoryTest: (
        "accessory",
        lambda t: {"what": t.what} | _flags(reading=_text(t.reading), to_frame=_text(t.to_frame)),
    ),
    m.BrakeTest: (
        "brake",
        lambda t: _flags(reading=_text(t.reading), to_frame=_text(t.to_frame), lifts=t.lifts, holds=t.holds),
    ),
    m.FrameTemperatureTest: ("frame_temperature", lambda t: _flags(reading=_text(t.reading), spot=t.spot or None)),
    m.ShaftTest: ("shaft", lambda t: _flags(turns=t.turns, coupled=t.coupled)),
    m.LeadRollTest: (
        "lead_roll",
        lambda t: (
            _flags(rolled_at=t.rolled_at)
            | {"rolls": [{"map": dict(r.map), "amps": _texts(r.amps), "volts": _texts(r.volts)} for r in t.rolls]}
        ),
    ),
    m.DeadProofTest: (
        "dead_proof",
        lambda t: (
            {"readings": _texts(t.readings)}
            | _flags(proved_before=_text(t.proved_before), proved_after=_text(t.proved_after))
        ),
    ),
}
