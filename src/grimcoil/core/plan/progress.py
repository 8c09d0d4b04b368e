"""Where a job stands: which steps are done, which slot is next, and whether a slot may take an entry now."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from enum import StrEnum

from grimcoil.core.decision.standing import OPEN_STOPS, Standing
from grimcoil.core.errors import GateClosed, Unknown
from grimcoil.core.plan.entries import BEGIN_AGAIN, NOT_RECONNECTED, Entry, Kept
from grimcoil.core.plan.gates import (
    BY_KEY,
    GIVES_BACK,
    Overrule,
    Situation,
    check,
    leads_power,
    overrule_key,
    shut,
)
from grimcoil.core.plan.safety import Safety, Site, fold
from grimcoil.core.plan.steps import HOLD, OPEN_PARTS, PROOF, Act, Plan, Slot, Step

NOTHING = Standing()
NONE_FAILED: Mapping[str, str] = {}


class StepState(StrEnum):
    """State of a step."""

    DONE = "done"
    SKIPPED = "skipped"
    STOPPED = "stopped"
    NOW = "now"
    TO_DO = "to do"


@dataclass(frozen=True)
class Progress:
    """A job's state, worked out from its plan, its entries, its signature and the time now."""

    situation: Situation
    standings: dict[str, StepState]
    step: Step
    slot: Slot | None
    signed: bool

    @property
    def plan(self) -> Plan:
        """The plan it is walked by."""
        return self.situation.plan

    @property
    def kept(self) -> Kept:
        """What stands."""
        return self.situation.kept

    @property
    def safety(self) -> Safety:
        """The state of the circuit."""
        return self.situation.safety

    @property
    def now(self) -> datetime:
        """The time it was worked out for."""
        return self.situation.now

    @property
    def place(self) -> str | None:
        """`step.slot` that is next."""
        return self.step.place(self.slot) if self.slot else None

    @property
    def discharge_left_s(self) -> float | None:
        """Seconds until the winding may be let go; None where no discharge runs.

        Computed: 4 times the hold, IEEE 43.
        """
        return self.situation.discharge_left_s

    @property
    def hold_s(self) -> float | None:
        """Seconds since the test voltage came on, while it is on (computed)."""
        return self.situation.hold_s

    @property
    def closing(self) -> bool:
        """What is left is to decide and to sign."""
        return self.step.key in ("decision", "sign")


def situation(plan: Plan, entries: Iterable[Entry], site: Site, now: datetime, signed: bool = False) -> Situation:
    """Fold the entries by the plan; what the readings show is added by `progress`."""
    kept, safety = fold(plan, entries, site, now, signed)
    return Situation(plan, kept, safety, now, dead_below_v=site.criteria.dead_below_v.value)


def progress(
    at: Situation,
    codes: frozenset[str] = frozenset(),
    stands: Standing = NOTHING,
    decided: bool = False,
    signed: bool = False,
    failed: Mapping[str, str] = NONE_FAILED,
) -> Progress:
    """The job's state. codes and stands: what the readings so far show, and how the key tests stand; failed: what was
    found in each hold that failed, by its step.
    """
    at = replace(at, codes=codes, stands=stands, failed=failed)
    at = replace(at, stops=stops_of(at.plan, stands))
    standings: dict[str, StepState] = {}
    current: Step | None = None
    for step in at.plan.steps:
        standing = _standing(step, at, decided, signed)
        if current is None and standing is StepState.TO_DO:
            current, standing = step, StepState.NOW
        standings[step.key] = standing
    step = _to_end_first(at, standings) or current or at.plan.steps[-1]
    at = replace(at, step=step)
    slot = _next_slot(step, at)
    if slot is None and at.safety.on_test is not None:  # nothing more to read: the voltage comes off
        ending = at.plan.doing(Act.REMOVE, Act.REMOVE_AND_SHORT)
        step, slot = next((s, each) for _, s, each in ending if s.hold == at.safety.on_test.name)
        at = replace(at, step=step)
    return Progress(at, standings, step, slot, signed)


def _to_end_first(at: Situation, standings: dict[str, StepState]) -> Step | None:
    """A voltage on the winding is ended and discharged before anything else, the proof of death too."""
    hold = at.safety.charged
    if hold is None:
        return None
    return next((s for s in at.plan.steps if s.hold == hold.name and standings[s.key] is not StepState.DONE), None)


def _standing(step: Step, at: Situation, decided: bool, signed: bool) -> StepState:
    if step.key == "decision":
        return StepState.DONE if decided else StepState.TO_DO
    if step.key == "sign":
        return StepState.DONE if signed else StepState.TO_DO
    if step.key in at.kept.overruled and not _must_end(step, at):
        return StepState.SKIPPED
    if _given_up(step, at):
        return StepState.SKIPPED
    if step.slots and at.plan.phase_of(step) >= at.given_up_from:
        return StepState.SKIPPED
    if _is_discharge(step) and step.hold not in at.safety.holds and _over(at.plan, step, at):
        return StepState.SKIPPED
    if _complete(step, at):
        return StepState.DONE
    return StepState.STOPPED if at.is_stopped(step) else StepState.TO_DO


