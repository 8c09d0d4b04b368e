"""The bench: everything the Job page shows, worked out from the job's plan and its entries; a signed job's own
documents instead of anything worked out anew.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from functools import cached_property
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from grimcoil.core.assessment import Assessment, assess, with_trend
from grimcoil.core.choices import Occasion, School
from grimcoil.core.criteria import Criteria
from grimcoil.core.decision.needs import OHM_SETS
from grimcoil.core.errors import Unknown
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.measured import JobRecord
from grimcoil.core.plan.brief import brief_of
from grimcoil.core.plan.entries import Entry, Kept
from grimcoil.core.plan.gates import GIVES_BACK
from grimcoil.core.plan.growth import Known, begun_of, grow
from grimcoil.core.plan.live import Said, Typed, as_known, say_reading, slot_scale
from grimcoil.core.plan.parts.dead import WARM
from grimcoil.core.plan.progress import Progress, progress, situation, waits_its_turn
from grimcoil.core.plan.record import Made, conditions_of, failed_holds, made_of, part_of, recorded, to_record
from grimcoil.core.plan.safety import Site
from grimcoil.core.plan.scale import Scale
from grimcoil.core.plan.steps import Act, Plan, Slot, Step
from grimcoil.core.readings import Reading
from grimcoil.core.resistance.temperature import at_reference
from grimcoil.core.stator.reconnect import Reconnection, reconnection
from grimcoil.core.subject import Subject
from grimcoil.core.trend.history import HistoryTrend
from grimcoil.exchange.jobs import read_job
from grimcoil.exchange.plans import read_plan_text
from grimcoil.exchange.subjects import StoredSubject, read_subject
from grimcoil.exchange.told import Told, told_of, told_of_document
from grimcoil.service.criteria import limits_in, own_of
from grimcoil.service.site import colours_in
from grimcoil.service.subjects import named_of, subject_of
from grimcoil.store import jobs as job_rows
from grimcoil.store.jobs import EntryLine, Follow, JobRow
from grimcoil.store.lines import JobLine, MotorLine, line_of
from grimcoil.store.motors import History, SignedJob
from grimcoil.store.tables import Job

FILED = "filed, not signed"


@dataclass(frozen=True, slots=True)
class About:
    """What a job is about, which its entries don't change.

    on: what it is judged on, from the register while it is open, its own document once signed. last_reference_ohm: the
    mean winding resistance of the winding's last signed job at the reference temperature.
    """

    job: JobLine
    motor: MotorLine
    on: StoredSubject
    last_reference_ohm: float | None = None
    phase_colours: tuple[str, ...] = ()


@dataclass(frozen=True)
class Bench:
    """One job as it stands. firsts: mean ohms of windings' first accepted jobs, where they are shown.

    `trend`, the `earlier` signed jobs and the motor's `life` are there only where they are
    shown or signed. document: of a job that was filed whole, which has no entries. tests: that its entries make, where
    they were worked out already.
    """

    about: About
    rows: tuple[EntryLine, ...]
    state: Progress
    judged: Assessment | None
    trend: HistoryTrend | None = None
    earlier: tuple[SignedJob, ...] = ()
    firsts: Mapping[int, float] = field(default_factory=dict)
    life: History | None = None
    follow: Follow = ()
    document: str = ""
    tests: tuple[Made, ...] | None = None

    @property
    def job(self) -> JobLine:
        """Who, when, decided what."""
        return self.about.job

    @property
    def motor(self) -> MotorLine:
        """The motor as the register has it now."""
        return self.about.motor

    @property
    def on(self) -> StoredSubject:
        """What it is judged on."""
        return self.about.on

    def of(self, row: Job) -> Bench:
        """The same with its job's row as it is now."""
        return replace(self, about=replace(self.about, job=line_of(JobLine, row)))

    @property
    def plan(self) -> Plan:
        """The plan it is walked by."""
        return self.state.plan

    @property
    def subject(self) -> Subject:
        """The motor as the verdicts need it."""
        return self.on.subject

    @property
    def meters(self) -> tuple[InstrumentRange, ...]:
        """The instruments used."""
        return self.on.meters

    @property
    def criteria(self) -> Criteria:
        """What it is judged by."""
        return self.subject.criteria

    @cached_property
    def judged_alone(self) -> Assessment:
        """All tests so far, judged by today's rules."""
        return self.judged or assess(self.record)

    @cached_property
    def whole(self) -> Assessment:
        """The same with the trend where it is at hand. A signed job is asked its own document first (`told`); this is
        then what today's rules say.
        """
        return self.judged_alone if self.trend is None else with_trend(self.judged_alone, self.trend.governing)

    @cached_property
    def record(self) -> JobRecord:
        """The tests: as the entries make them up, or as a filed job's document has them."""
        if self.document:
            return read_job(self.document, own_of(self.criteria))
        return record_of(self.plan, self.state.kept, self.on)

    @property
    def begun_on(self) -> date | None:
        """The day of its first entry by the works' own clock, a filed one's by its document; None before it."""
        entries = self.state.kept.entries
        return entries[0].at.astimezone(ZoneInfo(self.on.zone)).date() if entries else self.job.tested_on

    @property
    def filed(self) -> bool:
        """Whether it came in as a document that nobody signed here."""
        return self.job.signed_by == FILED

    @cached_property
    def told(self) -> Told:
        """What pages, paper and API say of the job: its own document once signed, else the readings as judged."""
        if self.state.signed and self.job.assessment:
            return told_of_document(self.job.assessment)
        return told_of(self.whole)

    @cached_property
    def reconnection(self) -> Reconnection | None:
        """What the supply will do to this motor as it is joined."""
        return reconnection(self.subject)

    @cached_property
    def typed(self) -> Typed:
        """What judges a reading in its place."""
        return Typed(self.plan, self.state.kept, self.subject, self.whole, self.made, self.meters)

    @cached_property
    def made(self) -> tuple[Made, ...]:
        """The tests that the entries make, with their steps."""
        if self.tests is not None:
            return self.tests
        kept = self.state.kept
        return made_of(self.plan, kept, self.meters, conditions_of(self.plan, kept, ZoneInfo(self.on.zone)))

    def expected_ohm(self, slot: Slot) -> float | None:
        """Ohms to expect of a pair now, by this winding's own past at this temperature; None where it has none. Where
        every pair of the scheme reads alike the last job's mean stands for it.
        """
        winding, warm = self.subject.winding, part_of(self.plan, self.state.kept, WARM)
        one_set = len(OHM_SETS.get(winding.lead_scheme, ())) == 1  # type: ignore[call-overload]
        last = self.about.last_reference_ohm if one_set else None
        last = winding.baseline_ohm.get(slot.part) if last is None else last
        if last is None or warm is None or warm <= -200:
            return None
        reference = self.criteria.reference_temperature_c.value
        zero = part_of(self.plan, self.state.kept, "lead_resistance") or 0.0
        return at_reference(last, reference, warm, self.subject.winding.conductor) + zero

    def expected(self, step: Step, slot: Slot) -> float | None:
        """What a slot's reading is likely to be, SI; None where nothing is known of it."""
        if step.kind == "winding_resistance":
            return self.expected_ohm(slot)
        if step.kind == "supply_voltage" and slot.part:
            return self.subject.plate.voltage_in_use_v
        return None

    def slot_scale(self, place: str, typed: float | None) -> Scale | None:
        """The scale under a slot, in its home unit."""
        step, slot = self.plan.at(place)
        ohms = self.expected_ohm(slot) if step.kind == "winding_resistance" else None
        return slot_scale(self.typed, place, typed, ohms)

    def said_of(self, entry: Entry) -> Said | None:
        """What a kept reading does to the verdict."""
        if entry.reading is None or entry.place not in self.plan.places:
            return None
        return say_reading(self.typed, entry, self._known(entry.reading, entry.place))

    def _known(self, reading: Reading, place: str) -> Reading:
        tops = {meter.function: meter.top for meter in self.meters}
        return as_known(reading, tops.get("insulation") if self.plan.at(place)[1].act is Act.MARK else None)

    @property
    def last_entry(self) -> Entry | None:
        """The entry kept last that isn't taken back."""
        standing = [e for e in self.state.kept.entries if not e.taken_back]
        return standing[-1] if standing else None

    def asked(self, place: str | None) -> tuple[Step, Slot] | None:
        """Step and slot of a place."""
        return self.plan.places.get(place) if place else None


