"""What the entries did to the circuit, worked out anew each time: proved dead, energised, charged.

Proving dead is one act: lock kept, tester on a live source, every point dead, tester again, in that order by sequence.
A live reading voids the whole of it, taken back or not: the circuit doesn't know. So do power restored and time.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, time, timedelta, tzinfo

from grimcoil.core.criteria import Criteria
from grimcoil.core.hands import another_source
from grimcoil.core.limits import reaches, within
from grimcoil.core.plan.charge import Hold, holds_of
from grimcoil.core.plan.entries import BEGIN_AGAIN, Entry, EntryKind, Kept
from grimcoil.core.plan.steps import MOVED, POWER, PROOF, Act, Circuit, Plan, Step


@dataclass(frozen=True, slots=True)
class LiveFound:
    """A point that was not dead, or a shaft that moved. called_live: above the volts that prove a tester."""

    seq: int
    place: str
    text: str
    called_live: bool


@dataclass(frozen=True)
class Safety:
    """Where the circuit stands. proved_at: every place's proof is whole since then; proved_steps: keys of the steps
    whose own proof is; fault: why the proof of death fails or fell; seen: the greatest time any entry has; past:
    nothing is left to do on the dead circuit. phase: which of the job's isolations it is, from 0.
    """

    proved_at: datetime | None = None
    proved_by: str = ""
    proved_steps: frozenset[str] = frozenset()
    fault: str = ""
    live: LiveFound | None = None
    energised: bool = False
    joined: bool = False
    locked: bool = False
    lifted: bool = False
    holds: Mapping[str, Hold] = field(default_factory=dict)
    seen: datetime | None = None
    past: bool = False
    phase: int = 0

    @property
    def charged(self) -> Hold | None:
        """The hold that isn't discharged, if any: on test, shorted, or just taken off."""
        return next((hold for hold in self.holds.values() if not hold.discharged), None)

    @property
    def on_test(self) -> Hold | None:
        """The hold whose voltage is on the winding now."""
        hold = self.charged
        return hold if hold is not None and hold.off_at is None else None


@dataclass(frozen=True, slots=True)
class Site:
    """What the fold needs of the works: the limits, and the zone its days are counted in."""

    criteria: Criteria
    zone: tzinfo = UTC


@dataclass
class _Proof:
    """The act of proving dead as it unfolds. window: points since the tester was last proved before."""

    locks: dict[str, Entry] = field(default_factory=dict)
    locked: Entry | None = None
    tried: Entry | None = None
    before: Entry | None = None
    after: Entry | None = None
    window: dict[str, Entry] = field(default_factory=dict)
    counted: dict[str, Entry] = field(default_factory=dict)
    fault: str = ""


def fold(plan: Plan, entries: Iterable[Entry], site: Site, now: datetime, closed: bool = False) -> tuple[Kept, Safety]:
    """Entries -> what stands, and the state of the circuit. closed: a signed job, whose proofs no longer age."""
    ordered = tuple(sorted(entries, key=lambda entry: entry.seq))
    proofs_kept = [e for e in ordered if _proves(plan, e)]
    plain, overruled = _standing(plan, ordered)
    live = next(reversed(found_live(plan, proofs_kept, site.criteria)), None)
    void, fell = _voided(plan, ordered, live), ""
    phase, energised, begun = _phase(plan, ordered, plain)
    void = max(void, begun)
    proofs = _proofs(plan, proofs_kept, void, site.criteria, phase)
    past = not _dead_work_open(plan, plain, overruled, phase)
    whole = _whole(plan, proofs, phase)
    while not closed and not energised and (aged := _aged(plan, ordered, proofs, site, now)) is not None:
        void, fell = aged
        whole = None
        if past:  # what was done under it is done; nothing new opens
            break
        proofs = _proofs(plan, proofs_kept, void, site.criteria, phase)
        whole = _whole(plan, proofs, phase)
    standing = (
        plain | _earlier(plan, proofs_kept, phase) | {e.place: e for proof in proofs for e in _standing_of(proof)}
    )
    again = max((e.seq for e in ordered if e.place == BEGIN_AGAIN), default=-1)
    proved = whole is not None and not energised and (live is None or again > live.seq)
    safety = Safety(
        proved_at=whole.at if proved and whole else None,
        proved_by=whole.who if proved and whole else "",
        proved_steps=frozenset(
            step.key for step, one in zip(plan.proofs, _wholes(plan, proofs), strict=True) if one is not None
        ),
        fault=next((proof.fault for proof in proofs if proof.fault), "") or fell,
        live=live if live is not None and again < live.seq else None,
        energised=energised,
        joined=_stands(plan, plain, Act.JOIN),
        locked=any(proof.locked for proof in proofs),
        lifted=_lifted(plan, plain),
        holds=holds_of(plan, ordered, plain, site.criteria),
        seen=max((entry.at for entry in ordered), default=None),
        past=past,
        phase=phase,
    )
    beside = [entry for entry in ordered if not entry.taken_back]
    stamps = {entry.place: entry for entry in beside if entry.kind is EntryKind.STAMP}
    wanted = tuple(entry.place for entry in beside if entry.kind is EntryKind.AGAIN)
    return Kept(ordered, standing, overruled, stamps, wanted), safety


