"""`grimcoil-job/1`: JSON text to a core JobRecord. Every refusal names the JSON path."""

from __future__ import annotations

from collections.abc import Mapping

from pydantic import ValidationError

from grimcoil.core.criteria import CRITERIA
from grimcoil.core.errors import ReadingRefusal, RecordRefusal, UnclearReading
from grimcoil.core.fields import CURRENT, DROP, INSULATION, LOW_OHM, VOLTAGE, WINDING, Field
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.plate import Plate, parse_power
from grimcoil.core.readings import Reading, parse_reading
from grimcoil.core.subject import (
    AccessoryTest,
    Conditions,
    ContactTest,
    CurrentTest,
    InsulationTest,
    JobRecord,
    ResistanceTest,
    Subject,
    SupplyTest,
    Test,
    Timed,
    Winding,
)
from grimcoil.exchange import models

_TOP_FIELD = {"insulation": INSULATION, "volt-ac": VOLTAGE, "volt-dc": VOLTAGE, "amp-clamp": CURRENT}


def read_job(text: str | bytes) -> JobRecord:
    """Read one job document. Raises RecordRefusal with path, what was found and what is accepted."""
    try:
        job = models.Job.model_validate_json(text)
    except ValidationError as error:
        raise first_refusal(error) from None
    return to_record(job)


def first_refusal(error: ValidationError) -> RecordRefusal:
    """The first of Pydantic's complaints as a refusal; an unknown key outranks the rest."""
    complaints = error.errors(include_url=False, include_context=False)
    chosen = next((c for c in complaints if c["type"] == "extra_forbidden"), complaints[0])
    path = ".".join(str(part) for part in chosen["loc"]) or "document"
    found = chosen.get("input")
    shown = "" if isinstance(found, (dict, list, bytes)) or found is None else str(found)[:60]
    if chosen["type"] == "extra_forbidden":
        return RecordRefusal(path, "", "no such key in grimcoil-job/1; take it out or spell it as in docs/formats")
    if chosen["type"] == "json_invalid":
        return RecordRefusal(path, "", f"not JSON: {chosen['msg'].removeprefix('Invalid JSON: ')}")
    return RecordRefusal(path, shown, chosen["msg"][0].lower() + chosen["msg"][1:])


def to_record(job: models.Job) -> JobRecord:
    """A validated document to the core's record."""
    meters = {m.id: _meter(m, f"instruments.{i}") for i, m in enumerate(job.instruments)}
    base = _conditions(job.conditions)
    subject = Subject(_plate(job.motor), _winding(job.motor), CRITERIA[job.criteria], job.supply_system)
    tests = tuple(_test(t, f"tests.{i}", base, meters) for i, t in enumerate(job.tests))
    return JobRecord(subject, base, tests, tuple(meters.values()))


def _plate(motor: models.Motor) -> Plate:
    volts, amps = motor.rated_voltage_v, motor.full_load_current_a
    return Plate(
        rated_voltage_v=tuple(volts) if isinstance(volts, list) else (volts,),
        full_load_current_a=tuple(amps) if isinstance(amps, list) else (amps,),
        connected_voltage_v=motor.connected_voltage_v,
        frequency_hz=motor.frequency_hz,
        power_w=parse_power(motor.power, "motor.power") if motor.power else None,
        speed_rpm=motor.speed_rpm,
        service_factor=motor.service_factor,
        insulation_class=motor.insulation_class,
        built_year=motor.built_year,
    )


def _winding(motor: models.Motor) -> Winding:
    return Winding(
        motor.winding,
        motor.insulation_system,
        motor.conductor,
        motor.lead_scheme,
        motor.insulation_test_forbidden,
    )


def _conditions(given: models.Conditions) -> Conditions:
    return Conditions(
        given.winding_temperature_c, given.ambient_temperature_c, given.relative_humidity_percent, given.date_
    )


def _meter(given: models.Instrument, path: str) -> InstrumentRange:
    field = _TOP_FIELD.get(given.function, LOW_OHM)
    return InstrumentRange(
        given.id,
        given.function,
        _exact(given.top, field, f"{path}.top"),
        _exact(given.resolution, field, f"{path}.resolution"),
        given.accuracy_percent,
        given.counts,
        None,
        given.calibration_due,
    )


def _exact(text: str | None, field: Field, path: str) -> float | None:
    if text is None:
        return None
    amount = _reading(text, field, path).amount
    if not amount.is_exact:
        raise RecordRefusal(path, text, "one exact value", "0.01 ohm")
    return amount.value


def _reading(text: str, field: Field, path: str) -> Reading:
    try:
        return parse_reading(text, field, path)
    except UnclearReading as unclear:
        says = f"{unclear.accepted} ({' or '.join(unclear.choices)})"
        raise RecordRefusal(path, text, says) from None
    except ReadingRefusal as refusal:
        raise RecordRefusal(path, text, refusal.accepted, refusal.example) from None


def _readings(given: Mapping[str, str], field: Field, path: str) -> dict[str, Reading]:
    return {name: _reading(text, field, f"{path}.{name}") for name, text in given.items()}


def _test(given: models.AnyTest, path: str, base: Conditions, meters: dict[str, InstrumentRange]) -> Test:
    own = _conditions(given.conditions) if given.conditions else base
    meter = _named_meter(given.instrument, meters, path)
    if isinstance(given, models.WindingResistance):
        lead = _exact(given.lead_resistance, LOW_OHM, f"{path}.lead_resistance") or 0.0
        meter = meter or _bare_meter(_exact(given.resolution, LOW_OHM, f"{path}.resolution"))
        return ResistanceTest(_readings(given.readings, WINDING, f"{path}.readings"), own, meter, lead)
    if isinstance(given, models.Insulation):
        series = tuple(
            Timed(p.t_s, _reading(p.reading, INSULATION, f"{path}.series.{i}.reading"))
            for i, p in enumerate(given.series)
        )
        return InsulationTest(series, given.test_voltage_v, own, meter, _phase_multiple(given))
    if isinstance(given, models.SupplyVoltage):
        return SupplyTest(
            _readings(given.line_to_line, VOLTAGE, f"{path}.line_to_line"),
            _readings(given.line_to_earth, VOLTAGE, f"{path}.line_to_earth"),
        )
    if isinstance(given, models.LineCurrent):
        return CurrentTest(_readings(given.readings, CURRENT, f"{path}.readings"), given.brake_a)
    if isinstance(given, models.ContactDrop):
        return ContactTest(_readings(given.readings, DROP, f"{path}.readings"), given.current_a)
    return AccessoryTest(
        given.what,
        _reading(given.reading, LOW_OHM, f"{path}.reading") if given.reading else None,
        _reading(given.to_frame, LOW_OHM, f"{path}.to_frame") if given.to_frame else None,
    )


def _named_meter(name: str | None, meters: dict[str, InstrumentRange], path: str) -> InstrumentRange | None:
    if name is None:
        return None
    if name not in meters:
        raise RecordRefusal(f"{path}.instrument", name, "the id of an instrument listed under instruments")
    return meters[name]


def _bare_meter(resolution: float | None) -> InstrumentRange | None:
    return None if resolution is None else InstrumentRange("meter", "ohm", resolution=resolution)


def _phase_multiple(given: models.Insulation) -> int:
    """One phase with the others earthed reads about twice the whole, on the guard three times (IEEE 43)."""
    if len(given.from_) != 1:
        return 1
    if given.guard:
        return 3
    return 2 if len(given.to) > 1 else 1