def load(session: Session, job_id: int, now: datetime) -> Bench:
    """Load a job. Two queries. Raises Unknown."""
    return _loaded(session, _row(session, job_id), now)


def held(session: Session, job_id: int, now: datetime, place: str = "") -> Bench:
    """The same to be changed: nobody else changes it until the transaction ends.

    place: what is to be kept; where no gate on it asks what the readings so far show, they aren't judged: they will be,
    with the one that comes.
    """
    return _loaded(session, _row(session, job_id, lock=True), now, place)


def _row(session: Session, job_id: int, lock: bool = False) -> JobRow:
    found = job_rows.job(session, job_id, lock)
    if found is None:
        raise Unknown("job", str(job_id), "the number of a job on record")
    return found


def _loaded(session: Session, found: JobRow, now: datetime, place: str = "") -> Bench:
    bench = build(found, tuple(job_rows.entry_lines(session, found.job.id)), now, place)
    return replace(bench, document=job_rows.record_text(session, found.job.id)) if bench.filed else bench


def build(row: JobRow, rows: tuple[EntryLine, ...], now: datetime, place: str = "") -> Bench:
    """A bench from its rows."""
    job, motor = row.job, row.motor
    if job.signed_at is not None and job.subject:
        on = read_subject(job.subject)
    else:
        limits = read_plan_text(job.plan or "").wishes.limits(limits_in(row.own, job.criteria))
        subject = subject_of(motor, row.winding, motor.position, limits, row.first)
        on = StoredSubject(named_of(motor, motor.position), subject, row.meters, row.zone)
    about = About(job, motor, on, row.last_ohm, colours_in(row.colours))
    return folded(about, rows, [job_rows.to_entry(line) for line in rows], now, place)