def _standing(plan: Plan, ordered: Sequence[Entry]) -> tuple[dict[str, Entry], dict[str, Entry]]:
    """What was kept and stands, by its place, and each reason that passed something; acts of proof count otherwise."""
    plain, overruled = {}, {}
    for entry in ordered:
        if not entry.taken_back:
            if entry.kind is EntryKind.OVERRULE:
                overruled[entry.place] = entry
            elif entry.kind in (EntryKind.STAMP, EntryKind.AGAIN):
                continue
            elif entry.place not in plan.proving:
                plain[entry.place] = entry
    return plain, overruled


def _phase(plan: Plan, ordered: Sequence[Entry], standing: Mapping[str, Entry]) -> tuple[int, bool, int]:
    """Which isolation it is, whether power is back on in it, and the sequence from which its proof counts.

    Power restored ends one; the next begins with its own lock, kept after that.
    """
    restored = {plan.phase_of(step): standing[p] for p, step, _ in plan.doing(Act.RESTORE) if p in standing}
    if not restored:
        return 0, False, -1
    last = max(restored)
    power = restored[last]
    for entry in ordered:
        found = plan.places.get(entry.place)
        locks = found is not None and not entry.taken_back and entry.seq > power.seq and _act(plan, entry) is Act.LOCK
        if locks and found is not None and plan.phase_of(found[0]) == last + 1:
            return last + 1, False, power.seq
    return last, True, -1


def _earlier(plan: Plan, entries: Iterable[Entry], phase: int) -> dict[str, Entry]:
    """Acts of proof of the isolations before this one: they stand as they were kept, and prove nothing any more."""
    return {e.place: e for e in entries if not e.taken_back and plan.phase_of(plan.at(e.place)[0]) < phase}


def _act(plan: Plan, entry: Entry) -> Act:
    return Act.NONE if entry.kind is EntryKind.OVERRULE else plan.acts.get(entry.place, Act.NONE)


def _proves(plan: Plan, entry: Entry) -> bool:
    return entry.place in plan.proving and entry.kind is not EntryKind.OVERRULE


def _stands(plan: Plan, standing: Mapping[str, Entry], act: Act) -> bool:
    return any(place in standing for place, _, _ in plan.doing(act))


def _lifted(plan: Plan, standing: Mapping[str, Entry]) -> bool:
    places = [place for place, _, _ in plan.doing(Act.LIFT)]
    return bool(places) and all(place in standing for place in places)


def _is_dead(entry: Entry, criteria: Criteria) -> bool:
    return entry.reading is not None and within(entry.reading.amount.high, criteria.dead_below_v.value)


def _works(entry: Entry, criteria: Criteria) -> bool:
    return entry.reading is not None and entry.reading.amount.surely_at_least(criteria.live_above_v.value)


