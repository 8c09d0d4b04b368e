"""`grimcoil-drying/1` in, `grimcoil-drying-state/1` out."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from grimcoil.core.amount import Amount
from grimcoil.core.drying.hookup import hookup_of
from grimcoil.core.drying.judge import Drying, Heat, Insulation, Read, Rotated, Set, Warm, judge_drying
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.fields import CURRENT, DROP, INSULATION, LOW_OHM
from grimcoil.core.insulation.minimum import Machine
from grimcoil.exchange.motors import Motor, checked, plate_of
from grimcoil.exchange.strict import (
    Celsius,
    Positive,
    ReadingText,
    Strict,
    Text,
    exact,
    first_refusal,
    load_json,
    reading,
)

FORMAT, RESULT = "grimcoil-drying/1", "grimcoil-drying-state/1"
MOST_ENTRIES = 5000
FRAME = "1-2-3~frame"


class Cold(Strict):
    """Resistance of the whole hookup, cold."""

    ohm: ReadingText
    temperature_c: Celsius
    other_meter: bool = False


class DryingEntry(Strict):
    """Heat (`amps`, `volts`), a reading of a hold (`insulation`), or `rotated_to`."""

    at: datetime
    amps: ReadingText | None = None
    volts: ReadingText | None = None
    insulation: ReadingText | None = None
    t_s: Annotated[float, Field(gt=0, le=100_000)] | None = None
    test_voltage_v: Positive | None = None
    from_: list[Text] | None = Field(default=None, alias="from", max_length=12)
    to: list[Text] | None = Field(default=None, max_length=12)
    rotated_to: Text | None = None


class DryingFile(Strict):
    """`grimcoil-drying/1`."""

    format: Literal["grimcoil-drying/1"]
    motor: Motor = Field(default_factory=Motor)
    hookup: Literal["series", "one-and-two", "delta-two"]
    cold: Cold
    current_limit_a: Positive | None = None
    entries: Annotated[list[DryingEntry], Field(max_length=MOST_ENTRIES)] = Field(default_factory=list)


def read_drying(text: str | bytes, now: datetime) -> tuple[Set, list[Heat | Insulation | Rotated]]:
    """A drying. Raises RecordRefusal with path, what was found and what is accepted; entries in order, none to come."""
    try:
        given = DryingFile.model_validate(load_json(text))
    except ValidationError as error:
        raise first_refusal(error, FORMAT) from None
    motor = given.motor
    checked(motor)
    plate = plate_of(motor)
    hookup = hookup_of(given.hookup, str(motor.lead_scheme))
    cold = exact(given.cold.ohm, LOW_OHM, "cold.ohm")
    if not cold or cold <= 0:
        raise RecordRefusal("cold.ohm", given.cold.ohm, "more than 0 Ω", "0.412")
    if not -40 <= given.cold.temperature_c <= 60:
        raise RecordRefusal(
            "cold.temperature_c", f"{given.cold.temperature_c:g}", "-40 to 60 °C: cold, before any heat"
        )
    volts = max(plate.rated_voltage_v, default=None)
    machine = Machine(volts, motor.winding, str(motor.insulation_system or "thermosetting"), motor.built_year)
    made = Set(
        hookup, cold, given.cold.temperature_c, motor.conductor, machine, motor.insulation_class,
        plate.full_load_in_use_a, given.current_limit_a, given.cold.other_meter,
    )  # fmt: skip
    entries: list[Heat | Insulation | Rotated] = []
    before: datetime | None = None
    for i, one in enumerate(given.entries):
        path = f"entries.{i}"
        at = _moment(one.at, now)
        if at > now:
            raise RecordRefusal(f"{path}.at", one.at.isoformat(), "a moment up to now")
        if before is not None and at < before:
            raise RecordRefusal(f"{path}.at", one.at.isoformat(), "entries in order of time")
        before = at
        entries.append(_entry(one, at, path))
    return made, entries


def _moment(at: datetime, now: datetime) -> datetime:
    """A moment without a zone is the clock's own."""
    return at.replace(tzinfo=now.tzinfo) if at.tzinfo is None else at


def _entry(one: DryingEntry, at: datetime, path: str) -> Heat | Insulation | Rotated:
    kinds = [one.amps is not None or one.volts is not None, one.insulation is not None, one.rotated_to is not None]
    if sum(kinds) != 1:
        found = "several of them" if sum(kinds) else ""
        raise RecordRefusal(path, found, "amps and volts, or insulation, or rotated_to")
    if one.rotated_to is not None:
        return Rotated(at, one.rotated_to, f"{path}.rotated_to")
    if one.insulation is not None:
        shown = reading(one.insulation, INSULATION, f"{path}.insulation")
        return Insulation(at, shown.amount, one.t_s or 60.0, _ends(one), path)
    if one.amps is None or one.volts is None:
        lacking = "amps" if one.amps is None else "volts"
        raise RecordRefusal(f"{path}.{lacking}", "", "amps and volts of the same moment", "2.61")
    amps, volts = exact(one.amps, CURRENT, f"{path}.amps"), exact(one.volts, DROP, f"{path}.volts")
    if not amps or amps <= 0:
        raise RecordRefusal(f"{path}.amps", one.amps, "more than 0 A")
    if not volts or volts <= 0:
        raise RecordRefusal(f"{path}.volts", one.volts, "more than 0 V, at the leads")
    return Heat(at, amps, volts, path)


def _ends(one: DryingEntry) -> str:
    if one.from_ is None and one.to is None:
        return FRAME
    return f"{'-'.join(one.from_ or ['1', '2', '3'])}~{'-'.join(one.to or ['frame'])}"


def _bound(amount: Amount | None) -> dict[str, Any] | None:
    return None if amount is None else {"value": amount.value, "bound": amount.bound.value}


def _shown(one: Warm | Read | Rotated) -> dict[str, Any]:
    at = one.at.isoformat()
    if isinstance(one, Warm):
        return {
            "at": at, "ohm": one.ohm, "average_c": one.average_c, "hot_phase_c": one.hot_phase_c,
            "rise_k_per_h": one.rise_k_per_h, "verdict": one.verdict.value,
        }  # fmt: skip
    if isinstance(one, Read):
        read = {"r_mohm": _bound(one.r_mohm), "r40_mohm": _bound(one.r40_mohm), "average_c": one.average_c}
        return {"at": at, **read, "t_s": one.t_s}
    return {"at": at, "rotated_to": one.to}


def drying_document(made: Drying) -> dict[str, Any]:
    """The state of a drying as a document."""
    return {
        "format": RESULT,
        "entries": [_shown(one) for one in made.shown],
        "phase_share": made.hookup.share(),
        "done": made.done,
        "done_why": made.why,
        "hours_left": None if made.left is None else {"low": made.left.low, "high": made.left.high},
        "verdict": made.verdict.value,
        "findings": [
            {"code": f.code, "text": f.text, "source": f.source, "severity": f.severity.value} for f in made.findings
        ],
    }


def dried(text: str | bytes, now: datetime) -> dict[str, Any]:
    """One drying answered. Raises RecordRefusal."""
    made, entries = read_drying(text, now)
    return drying_document(judge_drying(made, entries))
