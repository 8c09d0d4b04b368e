"""One trend: a motor's signed jobs and what happened to it between them, as the rows that `judge_history` reads.
Register, page, sheet and, over a file of the same rows, the command line get their answer there.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date
from typing import Any

from sqlalchemy.orm import Session

from grimcoil.core.amount import Amount
from grimcoil.core.assessment import Assessment
from grimcoil.core.choices import HistoryEvent, LifeKind
from grimcoil.core.insulation.judge import machine_of
from grimcoil.core.insulation.minimum import minimum_at_40_mohm
from grimcoil.core.measured import InsulationTest, JobRecord, WindingToWindingTest
from grimcoil.core.subject import Subject
from grimcoil.core.trend.history import MINUTE_S, HistoryRow, HistoryTrend, judge_history
from grimcoil.service.bench import Bench
from grimcoil.store import motors as motor_rows
from grimcoil.store.lines import JobLine
from grimcoil.store.motors import LifeLine, SignedJob, WindingLine
from grimcoil.store.tables import Job, WindingRow

# What a life event is called in an insulation history; the others don't touch the winding.
EVENTS: dict[str, HistoryEvent] = {
    LifeKind.DRIED: HistoryEvent.DRYING,
    LifeKind.CLEANED: HistoryEvent.CLEANING,
    LifeKind.MOVED: HistoryEvent.MOVED,
    LifeKind.CABLE_CHANGED: HistoryEvent.CABLE_CHANGED,
}
REFERENCE_C = 40.0
AnyJob = Job | JobLine | SignedJob


def least_mohm(subject: Subject) -> float:
    """The minimum that this winding's values at 40 °C are held against, MΩ."""
    return minimum_at_40_mohm(machine_of(subject), subject.criteria)


def r40_of(job: AnyJob) -> Amount | None:
    """The stored key figure as an amount, MΩ."""
    return _amount(job.r40_low_mohm, job.r40_high_mohm)


def _amount(low: float | None, high: float | None) -> Amount | None:
    return None if low is None else Amount(low, math.inf if high is None else high)


def compared(record: JobRecord) -> dict[str, Any] | None:
    """By what a job's insulation compares with others'; None without any."""
    tests = [t for t in record.tests if isinstance(t, InsulationTest) and not isinstance(t, WindingToWindingTest)]
    if not tests:
        return None
    test = tests[0]
    meter = test.meter.name if test.meter else None
    return {"at": test.hookup.at, "test_voltage_v": test.test_voltage_v, "instrument": meter}


def compares_of(record: JobRecord, whole: Assessment) -> dict[str, Any] | None:
    """The same, with the reading itself where it has no value at 40 °C."""
    by = compared(record)
    if by is None or not whole.insulation:
        return None
    result = whole.insulation[0]
    read = result.r_1min_mohm if result.r_1min_40c_mohm is None else None
    return by | {
        "low_mohm": None if read is None else read.low,
        "high_mohm": None if read is None or not math.isfinite(read.high) else read.high,
    }


def row_of(on: date, r40: Amount | None, compares: Mapping[str, Any] | None) -> HistoryRow:
    """One job in the history. A value at 40 °C stands as read there; one that has none waits for its temperature."""
    by = compares or {}
    read = r40 if r40 is not None else _amount(by.get("low_mohm"), by.get("high_mohm"))
    warm = None if r40 is None else REFERENCE_C
    like = by.get("test_voltage_v"), MINUTE_S, warm
    return HistoryRow(on, read, *like, at=by.get("at"), instrument=by.get("instrument"))


def history_rows(
    jobs: Sequence[AnyJob], windings: Sequence[WindingLine | WindingRow], events: Sequence[LifeLine], upto: int
) -> list[HistoryRow]:
    """Jobs of the winding `upto` and those before it, in order of the windings, each day's events before its tests."""
    number = {winding.id: i for i, winding in enumerate(windings)}
    counted = windings[: number.get(upto, len(windings) - 1) + 1]
    after = windings[len(counted)].since if len(counted) < len(windings) else date.max
    rows = [HistoryRow(e.on_day, None, event=EVENTS[e.kind]) for e in events if e.kind in EVENTS and e.on_day < after]
    for winding in counted:
        if winding.reason == LifeKind.REWOUND and winding is not windings[0]:
            rows.append(HistoryRow(winding.since, None, event=HistoryEvent.REWIND))
        mine = [job for job in jobs if job.winding_id == winding.id and job.tested_on is not None]
        rows += [row_of(job.tested_on, r40_of(job), job.compares) for job in mine if job.tested_on is not None]
    return rows


def trend_of(rows: Sequence[HistoryRow], subject: Subject) -> HistoryTrend:
    """Judged against the minimum of this winding."""
    return judge_history(rows, least_mohm(subject))


def trend_with(session: Session, bench: Bench) -> Bench:
    """The bench with its winding's trend, this job included."""
    life = motor_rows.history(session, bench.job.motor_id, bench.job.id)
    earlier = tuple(job for job in motor_rows.signed_jobs(session, bench.job.motor_id) if job.id != bench.job.id)
    rows = history_rows(earlier, life.windings, life.events, bench.job.winding_id)
    own = _own_row(bench)
    trend = trend_of([*rows, own] if own else rows, bench.subject)
    return replace(bench, trend=trend, earlier=earlier, life=life)


def beside_earlier(session: Session, bench: Bench) -> Bench:
    """A signed job with the tests of its motor before it, some of the newest, to be drawn beside; nothing is judged."""
    job = bench.job
    before = motor_rows.newest_jobs(session, job.motor_id, None if job.tested_on is None else (job.tested_on, job.id))
    life = motor_rows.history(session, job.motor_id, job.id)
    return replace(bench, earlier=tuple(before.jobs), life=life, firsts=before.firsts)


def _own_row(bench: Bench) -> HistoryRow | None:
    """The job at hand: by its readings while they are judged, by what it keeps once signed."""
    job, whole = bench.job, bench.judged
    on = job.tested_on or bench.begun_on
    if on is None:
        return None
    if whole is None:
        return row_of(on, r40_of(job), job.compares)
    r40 = whole.insulation[0].r_1min_40c_mohm if whole.insulation else None
    return row_of(on, r40, compares_of(bench.record, whole))
