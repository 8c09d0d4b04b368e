"""The bench: everything the Job page shows, worked out from the job's entries."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property

from sqlalchemy.orm import Session

from grimcoil.core.assessment import Assessment, assess
from grimcoil.core.criteria import Criteria
from grimcoil.core.errors import Unknown
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.procedure.entries import Entry
from grimcoil.core.procedure.judging import Said, say_reading, slot_scale
from grimcoil.core.procedure.progress import Progress, progress
from grimcoil.core.procedure.record import conditions_of, to_record
from grimcoil.core.procedure.scale import Scale
from grimcoil.core.procedure.steps import SLOTS, Slot, Step
from grimcoil.core.readings import Reading
from grimcoil.core.resistance.temperature import at_reference
from grimcoil.core.stator.reconnect import Reconnection, reconnection
from grimcoil.core.subject import Subject
from grimcoil.core.trend.judge import TrendResult
from grimcoil.service.subjects import subject_of
from grimcoil.store import jobs as job_rows
from grimcoil.store.jobs import EntryLine, Meters
from grimcoil.store.motors import SignedJob
from grimcoil.store.tables import Job


@dataclass(frozen=True)
class Bench:
    """One job as it stands. `trend` and the `earlier` signed jobs are there only where they are shown or signed.

    last_reference_ohm: the mean winding resistance of the last signed job at the reference temperature.
    """

    job: Job
    last_reference_ohm: float | None
    rows: tuple[EntryLine, ...]
    subject: Subject
    meters: tuple[InstrumentRange, ...]
    state: Progress
    trend: TrendResult | None = None
    earlier: tuple[SignedJob, ...] = ()
    follow: Sequence[tuple[int, str, datetime]] = ()

    @cached_property
    def whole(self) -> Assessment:
        """All tests so far, judged."""
        kept = self.state.kept
        record = to_record(kept, self.subject, self.meters, conditions_of(kept))
        return assess(record, self.trend.findings if self.trend else ())

    @property
    def criteria(self) -> Criteria:
        """What it is judged by."""
        return self.subject.criteria

    @cached_property
    def reconnection(self) -> Reconnection | None:
        """What the supply will do to this motor as it is joined."""
        return reconnection(self.subject)

    def codes(self) -> set[str]:
        """Finding codes so far."""
        return {finding.code for finding in self.whole.findings}

    def expected_ohm(self) -> float | None:
        """Winding resistance to expect now: the last job's at this temperature."""
        last = self.last_reference_ohm
        warm = self.state.kept.figure("temperature.winding")
        if last is None or warm is None:
            return None
        reference = self.criteria.reference_temperature_c.value
        zero = self.state.kept.figure("instrument_check.leads-shorted") or 0.0
        return at_reference(last, reference, warm, self.subject.winding.conductor) + zero

    def slot_scale(self, place: str, typed: float | None) -> Scale | None:
        """The scale under a slot, in its home unit."""
        return slot_scale(place, self.state.kept, self.subject, typed, self.expected_ohm())

    def said_of(self, entry: Entry) -> Said | None:
        """What a kept reading does to the verdict."""
        if entry.reading is None:
            return None
        return say_reading(
            entry.place, self._known(entry.reading, entry.place), self.state.kept, self.subject, self.whole
        )

    def _known(self, reading: Reading, place: str) -> Reading:
        tops = {meter.function: meter.top for meter in self.meters}
        return reading.with_top(tops.get("insulation")) if place.startswith("insulation.") else reading

    @property
    def last_entry(self) -> Entry | None:
        """The entry kept last that still stands."""
        standing = [e for e in self.state.kept.entries if not e.taken_back]
        return standing[-1] if standing else None

    def asked(self, place: str | None) -> tuple[Step, Slot] | None:
        """Step and slot of a place."""
        return SLOTS.get(place) if place else None


def load(session: Session, job_id: int, now: datetime, lock: bool = False) -> Bench:
    """Load a job. Two queries. Raises Unknown."""
    found = job_rows.job(session, job_id, lock)
    if found is None:
        raise Unknown("job", str(job_id), "the number of a job on record")
    return build(*found, tuple(job_rows.entry_lines(session, job_id)), now)


def build(job: Job, last_ohm: float | None, meters: Meters, rows: tuple[EntryLine, ...], now: datetime) -> Bench:
    """A bench from its rows."""
    subject = subject_of(job.motor, job.winding, job.motor.position, job.criteria)
    entries = [job_rows.to_entry(row) for row in rows]
    at = progress(entries, subject.criteria, now, job.decided_at is not None, job.signed_at is not None)
    return Bench(job, last_ohm, rows, subject, meters, at)


def rebuilt(bench: Bench, now: datetime) -> Bench:
    """The same rows folded anew, after one of them was marked or the job decided or signed."""
    fresh = build(bench.job, bench.last_reference_ohm, bench.meters, bench.rows, now)
    return replace(fresh, trend=bench.trend, earlier=bench.earlier)


def with_entry(bench: Bench, entry: Entry, now: datetime) -> Bench:
    """The bench as it would be with one more entry (nothing stored)."""
    entries = [*bench.state.kept.entries, entry]
    at = progress(entries, bench.criteria, now, bench.job.decided_at is not None, bench.job.signed_at is not None)
    return Bench(bench.job, bench.last_reference_ohm, bench.rows, bench.subject, bench.meters, at)