def found_live(plan: Plan, ordered: Iterable[Entry], criteria: Criteria) -> list[LiveFound]:
    """Every sign of voltage while proving dead, in its order; a figure taken back was seen all the same."""
    found: list[LiveFound] = []
    for entry in ordered:
        act = _act(plan, entry)
        if act is Act.POINT_DEAD and not _is_dead(entry, criteria):
            volts = entry.reading.amount.high if entry.reading else 0.0
            called = reaches(volts, criteria.live_above_v.value)
            found.append(LiveFound(entry.seq, entry.place, entry.text, called))
        elif act is Act.TRY_START and entry.text == MOVED:
            found.append(LiveFound(entry.seq, entry.place, entry.text, True))
    return found


def _voided(plan: Plan, ordered: Sequence[Entry], live: LiveFound | None) -> int:
    """Up to which sequence every act of proof is void: live found, or power that was on and is off again."""
    power = [
        e.seq for e in ordered if e.taken_back and _act(plan, e) in (Act.RESTORE, Act.LIVE_READING)
    ]  # fmt: skip
    return max([live.seq if live else -1, *power])


def _proofs(plan: Plan, ordered: Sequence[Entry], void: int, criteria: Criteria, phase: int) -> list[_Proof]:
    """Each place's act of proof in this isolation, from what came after the last thing that voided it."""
    steps = plan.proofs
    proofs = [_Proof() for _ in steps]
    locks = {place for place, step, _ in plan.doing(Act.LOCK) if plan.phase_of(step) == phase}
    for entry in ordered:
        act = _act(plan, entry)
        if entry.taken_back or entry.seq <= void or act not in PROOF:
            continue
        if plan.phase_of(plan.at(entry.place)[0]) != phase:
            continue
        if act in (Act.LOCK, Act.TRY_START):
            for proof in proofs:
                if act is Act.LOCK:
                    proof.locks[entry.place] = entry
                    if proof.locked is None and proof.locks.keys() >= locks:  # the last of them
                        proof.locked = entry
                else:
                    proof.tried = entry
            continue
        at = steps.index(plan.at(entry.place)[0])
        _advance(proofs[at], entry, act, steps[at], criteria)
    for step, proof in zip(steps, proofs, strict=True):
        lacking = [p for p in _points(step) if p not in proof.counted and p not in proof.window]
        if lacking and proof.after is not None:  # one read again needs both proofs of the tester again
            proof.before = proof.after = None
    return proofs


def _points(step: Step) -> list[str]:
    return [step.place(slot) for slot in step.slots if slot.act is Act.POINT_DEAD]


def _advance(proof: _Proof, entry: Entry, act: Act, step: Step, criteria: Criteria) -> None:
    if proof.locked is None:
        return  # nothing counts before the lock
    if act is Act.POINT_DEAD:
        if proof.before is not None and proof.after is None:
            proof.window[entry.place] = entry
        return
    if not _works(entry, criteria):
        proof.fault = (
            f"the tester showed only {entry.text} on a live source: it is not proved. Use another tester or source"
        )
        return
    proof.fault = ""
    if proof.before is not None and proof.window and entry.place != proof.before.place:
        proof.fault = another_source(proof.before.reading, entry.reading, criteria)
        if proof.fault:
            return
    first = next(slot for slot in step.slots if slot.act is Act.PROVE_TESTER)
    if entry.place == step.place(first):
        proof.before, proof.after, proof.window = entry, None, {}
    elif proof.before is not None and proof.window:
        proof.after = entry
        proof.counted |= proof.window
        proof.window = {}


def _standing_of(proof: _Proof) -> list[Entry]:
    made = (
        *proof.locks.values(),
        proof.tried,
        proof.before,
        *proof.counted.values(),
        *proof.window.values(),
        proof.after,
    )
    return [entry for entry in made if entry is not None]


