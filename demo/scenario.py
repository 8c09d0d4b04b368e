"""The scenario: the works' motors through their years, filed as jobs. Seeded, so that every start is alike."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, time, timedelta
from decimal import Decimal
from random import Random

from sqlalchemy import select
from sqlalchemy.orm import Session

from demo.physics import Weather, damp, phase_lines, shown_mohm, shown_ohm, weather
from demo.works import (
    CIRCUITS,
    INSTRUMENTS,
    MARKED,
    MOTORS,
    PASSWORD,
    PEOPLE,
    PIN,
    REWOUND_AND_SPARE,
    SIGN_INS,
    SITE,
    Made,
)
from grimcoil.core.choices import School
from grimcoil.core.fields import FIELDS
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.entries import NOT_READ, NOT_RECONNECTED, Entry, EntryKind
from grimcoil.core.plan.parts.safe import SOURCES, STILL
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.steps import Input
from grimcoil.core.plate import expected_current_a
from grimcoil.core.readings import parse_reading
from grimcoil.service.filing import PastJob, file_jobs
from grimcoil.service.secrets import hashed
from grimcoil.store.people_tables import Person
from grimcoil.store.tables import Instrument, InstrumentRangeRow, LifeEvent, Motor, Position, Site, Stay, WindingRow

SEED = 20141


PLAN = build(Brief("three-lead", school=School.BOX_FIRST))


@dataclass
class Script:
    """Entries of one job, minute by minute."""

    at: datetime
    who: str
    entries: list[Entry] = field(default_factory=list)

    def put(self, place: str, text: str, seconds: float = 40.0) -> None:
        """Keep one entry and let time pass."""
        slot = PLAN.places[place][1] if place in PLAN.places else None
        note = slot is not None or place == NOT_RECONNECTED
        reading, kind = None, EntryKind.NOTE if note else EntryKind.OVERRULE
        if slot is not None and slot.input is Input.READING and text != NOT_READ:
            reading, kind = parse_reading(text, FIELDS[slot.field]), EntryKind.READING
        self.entries.append(Entry(len(self.entries) + 1, place, kind, text, self.at, self.who, reading))
        self.at += timedelta(seconds=seconds)


@dataclass(frozen=True)
class Day:
    """One test of a story: what is true of the motor that day."""

    on: date
    r40: float
    lines: tuple[float, float, float]
    air: Weather
    dar: float = 1.42
    pi: float = 2.6
    volt_gap: float = 0.004
    lost_line: bool = False
    temperature: bool = True


def seed(session: Session, now: datetime, motors: Sequence[Made] = MOTORS) -> int:
    """Fill an empty database; returns the number of motors."""
    session.add(Site(id=1, name=SITE, zone="UTC", criteria="field-general", phase_colours="brown, black, grey"))
    add_people(session, now)
    ranges = _instruments(session, now.date())
    places: dict[str, Position] = {}
    for number, made in enumerate(motors):
        dice = Random(SEED + number)
        motor = _motor(session, made, dice, places, now)
        _life(session, made, motor, dice, ranges, now)
    _stand_in(session)
    return len(motors)


def _stand_in(session: Session) -> None:
    """The spare drove the press while the press's own motor was at the winder's."""
    by_tag = {m.tag: m for m in session.scalars(select(Motor).where(Motor.tag.in_(REWOUND_AND_SPARE)))}
    if len(by_tag) < 2:
        return
    own, spare = (by_tag[tag] for tag in REWOUND_AND_SPARE)
    rewound = select(WindingRow.since).where(WindingRow.motor_id == own.id, WindingRow.reason == "rewound")
    back = session.scalars(rewound).one()
    out = back - timedelta(days=26)
    press, shelf = (session.get_one(Position, motor.position_id).name for motor in (own, spare))
    moves = ((own, None, "the store, then the winder", press), (spare, own.position_id, press, shelf))
    for motor, away, to, back_to in moves:
        first = session.scalars(select(Stay).where(Stay.motor_id == motor.id)).one()
        first.until = out
        session.add(Stay(motor_id=motor.id, position_id=away, since=out, until=back))
        session.add(Stay(motor_id=motor.id, position_id=motor.position_id, since=back))
        session.add(LifeEvent(motor_id=motor.id, on_day=out, kind="moved", note=f"to {to}"))
        session.add(LifeEvent(motor_id=motor.id, on_day=back, kind="moved", note=f"back to {back_to}"))


def add_people(session: Session, now: datetime) -> None:
    """Everyone of the works, with the demo's one password and PIN."""
    password, pin = hashed(PASSWORD), hashed(PIN)
    by_login: dict[str, Person] = {}
    for login, name, role, under in SIGN_INS:
        person = Person(login=login, name=name, role=role, password_hash=password, pin_hash=pin, added_at=now)
        person.works_under_id = by_login[under].id if under else None
        session.add(person)
        session.flush()
        by_login[login] = person


