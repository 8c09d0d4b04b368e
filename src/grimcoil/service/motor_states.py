"""Key figures of a signed job, the trend of its winding, and the line the register shows."""

from __future__ import annotations

import json
import math
from collections.abc import Sequence
from datetime import datetime
from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from grimcoil.core.assessment import Assessment
from grimcoil.core.decision.schedule import NextTest, after_rewind
from grimcoil.core.findings import SOON, Finding, Verdict, by_weight, verdict_of, worst
from grimcoil.core.measured import JobRecord
from grimcoil.core.resistance.words import BALANCE
from grimcoil.core.subject import Subject
from grimcoil.core.trend.history import HistoryTrend
from grimcoil.core.trend.judge import next_after
from grimcoil.core.version import VERSION
from grimcoil.exchange.assessments import to_document
from grimcoil.exchange.records import job_document
from grimcoil.exchange.subjects import subject_text
from grimcoil.exchange.told import told_of
from grimcoil.service.bench import Bench, load
from grimcoil.service.trends import AnyJob, compares_of, history_rows, least_mohm, trend_of, trend_with
from grimcoil.store import motors as motor_rows
from grimcoil.store.lines import JobLine
from grimcoil.store.tables import Job, MotorState

# What a motor's line shows of its winding, and of no other.
OF_WINDING = (
    "r40_low_mohm", "r40_high_mohm", "unbalance_percent", "unbalance_percent_lowest", "unbalance_percent_highest",
    "balance", "r_reference_ohm", "trend",
)  # fmt: skip


def keep_figures(job: Job, record: JobRecord, whole: Assessment) -> None:
    """Key figures and the whole assessment onto the job's row; what an amendment unproved goes from it."""
    job.verdict = whole.decision.verdict.value
    document = to_document(whole)
    document["workings"] = [list(pair) for pair in told_of(whole).workings]
    job.assessment, job.core_version = document, whole.core_version
    r40 = whole.insulation[0].r_1min_40c_mohm if whole.insulation else None
    job.compares = compares_of(record, whole)
    job.r40_low_mohm = None if r40 is None else r40.low
    job.r40_high_mohm = None if r40 is None or r40.high == math.inf else r40.high
    result = whole.winding_resistance[0] if whole.winding_resistance else None
    unbalance = result.unbalance if result else None
    job.unbalance_percent = _finite(unbalance.shown) if unbalance else None
    job.unbalance_percent_lowest = _finite(unbalance.lowest) if unbalance else None
    job.unbalance_percent_highest = _finite(unbalance.highest) if unbalance else None
    job.r_reference_ohm = result.mean_at_reference_ohm if result else None


def keep_documents(job: Job, bench: Bench) -> None:
    """What a signed job is shown, printed and answered from, whatever rules and register say later."""
    job.subject = subject_text(bench.on)
    job.record = json.dumps(job_document(bench.record, bench.on.named), ensure_ascii=False)


def _finite(value: float) -> float | None:
    return value if math.isfinite(value) else None


def refresh_state(session: Session, bench: Bench) -> None:
    """Bring the register's line up to date after the motor's last job was signed or amended, or another amended."""
    job, whole = bench.job, bench.whole
    state = session.get(MotorState, job.motor_id) or MotorState(motor_id=job.motor_id)
    fill_state(state, job, bench.subject, [*bench.earlier, job], bench.trend, whole, _criticality(bench))
    await_tests(session, state)
    session.add(state)


def state_after(session: Session, job: Job, subject: Subject, whole: Assessment, criticality: str) -> bool:
    """The same after a filed job as it was just judged; False, and nothing done, where a later one is on record."""
    state = session.get(MotorState, job.motor_id)
    if state is not None and state.last_on is not None and (job.tested_on is None or job.tested_on < state.last_on):
        return False
    state = state or MotorState(motor_id=job.motor_id)
    jobs, life = motor_rows.signed_jobs(session, job.motor_id), motor_rows.history(session, job.motor_id)
    trend = trend_of(history_rows(jobs, life.windings, life.events, job.winding_id), subject)
    fill_state(state, job, subject, jobs, trend, whole, criticality)
    await_tests(session, state)
    session.add(state)
    return True


def restate(session: Session, motor_id: int, now: datetime) -> None:
    """The same where nothing was tested, but where it stands or what that place is changed."""
    state = session.get(MotorState, motor_id)
    if state is not None and state.last_job_id is not None:
        refresh_state(session, trend_with(session, load(session, state.last_job_id, now)))


def await_tests(session: Session, state: MotorState) -> None:
    """Where the motor was rewound on or after the day of its last test, nothing of that one stands for the winding it
    has now: unproven, to be tested at once.
    """
    winding = motor_rows.winding_now(session, state.motor_id)
    if winding is None or winding.id == state.winding_id or (state.last_on and winding.since < state.last_on):
        return
    due = after_rewind(winding.since)
    state.winding_id, state.verdict = winding.id, Verdict.UNPROVEN.value
    state.next_on, state.next_why, state.why = due.on, due.why, due.why
    for name in OF_WINDING:
        setattr(state, name, None)