# Whose gates ask what the readings so far show; the others ask the circuit and the order alone.
ASKING = frozenset({Act.APPLY, Act.MARK, *GIVES_BACK})


def folded(
    about: About, rows: tuple[EntryLine, ...], entries: list[Entry], now: datetime, place: str = ""
) -> Bench:  # fmt: skip
    """The entries folded by the job's plan, judged once, and where that leaves it."""
    job, on = about.job, about.on
    plan = read_plan_text(job.plan or "")
    signed, decided = job.signed_at is not None, job.decided_at is not None
    at = situation(plan, entries, Site(on.subject.criteria, ZoneInfo(on.zone)), now, signed)
    if signed:
        return Bench(about, rows, progress(at, decided=decided, signed=True), None)
    asked = plan.places.get(place)
    if asked is not None and asked[1].act not in ASKING:
        bench = Bench(about, rows, progress(at, decided=decided), None)
        if not waits_its_turn(bench.state, place):  # what the readings stop isn't waited for
            return bench
    conditions = conditions_of(plan, at.kept, ZoneInfo(on.zone))
    if asked is not None and asked[1].act is Act.MARK:  # its gate asks what its own hold shows, no other test
        made = made_of(plan, at.kept, on.meters, conditions, asked[0])
        hold = assess(recorded(plan, made, on.subject, on.meters, conditions))
        return Bench(about, rows, progress(at, decided=decided, failed=failed_holds(hold, made)), None)
    made = made_of(plan, at.kept, on.meters, conditions)
    record = recorded(plan, made, on.subject, on.meters, conditions)
    whole = assess(record)
    grown = _grown(plan, at.kept, record, whole)
    if grown is not plan:
        at = situation(grown, entries, Site(on.subject.criteria, ZoneInfo(on.zone)), now)
    codes = frozenset(finding.code for finding in whole.findings)
    state = progress(at, codes, whole.stands, decided, failed=failed_holds(whole, made))
    return Bench(about, rows, state, whole, tests=made if grown is plan else None)


def _grown(plan: Plan, kept: Kept, record: JobRecord, whole: Assessment) -> Plan:
    """The plan with what the readings so far bring; a plan of the first versions stays as it is."""
    if not plan.school:
        return plan
    brief = brief_of(record.subject, Occasion(plan.recipe), School(plan.school), wishes=plan.wishes)
    begun = begun_of(plan, (entry.place for entry in kept.entries if not entry.taken_back))
    walked = any(step.name == "walk" and step.key in begun for step in plan.steps)
    return grow(plan, Known(brief, whole, record, begun, walked, kept.again))


def record_of(plan: Plan, kept: Kept, on: StoredSubject) -> JobRecord:
    """The tests that the entries make up."""
    return to_record(plan, kept, on.subject, on.meters, conditions_of(plan, kept, ZoneInfo(on.zone)))


def rebuilt(bench: Bench, now: datetime) -> Bench:
    """The same rows folded anew, after one of them was marked or the job decided or signed."""
    entries = [job_rows.to_entry(line) for line in bench.rows]
    fresh = folded(bench.about, bench.rows, entries, now)
    return replace(fresh, trend=bench.trend, earlier=bench.earlier, life=bench.life)


def with_entry(bench: Bench, entry: Entry, now: datetime) -> Bench:
    """The bench as it would be with one more entry (nothing stored)."""
    entries = [*bench.state.kept.entries, entry]
    return folded(bench.about, bench.rows, entries, now)