def _wholes(plan: Plan, proofs: Sequence[_Proof]) -> list[Entry | None]:
    """The entry that ended the act of proof at each place; None where it isn't whole."""
    tries = {plan.phase_of(step) for _, step, _ in plan.doing(Act.TRY_START)}
    out = []
    for step, proof in zip(plan.proofs, proofs, strict=True):
        lacks = any(place not in proof.counted for place in _points(step))
        out.append(None if lacks or (plan.phase_of(step) in tries and proof.tried is None) else proof.after)
    return out


def _whole(plan: Plan, proofs: Sequence[_Proof], phase: int) -> Entry | None:
    """The entry that ended the last proof, where every place's act is whole in this isolation; None where one isn't,
    or none is asked.
    """
    found = zip(plan.proofs, _wholes(plan, proofs), strict=True)
    ended = [entry for step, entry in found if plan.phase_of(step) == phase]
    made = [entry for entry in ended if entry is not None]
    return max(made, key=lambda entry: entry.seq) if made and len(made) == len(ended) else None


def _dead_work_open(
    plan: Plan, standing: Mapping[str, Entry], overruled: Mapping[str, Entry], phase: int
) -> bool:  # fmt: skip
    """Whether any slot that works on the dead circuit of this isolation is still to be kept."""
    return any(
        place not in standing
        for step in plan.steps
        if step.circuit is not Circuit.LIVE and step not in plan.proofs and step.key not in overruled
        if plan.phase_of(step) == phase
        for place in step.needed
    )


def _aged(
    plan: Plan, ordered: Sequence[Entry], proofs: Sequence[_Proof], site: Site, now: datetime
) -> tuple[int, str] | None:
    """Where a proof that was whole fell: a new day, too long without an entry, or someone else's entry at its place.
    The entries stand.
    """
    for step, whole in zip(plan.proofs, _wholes(plan, proofs), strict=True):
        fell = None if whole is None else _fall_of(plan, step, whole, ordered, site, now)
        if fell is not None:
            return fell
    return None


def _fall_of(
    plan: Plan, proof: Step, whole: Entry, ordered: Sequence[Entry], site: Site, now: datetime
) -> tuple[int, str] | None:
    local, hours = whole.at.astimezone(site.zone), timedelta(hours=site.criteria.proof_hours.value)
    day = _day_of(local.date(), site.zone)
    last, told = whole.at, f"the proof of {local.day} {local:%b %H:%M}"
    for entry in (e for e in ordered if e.seq > whole.seq):
        fell = _fell(told, entry.at, last, day, hours)
        if fell:
            return entry.seq - 1, fell
        if entry.who != whole.who and _works_at(plan, entry, proof):
            return entry.seq, f"{told} was {whole.who}'s, and {entry.who} worked there since. Prove it dead yourself"
        last = max(last, entry.at)
    fell = _fell(told, max(now, last), last, day, hours)
    return (ordered[-1].seq, fell) if fell else None


def _works_at(plan: Plan, entry: Entry, proof: Step) -> bool:
    """Whether an entry is work on the dead circuit where this proof was made; a place of no proof is every proof's."""
    found = plan.places.get(entry.place)
    if found is None or found[0].circuit is Circuit.LIVE or found[0] in plan.proofs:
        return False
    where = found[0].where
    return where == proof.where or all(where != other.where for other in plan.proofs)


def _day_of(day: date, zone: tzinfo) -> tuple[datetime, datetime]:
    """When a day begins and ends in a zone, UTC."""
    ends = (datetime.combine(day, time.min, zone), datetime.combine(day + timedelta(days=1), time.min, zone))
    return ends[0].astimezone(UTC), ends[1].astimezone(UTC)


def _fell(told: str, at: datetime, last: datetime, day: tuple[datetime, datetime], hours: timedelta) -> str:
    if not day[0] <= at < day[1]:
        return f"{told} is of another day"
    if at - last > hours:
        return f"no entry on this job for {_span(hours)}: {told} has ended. Prove dead again"
    return ""


def _span(span: timedelta) -> str:
    return f"{span.total_seconds() / 3600:g} hours"


def energises(step: Step) -> bool:
    """Whether a step leads power onto the motor, or reads it live."""
    return step.does(*POWER)
