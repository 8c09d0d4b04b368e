"""File whole past jobs at once: for the demo, and for records that come from elsewhere."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from uuid import UUID, uuid5

from sqlalchemy.orm import Session

from grimcoil.core.choices import Occasion, School
from grimcoil.core.people import Actor, Role
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.danger import danger_of
from grimcoil.core.plan.entries import Entry
from grimcoil.core.plan.recipes import build as build_plan
from grimcoil.core.plan.steps import Plan
from grimcoil.exchange.plans import plan_text
from grimcoil.service.bench import build
from grimcoil.service.jobs import new_line
from grimcoil.service.motor_states import fill_state, keep_documents, keep_figures
from grimcoil.service.signatures import add_link
from grimcoil.service.trends import history_rows, trend_of
from grimcoil.store import jobs as job_rows
from grimcoil.store import motors as motor_rows
from grimcoil.store.instruments import to_range
from grimcoil.store.jobs import EntryLine, FirstOhms, JobRow, Meters, accepted, first_ohms
from grimcoil.store.lines import JobLine, line_of, motor_line
from grimcoil.store.motors import WindingLine
from grimcoil.store.tables import InstrumentRangeRow, Job, Motor, MotorState, WindingRow

_NAMES = UUID("6b1f7c8e-5a55-4c1e-9d53-000000000001")


@dataclass(frozen=True, slots=True)
class PastJob:
    """A job that was done elsewhere, or before: its entries in order, and who did it."""

    winding: WindingRow
    entries: Sequence[Entry]
    who: str
    ohm_range: InstrumentRangeRow | None
    insulation_range: InstrumentRangeRow | None
    signed: bool = True

    @property
    def meters(self) -> Meters:
        """The instruments used."""
        return tuple(to_range(row) for row in (self.ohm_range, self.insulation_range) if row is not None)


def file_jobs(session: Session, motor: Motor, past: Sequence[PastJob]) -> list[Job]:
    """File jobs of one motor, oldest first; the register shows the last signed one."""
    jobs: list[Job] = []
    firsts: dict[int, FirstOhms] = {}
    for number, each in enumerate(past):
        job = _filed(session, motor, each, number, firsts.get(each.winding.id))
        jobs.append(job)
        if each.signed and accepted(job) and (ohms := first_ohms((job.assessment or {})["winding_resistance"])):
            firsts.setdefault(each.winding.id, ohms)
    signed = [job for job in jobs if job.state == "signed"]
    if signed:
        last = signed[-1]
        rows = tuple(job_rows.entry_lines(session, last.id))
        bench = build(_row(last, past[jobs.index(last)].meters), rows, last.started_at)
        life = motor_rows.history(session, motor.id)
        trend = trend_of(history_rows(signed, life.windings, life.events, last.winding_id), bench.subject)
        bench = replace(bench, trend=trend)
        keep_figures(last, bench.record, bench.whole)
        last.decided_action = bench.whole.decision.action
        state = MotorState(motor_id=motor.id)
        criticality = motor.position.criticality if motor.position else "routine"
        fill_state(state, last, bench.subject, signed, trend, bench.whole, criticality)
        session.add(state)
    session.flush()
    for job, each in zip(jobs, past, strict=True):
        if job.signed_at is not None:
            add_link(session, job.id, Actor(None, each.who, Role.ELECTRICIAN), "filed", job.signed_at)
    return jobs


def _filed(session: Session, motor: Motor, past: PastJob, number: int, base: FirstOhms | None) -> Job:
    first, last = past.entries[0].at, past.entries[-1].at
    forbidden = past.winding.insulation_test_forbidden
    plan = build_plan(Brief(past.winding.lead_scheme, Occasion.ROUTINE, forbidden, School.BOX_FIRST))
    job = Job(
        token=str(uuid5(_NAMES, f"{motor.tag} {number}")),
        motor=motor,
        position_id=motor.position_id,
        winding=past.winding,
        started_at=first,
        started_by=past.who,
        ohm_range=past.ohm_range,
        insulation_range=past.insulation_range,
        criteria="field-general",
        state="open",
        plan=plan_text(plan),
    )
    session.add(job)
    session.flush()
    rows = tuple(_line(plan, entry, job.id, number) for entry in past.entries)
    job_rows.insert_entries(session, job.id, list(zip(rows, past.entries, strict=True)))
    bench = build(_row(job, past.meters, base), rows, last)
    charged = bench.state.safety.charged
    job.discharge_due_at = charged.until if charged else None
    danger = danger_of(bench.plan, bench.state.kept, bench.state.safety)
    if danger is not None:
        job.danger, job.danger_since, job.danger_words = danger.stage.value, danger.since, danger.words
    if past.signed:
        _sign(job, past.who, last)
        keep_figures(job, bench.record, bench.whole)
        keep_documents(job, bench)
        job.decided_action = bench.whole.decision.action
    else:
        job.open_of = job.motor_id
    return job


def _row(job: Job, meters: Meters, base: FirstOhms | None = None) -> JobRow:
    winding = WindingLine(*(getattr(job.winding, name) for name in WindingLine._fields))
    return JobRow(line_of(JobLine, job), motor_line(job.motor), winding, None, meters, "UTC", base)


def _line(plan: Plan, entry: Entry, job_id: int, number: int) -> EntryLine:
    return new_line(plan, entry, str(uuid5(_NAMES, f"{job_id} {number} {entry.seq}")))


def _sign(job: Job, who: str, at: datetime) -> None:
    job.decided_at = job.signed_at = at
    job.decided_by = job.signed_by = who
    job.tested_on = job.started_at.date()
    job.state = "signed"
