"""What the bench's larger keys do beside keeping: the second of a mark, a hold once more, voltage off, a correction."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from sqlalchemy.orm import Session

from grimcoil.core.errors import GateClosed, Unknown
from grimcoil.core.people import Action, Actor
from grimcoil.core.plan.entries import Entry, EntryKind
from grimcoil.core.plan.progress import check_hold_again, check_place
from grimcoil.core.plan.steps import Act
from grimcoil.service.bench import Bench, held, rebuilt, with_entry
from grimcoil.service.jobs import (
    AS_READ,
    How,
    entry_words,
    follow_on,
    keep,
    new_line,
    next_seq,
    open_bench,
    same_text,
    seen_before,
    tell,
    try_entry,
)
from grimcoil.store import jobs as job_rows
from grimcoil.store.engine import Store


def stamp(
    store: Store, job_id: int, place: str, actor: Actor, token: str, now: datetime, told_s: float | None = None
) -> Bench:
    """Take the second of a mark now; its value is typed after it and counts for that second. Once more changes nothing.
    told_s: when the key was pressed by the page's own clock, s since voltage on, where the network was away then.

    Raises Forbidden, Unknown, GateClosed where the mark may not be read now.
    """
    actor.need(Action.KEEP_ENTRY)
    with store.begin() as session:
        bench = held(session, job_id, now, place)
        if (
            place in bench.state.kept.stamps
            or place in bench.state.kept.standing
            or seen_before(bench, token) is not None
        ):
            return rebuilt(bench, now)
        step, slot = check_place(bench.state, place)
        by_clock = bench.state.hold_s
        told = told_s is not None and by_clock is not None and 0 <= told_s <= by_clock + 1
        second = told_s if told else by_clock
        if slot.act is not Act.MARK or second is None:
            raise GateClosed(step.title, "no test voltage on", "the second is taken while the voltage is on")
        text = f"read at {second:.1f} s"
        entry = Entry(next_seq(bench), place, EntryKind.STAMP, text, now, actor.who, held_s=round(second, 1))
        return _put_beside(session, bench, entry, actor, token, now)


def hold_again(store: Store, job_id: int, step_key: str, actor: Actor, token: str, now: datetime) -> Bench:
    """Want a hold once more, with marks of its own. Raises Forbidden, Unknown, GateClosed where none may be made."""
    actor.need(Action.KEEP_ENTRY)
    with store.begin() as session:
        bench = held(session, job_id, now)
        if seen_before(bench, token) is not None:
            return bench
        first = check_hold_again(bench.state, step_key)
        entry = Entry(next_seq(bench), first, EntryKind.AGAIN, "hold again", now, actor.who)
        return _put_beside(session, bench, entry, actor, token, now)


def voltage_off(store: Store, job_id: int, actor: Actor, token: str, now: datetime) -> Bench:
    """Take the test voltage off that is on, from whatever page shows the job; where none is on nothing changes.

    Raises Forbidden, Unknown.
    """
    bench = open_bench(store, job_id, now)
    on = bench.state.safety.on_test
    ending = bench.plan.doing(Act.REMOVE, Act.REMOVE_AND_SHORT)
    place = next((place for place, step, _ in ending if on is not None and step.hold == on.name), None)
    return bench if place is None else keep(store, job_id, place, "confirmed", actor, token, now)


def _put_beside(session: Session, bench: Bench, entry: Entry, actor: Actor, token: str, now: datetime) -> Bench:
    """An entry that stands for no reading."""
    line = job_rows.to_line(entry, token, None)
    job_rows.insert_entries(session, bench.job.id, [(line, entry)])
    tell(session, actor, "kept", now, bench, entry_words(bench.plan, entry.place, entry.text))
    after = with_entry(replace(bench, rows=(*bench.rows, line)), entry, now)
    follow_on(session, bench, after)
    return rebuilt(after, now)


def correct(
    store: Store, job_id: int, seq: int, text: str, actor: Actor, token: str, now: datetime, how: How = AS_READ
) -> Bench:
    """Another text in the place of a kept one: taken back and kept anew in one go. The same token again, or the same
    text, changes nothing. Raises Unknown, Forbidden, GateClosed for an act of proof or of a hold, which are begun anew.
    """
    actor.need(Action.TAKE_BACK)
    actor.need(Action.KEEP_ENTRY)
    with store.begin() as session:
        bench = held(session, job_id, now)
        row = next((r for r in bench.rows if r.seq == seq), None)
        if row is None or row.place not in bench.plan.places:
            raise Unknown("entry", str(seq), "an entry of this job")
        step, slot = bench.plan.at(row.place)
        text = how.read(bench.plan, row.place, text)
        if seen_before(bench, token) is not None or (row.taken_back_at is None and same_text(row.text, text)):
            return bench
        if bench.state.signed or slot.act not in CORRECTED:
            says = "a plain reading of an open job; proofs and insulation tests are undone, then made anew"
            raise GateClosed(step.title, slot.label, says)
        marked = replace(row, taken_back_at=now, taken_back_by=actor.who)
        without = rebuilt(replace(bench, rows=tuple(marked if r.seq == seq else r for r in bench.rows)), now)
        tried, entry = try_entry(without, row.place, text, actor.who, now, replace(how, held_s=row.held_s))
        job_rows.mark_taken_back(session, job_id, seq, actor.who, now)
        line = new_line(tried.plan, entry, token)
        job_rows.insert_entries(session, job_id, [(line, entry)])
        follow_on(session, bench, tried)
        tell(
            session, actor, "corrected", now, bench, f"{entry_words(bench.plan, row.place, row.text)}, now {entry.text}"
        )
        return rebuilt(replace(tried, rows=(*without.rows, line)), now)


CORRECTED = frozenset({Act.NONE, Act.LIFT, Act.PUT_BACK, Act.MARK, Act.LIVE_READING})
