"""What can be done to motors: register one, list them, show one with its life."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from decimal import Decimal

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from grimcoil.core.choices import (
    Conductor,
    Criticality,
    InsulationClass,
    InsulationSystem,
    LeadScheme,
    LifeKind,
    SupplySystem,
    WindingType,
)
from grimcoil.core.criteria import FIELD_GENERAL, Criteria
from grimcoil.core.errors import FormRefused, RecordRefusal
from grimcoil.core.findings import Finding, telling
from grimcoil.core.people import Action, Actor
from grimcoil.core.plate import Plate, check_leads, check_plate, check_spelling, check_system, parse_power
from grimcoil.core.plate_text import AMPS, HERTZ, PERCENT, SPEED, VOLTS, Factors, measure, pair, year
from grimcoil.core.position import check_position
from grimcoil.core.tags import checked_tag
from grimcoil.draw.trend import TestDot
from grimcoil.exchange.motors import winding_of
from grimcoil.service.again import stands_in
from grimcoil.service.completing import awaits_plate, complete
from grimcoil.service.criteria import criteria_named
from grimcoil.service.details import put_build
from grimcoil.service.fields import Fields, amount, one_of, short
from grimcoil.service.register import note_changes
from grimcoil.service.registered import found, motor_named, place_in_use
from grimcoil.service.subjects import motor_file, plate_of, position_file, subject_of
from grimcoil.service.trends import r40_of
from grimcoil.store import jobs as job_rows
from grimcoil.store import motors as motor_rows
from grimcoil.store import readings as reading_rows
from grimcoil.store import searching, trail
from grimcoil.store.engine import Store
from grimcoil.store.fleet import Kin, SisterLine, sisters
from grimcoil.store.jobs import Follow, accepted
from grimcoil.store.lines import MotorLine, StateLine, line_of, motor_line
from grimcoil.store.motors import History, LifeLine, SignedJob, WindingLine
from grimcoil.store.readings import ReadingLine
from grimcoil.store.tables import Base, LifeEvent, Motor, Position, Stay, WindingRow

SISTERS_SHOWN = 8
REFERENCE_C = FIELD_GENERAL.reference_temperature_c.value


def measured(units: Factors, unit: str, least: float, most: float) -> Callable[[str], Decimal]:
    """A figure of a plate, however it is printed there."""
    return lambda text: measure(text, units, unit, least, most)


VOLTAGE, CURRENT = measured(VOLTS, "V", 10, 15000), measured(AMPS, "A", 0.05, 5000)


def _power(text: str) -> str:
    parse_power(text, "")
    return text


@dataclass(frozen=True, slots=True)
class Checked:
    """A registration that can be stored, with what its plate shows."""

    motor: Motor
    winding: WindingRow
    position: Position | None
    findings: tuple[Finding, ...]


def check_registration(texts: Mapping[str, str], now: datetime) -> Checked:
    """Read a registration form. Raises FormRefused with a sentence per field."""
    f = Fields(texts)
    tag = f.take("tag", checked_tag, required=True)
    motor, winding = read_plate(f, tag, now)
    position = _position(f)
    if f.refused:
        raise FormRefused(f.refused)
    plate = plate_of(motor)
    system = float(position.system_voltage_v) if position and position.system_voltage_v else None
    return Checked(motor, winding, position, tuple(plate_findings(plate, winding.lead_scheme, system)))


def read_plate(f: Fields, tag: str, now: datetime) -> tuple[Motor, WindingRow]:
    """What the metal shows, out of a form, as it is printed; what can't be read stays in the form's refusals."""
    f.texts = _split(f.texts)
    motor = Motor(
        tag=tag,
        serial=f.take("serial", short(60)) or "",
        rated_voltage_v=f.take("rated_voltage_v", VOLTAGE, required=True),
        rated_voltage_2_v=f.take("rated_voltage_2_v", VOLTAGE),
        connected_voltage_v=f.take("connected_voltage_v", VOLTAGE),
        full_load_current_a=f.take("full_load_current_a", CURRENT),
        full_load_current_2_a=f.take("full_load_current_2_a", CURRENT),
        frequency_hz=f.take("frequency_hz", measured(HERTZ, "Hz", 10, 400)),
        power_text=f.take("power", _power) or "",
        speed_rpm=f.take("speed_rpm", measured(SPEED, "r/min", 50, 30000)),
        service_factor=f.take("service_factor", amount(1, 2, "")) or Decimal(1),
        insulation_class=f.take("insulation_class", one_of(*InsulationClass)),
        built_year=f.take("built_year", lambda text: year(text, now.year)),
        frame_size=f.take("frame_size", short(30)),
        bearings=f.take("bearings", short(60)),
        efficiency_percent=f.take("efficiency_percent", measured(PERCENT, "%", 10, 100)),
        power_factor=f.take("power_factor", amount(0.1, 1, "")),
        created_at=now,
    )
    winding = WindingRow(
        since=date(motor.built_year or now.year, 1, 1),
        reason="built",
        winding=f.take("winding", one_of(*WindingType)) or "random",
        insulation_system=f.take("insulation_system", one_of(*InsulationSystem)) or "thermosetting",
        conductor=f.take("conductor", one_of(*Conductor)) or "copper",
        lead_scheme=f.take("lead_scheme", one_of(*LeadScheme)) or "three-lead",
        insulation_test_forbidden=f.texts.get("insulation_test_forbidden", "") == "yes",
    )
    return motor, winding


def _split(texts: Mapping[str, str]) -> dict[str, str]:
    """`230/460` and `19.6/9.8` into the two fields they are of, where the second is empty."""
    out = dict(texts)
    for first, second in (("rated_voltage_v", "rated_voltage_2_v"), ("full_load_current_a", "full_load_current_2_a")):
        both = pair(out.get(first, ""))
        if both and not out.get(second, "").strip():
            out[first], out[second] = both
    return out


def _position(f: Fields) -> Position | None:
    name = f.take("position", short(100))
    area = f.take("area", short(100)) or ""
    system = f.take("supply_system", one_of(*SupplySystem))
    volts = f.take("system_voltage_v", VOLTAGE)
    criticality = f.take("criticality", one_of(*Criticality)) or "routine"
    if not name:
        return None
    return Position(name=name, area=area, supply_system=system, system_voltage_v=volts, criticality=criticality)


def plate_findings(plate: Plate, scheme: str, system_v: float | None) -> Sequence[Finding]:
    """What contradicts itself on a plate, its leads, or its place."""
    system = check_system(plate, system_v)
    return [*check_plate(plate), *check_leads(plate, scheme), *([] if system is None else [system])]


def spelled_alike(store: Store, tag: str) -> list[Finding]:
    """Whether it may be one that is on the register in another spelling; nothing where it is that very tag."""
    with store() as session:
        return check_spelling(tag, searching.spelled_alike(session, tag))


def register_motor(store: Store, actor: Actor, checked: Checked, build: Mapping[str, str] | None = None) -> str:
    """Store it and return its tag; a motor known by its tag alone gets its plate. build: what is said of its speeds and
    its brake, by the fields of its record.

    Raises Forbidden, FormRefused where the tag is taken or a field can't be read.
    """
    try:
        with store.begin() as session:
            register_in(session, actor, checked)
            if build:
                put_build(session, actor, checked.motor.tag, build, checked.motor.created_at)
            return checked.motor.tag
    except IntegrityError as error:
        if not stands_in(error, "motor"):
            raise
        raise FormRefused({"tag": f"{checked.motor.tag} is on the register already."}) from None


def register_in(session: Session, actor: Actor, checked: Checked) -> int:
    """Store it in a transaction of somebody else's; returns its id. Raises IntegrityError where the tag is taken."""
    actor.need(Action.REGISTER_MOTOR)
    motor, position = checked.motor, checked.position
    waiting = awaits_plate(session, motor.tag)
    place_id = None if position is None else _standing(session, actor, position, motor)
    if waiting is not None:
        complete(session, actor, waiting, motor, checked.winding, place_id)
        return waiting.id
    motor.position_id = place_id
    session.add(motor)
    note_changes(session, actor, motor.created_at, motor)
    checked.winding.motor_id = motor.id
    began: list[Base] = [
        checked.winding,
        LifeEvent(motor_id=motor.id, on_day=checked.winding.since, kind=LifeKind.BUILT, note=""),
    ]
    if motor.position_id is not None:
        began.append(Stay(motor_id=motor.id, position_id=motor.position_id, since=checked.winding.since))
    session.add_all(began)
    note_changes(session, actor, motor.created_at, *began)
    trail.write(session, actor, "motor registered", motor.created_at, motor.id)
    return motor.id


