"""What the repairer promised, held against what the acceptance measures."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.amount import Amount
from grimcoil.core.findings import Verdict
from grimcoil.core.limits import within
from grimcoil.core.readings import three_digits


@dataclass(frozen=True, slots=True)
class Promise:
    """ohm: mean of the lines at the criteria's reference temperature, Ω; mohm: the least insulation at 40 °C, MΩ. None
    where nothing was promised.
    """

    ohm: float | None = None
    mohm: float | None = None


@dataclass(frozen=True, slots=True)
class Held:
    """One promise and what became of it: `sound` kept, `act` not kept, `unproven` not measured or not shown."""

    verdict: Verdict
    text: str


def held_against(promise: Promise, ohm: float | None, r40: Amount | None, drift_percent: float) -> list[Held]:
    """Each promise with its measured figure. ohm: Ω, measured, as the promise; r40: MΩ at 40 °C with its bounds;
    drift_percent: how far the ohms may be off (the criteria's drift). Common practice without source.

    >>> [held.verdict.value for held in held_against(Promise(0.84, 100), 0.846, Amount.above(550), 5)]
    ['sound', 'sound']
    """
    out = []
    if promise.ohm is not None:
        out.append(_ohm(promise.ohm, ohm, drift_percent))
    if promise.mohm is not None:
        out.append(_mohm(promise.mohm, r40))
    return out


def _ohm(promised: float, measured: float | None, drift_percent: float) -> Held:
    told = f"Winding resistance: promised {promised:.4g} Ω"
    if measured is None:
        return Held(Verdict.UNPROVEN, f"{told}, not measured yet.")
    off = 100 * (measured / promised - 1)
    kept = within(abs(off), drift_percent)
    return Held(
        Verdict.SOUND if kept else Verdict.ACT,
        f"{told}, measured {measured:.4g} Ω, {off:+.1f} %; {drift_percent:g} % is allowed.",
    )


def _mohm(promised: float, r40: Amount | None) -> Held:
    told = f"Insulation at 40 °C: promised {promised:g} MΩ"
    if r40 is None:
        return Held(Verdict.UNPROVEN, f"{told}, not measured yet.")
    lead = ">" if r40.high == float("inf") else "<" if r40.low == 0 and r40.high > 0 else ""
    shown = f"{told}, measured {lead}{three_digits(r40.value)} MΩ."
    if r40.surely_at_least(promised):
        return Held(Verdict.SOUND, shown)
    return Held(Verdict.ACT if r40.surely_below(promised) else Verdict.UNPROVEN, shown)
