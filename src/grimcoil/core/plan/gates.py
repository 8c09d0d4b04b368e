"""Which slot is closed and why, as a table of rows. Pages, API and tests ask the same one; none knows a lead number."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from enum import StrEnum
from functools import cached_property

from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.decision.needs import BAN
from grimcoil.core.decision.standing import OPEN, OPEN_STOPS, Standing
from grimcoil.core.errors import GateClosed
from grimcoil.core.limits import within
from grimcoil.core.plan.charge import Hold
from grimcoil.core.plan.entries import NOT_RECONNECTED, Kept
from grimcoil.core.plan.parts.aside import CAPACITOR
from grimcoil.core.plan.parts.dead import CHARGE
from grimcoil.core.plan.putback import differences, found_on, left_on
from grimcoil.core.plan.safety import Safety
from grimcoil.core.plan.steps import HOLD, POWER, PROOF, Act, Circuit, Plan, Slot, Step

EARLY_S = 2.0
MINUTE_S = 60.0
GIVES_BACK = frozenset({Act.CHECK_JOINING, Act.PUT_BACK, Act.JOIN, Act.RESTORE})
ENDING = frozenset({Act.REMOVE, Act.SHORT, Act.REMOVE_AND_SHORT, Act.RESIDUAL})


@dataclass(frozen=True)
class Situation:
    """All a gate asks: the plan, what stands, the circuit, the readings' findings, the time, the step that is next.

    failed: what was found in each hold that failed, by its step. stops: what stops a step, by its key.
    """

    plan: Plan
    kept: Kept
    safety: Safety
    now: datetime
    step: Step | None = None
    codes: frozenset[str] = frozenset()
    stands: Standing = field(default_factory=Standing)
    failed: Mapping[str, str] = field(default_factory=dict)
    dead_below_v: float = FIELD_GENERAL.dead_below_v.value
    stops: Mapping[str, str] = field(default_factory=dict)

    def is_stopped(self, step: Step) -> bool:
        """Whether what was read stops a step, and no typed reason opened it."""
        if step.key not in self.stops:
            return False
        if step.does(*POWER):
            return "power!dead-tests" not in self.kept.overruled
        return f"{step.hold or step.key}!open-winding" not in self.kept.overruled

    @property
    def discharge_left_s(self) -> float | None:
        """Seconds until the winding may be let go; None where none is shorted (computed: 4 times the hold, IEEE 43)."""
        hold = self.safety.charged
        if hold is None or hold.until is None:
            return None
        return max(0.0, (hold.until - self.latest).total_seconds())

    @property
    def latest(self) -> datetime:
        """Now, or the greatest time seen where the clock went back."""
        seen = self.safety.seen
        return self.now if seen is None else max(self.now, seen)

    @property
    def hold_s(self) -> float | None:
        """Seconds since the test voltage came on, while it is on (computed)."""
        hold = self.safety.on_test
        return None if hold is None else max(0.0, (self.latest - hold.on_at).total_seconds())

    @cached_property
    def given_up_from(self) -> float:
        """From which isolation on nothing more is done: its lock was passed with a reason, or it isn't reconnected. A
        number of isolations, no unit; inf where none was given up (computed).
        """
        if NOT_RECONNECTED in self.kept.standing:
            return self.safety.phase + 1
        passed = [self.plan.phase_of(s) for _, s, _ in self.plan.doing(Act.LOCK) if s.key in self.kept.overruled]
        return min((phase for phase in passed if phase > self.safety.phase), default=math.inf)

    @property
    def in_doubt(self) -> list[str]:
        """The dead key tests that failed, are missing or prove nothing, in words: power waits for them."""
        stands = self.stands
        out = [f"failed: {need.words}" for need in stands.failed if need.dead]
        out += [f"missing: {stands.words(need)}" for need in stands.missing if need.dead]
        return out + [f"unproven: {need.words}" for need in stands.unproven if need.dead]


class Overrule(StrEnum):
    """Whether a typed reason opens a gate."""

    NEVER = "never"
    WITH_REASON = "with a reason"


Found = Callable[[Situation, Step, Slot], str | None]


@dataclass(frozen=True, slots=True)
class Gate:
    """A row: what it guards, what is found where it is shut, what opens it. key: what a reason is kept under."""

    key: str
    guards: Callable[[Step, Slot], bool]
    found: Found
    accepted: str
    overrule: Overrule = Overrule.NEVER


def _any(_: Step, __: Slot) -> bool:
    return True


def _doing(*acts: Act) -> Callable[[Step, Slot], bool]:
    return lambda _, slot: slot.act in acts


def _dead_work(step: Step, slot: Slot) -> bool:
    """Work on a dead circuit; the proof, reading a hold that runs and taking its voltage off wait for nothing."""
    runs = PROOF | ENDING | {Act.MARK}
    return step.circuit is not Circuit.LIVE and slot.act not in runs and not step.does(Act.POINT_DEAD)


def _live(at: Situation, _: Step, __: Slot) -> str | None:
    return None if at.safety.live is None else live_words(at)


def live_words(at: Situation) -> str:
    """What was found live, and where.

    `LIVE 277 V on L2–L3. Step back.`
    """
    found = at.safety.live
    if found is None:
        return ""
    _, slot = at.plan.at(found.place)
    if slot.act is Act.TRY_START:
        return "The motor moved when you tried to start it. It is not isolated. Step back."
    volts = found.text if found.text.upper().endswith("V") else f"{found.text} V"
    if found.called_live:
        return f"LIVE {volts} on {slot.label}. Step back."
    return f"Not dead: {volts} on {slot.label}. Do not touch."


def _energised(at: Situation, step: Step, slot: Slot) -> str | None:
    """While power is on only the lock that begins the next isolation opens."""
    if not at.safety.energised:
        return None
    begins = slot.act is Act.LOCK and at.plan.phase_of(step) == at.safety.phase + 1
    return None if begins else "power was restored"


def _unproved(at: Situation, step: Step, _: Slot) -> str | None:
    if at.safety.proved_at is not None or not at.plan.proofs or _proved_here(at, step):
        return None
    return at.safety.fault or "not proved dead"


def _proved_here(at: Situation, step: Step) -> bool:
    """Whether the proof made at this step's own place is whole, where another place's isn't yet."""
    if at.safety.energised or at.safety.live is not None:
        return False
    phase = at.plan.phase_of(step)
    here = [p for p in at.plan.proofs if p.where == step.where and at.plan.phase_of(p) == phase == at.safety.phase]
    return bool(here) and all(proof.key in at.safety.proved_steps for proof in here)


