"""Data from before: links for jobs signed without a chain, documents for jobs without any, links for the register.

Each is done once; run again, it finds nothing left.
"""

from __future__ import annotations

import json
from datetime import datetime
from typing import Any

from sqlalchemy.orm import Session

from grimcoil.core.people import Actor, Role
from grimcoil.core.resistance.words import BALANCE
from grimcoil.exchange.jobs import read_job
from grimcoil.exchange.records import job_document
from grimcoil.exchange.signed import read_link
from grimcoil.exchange.subjects import StoredSubject, subject_text
from grimcoil.service.bench import About, folded, record_of
from grimcoil.service.criteria import limits_in
from grimcoil.service.earlier_trail import hold_earlier_trail
from grimcoil.service.motor_states import await_tests, spark_figures
from grimcoil.service.register import link_register
from grimcoil.service.signatures import add_link, link_earlier
from grimcoil.service.subjects import AnyMotor, AnyPlace, AnyWinding, named_of, subject_of
from grimcoil.service.trends import compared
from grimcoil.store import jobs as job_rows
from grimcoil.store import motors as motor_rows
from grimcoil.store import signatures as rows
from grimcoil.store.engine import Store
from grimcoil.store.jobs import JobRow
from grimcoil.store.listing import relist
from grimcoil.store.tables import Motor, Position, WindingRow

BATCH = 200
COMMAND_LINE = Actor(None, "command line", Role.ADMINISTRATOR, origin="command line")


def keep_earlier(store: Store, now: datetime) -> None:
    """All of it, in its order."""
    link_earlier(store)
    document_earlier(store, now)
    compare_earlier(store)
    link_register(store, now)
    hold_earlier_trail(store, now)
    await_earlier(store)
    list_earlier(store)


def await_earlier(store: Store) -> None:
    """Motors that were rewound when what the old winding showed still stood on are unproven."""
    with store.begin() as session:
        for state in motor_rows.rewound_since(session):
            await_tests(session, state)


def list_earlier(store: Store) -> int:
    """Motors registered before lists had rows of their own get theirs, and small trends kept as drawings figures."""
    with store.begin() as session:
        for state in motor_rows.drawn_sparks(session):
            jobs = motor_rows.signed_jobs(session, state.motor_id)
            state.spark = spark_figures(jobs)
        return relist(session, motor_rows.unlisted(session))


def document_earlier(store: Store, now: datetime) -> int:
    """Give signed jobs without a subject theirs, by the plate their link holds, and a link over it."""
    with store() as session:
        lacking = rows.without_subject(session)
    for job_id in lacking:
        with store.begin() as session:
            found = job_rows.job(session, job_id, lock=True)
            if found is not None:
                _document(session, found)
                add_link(session, job_id, COMMAND_LINE, "documents", now)
    return len(lacking)


def compare_earlier(store: Store) -> int:
    """Jobs signed before trends told test points apart, and register lines without a verdict on balance, get theirs."""
    with store() as session:
        lacking = job_rows.without_compares(session)
    for some in (lacking[i : i + BATCH] for i in range(0, len(lacking), BATCH)):
        with store.begin() as session:
            for job_id in some:
                record = read_job(job_rows.record_text(session, job_id))
                job_rows.set_compares(session, job_id, compared(record) or {})
    with store.begin() as session:
        for state, results in motor_rows.without_balance(session):
            findings = (results or [{}])[0].get("findings", ())
            state.balance = next((f["severity"] for f in findings if f["code"] in BALANCE), None)
    return len(lacking)


def _document(session: Session, found: JobRow) -> None:
    job, on = found.job, _signed_subject(session, found)
    lines = tuple(job_rows.entry_lines(session, job.id))
    entries = [job_rows.to_entry(line) for line in lines]
    about = About(job, found.motor, on)
    bench = folded(about, lines, entries, job.signed_at or job.started_at)
    record = json.dumps(job_document(record_of(bench.plan, bench.state.kept, on), on.named), ensure_ascii=False)
    job_rows.follow(session, job.id, {"subject": subject_text(on), "record": record})


def _signed_subject(session: Session, found: JobRow) -> StoredSubject:
    """The motor as the job's first link holds it; as the register has it where there is no such link."""
    job = found.job
    link = rows.first_of(session, job.id)
    plate = read_link(link.document).get("plate", {}) if link is not None else {}
    motor: AnyMotor = found.motor
    winding: AnyWinding = found.winding
    position: AnyPlace | None = found.motor.position
    if plate.get("motor"):
        position = Position(**_known(Position, plate["position"])) if plate.get("position") else None
        motor = Motor(**_known(Motor, plate["motor"]))
        winding = WindingRow(**_known(WindingRow, plate["winding"]))
    named = named_of(motor, position)
    return StoredSubject(
        named, subject_of(motor, winding, position, limits_in(found.own, job.criteria)), found.meters, found.zone
    )


def _known(made: type, document: dict[str, Any]) -> dict[str, Any]:
    """Columns as a link wrote them; figures are its texts, which read as the same numbers."""
    names = made.__table__.columns.keys()  # type: ignore[attr-defined]
    return {name: value for name, value in document.items() if name in names}
