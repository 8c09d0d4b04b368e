"""The safety gates, worked out from the entries alone: proved dead, energised, charged and discharged."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from grimcoil.core.criteria import Criteria
from grimcoil.core.insulation.hold import DISCHARGE_TIMES
from grimcoil.core.limits import within
from grimcoil.core.procedure.entries import Entry, Kept
from grimcoil.core.procedure.steps import DEAD_SLOTS, SLOTS


@dataclass(frozen=True, slots=True)
class Gates:
    """Where the gates stand. `dead_fault` says which of the proofs fails; `short_until` when discharge is due.

    charged: a hold was started and its discharge isn't finished. A hold that was started counts even when
    its entry was taken back: the winding doesn't know.
    """

    proved_dead_at: datetime | None
    dead_fault: str
    energised: bool
    charged: bool
    voltage_on_at: datetime | None
    short_from: datetime | None
    short_until: datetime | None
    still_charged_v: float | None

    @property
    def voltage_is_on(self) -> bool:
        """The insulation tester is on the winding now."""
        return self.charged and self.short_from is None

    def shorted_long_enough(self, now: datetime) -> bool:
        """The discharge time is up."""
        return self.short_until is not None and now >= self.short_until


def gates(kept: Kept, criteria: Criteria) -> Gates:
    """Work the gates out from what was kept."""
    dead_at, fault = _proved_dead(kept, criteria)
    on = _first_on(kept)
    off = kept.standing.get("discharge.off") if on else None
    until = off.at + timedelta(seconds=DISCHARGE_TIMES * applied_s(kept, on, off)) if on and off else None
    left = kept.figure("discharge.volts") if off else None
    discharged = until is not None and left is not None and within(left, criteria.dead_below_v.value)
    return Gates(
        proved_dead_at=dead_at,
        dead_fault=fault,
        energised="supply_voltage.restored" in kept.standing,
        charged=on is not None and not discharged,
        voltage_on_at=on.at if on else None,
        short_from=off.at if off else None,
        short_until=until,
        still_charged_v=left if left is not None and not discharged else None,
    )


def _first_on(kept: Kept) -> Entry | None:
    """The earliest start of voltage, taken back or not."""
    return next((entry for entry in kept.entries if entry.place == "insulation.on"), None)


def applied_s(kept: Kept, on: Entry, off: Entry) -> float:
    """How long voltage was applied: by the clock, and never less than the latest kept mark."""
    marks = [slot.mark_s for place, (_, slot) in SLOTS.items() if slot.mark_s and place in kept.standing]
    return max([(off.at - on.at).total_seconds(), *marks])


def _proved_dead(kept: Kept, criteria: Criteria) -> tuple[datetime | None, str]:
    live, dead = criteria.live_above_v.value, criteria.dead_below_v.value
    for key in ("before", *DEAD_SLOTS, "after"):
        entry = kept.standing.get(f"prove_dead.{key}")
        if entry is None or entry.reading is None:
            return None, ""
        volts = entry.reading.amount
        if key in ("before", "after") and not volts.surely_at_least(live):
            return (
                None,
                f"the tester showed only {entry.text} on the live source ({key}): it proves nothing",
            )
        if key in DEAD_SLOTS and not volts.high <= dead:
            return None, f"{key.replace('-', ' to ')} shows {entry.text}: not dead"
    return kept.standing["prove_dead.after"].at, ""