REGISTERED_AT_ONCE = 100  # a link of the chain holds so many


def register_tags(session: Session, actor: Actor, began: Mapping[str, date], now: datetime) -> list[int]:
    """Motors that are known by their tags alone, each with the day its record begins, in a transaction of somebody
    else's; returns their ids in that order. Raises Forbidden, RecordRefusal for a tag that is none, IntegrityError for
    one that is taken.
    """
    actor.need(Action.REGISTER_MOTOR)
    out: list[int] = []
    days = {checked_tag(tag): day for tag, day in began.items()}
    wanted = [Motor(tag=tag, serial="", power_text="", created_at=now) for tag in days]
    for start in range(0, len(wanted), REGISTERED_AT_ONCE):
        some = wanted[start : start + REGISTERED_AT_ONCE]
        session.add_all(some)
        note_changes(session, actor, now, *some)
        built: list[Base] = [WindingRow(motor_id=one.id, since=days[one.tag], reason="built") for one in some]
        built += [LifeEvent(motor_id=one.id, on_day=days[one.tag], kind=LifeKind.BUILT, note="") for one in some]
        session.add_all(built)
        note_changes(session, actor, now, *built)
        for one in some:
            trail.write(session, actor, "motor registered", now, one.id)
        out += [one.id for one in some]
    return out