def _banned(at: Situation, _: Step, __: Slot) -> str | None:
    banned = any(one.step == "insulation" and one.why == BAN for one in at.plan.left_out)
    return "the maker forbids it" if banned else None


def charge_words(at: Situation) -> str | None:
    """What is still on the winding; None where nothing is."""
    hold, left = at.safety.charged, at.discharge_left_s
    if hold is None:
        return None
    if hold.left_v is not None:
        return f"{hold.left_v:g} V still on the winding"
    if left is None:
        return "test voltage still on the winding" if hold.off_at is None else "not shorted to frame yet"
    return f"{int(left) // 60}:{int(left) % 60:02d} left shorted to frame" if left > 0 else "about 0 V not recorded yet"


def _charged(at: Situation, step: Step, slot: Slot) -> str | None:
    """A hold goes on within itself; nothing else, another hold neither, while it isn't discharged."""
    hold = at.safety.charged
    return None if hold is not None and slot.act in HOLD and step.hold == hold.name else charge_words(at)


def _order(at: Situation, step: Step, slot: Slot) -> str | None:
    if at.step is None or step.number <= at.step.number or (slot.act in HOLD and at.safety.holds.get(step.hold)):
        return None
    return f"“{at.step.title}” isn't finished"


def _proof_order(at: Situation, step: Step, slot: Slot) -> str | None:
    """Within the act of proof each thing comes in its turn; a tester that shows nothing goes no further."""
    for each in step.slots:
        if each.key == slot.key:
            return None
        if step.place(each) not in at.kept.standing:
            return at.safety.fault or f"“{each.label}” comes first"
    return None


def _hold(at: Situation, step: Step) -> Hold | None:
    return at.safety.holds.get(step.hold)


def _applied_once(at: Situation, step: Step, _: Slot) -> str | None:
    return "voltage was already on once" if _hold(at, step) else None


def _never_on(at: Situation, step: Step, _: Slot) -> str | None:
    return None if _hold(at, step) else "no test voltage on"


