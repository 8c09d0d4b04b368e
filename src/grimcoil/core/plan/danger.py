"""The one line that every page says of a job at work: volts on its winding, volts found, charge, a strap, own locks."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from grimcoil.core.plan.entries import Kept
from grimcoil.core.plan.record import part_of
from grimcoil.core.plan.safety import Safety
from grimcoil.core.plan.steps import Act, Plan


class Stage(StrEnum):
    """What can hurt, the worst first."""

    ON_TEST = "on-test"
    LIVE = "live-found"
    CHARGED = "charged"
    SHORTED = "shorted"
    LOCKED = "locked"


@dataclass(frozen=True, slots=True)
class Danger:
    """What stands, since when, in words that follow the motor's tag."""

    stage: Stage
    since: datetime
    words: str


def danger_of(plan: Plan, kept: Kept, safety: Safety) -> Danger | None:
    """The worst that stands on a job now; None where nothing does. A discharge is told until about 0 V was read."""
    hold = safety.charged
    if hold is not None and hold.off_at is None:
        volts = part_of(plan, kept, "volts")
        return Danger(Stage.ON_TEST, hold.on_at, f"{volts:g} V on the winding" if volts else "test voltage on")
    if safety.live is not None:
        at = next((e.at for e in kept.entries if e.seq == safety.live.seq), None)
        moved = plan.acts.get(safety.live.place) is Act.TRY_START
        volts_found = safety.live.text if safety.live.text.upper().endswith("V") else f"{safety.live.text} V"
        words = "it moved when the start was tried" if moved else f"{volts_found} found: not dead"
        return None if at is None else Danger(Stage.LIVE, at, words)
    if hold is not None and hold.off_at is not None and hold.short_at is None:
        return Danger(Stage.CHARGED, hold.off_at, "charged, no strap yet")
    if hold is not None and hold.short_at is not None:
        return Danger(Stage.SHORTED, hold.short_at, "shorted to frame")
    locks = [kept.standing[place] for place, _, _ in plan.doing(Act.LOCK) if place in kept.standing]
    if locks and not safety.energised:
        who = ", ".join(dict.fromkeys(entry.who for entry in locks))
        return Danger(Stage.LOCKED, locks[0].at, f"locked by {who}")
    return None