def _standing(session: Session, actor: Actor, position: Position, read: Motor) -> int:
    """The id of the position of that name, put on record where there was none."""
    try:
        standing = place_in_use(session, position.name)
    except RecordRefusal as refusal:
        raise FormRefused({"position": f"{refusal.accepted}."}) from None
    if standing is None:
        session.add(position)
        note_changes(session, actor, read.created_at, position)
        session.refresh(position, ["works_supply", "works_voltage_v"])  # its tests may come with it
        standing = position
    return standing.id


@dataclass(frozen=True, slots=True)
class MotorView:
    """A motor with its life, for its page.

    jobs: the newest, oldest of them first. firsts: mean ohms of each winding's first accepted job, which may be older.
    earlier: day and number of the oldest shown where there are older ones. limits: that judged the last of them.
    sisters: of the same power, volts and speed, the last tested first. place_findings: what it is beside what its
    position calls for.
    """

    motor: MotorLine
    state: StateLine | None
    open_job_id: int | None
    history: History
    jobs: Sequence[SignedJob]
    plate_findings: Sequence[Finding]
    follow: Follow = ()
    firsts: Mapping[int, float] = field(default_factory=dict)
    earlier: tuple[date, int] | None = None
    limits: Criteria = FIELD_GENERAL
    sisters: Sequence[SisterLine] = ()
    place_findings: Sequence[Finding] = ()

    @property
    def windings(self) -> Sequence[WindingLine]:
        """All it has had, oldest first."""
        return self.history.windings

    @property
    def events(self) -> Sequence[LifeLine]:
        """What happened to it, oldest first."""
        return self.history.events

    @property
    def winding(self) -> WindingLine:
        """The winding now."""
        return self.windings[-1]

    def dots(self) -> list[TestDot]:
        """The signed jobs as they are drawn."""
        bases = self.bases()
        return [
            TestDot(
                job.tested_on, job.winding_id, r40_of(job), _unbalance(job),
                against(job.r_reference_ohm, bases.get(job.winding_id)),
            )
            for job in self.jobs
            if job.tested_on is not None
        ]  # fmt: skip

    def bases(self) -> dict[int, float]:
        """The mean ohms each winding's are held against: its baseline as typed, else its first accepted job's."""
        shown = {job.winding_id: job.r_reference_ohm for job in reversed(self.jobs) if accepted(job)}
        first = shown | dict(self.firsts)
        typed = {one.id: winding_of(motor_file(self.motor, one), REFERENCE_C).baseline_ohm for one in self.windings}
        means = {number: sum(ohms.values()) / len(ohms) for number, ohms in typed.items() if ohms}
        return {number: ohm for number, ohm in first.items() if ohm} | means