def _over(at: Situation, step: Step, slot: Slot) -> str | None:
    """A value whose second was taken while the voltage was on may be typed after it."""
    hold = _hold(at, step)
    over = hold is not None and hold.off_at is not None and step.place(slot) not in at.kept.stamps
    return "the hold is over" if over else None


def _early(at: Situation, step: Step, slot: Slot) -> str | None:
    held = at.hold_s or 0.0
    if slot.mark_s is None or step.place(slot) in at.kept.stamps or held >= slot.mark_s - EARLY_S:
        return None
    return f"{int(held)} s since voltage on; the {slot.label} value is due in {int(slot.mark_s - held)} s"


def _not_off(at: Situation, step: Step, _: Slot) -> str | None:
    hold = _hold(at, step)
    return "test voltage still on the winding" if hold is not None and hold.off_at is None else None


def _of_capacitor(_: Step, slot: Slot) -> bool:
    return slot.part.startswith(f"{CAPACITOR}/") and not slot.part.endswith(f"/{CHARGE}")


def _capacitor_charged(at: Situation, step: Step, slot: Slot) -> str | None:
    charge = slot.part.rpartition("/")[0] + f"/{CHARGE}"
    place = next(step.place(each) for each in step.slots if each.part == charge)
    reading = at.kept.reading(place)
    if reading is None:
        return "its volts were not read"
    return None if within(reading.amount.high, at.dead_below_v) else f"{reading.text} V still on it"


def _not_up(at: Situation, step: Step, _: Slot) -> str | None:
    hold, left = _hold(at, step), at.discharge_left_s
    if hold is not None and hold.discharged:
        return None
    return charge_words(at) if left is None or left > 0 else None


FAILED = frozenset(["insulation-near-zero", "insulation-failed", "insulation-low"])


def _open_inside(at: Situation, step: Step, _: Slot) -> str | None:
    """What is open on this step's leads; a group that isn't is tested by itself."""
    if at.stops.get(step.key) != OPEN_STOPS:
        return None
    return ", ".join(sorted(at.codes & OPEN)).replace("-", " ") or "an open winding"


def _long_mark(_: Step, slot: Slot) -> bool:
    return slot.act is Act.MARK and slot.optional and (slot.mark_s or 0.0) > MINUTE_S


def _failed_hold(at: Situation, step: Step, _: Slot) -> str | None:
    return at.failed.get(step.key)


def _not_restored(at: Situation, step: Step, _: Slot) -> str | None:
    """A live reading waits until power was restored in its own isolation."""
    restores = [s for _, s, _ in at.plan.doing(Act.RESTORE) if at.plan.phase_of(s) == at.plan.phase_of(step)]
    if not restores or (at.safety.energised and at.safety.phase >= at.plan.phase_of(step)):
        return None
    return "power is not restored"


def _isolated(at: Situation, _: Step, __: Slot) -> str | None:
    """What is read as it runs is read before the first lock."""
    begun = at.safety.locked or at.safety.phase > 0 or at.safety.energised
    return "it was locked already" if begun else None


def _in_doubt(at: Situation, _: Step, __: Slot) -> str | None:
    return "; ".join(at.in_doubt) or None


def _left_out(at: Situation, _: Step, __: Slot) -> str | None:
    return "; ".join(f"{one.stays_unproven} stays unproven: {one.why}" for one in at.stands.left_out) or None


def _otherwise(at: Situation, step: Step, _: Slot) -> str | None:
    """Leads that lie otherwise than they were found here, or aren't told to be back."""
    found, left = found_on(at.plan, at.kept, step), left_on(at.kept, step)
    return "; ".join(one.words for one in differences(found, left)) or None


