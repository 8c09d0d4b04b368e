"""The end of a job: decide, and sign. Each is one transaction; done twice it changes nothing."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from grimcoil.core.choices import RootCause
from grimcoil.core.decision.rules import ACTIONS
from grimcoil.core.errors import AlreadyKept, GateClosed, RecordRefusal, Refusal
from grimcoil.core.findings import Verdict
from grimcoil.core.follow_up import FollowUp, Origin, of_decision, of_findings, of_joint
from grimcoil.core.people import Action, Actor
from grimcoil.core.plan.putback import joints_seen
from grimcoil.core.stays import repeat_failures
from grimcoil.service.bench import Bench, held, rebuilt
from grimcoil.service.jobs import LONGEST_REASON, SHORTEST_REASON, tell
from grimcoil.service.motor_states import keep_documents, keep_figures, refresh_state
from grimcoil.service.signatures import add_link
from grimcoil.service.signing_in import confirm
from grimcoil.service.tasks import open_for
from grimcoil.service.trends import trend_with
from grimcoil.store import jobs as job_rows
from grimcoil.store import lives as life_rows
from grimcoil.store.engine import Store
from grimcoil.store.tables import Job


@dataclass(frozen=True, slots=True)
class Cause:
    """What lies behind a motor that has to be acted on, and what is changed so that it doesn't come back."""

    roots: tuple[str, ...] = ()
    changed: str = ""


UNSAID = Cause()


def decide(
    store: Store, job_id: int, action: str, reason: str, actor: Actor, now: datetime, cause: Cause = UNSAID
) -> Bench:
    """Agree with the recommended action, or differ with a reason. Where the verdict is to act, the cause is asked.

    Raises RecordRefusal, GateClosed, Forbidden, Unknown.
    """
    actor.need(Action.DECIDE)
    with store.begin() as session:
        bench, job = held(session, job_id, now), job_rows.row_of(session, job_id)
        bench = trend_with(session, bench)
        _may_close(bench)
        if action not in ACTIONS:
            raise RecordRefusal("action", action, "one of the actions offered")
        words = " ".join(reason.split())[:LONGEST_REASON]
        if action != bench.whole.decision.action and len(words) < SHORTEST_REASON:
            raise RecordRefusal("reason", words, "say why you decide otherwise; it stays on the record")
        _check_cause(bench, cause)
        job.root_causes, job.changed = list(dict.fromkeys(cause.roots)) or None, cause.changed.strip() or None
        job.decided_action, job.decided_reason, job.decided_by, job.decided_at = action, words, actor.who, now
        tell(session, actor, "decided", now, bench, f"{action}: {words}" if words else action)
        return rebuilt(bench.of(job), now)


def _check_cause(bench: Bench, cause: Cause) -> None:
    """Handbook practice: a motor that has to be acted on comes back unless the cause is named and something changed."""
    known = ", ".join(RootCause)
    strange = next((root for root in cause.roots if root not in list(RootCause)), None)
    if strange is not None:
        raise RecordRefusal("root cause", strange[:40], f"of: {known}")
    if len(cause.changed) > LONGEST_REASON:
        raise RecordRefusal("changed", cause.changed[:40] + "…", f"at most {LONGEST_REASON} characters")
    if bench.whole.decision.verdict is not Verdict.ACT:
        return
    if not cause.roots and len(cause.changed.strip()) < SHORTEST_REASON:  # both together: one look, one mend
        says = f"one or more of: {known}; and what is changed so that it doesn't come back"
        raise RecordRefusal("root cause, and what is changed", cause.changed, says, "drain opened")
    if not cause.roots:
        raise RecordRefusal("root cause", "", f"one or more of: {known}")
    if len(cause.changed.strip()) < SHORTEST_REASON:
        raise RecordRefusal("changed", cause.changed, "what is changed so that it doesn't come back", "drain opened")


def _may_close(bench: Bench) -> None:
    state = bench.state
    if state.signed:
        raise GateClosed("Decision", "", "this job is signed")
    if state.safety.live is not None:
        raise GateClosed("Decision", "something was found live", "find the source and begin again first")
    if state.safety.charged:
        raise GateClosed(
            "Decision", "test voltage was on the winding", "Discharge it first. This cannot be overridden."
        )
    if not state.closing:
        raise GateClosed("Decision", f"“{state.step.title}” isn't finished", "finish it or skip it with a reason", True)


def sign(store: Store, job_id: int, actor: Actor, secret: str, now: datetime) -> Bench:
    """Sign with one's password or PIN: the job is closed, its assessment stored with the version that judged, the
    register brought up to date, a link added to the chain. Raises Forbidden, WrongSecret, GateClosed, AlreadyKept.
    """
    actor.need(Action.SIGN)
    by = confirm(store, actor, secret, now)
    with store.begin() as session:
        bench, job = held(session, job_id, now), job_rows.row_of(session, job_id)
        if job.signed_at is not None and job.signed_by != actor.who:
            raise AlreadyKept(
                "Sign", f"signed by {job.signed_by} meanwhile", "nothing more is needed; an amendment may be"
            )
        bench = trend_with(session, bench)
        if bench.state.signed:
            return bench
        _may_close(bench)
        if job.decided_at is None:
            raise Refusal("Sign", "no decision yet", "decide first")
        _close(session, bench, job, actor.who, now)
        link = add_link(session, job.id, actor, by, now)
        _follow_up(session, bench, job, actor, now)
        tell(session, actor, "signed", now, bench, f"by {by}, link {link.seq}, {link.hash}")
        return rebuilt(bench.of(job), now)


def _follow_up(session: Session, bench: Bench, job: Job, actor: Actor, now: datetime) -> None:
    """The tasks that its findings and its decision ask for; a second failure at a place asks to look at the place."""
    whole = bench.whole
    changed = of_decision(job.changed or "", job.decided_action or "")
    open_for(session, actor, job.motor_id, changed, Origin.DECISION, job.id, now)
    findings: list[FollowUp] = of_findings([*whole.findings, *whole.position])
    findings += [one for state in joints_seen(bench.plan, bench.state.kept) for one in of_joint(state)]
    if changed and job.position_id is not None:
        again = repeat_failures(life_rows.failures_at(session, job.position_id), now.date())
        findings += of_findings([again] if again else [])
    open_for(session, actor, job.motor_id, findings, Origin.FINDING, job.id, now)


def _close(session: Session, bench: Bench, job: Job, who: str, now: datetime) -> None:
    """Store the assessment and the key figures of a job, and refresh what the register shows."""
    job.signed_at, job.signed_by, job.state, job.open_of = now, who, "signed", None
    job.tested_on = bench.begun_on or now.date()
    keep_figures(job, bench.record, bench.whole)
    keep_documents(job, bench)
    refresh_state(session, bench.of(job))
