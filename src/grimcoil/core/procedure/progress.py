"""Where a job stands: which steps are done, which slot is next, and whether a slot may take an entry now."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from grimcoil.core.criteria import Criteria
from grimcoil.core.errors import GateClosed, Unknown
from grimcoil.core.procedure.entries import Entry, Kept, keep
from grimcoil.core.procedure.gates import Gates, gates
from grimcoil.core.procedure.steps import (
    AFTER_DISCHARGE,
    EN_ROUTE_DEAD,
    ROUTINE,
    SLOTS,
    STEPS,
    Slot,
    Step,
)


class StepState(StrEnum):
    """State of a step."""

    DONE = "done"
    SKIPPED = "skipped"
    NOW = "now"
    TO_DO = "to do"


@dataclass(frozen=True)
class Progress:
    """A job's state, worked out from its entries, its signature and the time now."""

    kept: Kept
    gates: Gates
    standings: dict[str, StepState]
    step: Step
    slot: Slot | None
    now: datetime
    signed: bool

    @property
    def place(self) -> str | None:
        """`step.slot` that is next."""
        return f"{self.step.key}.{self.slot.key}" if self.slot else None

    @property
    def discharge_left_s(self) -> float | None:
        """Seconds until the winding may be touched; None when no discharge runs."""
        until = self.gates.short_until
        if until is None or not self.gates.charged:
            return None
        return max(0.0, (until - self.now).total_seconds())

    @property
    def hold_s(self) -> float | None:
        """Seconds since the test voltage came on, while it is on."""
        if not self.gates.voltage_is_on or self.gates.voltage_on_at is None:
            return None
        return (self.now - self.gates.voltage_on_at).total_seconds()


def progress(
    entries: list[Entry],
    criteria: Criteria,
    now: datetime,
    decided: bool = False,
    signed: bool = False,
) -> Progress:
    """Fold the entries of a routine job."""
    kept = keep(entries)
    at = gates(kept, criteria)
    standings: dict[str, StepState] = {}
    current: Step | None = None
    for step in ROUTINE:
        standing = _standing(step, kept, at, decided, signed)
        if current is None and standing is StepState.TO_DO:
            current, standing = step, StepState.NOW
        standings[step.key] = standing
    step = current or STEPS["sign"]
    return Progress(kept, at, standings, step, _next_slot(step, kept), now, signed)


def _standing(step: Step, kept: Kept, at: Gates, decided: bool, signed: bool) -> StepState:
    if step.key == "decision":
        return StepState.DONE if decided else StepState.TO_DO
    if step.key == "sign":
        return StepState.DONE if signed else StepState.TO_DO
    if step.key == "discharge" and at.voltage_on_at is None and _complete(STEPS["insulation"], kept, at):
        return StepState.SKIPPED
    if step.key in kept.overruled and not step.hard and not (step.key == "insulation" and at.voltage_is_on):
        return StepState.SKIPPED
    return StepState.DONE if _complete(step, kept, at) else StepState.TO_DO


def _complete(step: Step, kept: Kept, at: Gates) -> bool:
    if step.key == "prove_dead":
        return at.proved_dead_at is not None
    if step.key == "discharge":
        return at.voltage_on_at is not None and not at.charged
    if step.key == "insulation":
        return at.short_from is not None or (step.key in kept.overruled and not at.voltage_is_on)
    return all(f"{step.key}.{slot.key}" in kept.standing for slot in step.slots)


def _next_slot(step: Step, kept: Kept) -> Slot | None:
    return next((s for s in step.slots if f"{step.key}.{s.key}" not in kept.standing), None)


def check_place(state: Progress, place: str) -> tuple[Step, Slot]:
    """The step and slot of a place if it may take an entry now; else raises GateClosed or Unknown."""
    if place not in SLOTS:
        raise Unknown("step", place, "a step and slot of this job")
    step, slot = SLOTS[place]
    if state.signed:
        raise GateClosed(step.title, "", "this job is signed; start a new one for further readings")
    _check_energised(state, step)
    _check_dead(state, step)
    _check_charge(state, step, slot)
    _check_order(state, step)
    _check_hold(state, step, slot)
    return step, slot