_NEVER = "This cannot be overridden."
GATES: tuple[Gate, ...] = (
    Gate(
        "live-found", _any, _live,
        f"Find the source, switch it off and lock it. Then prove dead again from the start. {_NEVER}",
    ),
    Gate(
        "energised", lambda s, slot: _dead_work(s, slot) or slot.act in PROOF, _energised,
        "Power is on: no dead test. Isolate and prove dead again."
        " If power was never restored, undo “Power restored”.",
    ),
    Gate("not-proved", _dead_work, _unproved, f"Prove dead first. {_NEVER}"),
    Gate("banned", _doing(Act.APPLY), _banned, f"Do not connect an insulation tester to this motor. {_NEVER}"),
    Gate(
        "charged", _any, _charged, f"Switch the tester off. Short the winding to the frame and wait. {_NEVER}",
    ),
    Gate("proof-order", _doing(*PROOF), _proof_order, f"Prove dead in the order shown. {_NEVER}"),
    Gate(
        "not-restored", lambda step, slot: slot.act is Act.LIVE_READING and step.circuit is Circuit.LIVE, _not_restored,
        f"Restore power first, each lock off by its owner. {_NEVER}",
    ),
    Gate(
        "as-running", _doing(Act.AS_RUNNING), _isolated,
        "Leave it out: it is read again once power is restored. Taking the locks back on paper makes nothing run.",
    ),
    Gate("order", _any, _order, "Finish it first, or skip it with a reason.", Overrule.WITH_REASON),
    Gate("held-once", _doing(Act.APPLY), _applied_once, "Finish the discharge. Then choose “Hold again”."),
    Gate("not-on", _doing(Act.MARK, Act.REMOVE, Act.SHORT, Act.REMOVE_AND_SHORT, Act.RESIDUAL), _never_on,
         "Confirm “Voltage on” first, so that the time is known."),
    Gate(
        "over", _doing(Act.MARK), _over,
        "Readings belong to the hold. Discharge the winding. Then choose “Hold again”.",
    ),
    Gate(
        "failed-hold", _long_mark, _failed_hold,
        "Do not hold to 10 minutes. Switch the test voltage off, or write a reason to continue.", Overrule.WITH_REASON,
    ),
    Gate("early", _doing(Act.MARK), _early, "Wait for the mark."),
    Gate("not-off", _doing(Act.SHORT), _not_off, "Switch the tester off first."),
    Gate(
        "time-up", _doing(Act.RESIDUAL), _not_up,
        f"Leave the shorting strap on until the timer reaches 0:00. {_NEVER}",
    ),
    Gate(
        "capacitor", _of_capacitor, _capacitor_charged,
        "Discharge it through a resistor, then short it. Remove the short and measure volts DC across it at once."
        f" It must read about 0 V. Then short it again. {_NEVER}",
    ),
    Gate(
        "open-winding", _doing(Act.APPLY), _open_inside,
        "Do not test the insulation of an open winding as a whole."
        " Skip this step and decide, or write a reason to continue.",
        Overrule.WITH_REASON,
    ),
    Gate(
        "dead-tests", _doing(*GIVES_BACK), _in_doubt,
        "Do not reconnect this motor. Go to the decision. Only an electrician can reconnect, with a written reason.",
        Overrule.WITH_REASON,
    ),
    Gate(
        "left-out", _doing(*GIVES_BACK), _left_out, "An electrician must write why the motor returns without it.",
        Overrule.WITH_REASON,
    ),
    Gate(
        "put-back", _doing(Act.JOIN), _otherwise,
        "Put it back as found. Undo what was saved otherwise, or write why it lies so.", Overrule.WITH_REASON,
    ),
)  # fmt: skip
BY_KEY = {gate.key: gate for gate in GATES}


def shut(at: Situation, step: Step, slot: Slot) -> tuple[Gate, str] | None:
    """The first gate that keeps this slot shut, with what was found; None where it is open."""
    for gate in GATES:
        if not gate.guards(step, slot) or overrule_key(gate, step) in at.kept.overruled:
            continue
        found = gate.found(at, step, slot)
        if found is not None:
            return gate, found
    return None


def overrule_key(gate: Gate, step: Step) -> str:
    """What a reason for this gate is kept under: one for both ways of leading power on."""
    return f"power!{gate.key}" if gate.key in ("dead-tests", "left-out") else f"{step.key}!{gate.key}"


def check(at: Situation, step: Step, slot: Slot) -> None:
    """Raise GateClosed where a gate keeps this slot shut."""
    found = shut(at, step, slot)
    if found is not None:
        gate, text = found
        raise GateClosed(step.title, text, gate.accepted, can_overrule=gate.overrule is Overrule.WITH_REASON)


def leads_power(step: Step) -> bool:
    """Whether a step joins the motor, restores its power or reads it live."""
    return step.does(*POWER)
