"""Keeping instruments: what each range reads, how fine, how true, and when its calibration is due."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from itertools import groupby

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from grimcoil.core.errors import FormRefused, RecordRefusal, Refusal, Unknown
from grimcoil.core.fields import CURRENT, INSULATION, LOW_OHM, VOLTAGE, WINDING, Field
from grimcoil.core.instruments import MEGOHMS, MICROAMPS
from grimcoil.core.people import Action, Actor
from grimcoil.core.readings import parse_reading
from grimcoil.service.again import stands_in
from grimcoil.service.register import note_changes
from grimcoil.store import instruments as rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.lines import RangeLine
from grimcoil.store.tables import Instrument, InstrumentRangeRow

# What an instrument can do, in words, and how its top and resolution are typed.
FUNCTIONS: Mapping[str, tuple[str, Field]] = {
    "low-ohm": ("low ohms, four wires", WINDING),
    "ohm": ("ohms", LOW_OHM),
    "insulation": ("insulation tester", INSULATION),
    "volt-ac": ("volts AC", VOLTAGE),
    "volt-dc": ("volts DC", VOLTAGE),
    "amp-clamp": ("amps by clamp", CURRENT),
}
OHMMETERS = ("low-ohm", "ohm")
LONGEST_NAME = 60
MOST_PERCENT = 100.0
MOST_LAMPS = 8


@dataclass(frozen=True, slots=True)
class Kept:
    """An instrument with its ranges."""

    id: int
    name: str
    due: date | None
    ranges: Sequence[RangeLine]


def instruments(store: Store) -> list[Kept]:
    """Every instrument, by name. One query."""
    with store() as session:
        found = rows.with_ranges(session)
    return [
        Kept(number, name, due, [one for _, _, _, one in some if one is not None])
        for (number, name, due), some in groupby(found, key=lambda row: row[:3])
    ]


def add_range(store: Store, actor: Actor, texts: Mapping[str, str], now: datetime) -> str:
    """A range of a new instrument or of one on the list; returns its name. Raises Forbidden, FormRefused by field."""
    actor.need(Action.KEEP_INSTRUMENTS)
    name, due, made = _checked(texts)
    try:
        with store.begin() as session:
            instrument = rows.named(session, name) or _new(session, actor, name, due, now)
            if due is not None and instrument.calibration_due != due:
                instrument.calibration_due = due
                note_changes(session, actor, now, instrument)
            alike = (made.function, made.top, made.resolution, made.test_voltage_v)
            if alike in rows.ranges_of(session, instrument.id):
                raise FormRefused({"function": f"{name} has this range already."})
            made.instrument_id = instrument.id
            session.add(made)
            note_changes(session, actor, now, made)
            trail.write(session, actor, "instrument kept", now, detail=f"{name}: {FUNCTIONS[made.function][0]}")
    except IntegrityError as error:  # somebody added the same name meanwhile
        if not stands_in(error, "instrument"):
            raise
        raise FormRefused({"name": f"{name} was added just now: send it again."}) from None
    return name


def _new(session: Session, actor: Actor, name: str, due: date | None, now: datetime) -> Instrument:
    made = Instrument(name=name, calibration_due=due)
    session.add(made)
    note_changes(session, actor, now, made)
    return made


def calibrated(store: Store, actor: Actor, instrument_id: int, text: str, now: datetime) -> None:
    """When its calibration is due next. The same day again changes nothing.

    Raises Forbidden, Unknown, RecordRefusal.
    """
    actor.need(Action.KEEP_INSTRUMENTS)
    due = _day(text)
    with store.begin() as session:
        instrument = session.get(Instrument, instrument_id)
        if instrument is None:
            raise Unknown("instrument", str(instrument_id), "an instrument on the list")
        if instrument.calibration_due != due:
            instrument.calibration_due = due
            note_changes(session, actor, now, instrument)
            trail.write(session, actor, "calibration due", now, detail=f"{instrument.name}: {due or 'none'}")


def _day(text: str) -> date | None:
    plain = text.strip()
    if not plain:
        return None
    try:
        return date.fromisoformat(plain)
    except ValueError:
        raise RecordRefusal("calibration due", plain[:40], "a day", "2027-03-14") from None


def _checked(texts: Mapping[str, str]) -> tuple[str, date | None, InstrumentRangeRow]:
    refused: dict[str, str] = {}
    function = texts.get("function", "")

    def take(key: str, field: Field | None, most: float = float("inf")) -> float | None:
        text = texts.get(key, "").strip() if function in FUNCTIONS else ""
        try:
            value = _figure(text, field) if text else None
            if value is not None and not 0 <= value <= most:
                raise RecordRefusal("", text, f"0 to {most:g}")
        except Refusal as refusal:
            refused[key] = refusal.sentence()
            return None
        return value

    name = " ".join(texts.get("name", "").split())
    if not 1 <= len(name) <= LONGEST_NAME:
        refused["name"] = f"1 to {LONGEST_NAME} characters, such as “M1 four-wire ohmmeter”."
    if function not in FUNCTIONS:
        refused["function"] = f"One of {', '.join(FUNCTIONS)}."
    field = FUNCTIONS.get(function, ("", VOLTAGE))[1]
    made = InstrumentRangeRow(
        function=function,
        top=take("top", field),
        resolution=take("resolution", field),
        accuracy_percent=take("accuracy_percent", None, MOST_PERCENT) or 0.0,
        counts=take("counts", None, 1000) or 0.0,
        test_voltage_v=take("test_voltage_v", VOLTAGE, 15000),
        lamps="",
        corrects_to_40c=texts.get("corrects_to_40c", "") == "yes",
        shows=texts.get("shows", "") or MEGOHMS,
        beep_below_ohm=take("beep_below_ohm", LOW_OHM),
    )
    refused |= _of_another_kind(made)
    try:
        made.lamps = " ".join(f"{ohm:g}" for ohm in _lamps(texts.get("lamps", ""), function))
    except Refusal as refusal:
        refused["lamps"] = refusal.sentence()
    if not refused and made.top and made.resolution and made.resolution >= made.top:
        refused["resolution"] = "Finer than the top of the range."
    due = None
    try:
        due = _day(texts.get("calibration_due", ""))
    except Refusal as refusal:
        refused["calibration_due"] = refusal.sentence()
    if refused:
        raise FormRefused(refused)
    return name, due, made


def _of_another_kind(made: InstrumentRangeRow) -> dict[str, str]:
    """What only another kind of instrument has, by field."""
    refused: dict[str, str] = {}
    if made.shows not in (MEGOHMS, MICROAMPS):
        refused["shows"] = f"One of {MEGOHMS}, {MICROAMPS}."
    if made.function != "insulation" and made.corrects_to_40c:
        refused["corrects_to_40c"] = "Only an insulation tester corrects to 40 °C."
    if made.function != "insulation" and made.shows == MICROAMPS:
        refused["shows"] = "Only an insulation tester shows microamps."
    if made.function not in OHMMETERS and made.beep_below_ohm is not None:
        refused["beep_below_ohm"] = "Only an ohmmeter beeps."
    return refused


def _lamps(text: str, function: str) -> list[float]:
    """Where each lamp of an insulation tester lights, Ω, rising."""
    words = text.replace(",", " ").split()
    if words and function != "insulation":
        raise RecordRefusal("", text[:30], "lamps of an insulation tester only")
    ohms = [_figure(word, INSULATION) for word in words]
    if ohms and not (len(ohms) in range(2, MOST_LAMPS + 1) and sorted(set(ohms)) == ohms and ohms[0] > 0):
        raise RecordRefusal(
            "", text[:30], f"2 to {MOST_LAMPS} figures above 0, each higher than the last", "0.5 1 10 100"
        )
    return ohms


def _figure(text: str, field: Field | None) -> float:
    if field is None:
        try:
            return float(text.replace(",", "."))
        except ValueError:
            raise RecordRefusal("", text[:30], "a number", "0.5") from None
    reading = parse_reading(text, field)
    if not reading.amount.is_exact:
        raise RecordRefusal("", text[:30], "one figure")
    return reading.amount.value