def _instruments(session: Session, today: date) -> dict[str, list[InstrumentRangeRow]]:
    out = {}
    for name, due, ranges in INSTRUMENTS:
        instrument = Instrument(name=name, calibration_due=today + timedelta(days=due))
        rows = [
            InstrumentRangeRow(
                instrument=instrument, function=f, top=top, resolution=res, accuracy_percent=acc, counts=counts,
                test_voltage_v=volts, lamps=" ".join(lamps),
            )
            for f, top, res, acc, counts, volts, *lamps in ranges
        ]  # fmt: skip
        session.add_all(rows)
        out[name.split()[0]] = rows
    session.flush()
    return out


def _motor(session: Session, made: Made, dice: Random, places: dict[str, Position], now: datetime) -> Motor:
    place = Position(
        name=made.place,
        area=made.area,
        supply_system="wye-earthed",
        system_voltage_v=Decimal(480),
        criticality=made.criticality,
        circuit=CIRCUITS.get(made.place),
    )
    amps = expected_current_a(made.kw * 1000, made.volts) * dice.uniform(0.97, 1.04)
    motor = Motor(
        tag=made.tag,
        serial=f"{dice.randint(10, 89)}-{dice.randint(1000, 9999)}",
        position=place,
        rated_voltage_v=Decimal(str(made.volts)),
        full_load_current_a=Decimal(f"{amps:.3g}"),
        frequency_hz=Decimal(60),
        power_text=f"{made.kw:g} kW",
        speed_rpm=Decimal(str(made.rpm)),
        service_factor=Decimal("1.15"),
        insulation_class="F" if made.built > 2004 else "B",
        built_year=made.built,
        created_at=now,
    )
    session.add_all([place, motor])
    session.flush()
    places[made.place] = place
    return motor