def _given_up(step: Step, at: Situation) -> bool:
    """Where the motor isn't given back nothing more leads power on, and nothing that isn't begun is asked for."""
    if NOT_RECONNECTED not in at.kept.standing:
        return False
    begun = step.hold in at.safety.holds
    return leads_power(step) or (bool(step.slots) and not begun and not _complete(step, at))


def stops_of(plan: Plan, stands: Standing) -> dict[str, str]:
    """Steps that aren't asked for as the readings stand, each with what stops it: by its key."""
    why = {one.need.place: one.because for one in stands.stopped}
    failed = f"failed at {stands.failed_words}" if stands.failed_words else ""
    out: dict[str, str] = {}
    for step in plan.steps:
        stops = next((why[place] for place in step.needed if place in why), "")
        joined = step.does(Act.APPLY) and step.rule != OPEN_PARTS
        if not stops and joined and stands.opened & _leads_of(step):
            stops = OPEN_STOPS
        if not stops and _is_discharge(step):  # of a hold that isn't made
            stops = out.get(step.hold, "")
        stops = stops or (failed if leads_power(step) else "")
        if stops:
            out[step.key] = stops
    return out


def _leads_of(step: Step) -> frozenset[str]:
    return frozenset(lead for slot in step.slots for end in slot.ends for lead in end.split("+"))


def _is_discharge(step: Step) -> bool:
    return step.does(Act.RESIDUAL)


def _over(plan: Plan, discharge: Step, at: Situation) -> bool:
    """The hold a discharge belongs to was skipped, or given up with all that wasn't begun."""
    if NOT_RECONNECTED in at.kept.standing:
        return True
    start = plan.hold_of(discharge)
    return start is not None and start[1].key in at.kept.overruled


def _must_end(step: Step, at: Situation) -> bool:
    """A hold that was started is ended and discharged whatever was skipped; the act of proof is never skipped."""
    return step.hard or step.does(*PROOF) or step.hold in at.safety.holds


def _complete(step: Step, at: Situation) -> bool:
    if step.does(*PROOF):
        return _safe_so_far(step, at)
    hold = at.safety.holds.get(step.hold) if step.hold else None
    if _is_discharge(step):
        return hold is not None and hold.discharged
    if step.does(Act.APPLY):
        waits = hold is not None and hold.discharged and bool(untyped(step, at.kept))
        return hold is not None and hold.off_at is not None and not waits
    if step.key in ("decision", "sign"):
        return False
    return all(place in at.kept.standing for place in step.asked)


def untyped(step: Step, kept: Kept) -> list[str]:
    """Places of a hold whose second was taken and whose value isn't typed yet."""
    return [place for place in step.places if place in kept.stamps and place not in kept.standing]


def _safe_so_far(step: Step, at: Situation) -> bool:
    """Isolation and proof: whole as they stand; once power is back on they are past."""
    phase = at.plan.phase_of(step)
    if phase < at.safety.phase or (at.safety.energised and phase == at.safety.phase):
        return True
    kept = all(place in at.kept.standing for place in step.places)
    proved = step.key in at.safety.proved_steps or at.safety.past
    return kept and (proved or not step.does(Act.POINT_DEAD))


def _next_slot(step: Step, at: Situation) -> Slot | None:
    """The first slot without an entry. Marks that may be left out aren't asked for: who has their value gives it. One
    whose second was taken is.
    """
    for place, slot in zip(step.places, step.slots, strict=True):
        if place in at.kept.standing:
            continue
        if slot.act is Act.MARK and slot.optional:
            if place in at.kept.stamps:
                return slot
        elif slot.asked:
            return slot
    return None


def check_place(state: Progress, place: str) -> tuple[Step, Slot]:
    """The step and slot of a place if it may take an entry now; else raises GateClosed or Unknown."""
    step, slot = state.plan.at(place)
    if state.signed:
        raise GateClosed(step.title, "", "this job is signed; start a new one for further readings")
    check(state.situation, step, slot)
    return step, slot


@dataclass(frozen=True, slots=True)
class Stop:
    """Why a place isn't asked for: the gate, what is found, what opens it, whether a typed reason does."""

    gate: str
    found: str
    accepted: str
    can_overrule: bool


# Shut until a clock has run: asked for with its countdown.
BY_CLOCK = frozenset({"early", "time-up"})


