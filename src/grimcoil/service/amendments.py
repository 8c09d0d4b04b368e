"""Amending a signed job: what was signed stays readable, the amendment is signed in its turn.

An amendment is a remark, or one reading put right: the reading as it stood is marked taken back, the right one stands
in its place with the time of the old one, everything is judged anew, and a link of the chain holds both. What shows how
people were kept safe (isolation, proving dead, discharge) can be remarked upon, never changed.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy.orm import Session

from grimcoil.core.errors import AlreadyKept, GateClosed, RecordRefusal
from grimcoil.core.people import Action, Actor
from grimcoil.core.plan.entries import Entry
from grimcoil.core.plan.steps import HOLD, PROOF, Act, Input, Plan
from grimcoil.core.units import USUAL, Units
from grimcoil.service.bench import FILED, Bench, held, load, rebuilt
from grimcoil.service.jobs import LONGEST_REASON, How, new_entry, new_line
from grimcoil.service.motor_states import keep_documents, keep_figures, refresh_state
from grimcoil.service.signatures import Grounds, add_link
from grimcoil.service.signing_in import confirm
from grimcoil.service.trends import trend_with
from grimcoil.store import jobs as job_rows
from grimcoil.store import motors as motor_rows
from grimcoil.store import signatures as signature_rows
from grimcoil.store import trail
from grimcoil.store.engine import Store


def amendable(plan: Plan) -> dict[str, str]:
    """The readings of a plan that can be put right, in words: none that shows how people were kept safe."""
    safe = PROOF | HOLD - {Act.MARK}
    return {
        place: plan.words(place)
        for place, (step, slot) in plan.places.items()
        if slot.input is Input.READING and slot.act not in safe and not step.hard
    }


@dataclass(frozen=True, slots=True)
class Amendment:
    """What is to be put right: a place and its reading as it should have been kept, or a remark alone. units: that a
    bare figure is typed in.
    """

    reason: str
    place: str = ""
    text: str = ""
    token: str = ""
    units: Units = USUAL


def amend(store: Store, job_id: int, actor: Actor, wanted: Amendment, secret: str, now: datetime) -> Bench:
    """Amend and sign it. The same token again changes nothing.

    Raises Forbidden, WrongSecret, Unknown, RecordRefusal, GateClosed where the job isn't signed.
    """
    actor.need(Action.AMEND)
    words = " ".join(wanted.reason.split())
    if not 3 <= len(words) <= LONGEST_REASON:
        raise RecordRefusal(
            "reason", words[:40], f"say why in 3 to {LONGEST_REASON} characters; it stays on the record"
        )
    by = confirm(store, actor, secret, now)
    with store.begin() as session:
        bench, job = held(session, job_id, now), job_rows.row_of(session, job_id)
        if not bench.state.signed:
            raise GateClosed("Amend", "this job isn't signed", "undo the reading and save the right one")
        if bench.job.signed_by == FILED:
            raise GateClosed("Amend", "this job was filed from a document", "mend the document and file it anew")
        if wanted.place and wanted.place not in amendable(bench.plan):
            raise RecordRefusal("place", wanted.place, "a reading of this job; how it was made safe can't be changed")
        if signature_rows.has_token(session, wanted.token):
            return trend_with(session, bench)
        changed = ""
        if wanted.place:
            bench, changed = _put_right(session, bench, actor, wanted, now)
        after = trend_with(session, bench)
        if wanted.place:
            keep_figures(job, after.record, after.whole)
            keep_documents(job, after)
            after = after.of(job)
            bring_up_to_date(session, after, now)
        link = add_link(session, job_id, actor, by, now, Grounds(words, changed, wanted.token))
        told = f"{changed or 'remark'}: {words}, by {by}, link {link.seq}"
        trail.write(session, actor, "amended", now, bench.job.motor_id, job_id, told)
        return after


def _put_right(session: Session, bench: Bench, actor: Actor, wanted: Amendment, now: datetime) -> tuple[Bench, str]:
    _, slot = bench.plan.at(wanted.place)
    old = bench.state.kept.standing.get(wanted.place)
    text = How(units=wanted.units).read(bench.plan, wanted.place, wanted.text)
    entry = new_entry(bench, slot, wanted.place, text, actor.who, old.at if old else now)
    if old is not None:  # another figure of the same second
        entry = replace(entry, held_s=old.held_s)
    label = bench.plan.words(wanted.place)
    if old is not None and old.text == entry.text:
        raise AlreadyKept(label, entry.text, "this is what stands there already")
    rows = bench.rows
    if old is not None:
        job_rows.mark_taken_back(session, bench.job.id, old.seq, actor.who, now)
        rows = tuple(
            replace(r, taken_back_at=now, taken_back_by=actor.who) if r.seq == old.seq else r for r in rows
        )  # fmt: skip
    line = new_line(bench.plan, entry, wanted.token)
    job_rows.insert_entries(session, bench.job.id, [(line, entry)])
    fresh = rebuilt(replace(bench, rows=(*rows, line)), now)
    fresh = replace(fresh, judged=fresh.judged_alone)
    return fresh, f"{label}: {entry.text} instead of {_told(old)}"


def _told(old: Entry | None) -> str:
    return old.text if old is not None else "nothing"


def bring_up_to_date(session: Session, after: Bench, now: datetime) -> None:
    """The register's line hangs on the motor's last job; an earlier one moves only its trend."""
    last = motor_rows.last_job_id(session, after.job.motor_id)
    if last is None or last == after.job.id:
        refresh_state(session, after)
        return
    session.flush()
    refresh_state(session, trend_with(session, load(session, last, now)))