def _life(
    session: Session, made: Made, motor: Motor, dice: Random, ranges: dict[str, list[InstrumentRangeRow]], now: datetime
) -> None:
    first = WindingRow(motor_id=motor.id, since=date(made.built, 3, 1), reason="built", lead_scheme=made.scheme)
    first.winding = made.winding
    if marked := MARKED.get(made.tag):
        first.own = {
            "lead_names": {str(n): name for n, (name, _) in enumerate(marked, 1)},
            "lead_colours": {str(n): colour for n, (_, colour) in enumerate(marked, 1) if colour},
        }
    session.add(first)
    session.add(LifeEvent(motor_id=motor.id, on_day=first.since, kind="built"))
    session.add(Stay(motor_id=motor.id, position_id=motor.position_id, since=first.since))
    days = _days(made, dice, now.date())
    windings = [first] * len(days)
    if made.story == "rewound":
        turn = days[len(days) // 2].on + timedelta(days=60)
        second = WindingRow(motor_id=motor.id, since=turn, reason="rewound", lead_scheme=made.scheme)
        session.add(second)
        session.add(LifeEvent(motor_id=motor.id, on_day=turn, kind="rewound"))
        windings = [first if day.on < turn else second for day in days]
    if made.story == "dried":
        session.add(LifeEvent(motor_id=motor.id, on_day=days[-3].on + timedelta(days=12), kind="dried"))
    session.flush()
    meter = _range_for(ranges[made.meter], days[0].lines if days else (1.0, 1.0, 1.0))
    tester = ranges[made.tester][0]
    past = [
        PastJob(winding, _script(made, motor, day, dice, meter, tester), dice.choice(PEOPLE), meter, tester)
        for winding, day in zip(windings, days, strict=True)
    ]
    past += _open_job(made, motor, dice, now, windings, meter, tester)
    file_jobs(session, motor, past)


def _range_for(ranges: list[InstrumentRangeRow], lines: tuple[float, float, float]) -> InstrumentRangeRow:
    return next((r for r in ranges if r.top is not None and max(lines) * 1.1 < r.top), ranges[-1])


def _days(made: Made, dice: Random, today: date) -> list[Day]:
    """Test days from the oldest to the last, with the story's truth on each."""
    count = int(made.years * 12 // made.every)
    last = today - timedelta(days=dice.randint(20, made.every * 24))
    if made.late_days:
        last = today - timedelta(days=round(made.every * 30.44) + made.late_days)
    out = []
    lines = phase_lines(made, dice)
    for i in range(count):
        back = (count - 1 - i) * made.every * 30.44
        on = last - timedelta(days=round(back + dice.uniform(-12, 12) * (i < count - 1)))
        age = (on - last).days / 365.25 + made.years
        log_r40 = made.r40 - made.fall * age - damp(on) * (2.5 if made.story == "damp" else 0.6) + dice.gauss(0, 0.035)
        out.append(_told(made, Day(on, 10**log_r40, lines, weather(on, dice)), i, count, dice))
    return out


def _told(made: Made, day: Day, i: int, count: int, dice: Random) -> Day:
    """The story's own turn on a test day."""
    last = i == count - 1
    changes: dict[str, object] = {}
    if made.story == "rewound" and i > count // 2:
        changes["r40"] = 10 ** (3.25 - 0.01 * (i - count / 2) + dice.gauss(0, 0.03))
        changes["lines"] = phase_lines(made, Random(SEED + 7))
    elif made.story == "shorted" and last:
        changes["lines"] = phase_lines(made, dice, shorted=0.17)
    elif made.story == "poor-joint" and last:
        changes["lines"] = phase_lines(made, dice, joint=0.075)
    elif made.story == "wet" and last:
        changes |= {"r40": 1.9, "dar": 1.03, "pi": 1.1}
    elif made.story == "half" and last:
        changes["r40"] = day.r40 * 0.36
    elif made.story == "dried" and i == count - 3:
        changes |= {"r40": 24.0, "dar": 1.08}
    elif made.story == "low" and last:
        changes |= {"r40": 3.4, "dar": 1.12}
    elif made.story == "volts" and last:
        changes["volt_gap"] = 0.022
    elif made.story == "no-temperature" and last:
        changes |= {"temperature": False, "r40": 4.3}
    return Day(**{**day.__dict__, **changes})  # type: ignore[arg-type]


def _script(
    made: Made, motor: Motor, day: Day, dice: Random, meter: InstrumentRangeRow, tester: InstrumentRangeRow
) -> list[Entry]:
    begin = datetime.combine(day.on, time(7, dice.randint(5, 50)), UTC)
    script = Script(begin, dice.choice(PEOPLE))
    _make_safe(script, motor)
    _dead_tests(script, day, dice, meter)
    _hold(script, made, day, tester)
    _live(script, motor, made, day, dice)
    return script.entries


def _make_safe(script: Script, motor: Motor) -> None:
    script.put("isolate.tag", motor.tag)
    script.put("isolate.lock-main", "Disconnect and control breaker")
    script.put("isolate.tried", STILL)
    for step in ("prove_dead", "prove_dead_box"):
        script.put(f"{step}.source", SOURCES[0])
        script.put(f"{step}.before", "481")
        for key in ("L1-L2", "L2-L3", "L3-L1", "L1-E", "L2-E", "L3-E"):
            script.put(f"{step}.{key}", "0.2", 12)
        script.put(f"{step}.after", "480")


def _dead_tests(script: Script, day: Day, dice: Random, meter: InstrumentRangeRow) -> None:
    for n in "123":
        script.put(f"as_found.lead-{n}", f"L{n}", 20)
    for key, seen in (("joint", "studs"), ("state", "sound")):
        if f"as_found.{key}" in PLAN.places:
            script.put(f"as_found.{key}", seen, 8)
    script.put("as_found.links", "three studs, no links")
    coarse = meter.function == "ohm"
    script.put("separate.apart", "confirmed")
    script.put("instrument_check.leads-shorted", "0.2" if coarse else "0.0000")
    script.put("instrument_check.leads-apart", "OL")
    script.put("instrument_check.insulation-shorted", "0")
    if day.temperature:
        script.put("temperature.winding", f"{day.air.winding_c:g}")
        script.put("temperature.ambient", f"{day.air.air_c:g}")
        script.put("temperature.humidity", f"{day.air.humidity:g}")
    else:
        script.put("temperature", "Thermometer left in the van")
    zero = 0.2 if coarse else 0.0
    for key, value in zip(("1-2", "2-3", "3-1"), day.lines, strict=True):
        script.put(f"winding_resistance.{key}", shown_ohm(value + zero, day.air, meter.resolution or 0.001, dice))


def _hold(script: Script, made: Made, day: Day, tester: InstrumentRangeRow) -> None:
    top = (tester.top or 2e9) / 1e6
    long = made.criticality == "critical"
    script.put("insulation.1-2-3.volts", "500")
    script.put("insulation.1-2-3.on", "confirmed", 30)
    script.put("insulation.1-2-3.30", shown_mohm(day.r40, day.air, top, 1 / day.dar), 30)
    script.put("insulation.1-2-3.60", shown_mohm(day.r40, day.air, top), 540 if long else 4)
    if long:
        script.put("insulation.1-2-3.600", shown_mohm(day.r40, day.air, top, day.pi), 4)
    applied = 606 if long else 66
    script.put("discharge.1-2-3.off", "confirmed", 6)
    script.put("discharge.1-2-3.short", "confirmed", 4 * applied + 25)
    script.put("discharge.1-2-3.volts", "0")


def _live(script: Script, motor: Motor, made: Made, day: Day, dice: Random) -> None:
    script.put("by_hand.shaft", "free")
    script.put("by_hand.seen", NOT_READ)
    if (made.story in ("shorted", "wet", "low") and day.r40 < 5) or day.lines[0] / day.lines[2] > 1.2:
        script.put(NOT_RECONNECTED, "confirmed")
        return
    script.put("connection.checked", "confirmed")
    for n in "123":
        script.put(f"reconnect.lead-{n}", f"L{n}", 60)
    script.put("reconnect.as-found", "confirmed", 120)
    script.put("reconnect.left", NOT_READ)
    level = 478 + dice.uniform(-3, 3)
    volts = [level * (1 + gap + dice.uniform(-0.001, 0.001)) for gap in (0.0, -day.volt_gap, day.volt_gap / 2)]
    script.put("restore.restored", "confirmed", 120)
    for key, value in zip(("L1-L2", "L2-L3", "L3-L1"), volts, strict=True):
        script.put(f"supply_voltage.{key}", f"{value:.0f}")
    amps = float(motor.full_load_current_a or 10) * (0.62 + 0.25 * dice.random())
    mean = sum(volts) / 3
    uneven = [7 * (v / mean - 1) + dice.uniform(-0.008, 0.008) for v in volts]
    if made.story == "shorted":
        uneven[1] += 0.14
    for key, gap in zip(("L1", "L2", "L3"), uneven, strict=True):
        value = amps * (1 + gap)
        script.put(f"line_current.{key}", f"{value:.1f}" if value < 100 else f"{value:.0f}")


def _open_job(
    made: Made,
    motor: Motor,
    dice: Random,
    now: datetime,
    windings: list[WindingRow],
    meter: InstrumentRangeRow,
    tester: InstrumentRangeRow,
) -> list[PastJob]:
    """Two jobs stand open when the demo starts: one at its last ohm reading, one shorted to frame."""
    if made.story not in ("at-bench", "discharging"):
        return []
    air = weather(now.date(), dice)
    truth = Day(now.date(), 10 ** (made.r40 - made.fall * made.years - 0.05), phase_lines(made, dice), air)
    script = Script(now - timedelta(minutes=40), PEOPLE[0])
    _make_safe(script, motor)
    _dead_tests(script, truth, dice, meter)
    if made.story == "at-bench":
        script.entries.pop()
    else:
        script.at = now - timedelta(seconds=125)
        _hold(script, Made(**{**made.__dict__, "criticality": "routine"}), truth, tester)
        while script.entries[-1].at > now:
            script.entries.pop()
    return [PastJob(windings[-1], script.entries, PEOPLE[0], meter, tester, signed=False)]
