"""What can be done to an open job: start, keep, take back, skip. Every change is one transaction and is told apart by a
token, so that a double tap or a reload does nothing twice.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from grimcoil.core.choices import Occasion, School
from grimcoil.core.criteria import CRITERIA
from grimcoil.core.errors import AlreadyKept, GateClosed, RecordRefusal, Unknown
from grimcoil.core.fields import FIELDS
from grimcoil.core.hands import another_source
from grimcoil.core.instruments import MICROAMPS
from grimcoil.core.limits import within
from grimcoil.core.people import Action, Actor
from grimcoil.core.plan.brief import EXTRAS, brief_of
from grimcoil.core.plan.danger import danger_of
from grimcoil.core.plan.entries import BEGIN_AGAIN, NOT_READ, NOT_RECONNECTED, Entry, EntryKind
from grimcoil.core.plan.live import Absurd, Late, check_absurd, check_volts
from grimcoil.core.plan.progress import (
    check_begin_again,
    check_not_reconnected,
    check_place,
    check_skip,
    place_words,
    stop_at,
)
from grimcoil.core.plan.recipes import RECIPES, build
from grimcoil.core.plan.record import is_late, on_of, part_of, true_second
from grimcoil.core.plan.steps import Act, Input, Plan, Slot, Step
from grimcoil.core.readings import Reading, parse_reading, with_volts
from grimcoil.core.resistance.words import ohm_text
from grimcoil.core.units import USUAL, Units
from grimcoil.core.wishes import AS_USUAL, Wishes
from grimcoil.exchange.plans import plan_text, read_plan_text
from grimcoil.service.bench import Bench, held, load, rebuilt, with_entry
from grimcoil.service.criteria import criteria_named
from grimcoil.service.isolation import note_find
from grimcoil.service.registered import motor_named
from grimcoil.service.subjects import subject_of
from grimcoil.service.trends import beside_earlier, trend_with
from grimcoil.store import jobs as job_rows
from grimcoil.store import motors as motor_rows
from grimcoil.store import trail
from grimcoil.store.engine import Store
from grimcoil.store.jobs import EntryLine
from grimcoil.store.tables import InstrumentRangeRow, Job

LONGEST_NOTE = 300
LONGEST_REASON = 500
SHORTEST_REASON = 3
LONGEST_TYPING_S = 60.0


@dataclass(frozen=True, slots=True)
class Start:
    """What a job starts with. school: where the dead tests begin; empty as usual for the kind of job.
    also: steps wanted beside, of `EXTRAS`; wishes: how it is done, with what.
    """

    tag: str
    token: str
    ohm_range_id: int | None = None
    insulation_range_id: int | None = None
    criteria: str = "field-general"
    occasion: str = Occasion.ROUTINE
    school: str = ""
    also: tuple[str, ...] = ()
    wishes: Wishes = AS_USUAL


@dataclass(frozen=True, slots=True)
class How:
    """How a figure was kept. anyway: the person has seen that it is unlikely. held_s: when it was read, seconds since
    voltage on, where the page tells it. units: that a bare figure is typed in. asks_late: a value of a hold that is
    typed long after its mark is asked back, unless read_at says whether it was read at the `mark` or `now`.
    """

    anyway: bool = False
    held_s: float | None = None
    units: Units = USUAL
    asks_late: bool = False
    read_at: str = ""

    def read(self, plan: Plan, place: str, text: str) -> str:
        """What was typed in a place, with its unit where the works' own isn't the record's."""
        found = plan.places.get(place)
        return self.units.temperature(text) if found is not None and found[1].field == "temperature" else text


AS_READ = How()


