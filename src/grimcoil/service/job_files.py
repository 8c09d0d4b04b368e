"""Jobs out and in as `grimcoil-job/1`. One that comes in stands as filed: no entries, no signature of a person."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from functools import lru_cache
from typing import Any
from uuid import uuid4

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from grimcoil.core.assessment import Assessment, assess
from grimcoil.core.criteria import CRITERIA
from grimcoil.core.errors import RecordRefusal, Unknown
from grimcoil.core.measured import JobRecord
from grimcoil.core.people import Actor
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.entries import NOT_READ
from grimcoil.core.plan.parts.safe import JOINT_KIND, JOINT_STATE, JOINTS
from grimcoil.core.plan.recipes import build as build_plan
from grimcoil.core.plan.steps import Act
from grimcoil.core.stays import Stay, place_on
from grimcoil.exchange.jobs import BESIDE, to_record, validated
from grimcoil.exchange.jobs import Job as JobFile
from grimcoil.exchange.leads import read_leads
from grimcoil.exchange.plans import plan_text
from grimcoil.exchange.records import job_document
from grimcoil.exchange.strict import load_json
from grimcoil.exchange.subjects import Named, StoredSubject, subject_text
from grimcoil.service.again import stands_in
from grimcoil.service.amendments import bring_up_to_date
from grimcoil.service.bench import FILED, Bench, load
from grimcoil.service.criteria import for_documents
from grimcoil.service.motor_files import checked_file
from grimcoil.service.motor_states import keep_figures, refresh_state
from grimcoil.service.motors import register_in
from grimcoil.service.signatures import add_link
from grimcoil.service.trends import trend_with
from grimcoil.store import jobs as job_rows
from grimcoil.store import lives, trail
from grimcoil.store import motors as motor_rows
from grimcoil.store import photos as photo_rows
from grimcoil.store.engine import Store
from grimcoil.store.tables import Job, MotorState

Document = dict[str, Any]


def export_job(store: Store, job_id: int, now: datetime) -> Document:
    """The job as a document; a signed or filed one as it was kept. Raises Unknown."""
    with store() as session:
        bench = load(session, job_id, now)
        job = bench.job
        kept = job_rows.record_text(session, job_id) if bench.state.signed else ""
        document: Document = json.loads(kept) if kept else job_document(bench.record, bench.on.named)
        beside: Document = {}
        if job.decided_at is not None and job.signed_by != FILED:
            beside["decided"] = {
                "action": job.decided_action or "", "reason": job.decided_reason or "",
                "by": job.decided_by or "", "at": job.decided_at.isoformat(),
            }  # fmt: skip
        beside |= {"root_causes": job.root_causes, "changed": job.changed} if job.signed_by != FILED else {}
        beside |= _seen(bench)
        overruled = bench.state.kept.overruled.items()
        beside["overruled"] = [{"place": key, "reason": one.text, "by": one.who} for key, one in overruled]
        beside["photos"] = [one.sha256 for one in photo_rows.of_job(session, job_id) if one.taken_back_at is None]
        return document | {key: value for key, value in beside.items() if value}


def _seen(bench: Bench) -> Document:
    """As found and as left, out of what was written down."""
    kept = bench.state.kept.standing
    found: Document = {"leads": {}}
    joint: Document = {}
    notes: list[str] = []
    for place, (step, slot) in bench.plan.places.items():
        entry = kept.get(place)
        if entry is None or step.suffix:
            continue
        if slot.act is Act.LIFT:
            found["leads"][slot.key.removeprefix("lead-")] = entry.text
        elif slot.key in (JOINT_KIND, JOINT_STATE) and step.does(Act.LIFT) and entry.text != NOT_READ:
            joint[slot.key] = JOINTS.get(entry.text, entry.text)
        elif place == "as_found.links":
            notes.append(entry.text)
        elif place == "as_found.neutral":
            notes.append(f"{slot.label} {entry.text}")
    if notes:
        found["note"] = "; ".join(notes)
    if joint:
        found["leads"] = {lead: {"terminal": text, **joint} for lead, text in found["leads"].items()}
    left = kept.get("reconnect.left")
    out = {"as_found": {key: value for key, value in found.items() if value}}
    return out | ({"as_left": {"note": left.text}} if left is not None else {})


@dataclass(frozen=True, slots=True)
class Imported:
    """Which job it is now, and whether it was on record already."""

    job_id: int
    known: bool


def import_job(store: Store, text: str | bytes, actor: Actor, now: datetime, new: bool = False) -> Imported:
    """File a job. `new`: an unknown tag makes the motor. The same content again changes nothing.

    One transaction: a motor is never left without the job that made it.
    Raises RecordRefusal, Unknown for a tag that isn't on record.
    """
    given = validated(load_json(text))
    if given.leads_readings is not None:
        _check_leads(given.leads_readings)
    with store() as session:
        record = to_record(given, for_documents(session))
    named = _named(given)
    coming = _Coming(given, record, named, actor, now, new)
    try:
        return _taken_in(store, coming)
    except IntegrityError as error:
        if not stands_in(error, "motor"):
            raise
        return _taken_in(store, coming)  # somebody registered the same tag meanwhile: it is there now


@dataclass(frozen=True, slots=True)
class _Coming:
    """A job as it comes in, and who brings it."""

    given: JobFile
    record: JobRecord
    named: Named
    actor: Actor
    now: datetime
    new: bool


def _taken_in(store: Store, coming: _Coming) -> Imported:
    given, record, named, actor, now = coming.given, coming.record, coming.named, coming.actor, coming.now
    kept = job_document(record, named)
    with store.begin() as session:
        motor_id = _locked(session, coming)
        for job_id, standing in job_rows.records_of(session, motor_id):
            if _tests_only(json.loads(standing)) == kept:
                return Imported(job_id, known=True)
        job = file_in(session, motor_id, given, now, record)
        link = add_link(session, job.id, actor, "filed", now)
        trail.write(session, actor, "job filed", now, motor_id, job.id, f"link {link.seq}")
        return Imported(job.id, known=False)


def file_in(
    session: Session,
    motor_id: int,
    given: JobFile,
    now: datetime,
    record: JobRecord | None = None,
    last: bool = True,
) -> Job:
    """A filed job in a transaction of somebody else's, judged; no link yet. last: none of this motor follows in the
    same transaction, so that the register's line is brought up to date.
    """
    record = record or to_record(given, for_documents(session))
    job, _ = judged_job(filing_of(session, motor_id, given.motor.tag), given, record, now)
    session.add(job)
    session.flush()
    if last:
        bring_up_to_date_with(session, job.id, now)
    return job


# Of a filed job's row, what follows from its document.
JUDGED = (
    "criteria", "criteria_version", "record", "subject", "verdict", "assessment", "core_version", "compares",
    "r40_low_mohm", "r40_high_mohm", "unbalance_percent", "unbalance_percent_lowest", "unbalance_percent_highest",
    "r_reference_ohm", "decided_action",
)  # fmt: skip


def refile(session: Session, job_id: int, document: Document, now: datetime) -> None:
    """A filed job judged anew by another document of the same motor and day; no link yet."""
    job = session.get(Job, job_id)
    if job is None:
        raise Unknown("job", str(job_id), "a job on record")
    given = validated(document)
    filing = filing_of(session, job.motor_id, given.motor.tag)
    made, _ = judged_job(filing, given, to_record(given, for_documents(session)), now)
    for name in JUDGED:
        setattr(job, name, getattr(made, name))
    session.flush()


def bring_up_to_date_with(session: Session, job_id: int, now: datetime) -> None:
    """The register's line after a filed job, the last of its motor's in a transaction."""
    _bring_up_to_date(session, load(session, job_id, now), now)


@dataclass(frozen=True, slots=True)
class Filing:
    """Where a filed job of a motor stands: its winding, and where the motor was when."""

    motor_id: int
    winding_id: int
    stays: Sequence[Stay]


def filing_of(session: Session, motor_id: int, tag: str) -> Filing:
    """The same of a motor on record. Raises Unknown where it has no winding."""
    winding = motor_rows.winding_now(session, motor_id)
    if winding is None:
        raise Unknown("motor.tag", tag, "a motor with a winding on record")
    return Filing(motor_id, winding.id, stays_of(session, motor_id))


def judged_job(filing: Filing, given: JobFile, record: JobRecord, now: datetime) -> tuple[Job, Assessment]:
    """The row of a filed job with all that was judged of it, in no session yet; and that itself."""
    named = _named(given)
    beside = given.model_dump(mode="json", by_alias=True, include=set(BESIDE), exclude_unset=True)
    job = _filed(filing, given, now)
    limits = record.subject.criteria
    job.criteria, job.criteria_version = limits.name, None if limits.name in CRITERIA else limits.version
    job.record = json.dumps(job_document(record, named) | beside, ensure_ascii=False)
    job.subject = subject_text(StoredSubject(named, record.subject, record.instruments))
    whole = assess(record)
    keep_figures(job, record, whole)
    job.decided_action = given.decided.action if given.decided else whole.decision.action
    changed = [given.changed] if isinstance(given.changed, str) else given.changed
    job.root_causes, job.changed = list(given.root_causes) or None, "; ".join(changed)[:500] or None
    return job, whole


def _locked(session: Session, coming: _Coming) -> int:
    """The motor, held until this is over: two imports of one file are one job."""
    tag = coming.named.tag
    found = motor_rows.by_tag(session, tag)
    if found is None:
        if not coming.new:
            raise Unknown("motor.tag", tag, "the tag of a motor on record; --new makes the motor from the file")
        return _registered(session, coming)
    motor_rows.lock(session, found[0].id)
    return found[0].id


def _check_leads(readings: Document) -> None:
    try:
        read_leads(json.dumps(readings))
    except RecordRefusal as refusal:
        where = f"leads_readings.{refusal.where}"
        raise RecordRefusal(where, refusal.found, refusal.accepted, refusal.example) from None


def _tests_only(document: Document) -> Document:
    return {key: value for key, value in document.items() if key not in BESIDE}


def _named(given: JobFile) -> Named:
    tag = given.motor.tag.strip()
    if not tag:
        raise RecordRefusal("motor.tag", "", "the motor's tag: a filed job stands under it", "BW-114")
    return Named(tag, "", given.motor.power or "", given.position.name or "", given.position.area or "")


def _filed(filing: Filing, given: JobFile, now: datetime) -> Job:
    return Job(
        token=str(uuid4()), motor_id=filing.motor_id, winding_id=filing.winding_id,
        kind=str(given.occasion), state="signed", started_at=now, started_by=FILED, signed_at=now, signed_by=FILED,
        decided_at=now, decided_by=FILED, tested_on=_tested_on(given) or now.date(),
        plan=_plan_of(given.motor.lead_scheme),
        position_id=place_on(filing.stays, _tested_on(given) or now.date()),
    )  # fmt: skip


@lru_cache(maxsize=32)
def _plan_of(scheme: str) -> str:
    return plan_text(build_plan(Brief(scheme)))


def stays_of(session: Session, motor_id: int) -> list[Stay]:
    """Where a motor stood and stands."""
    return [Stay(row.position_id, row.since, row.until) for row in lives.stays_of(session, motor_id)]


def _tested_on(given: JobFile) -> date | None:
    said = [given.conditions.date_, *(test.conditions.date_ for test in given.tests if test.conditions)]
    return max((day for day in said if day is not None), default=None)


def _bring_up_to_date(session: Session, bench: Bench, now: datetime) -> None:
    after = trend_with(session, bench)
    state = session.get(MotorState, after.job.motor_id)
    on = after.job.tested_on
    if state is None or state.last_on is None or (on is not None and on >= state.last_on):
        refresh_state(session, after)
    else:
        bring_up_to_date(session, after, now)


def _registered(session: Session, coming: _Coming) -> int:
    """The motor as the file's plate says it, with its winding and its place, in the same transaction."""
    given = coming.given
    checked = checked_file(given.motor, given.position, given.supply_system, coming.now)
    return register_in(session, coming.actor, checked)
