"""What can be done to a job: start, keep, take back, skip, decide, sign. Every change is one transaction and is
told apart by a token, so that a double tap or a reload does nothing twice.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from grimcoil.core.criteria import CRITERIA
from grimcoil.core.decision.rules import ACTIONS
from grimcoil.core.errors import AlreadyKept, GateClosed, RecordRefusal, Refusal, Unknown
from grimcoil.core.fields import FIELDS
from grimcoil.core.people import Action, Actor
from grimcoil.core.procedure.entries import NOT_READ, Entry, EntryKind
from grimcoil.core.procedure.progress import check_place, check_skip
from grimcoil.core.procedure.steps import SLOTS, Kind, Slot, place_words
from grimcoil.core.procedure.stops import check_stops, stop_key
from grimcoil.core.readings import Reading, parse_reading
from grimcoil.service.bench import Bench, load, rebuilt, with_entry
from grimcoil.service.motor_states import keep_figures, refresh_state, trend_with
from grimcoil.service.signatures import add_link
from grimcoil.service.signing_in import confirm
from grimcoil.store import jobs as job_rows
from grimcoil.store import motors as motor_rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.jobs import EntryLine
from grimcoil.store.tables import Job

LONGEST_NOTE = 300
LONGEST_REASON = 500


@dataclass(frozen=True, slots=True)
class Start:
    """What a job starts with."""

    tag: str
    token: str
    ohm_range_id: int | None = None
    insulation_range_id: int | None = None
    criteria: str = "field-general"


def start_job(store: Store, actor: Actor, start: Start, now: datetime) -> int:
    """Start a routine job and return its id; the same token or an open job of the motor returns that one."""
    actor.need(Action.START_JOB)
    if start.criteria not in CRITERIA:
        raise RecordRefusal("criteria", start.criteria, "one of " + ", ".join(CRITERIA))
    try:
        with store.begin() as session:
            return _started(session, actor, start, now)
    except IntegrityError:
        with store() as session:
            job = job_rows.by_token(session, start.token)
            if job is None:
                raise
            return job.id


def _started(session: Session, actor: Actor, start: Start, now: datetime) -> int:
    found = motor_rows.by_tag(session, start.tag)
    if found is None:
        raise Unknown("motor", start.tag, "the tag of a motor on the register")
    motor = found[0]
    standing = job_rows.by_token(session, start.token) or job_rows.open_of(session, motor.id)
    if standing is not None:
        return standing.id
    winding = motor_rows.winding_now(session, motor.id)
    if winding is None:
        raise Unknown("winding", start.tag, "a motor with a winding on record")
    if winding.lead_scheme not in ("three-lead", "three-lead-wye", "three-lead-delta"):
        raise RecordRefusal("lead scheme", winding.lead_scheme, "a routine job is walked for three-lead motors")
    job = Job(
        token=start.token,
        motor_id=motor.id,
        winding_id=winding.id,
        criteria=start.criteria,
        started_at=now,
        started_by=actor.who,
        ohm_range_id=start.ohm_range_id,
        insulation_range_id=start.insulation_range_id,
    )
    session.add(job)
    session.flush()
    trail.write(session, actor, "job started", now, motor.id, job.id)
    return job.id


def open_bench(store: Store, job_id: int, now: datetime) -> Bench:
    """A job as it stands with the discharges that run; with its trend once the decision is reached."""
    with store() as session:
        bench = replace(load(session, job_id, now), follow=job_rows.discharging(session))
        if bench.state.step.key not in ("decision", "sign"):
            return bench
        return trend_with(session, bench)


def try_entry(bench: Bench, place: str, text: str, who: str, now: datetime) -> tuple[Bench, Entry]:
    """What an entry would do, without keeping it. Raises the Refusal that keeping it would."""
    step, slot = check_place(bench.state, place)
    entry = new_entry(bench, slot, place, text, who, now)
    standing = bench.state.kept.standing.get(place)
    if standing is not None and standing.text.strip() != text.strip():
        raise AlreadyKept(
            f"{step.title}, {slot.label}",
            f"{standing.text}, kept by {standing.who}",
            "take that back first if this one is right",
        )
    if place in ("insulation.on", "insulation.600", "supply_voltage.restored"):
        check_stops(place, bench.state.kept, bench.codes())
    return with_entry(bench, entry, now), entry


def new_entry(bench: Bench, slot: Slot, place: str, text: str, who: str, now: datetime) -> Entry:
    """The entry of a text in a place, checked by itself. Raises the Refusal that keeping it would."""
    kind, reading = EntryKind.NOTE, None
    kept_text = " ".join(text.split())
    if slot.optional and kept_text in ("-", "–", NOT_READ):
        kept_text = NOT_READ
    elif slot.kind is Kind.READING:
        kind, reading = EntryKind.READING, parse_reading(text, FIELDS[slot.field], slot.label)
        _check_level(slot, reading)
    elif slot.kind is Kind.TAG:
        _check_tag(bench, kept_text)
    elif slot.kind is Kind.WORDS:
        if not 1 <= len(kept_text) <= LONGEST_NOTE:
            raise RecordRefusal(slot.label, kept_text[:40], f"1 to {LONGEST_NOTE} characters")
    else:
        kept_text = kept_text[:LONGEST_NOTE] or "confirmed"
    instrument = _instrument(bench, slot) if kind is EntryKind.READING else None
    return Entry(len(bench.state.kept.entries) + 1, place, kind, kept_text, now, who, reading, False, instrument)


def _check_level(slot: Slot, reading: Reading) -> None:
    """Volts and amps are figures; only an ohm range can be over-range here."""
    if slot.field in ("voltage", "current", "temperature", "humidity") and not reading.amount.is_exact:
        raise RecordRefusal(slot.label, reading.text, "one figure as the meter shows it", "478")
    if slot.field == "humidity" and not 0 < reading.amount.value <= 100:
        raise RecordRefusal(slot.label, reading.text, "above 0 up to 100 %", "55")


def _check_tag(bench: Bench, text: str) -> None:
    if text.casefold() != bench.job.motor.tag.casefold():
        says = f"this job is for {bench.job.motor.tag}; read the tag off the motor, not off its place"
        raise RecordRefusal("Tag on the motor's plate", text, says)


def _instrument(bench: Bench, slot: Slot) -> str | None:
    wanted = {"winding": ("low-ohm", "ohm"), "insulation": ("insulation",)}.get(slot.field, ())
    if slot.instrument:
        wanted = {"ohm": ("low-ohm", "ohm"), "insulation": ("insulation",)}[slot.instrument]
    return next((m.name for m in bench.meters if m.function in wanted), None)


def keep(store: Store, job_id: int, place: str, text: str, actor: Actor, token: str, now: datetime) -> Bench:
    """Keep one entry and return the bench with it. The same token again, or the same text, changes nothing."""
    actor.need(Action.KEEP_ENTRY)
    with store.begin() as session:
        bench = load(session, job_id, now, lock=True)
        if _seen(bench, token):
            return bench
        tried, entry = try_entry(bench, place, text, actor.who, now)
        if place in bench.state.kept.standing:
            return bench
        job_rows.insert_entries(session, job_id, [(new_line(entry, token), entry)])
        _follow_discharge(bench.job, tried)
        _tell(session, actor, "kept", now, bench, _words(place, entry.text))
        return tried


def _words(place: str, text: str) -> str:
    return f"{place_words(place)}: {'done' if text == 'confirmed' else text}"


def _tell(session: Session, actor: Actor, action: str, now: datetime, bench: Bench, detail: str = "") -> None:
    trail.write(session, actor, action, now, bench.job.motor_id, bench.job.id, detail)


def _seen(bench: Bench, token: str) -> bool:
    return any(row.token == token for row in bench.rows)


def new_line(entry: Entry, token: str) -> EntryLine:
    """The row of an entry."""
    slot = SLOTS[entry.place][1] if entry.place in SLOTS else None
    return job_rows.to_line(entry, token, FIELDS[slot.field].home_unit if slot and slot.field else None)


def _follow_discharge(job: Job, bench: Bench) -> None:
    """The countdown that every page shows."""
    at = bench.state.gates
    due = at.short_until if at.charged else None
    if job.discharge_due_at != due:
        job.discharge_due_at = due


def take_back(store: Store, job_id: int, seq: int, actor: Actor, now: datetime) -> Bench:
    """Mark an entry as taken back; it stays on the record. Taking back twice changes nothing."""
    actor.need(Action.TAKE_BACK)
    with store.begin() as session:
        bench = load(session, job_id, now, lock=True)
        row = next((r for r in bench.rows if r.seq == seq), None)
        if row is None:
            raise Unknown("entry", str(seq), "an entry of this job")
        if bench.state.signed:
            raise GateClosed("Take back", "", "this job is signed; it can't be changed")
        if row.taken_back_at is None:
            job_rows.mark_taken_back(session, job_id, seq, actor.who, now)
            _tell(session, actor, "taken back", now, bench, _words(row.place, row.text))
            marked = replace(row, taken_back_at=now, taken_back_by=actor.who)
            bench = replace(bench, rows=tuple(marked if r.seq == seq else r for r in bench.rows))
            bench.job.decided_at = bench.job.decided_action = bench.job.decided_reason = bench.job.decided_by = None
        after = rebuilt(bench, now)
        _follow_discharge(bench.job, after)
        return after


def overrule(store: Store, job_id: int, key: str, reason: str, actor: Actor, token: str, now: datetime) -> Bench:
    """Skip a step, or pass a stop (`key` is then the place it stopped), with a reason that stays on the record."""
    actor.need(Action.OVERRULE)
    with store.begin() as session:
        bench = load(session, job_id, now, lock=True)
        if _seen(bench, token):
            return bench
        words = " ".join(reason.split())
        place = _overrule_place(bench, key)
        if not 3 <= len(words) <= LONGEST_REASON:
            raise RecordRefusal(
                "reason", words[:40], f"say why in 3 to {LONGEST_REASON} characters; it stays on the record"
            )
        entry = Entry(len(bench.state.kept.entries) + 1, place, EntryKind.OVERRULE, words, now, actor.who)
        job_rows.insert_entries(session, job_id, [(job_rows.to_line(entry, token, None), entry)])
        _tell(session, actor, "overruled", now, bench, _words(place, words))
        return with_entry(bench, entry, now)


def _overrule_place(bench: Bench, key: str) -> str:
    if key not in SLOTS:
        return check_skip(bench.state, key).key
    check_place(bench.state, key)
    stop = stop_key(key, bench.codes())
    if stop is None:
        raise Unknown("stop", key, "a place where a stop holds")
    return stop


def decide(store: Store, job_id: int, action: str, reason: str, actor: Actor, now: datetime) -> Bench:
    """Agree with the recommended action, or differ with a reason."""
    actor.need(Action.DECIDE)
    with store.begin() as session:
        bench = trend_with(session, load(session, job_id, now, lock=True))
        _may_close(bench)
        if action not in ACTIONS:
            raise RecordRefusal("action", action, "one of the actions offered")
        words = " ".join(reason.split())[:LONGEST_REASON]
        if action != bench.whole.decision.action and len(words) < 3:
            raise RecordRefusal("reason", words, "say why you decide otherwise; it stays on the record")
        job = bench.job
        job.decided_action, job.decided_reason, job.decided_by, job.decided_at = action, words, actor.who, now
        _tell(session, actor, "decided", now, bench, f"{action}: {words}" if words else action)
        return rebuilt(bench, now)


def _may_close(bench: Bench) -> None:
    state = bench.state
    if state.signed:
        raise GateClosed("Decision", "", "this job is signed")
    if state.gates.charged:
        raise GateClosed("Decision", "test voltage was on the winding", "discharge it first; this can't be overruled")
    if state.step.key not in ("decision", "sign"):
        raise GateClosed("Decision", f"“{state.step.title}” isn't finished", "finish it or skip it with a reason", True)


def sign(store: Store, job_id: int, actor: Actor, secret: str, now: datetime) -> Bench:
    """Sign with one's password or PIN: the job is closed, its assessment stored with the version that judged, the
    register brought up to date, a link added to the chain. Raises Forbidden, WrongSecret, GateClosed, AlreadyKept.
    """
    actor.need(Action.SIGN)
    by = confirm(store, actor, secret, now)
    with store.begin() as session:
        bench = trend_with(session, load(session, job_id, now, lock=True))
        job = bench.job
        if job.signed_at is not None and job.signed_by != actor.who:
            raise AlreadyKept(
                "Sign", f"signed by {job.signed_by} meanwhile", "nothing more is needed; an amendment may be"
            )
        if bench.state.signed:
            return bench
        _may_close(bench)
        if job.decided_at is None:
            raise Refusal("Sign", "no decision yet", "decide first")
        close(session, bench, actor.who, now)
        link = add_link(session, job.id, actor, by, now)
        _tell(session, actor, "signed", now, bench, f"by {by}, link {link.seq}, {link.hash}")
        return rebuilt(bench, now)


def close(session: Session, bench: Bench, who: str, now: datetime) -> None:
    """Store the assessment and the key figures of a job, and refresh what the register shows."""
    job = bench.job
    job.signed_at, job.signed_by, job.state = now, who, "signed"
    job.tested_on = bench.state.kept.entries[0].at.date() if bench.state.kept.entries else now.date()
    keep_figures(job, bench.whole)
    refresh_state(session, bench)