def start_job(store: Store, actor: Actor, start: Start, now: datetime) -> int:
    """Start a job and return its id; the same token or an open job of the motor returns that one."""
    actor.need(Action.START_JOB)
    if start.occasion not in RECIPES:
        raise RecordRefusal("kind of job", start.occasion, f"one of {', '.join(RECIPES)}", Occasion.ROUTINE)
    if strange := [name for name in start.also if name not in EXTRAS]:
        raise RecordRefusal("also", strange[0][:40], f"of {', '.join(EXTRAS)}")
    if start.school not in ("", *School):
        raise RecordRefusal("school", start.school, f"one of {', '.join(School)}")
    try:
        with store.begin() as session:
            return _started(session, actor, start, now)
    except IntegrityError:
        with store() as session:
            motor = motor_named(session, start.tag)
            job = job_rows.by_token(session, start.token) or job_rows.open_of(session, motor.id)
            if job is None:
                raise
            return job.id


def _started(session: Session, actor: Actor, start: Start, now: datetime) -> int:
    limits = criteria_named(session, start.criteria)
    motor = motor_named(session, start.tag)
    motor_rows.lock(session, motor.id)  # two who start at once get one job
    made = job_rows.by_token(session, start.token)
    if made is not None:
        check_same(made.motor_id == motor.id, "a job of another motor", start.tag)
    standing = made or job_rows.open_of(session, motor.id)
    if standing is not None:
        return standing.id
    for name, range_id in (("ohmmeter", start.ohm_range_id), ("insulation tester", start.insulation_range_id)):
        if range_id is not None and session.get(InstrumentRangeRow, range_id) is None:
            raise RecordRefusal(name, str(range_id), "one of the ranges on the list")
    winding = motor_rows.winding_now(session, motor.id)
    if winding is None:
        raise Unknown("winding", start.tag, "a motor with a winding on record")
    subject = subject_of(motor, winding, motor.position, start.wishes.limits(limits))
    school = School(start.school) if start.school else None
    plan = build(brief_of(subject, Occasion(start.occasion), school, start.also, start.wishes))
    job = Job(
        token=start.token,
        motor_id=motor.id,
        open_of=motor.id,  # the database's own key: one open job a motor, on whatever host it is started
        winding_id=winding.id,
        position_id=motor.position_id,
        criteria=limits.name,
        criteria_version=None if limits.name in CRITERIA else limits.version,
        kind=start.occasion,
        plan=plan_text(plan),
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
        if not bench.state.closing:
            return bench
        return beside_earlier(session, bench) if bench.state.signed else trend_with(session, bench)


def try_entry(bench: Bench, place: str, text: str, who: str, now: datetime, how: How = AS_READ) -> tuple[Bench, Entry]:
    """What an entry would do, without keeping it. Raises the Refusal that keeping it would."""
    step, slot = check_place(bench.state, place)
    text = how.read(bench.plan, place, text)
    entry = new_entry(bench, slot, place, text, who, now, how.held_s)
    if slot.act is Act.MARK:
        entry = _second_of(bench, step, slot, entry, how)
    standing = bench.state.kept.standing.get(place)
    if standing is not None and standing.text.strip() != text.strip():
        raise AlreadyKept(
            f"{step.title}, {slot.label}",
            f"{standing.text}, saved by {standing.who}",
            "undo that first if this one is right",
        )
    if entry.reading is not None and slot.act is Act.PROVE_TESTER:
        _check_source(bench, step, slot, entry.reading)
    if entry.reading is not None and slot.part == "volts":
        check_volts(bench.subject, entry.reading, bench.meters, how.anyway)
    if entry.reading is not None and not how.anyway:
        top = next((m.top for m in bench.meters if m.function == "insulation"), None)
        check_absurd(slot, entry.reading, bench.expected(step, slot), bench.criteria, top)
        _check_digits(bench, slot, entry.reading)
    return with_entry(bench, entry, now), entry


def _second_of(bench: Bench, step: Step, slot: Slot, entry: Entry, how: How) -> Entry:
    """The entry of a mark with the second that was taken for it. Raises Late where it is typed long after its mark,
    nobody took its second, and the page asks.
    """
    stamp = bench.state.kept.stamps.get(entry.place)
    if stamp is not None:
        return replace(entry, held_s=stamp.held_s)
    if how.read_at == "mark":
        return replace(entry, held_s=slot.mark_s)
    second = true_second(entry, slot, on_of(bench.plan, bench.state.kept, step))
    if how.asks_late and how.read_at != "now" and slot.mark_s is not None and is_late(second, slot.mark_s):
        raise Late(slot.label, entry.text, slot.mark_s, second)
    return entry


def _check_source(bench: Bench, step: Step, slot: Slot, reading: Reading) -> None:
    """The tester's second proof is of the source it was first proved on."""
    before = next(each for each in step.slots if each.act is Act.PROVE_TESTER)
    if slot.key == before.key:
        return
    other = another_source(bench.state.kept.reading(step.place(before)), reading, bench.criteria)
    if other:
        says = "the same source again, its figure within the limit; on another source the proof begins anew"
        raise RecordRefusal(slot.label, other, says)


def _check_digits(bench: Bench, slot: Slot, reading: Reading) -> None:
    """A figure with fewer digits than the meter shows is asked for again."""
    meter = next((m for m in bench.meters if m.function in slot.functions), None)
    if slot.field != "winding" or meter is None or meter.resolution is None or reading.count is None:
        return
    if not within(reading.count, meter.resolution):
        says = f"{meter.name} shows steps of {ohm_text(meter.resolution)}: type all its digits"
        raise Absurd(slot.label, reading.text, says)


def new_entry(
    bench: Bench, slot: Slot, place: str, text: str, who: str, now: datetime, held_s: float | None = None
) -> Entry:
    """The entry of a text in a place, checked by itself. Raises the Refusal that keeping it would."""
    kind, reading = EntryKind.NOTE, None
    text = _driven(bench, slot, text)
    kept_text = " ".join(text.split())
    if slot.optional and kept_text in ("-", "–", NOT_READ):
        kept_text = NOT_READ
    elif slot.input is Input.READING:
        kind, reading = EntryKind.READING, parse_reading(text, FIELDS[slot.field], slot.label)
        _check_level(slot, reading)
    elif slot.input is Input.TAG:
        _check_tag(bench, kept_text)
    elif slot.input is Input.WORDS:
        if not 1 <= len(kept_text) <= LONGEST_NOTE:
            raise RecordRefusal(slot.label, kept_text[:40], f"1 to {LONGEST_NOTE} characters")
        if slot.act is Act.LIFT and _FIGURE.fullmatch(kept_text):
            example = slot.choices[0] if slot.choices else "T1"
            raise RecordRefusal(slot.label, kept_text, "a terminal, line or joint as it is marked in this box", example)
    elif slot.input is Input.CHOICE:
        if kept_text not in slot.choices:
            raise RecordRefusal(slot.label, kept_text[:40], f"one of: {', '.join(slot.choices)}", slot.choices[0])
    else:
        kept_text = kept_text[:LONGEST_NOTE] or "confirmed"
    instrument = _instrument(bench, slot) if kind is EntryKind.READING else None
    held = _plausible(bench, held_s) if slot.act is Act.MARK else None
    return Entry(next_seq(bench), place, kind, kept_text, now, who, reading, False, instrument, held)


def _driven(bench: Bench, slot: Slot, text: str) -> str:
    """A current that an insulation tester shows, with the volts that drive it."""
    if slot.field != "insulation" or slot.input is not Input.READING or "insulation" not in slot.functions:
        return text
    amps = any(meter.function == "insulation" and meter.shows == MICROAMPS for meter in bench.meters)
    return with_volts(text, part_of(bench.plan, bench.state.kept, "volts"), amps)


def next_seq(bench: Bench) -> int:
    """The number of the entry that comes next."""
    return max((entry.seq for entry in bench.state.kept.entries), default=0) + 1


def _plausible(bench: Bench, held_s: float | None) -> float | None:
    """The second the page says the figure was read at: not after now, not long before; else the clock is asked."""
    by_clock = bench.state.hold_s
    if held_s is None or by_clock is None or not by_clock - LONGEST_TYPING_S <= held_s <= by_clock + 1:
        return None
    return round(max(held_s, 0.0), 1)


_FIGURE = re.compile(r"[-+]?\d*[.,]\d+|\d{3,}")  # a reading, not a terminal


EXACT = frozenset(
    {
        "voltage",
        "dead_voltage",
        "current",
        "temperature",
        "humidity",
        "length",
        "frequency",
        "capacitance",
        "share",
        "duration",
        "an_hour",
        "speed",
    }
)


def _check_level(slot: Slot, reading: Reading) -> None:
    """All but ohms are figures: only an ohm range can be over-range here."""
    if slot.field in EXACT and not reading.amount.is_exact:
        raise RecordRefusal(slot.label, reading.text, "one figure as the meter shows it", "478")
    if slot.field == "humidity" and not 0 < reading.amount.value <= 100:
        raise RecordRefusal(slot.label, reading.text, "above 0 up to 100 %", "55")


def _check_tag(bench: Bench, text: str) -> None:
    if text.casefold() != bench.on.named.tag.casefold():
        says = f"this job is for {bench.on.named.tag}; read the tag off the motor, not off its place"
        raise RecordRefusal("Tag on the motor's plate", text, says)


def _instrument(bench: Bench, slot: Slot) -> str | None:
    return next((m.name for m in bench.meters if m.function in slot.functions), None)


def keep(
    store: Store,
    job_id: int,
    place: str,
    text: str,
    actor: Actor,
    token: str,
    now: datetime,
    how: How = AS_READ,
) -> Bench:
    """Keep one entry and return the bench with it. The same token again, or the same text, changes nothing."""
    actor.need(Action.KEEP_ENTRY)
    with store.begin() as session:
        bench = held(session, job_id, now, place)
        text = how.read(bench.plan, place, text)
        if (seen := seen_before(bench, token)) is not None:
            check_same(seen.place == place and same_text(seen.text, text), f"{seen.place} {seen.text}", place)
            return rebuilt(bench, now)
        if place == NOT_RECONNECTED and place in bench.state.kept.standing:
            return rebuilt(bench, now)
        if place in (BEGIN_AGAIN, NOT_RECONNECTED):
            tried, entry = _own_word(bench, place, actor.who, now)
        else:
            tried, entry = try_entry(bench, place, text, actor.who, now, how)
        if place in bench.state.kept.standing and place != BEGIN_AGAIN:
            return rebuilt(bench, now)
        line = new_line(bench.plan, entry, token)
        job_rows.insert_entries(session, job_id, [(line, entry)])
        follow_on(session, bench, tried)
        live = tried.state.safety.live
        if live is not None and live.seq == entry.seq:
            note_find(session, actor, bench.motor.position, tried.plan.at(place)[1], entry, now)
        tell(session, actor, "kept", now, bench, entry_words(bench.plan, place, entry.text))
        return replace(tried, rows=(*tried.rows, line))


def same_text(kept: str, text: str) -> bool:
    """What was sent again is what was kept; a press of a key and a reading left out have a text of their own."""
    words = " ".join(text.split())
    return kept in (words, "confirmed") or (kept == NOT_READ and words in ("-", "–"))


def check_same(same: bool, kept: str, found: str) -> None:
    """A key names one thing sent, however often. Raises RecordRefusal where other content comes under it."""
    if not same:
        raise RecordRefusal("key", found[:60], f"a key of its own: under this one stands {kept[:80]}")


def _own_word(bench: Bench, place: str, who: str, now: datetime) -> tuple[Bench, Entry]:
    """What is no step of the plan: a source found and off, or a motor that stays off its supply."""
    (check_begin_again if place == BEGIN_AGAIN else check_not_reconnected)(bench.state)
    entry = Entry(next_seq(bench), place, EntryKind.NOTE, "confirmed", now, who)
    return with_entry(bench, entry, now), entry


def entry_words(plan: Plan, place: str, text: str) -> str:
    """An entry as the trail tells it."""
    return f"{place_words(plan, place)}: {'done' if text == 'confirmed' else text}"


def tell(session: Session, actor: Actor, action: str, now: datetime, bench: Bench, detail: str = "") -> None:
    """A line of the trail about a job."""
    trail.write(session, actor, action, now, bench.job.motor_id, bench.job.id, detail)


def seen_before(bench: Bench, token: str) -> EntryLine | None:
    """The entry that came under a token already."""
    return next((row for row in bench.rows if row.token == token), None)


def new_line(plan: Plan, entry: Entry, token: str) -> EntryLine:
    """The row of an entry."""
    slot = plan.places[entry.place][1] if entry.place in plan.places else None
    return job_rows.to_line(entry, token, FIELDS[slot.field].home_unit if slot and slot.field else None)


def follow_on(session: Session, before: Bench, after: Bench) -> None:
    """Onto the row: the plan as it has grown, the countdown and the danger that every page shows."""
    job = before.job
    values: dict[str, Any] = {}
    if after.plan is not read_plan_text(job.plan or ""):
        values["plan"] = plan_text(after.plan)
    hold = after.state.safety.charged
    due = hold.until if hold else None
    if job.discharge_due_at != due:
        values["discharge_due_at"] = due
    danger = danger_of(after.plan, after.state.kept, after.state.safety)
    told = (None, None, None) if danger is None else (danger.stage.value, danger.since, danger.words[:200])
    if (job.danger, job.danger_since, job.danger_words) != told:
        values |= dict(zip(("danger", "danger_since", "danger_words"), told, strict=True))
    if values:
        job_rows.follow(session, job.id, values)


def take_back(store: Store, job_id: int, seq: int, actor: Actor, now: datetime) -> Bench:
    """Mark an entry as taken back; it stays on the record. Taking back twice changes nothing."""
    actor.need(Action.TAKE_BACK)
    with store.begin() as session:
        bench = held(session, job_id, now)
        row = next((r for r in bench.rows if r.seq == seq), None)
        if row is None:
            raise Unknown("entry", str(seq), "an entry of this job")
        if bench.state.signed:
            raise GateClosed("Undo", "", "this job is signed; it can't be changed")
        if row.taken_back_at is None:
            job_rows.mark_taken_back(session, job_id, seq, actor.who, now)
            tell(session, actor, "taken back", now, bench, entry_words(bench.plan, row.place, row.text))
            marked = replace(row, taken_back_at=now, taken_back_by=actor.who)
            bench = replace(bench, rows=tuple(marked if r.seq == seq else r for r in bench.rows))
            job = job_rows.row_of(session, job_id)
            job.decided_at = job.decided_action = job.decided_reason = job.decided_by = None
            job.root_causes = job.changed = None
            bench = bench.of(job)
        after = rebuilt(bench, now)
        follow_on(session, bench, after)
        return after


def overrule(store: Store, job_id: int, key: str, reason: str, actor: Actor, token: str, now: datetime) -> Bench:
    """Skip a step, or pass a stop (`key` is then the place it stopped), with a reason that stays on the record."""
    actor.need(Action.OVERRULE)
    with store.begin() as session:
        bench = held(session, job_id, now)
        words = " ".join(reason.split())
        if (seen := seen_before(bench, token)) is not None:
            check_same(seen.kind == EntryKind.OVERRULE and seen.text == words, seen.text, words)
            return bench
        place = _overrule_place(bench, key)
        if not SHORTEST_REASON <= len(words) <= LONGEST_REASON:
            raise RecordRefusal(
                "reason", words[:40], f"say why in 3 to {LONGEST_REASON} characters; it stays on the record"
            )
        entry = Entry(next_seq(bench), place, EntryKind.OVERRULE, words, now, actor.who)
        job_rows.insert_entries(session, job_id, [(job_rows.to_line(entry, token, None), entry)])
        tell(session, actor, "overruled", now, bench, entry_words(bench.plan, place, words))
        after = with_entry(bench, entry, now)
        follow_on(session, bench, after)
        return after


def _overrule_place(bench: Bench, key: str) -> str:
    if key not in bench.plan.places:
        return check_skip(bench.state, key).key
    stop = stop_at(bench.state, key)
    if stop is None:
        check_place(bench.state, key)  # a gate that no reason opens says so itself
        raise Unknown("stop", key, "a place where a stop holds")
    return stop