def _criticality(bench: Bench) -> str:
    position = bench.motor.position
    return position.criticality if position else "routine"


def fill_state(
    state: MotorState,
    job: Job | JobLine,
    subject: Subject,
    jobs: Sequence[AnyJob],
    history: HistoryTrend | None,
    whole: Assessment,
    criticality: str,
) -> None:
    """The register's line from the last job, the series and its trend."""
    least = least_mohm(subject)
    trend = history.trend if history else None
    told = history.governing if history else []
    verdict = worst([whole.decision.verdict, verdict_of(told) if told else Verdict.SOUND])
    last_on = job.tested_on or job.started_at.date()
    due = next_after(last_on, criticality, verdict, trend)
    state.winding_id, state.last_job_id, state.last_on = job.winding_id, job.id, last_on
    state.verdict, state.why = verdict.value, _why(whole, told, verdict, due)[:300]
    state.soon = _only_soon(whole, told, verdict)
    state.r40_low_mohm, state.r40_high_mohm = job.r40_low_mohm, job.r40_high_mohm
    state.unbalance_percent = job.unbalance_percent
    state.unbalance_percent_lowest = job.unbalance_percent_lowest
    state.unbalance_percent_highest = job.unbalance_percent_highest
    state.balance = balance_verdict(whole)
    state.r_reference_ohm = job.r_reference_ohm or state.r_reference_ohm
    state.minimum_mohm = least
    state.next_on, state.next_why = due.on, due.why[:200]
    state.spark = spark_figures(jobs)
    state.trend = trend_document(history) if history else None
    state.core_version = VERSION


SPARKS = 12  # as many of the newest tests as the small trend has room for


def spark_figures(jobs: Sequence[AnyJob]) -> str:
    """The newest tests as the small trend draws them: day, low, high and winding each, as JSON."""
    dated = [job for job in jobs if job.tested_on][-SPARKS:]
    return json.dumps([[str(job.tested_on), job.r40_low_mohm, job.r40_high_mohm, job.winding_id] for job in dated])


def balance_verdict(whole: Assessment) -> str | None:
    """What the first set of resistances shows of balance; None where it shows nothing."""
    findings = whole.winding_resistance[0].findings if whole.winding_resistance else ()
    return next((f.severity.value for f in findings if f.code in BALANCE), None)


def _why(whole: Assessment, told: Sequence[Finding], verdict: Verdict, due: NextTest) -> str:
    """The weightiest finding's first sentence, or why the date is what it is."""
    findings: list[Finding] = [*told, *whole.findings]
    weighty = [f for f in by_weight(findings) if f.severity is verdict and f.severity is not Verdict.SOUND]
    if weighty:
        return _short(weighty[0].text)
    if verdict is Verdict.UNPROVEN and whole.decision.missing:
        return f"Not read: {whole.decision.missing[0]}"
    return due.why


def _only_soon(whole: Assessment, told: Sequence[Finding], verdict: Verdict) -> bool:
    """Whether all that asks for action does so soon, nothing now."""
    acting = [f.code in SOON for f in (*told, *whole.findings, *whole.position) if f.severity is Verdict.ACT]
    return verdict is Verdict.ACT and bool(acting) and all(acting)


def _short(text: str) -> str:
    """A finding's text up to its first aside, for a list."""
    head, _, rest = text.partition(". ")
    said = head if len(head) > 24 or not rest else f"{head}. {rest.partition(',')[0]}"
    return said.split("; ")[0].split(" (")[0].removesuffix(".")


def trend_document(history: HistoryTrend) -> dict[str, Any]:
    """What the Motor page draws: findings, the line and its 90 % bands, and the crossing."""
    trend = history.trend
    out: dict[str, Any] = {
        "since": history.since.isoformat() if history.since else None,
        "left_out": history.left_out,
        "n": trend.n,
        "n_censored": trend.n_censored,
        "findings": [
            {"code": f.code, "text": f.text, "severity": f.severity.value, "source": f.source} for f in history.findings
        ],
        "verdict": verdict_of(history.governing).value if history.governing else None,
        "stepped": trend.stepped,
    }
    if trend.fit is not None:
        years = np.linspace(0.0, 8.0, 33)
        low, high = trend.fit.band(years)
        next_low, next_high = trend.fit.reading_band(years)
        out["fit"] = {
            "reference_date": trend.fit.reference_date.isoformat(),
            "slope_decades_per_year": trend.fit.slope_decades_per_year,
            "intercept_log10_mohm": trend.fit.intercept_log10_mohm,
            "sigma_decades": trend.fit.sigma_decades,
            "years": _list(years),
            "low": _list(low),
            "high": _list(high),
            "next_low": _list(next_low),
            "next_high": _list(next_high),
            "surely_falling": trend.fit.surely_falling,
        }
    if trend.crosses is not None:
        c = trend.crosses
        out["crosses"] = {
            "on": c.on.isoformat() if c.on else None,
            "earliest": c.earliest.isoformat(),
            "latest": c.latest.isoformat() if c.latest else None,
        }
    return out


def _list(values: Any) -> list[float]:
    return [float(v) for v in np.clip(values, -6, 9)]