def _unbalance(job: SignedJob) -> tuple[float, float, float] | None:
    shown, low, high = job.unbalance_percent, job.unbalance_percent_lowest, job.unbalance_percent_highest
    return None if shown is None or low is None or high is None else (shown, low, high)


def against(mean_ohm: float | None, base_ohm: float | None) -> float | None:
    """Change of the mean resistance at the reference temperature since the baseline, percent."""
    return None if not base_ohm or not mean_ohm else 100 * (mean_ohm / base_ohm - 1)


READ_AT_ONCE = 2000


def every_reading(store: Store, tag: str) -> Iterator[ReadingLine]:
    """All readings of a motor's jobs in the order they were kept, some at a time. Raises Unknown before the first."""
    with store() as session:
        number = motor_named(session, tag).id
    return _readings(store, number)


def readings_of_all(store: Store) -> Iterator[tuple[str, ReadingLine]]:
    """Every reading of the works with its motor's tag in the order they were kept, some at a time."""
    after = 0
    while True:
        with store() as session:
            lines = reading_rows.all_readings(session, after, READ_AT_ONCE)
        yield from lines
        if len(lines) < READ_AT_ONCE:
            return
        after = lines[-1][1].id


def readings_after(store: Store, tag: str, after: int, most: int) -> Sequence[ReadingLine]:
    """Some of them, behind one. Raises Unknown."""
    with store() as session:
        return reading_rows.readings_of(session, motor_named(session, tag).id, after, most)


def _readings(store: Store, motor_id: int) -> Iterator[ReadingLine]:
    after = 0
    while True:
        with store() as session:
            lines = reading_rows.readings_of(session, motor_id, after, READ_AT_ONCE)
        yield from lines
        if len(lines) < READ_AT_ONCE:
            return
        after = lines[-1].id


def _sisters(session: Session, motor: Motor) -> Sequence[SisterLine]:
    if not motor.power_text or motor.rated_voltage_v is None or motor.speed_rpm is None:
        return ()
    kin = Kin(motor.power_text, motor.rated_voltage_v, motor.speed_rpm)
    return sisters(session, motor.id, kin, SISTERS_SHOWN)


def limits_of(session: Session, jobs: Sequence[SignedJob]) -> Criteria:
    """What the last signed job was judged by; the usual ones before there is any, or where they are gone."""
    try:
        return criteria_named(session, jobs[-1].criteria) if jobs else FIELD_GENERAL
    except RecordRefusal:
        return FIELD_GENERAL


def motor_view(store: Store, tag: str, before: tuple[date, int] | None = None) -> MotorView:
    """A motor, its life and its newest tests, or the newest before one. Five queries. Raises Unknown."""
    with store() as session:
        motor, state, open_job = found(session, tag)
        system = position_file(motor.position, works=True).system_voltage_v
        newest = motor_rows.newest_jobs(session, motor.id, before)
        life, limits = motor_rows.history(session, motor.id), limits_of(session, newest.jobs)
        oldest = newest.jobs[0] if newest.more else None
        return MotorView(
            motor_line(motor),
            None if state is None else line_of(StateLine, state),
            open_job,
            life,
            newest.jobs,
            telling(plate_findings(plate_of(motor), life.windings[-1].lead_scheme, system)),
            job_rows.discharging(session),
            newest.firsts,
            (oldest.tested_on, oldest.id) if oldest and oldest.tested_on else None,
            limits,
            _sisters(session, motor),
            telling(check_position(subject_of(motor, life.windings[-1], motor.position, limits))),
        )