def stop_of(state: Progress, place: str) -> Stop | None:
    """What keeps a place from being asked for now; None where it may be. What may not be asked can't be kept."""
    found = shut(state.situation, *state.plan.at(place))
    if found is None or found[0].key in BY_CLOCK:
        return None
    gate, text = found
    return Stop(gate.key, text, gate.accepted, gate.overrule is Overrule.WITH_REASON)


def asked(state: Progress) -> frozenset[str]:
    """Every place that may be asked for as things stand: open and not kept yet. Pages and lists take no other."""
    if state.signed:
        return frozenset()
    kept = state.kept.standing
    return frozenset(place for place in state.plan.places if place not in kept and stop_of(state, place) is None)


def may_give_up(state: Progress) -> bool:
    """Whether a failed motor may be left as it is and decided on, from wherever the job stands."""
    failed = bool(state.situation.stands.failed_words) and NOT_RECONNECTED not in state.kept.standing
    return failed and not state.signed and state.safety.charged is None and not state.safety.energised


def waits_its_turn(state: Progress, place: str) -> bool:
    """Whether all that shuts a place is a step before it that isn't finished."""
    found = shut(state.situation, *state.plan.at(place))
    return found is not None and found[0].key == "order"


def check_begin_again(state: Progress) -> None:
    """Raise GateClosed where nothing live was found that would have to be cleared."""
    if state.signed or state.safety.live is None:
        raise GateClosed("Begin again", "nothing was found live", "this is for after a live reading")


def check_not_reconnected(state: Progress) -> None:
    """Raise GateClosed where nothing speaks against reconnecting it, or something is on its winding."""
    hold = state.safety.charged
    asked = state.step.does(*GIVES_BACK) or bool(state.situation.stands.failed_words)
    if state.signed or hold is not None or state.safety.energised or not asked:
        raise GateClosed("Don't reconnect", f"“{state.step.title}” is next", "this is for when the leads go back on")


def may_hold_again(state: Progress, step_key: str) -> bool:
    """Whether a hold may be made once more: it is over and discharged, it wasn't near zero, and power isn't back."""
    step = state.plan.by_key.get(step_key)
    if step is None or not step.does(Act.APPLY) or state.signed or state.safety.joined or state.safety.energised:
        return False
    alike = [one for one in state.plan.steps if one.does(Act.APPLY) and _first(one) == _first(step)]
    holds = [state.safety.holds.get(one.hold) for one in alike]
    if any(hold is None or not hold.discharged for hold in holds) or state.safety.charged is not None:
        return False
    near_zero = any(NEAR_ZERO in state.situation.failed.get(one.key, "") for one in alike)
    return not near_zero and not any(untyped(one, state.kept) for one in alike)


NEAR_ZERO = "near zero"


def _first(step: Step) -> str:
    """The key of the hold that a repeat repeats."""
    stem, mark, number = step.key.rpartition("#")
    return stem if mark and number.isdigit() else step.key


def check_hold_again(state: Progress, step_key: str) -> str:
    """The key of the first hold at that place, where another may be made; else raises GateClosed or Unknown."""
    step = state.plan.step(step_key)
    if not may_hold_again(state, step_key):
        accepted = "once the hold is discharged; never after near zero before the winding was dried or cleaned"
        raise GateClosed("Hold again", f"“{step.title}” isn't over, or failed near zero", accepted)
    return _first(step)


def check_skip(state: Progress, step_key: str) -> Step:
    """The step if it may be skipped with a reason now; the act of proof and a running discharge never."""
    step = state.plan.step(step_key)
    if not step.slots:
        raise Unknown("step", step_key, "a step of this job that takes readings")
    if state.signed:
        raise GateClosed(step.title, "", "this job is signed")
    if state.safety.live is not None:
        raise GateClosed(step.title, "something was found live", BY_KEY["live-found"].accepted)
    begins_again = step.does(Act.LOCK) and state.plan.phase_of(step) > state.safety.phase and state.safety.energised
    if (step.hard or step.does(*PROOF)) and not begins_again:
        raise GateClosed(step.title, "a reason to skip", "this step can't be skipped")
    if state.safety.charged is not None and step.does(*HOLD):
        raise GateClosed(step.title, "test voltage was on", "end the hold and discharge the winding first")
    if step.number > state.step.number:
        raise GateClosed(step.title, f"“{state.step.title}” isn't finished", "skip steps in their order")
    return step


def stop_at(state: Progress, place: str) -> str | None:
    """The key that a reason for this place is kept under; None where no gate that a reason opens is shut."""
    step, slot = state.plan.at(place)
    found = shut(state.situation, step, slot)
    if found is None or found[0].key == "order" or found[0].overrule.value == "never":
        return None
    return overrule_key(found[0], step)


WORDS = {BEGIN_AGAIN: "Source found and off, begun again", NOT_RECONNECTED: "Not reconnected"}


def place_words(plan: Plan, place: str) -> str:
    """A place in words, the job's own too."""
    return WORDS.get(place) or plan.words(place)