def _check_energised(state: Progress, step: Step) -> None:
    if state.gates.energised and step.key in (*EN_ROUTE_DEAD, "prove_dead", "isolate"):
        found = "power was restored"
        raise GateClosed(
            step.title,
            found,
            "dead tests are closed until power is off again; take back “Power restored”",
        )


def _check_dead(state: Progress, step: Step) -> None:
    if step.key in EN_ROUTE_DEAD and state.gates.proved_dead_at is None:
        found = state.gates.dead_fault or "not proved dead"
        raise GateClosed(step.title, found, "prove it dead first; this can't be overruled")


def _check_charge(state: Progress, step: Step, slot: Slot) -> None:
    at = state.gates
    if step.key in AFTER_DISCHARGE and at.charged:
        raise GateClosed(
            step.title,
            _charge_words(state),
            "discharge the winding first; this can't be overruled",
        )
    if step.key == "discharge" and slot.key == "volts" and not at.shorted_long_enough(state.now):
        raise GateClosed(
            step.title,
            _charge_words(state),
            "keep it shorted until the time is up; this can't be overruled",
        )
    if step.key == "discharge" and slot.key == "off" and at.voltage_on_at is None:
        raise GateClosed(step.title, "no test voltage was on", "nothing to discharge yet")


def _charge_words(state: Progress) -> str:
    left = state.discharge_left_s
    if state.gates.still_charged_v is not None:
        return f"{state.gates.still_charged_v:g} V still on the winding"
    if left is None:
        return "test voltage still on the winding"
    if left > 0:
        return f"{int(left) // 60}:{int(left) % 60:02d} left shorted to frame"
    return "about 0 V not recorded yet"


def _check_order(state: Progress, step: Step) -> None:
    if step.number <= state.step.number or (step.key == "discharge" and state.gates.voltage_on_at):
        return
    raise GateClosed(
        step.title,
        f"“{state.step.title}” isn't finished",
        "finish it first" + ("" if state.step.hard else ", or skip it with a reason"),
        can_overrule=not state.step.hard,
    )


def _check_hold(state: Progress, step: Step, slot: Slot) -> None:
    """Marks wait for their time, and belong to the one hold."""
    if step.key != "insulation":
        return
    at = state.gates
    if slot.key == "on" and at.voltage_on_at is not None:
        raise GateClosed(
            step.title,
            "voltage was already on once",
            "finish the discharge; a second hold is a new job",
        )
    if slot.mark_s is None:
        return
    if at.voltage_on_at is None:
        raise GateClosed(
            step.title,
            "no test voltage on",
            "confirm “Voltage on” first, so that the time is known",
        )
    if at.short_from is not None:
        raise GateClosed(
            step.title,
            "the hold is over",
            "readings belong to the hold; a second hold is a new job",
        )
    hold = state.hold_s or 0.0
    if hold < slot.mark_s - 2:
        early = f"{int(hold)} s since voltage on"
        raise GateClosed(
            step.title,
            early,
            f"the {slot.label} value is due in {int(slot.mark_s - hold)} s",
        )


def check_skip(state: Progress, step_key: str) -> Step:
    """The step if it may be skipped with a reason now; prove dead and a running discharge never."""
    step = STEPS.get(step_key)
    if step is None or not step.slots:
        raise Unknown("step", step_key, "a step of this job that takes readings")
    if state.signed:
        raise GateClosed(step.title, "", "this job is signed")
    if step.hard:
        raise GateClosed(step.title, "a reason to skip", "this step can't be skipped")
    if step.key == "insulation" and state.gates.charged:
        raise GateClosed(
            step.title,
            "test voltage was on",
            "end the hold and discharge the winding first",
        )
    if step.number > state.step.number:
        raise GateClosed(
            step.title,
            f"“{state.step.title}” isn't finished",
            "skip steps in their order",
        )
    return step
