"""Which test tells most per minute and risk, of those that are allowed."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.walk.catalogue import Trial, trials
from grimcoil.core.walk.evidence import OPEN_X, TIGHT_X, Panel, answers, expected
from grimcoil.core.walk.safety import Guard, allowed, proofs_needed

PROOF_MIN, SWITCH_MIN = 4.0, 2.0
WORTH = 0.02  # bits: less than this isn't asked for
PLACES = {
    "motor-to-supply": ("motor", "motor-box", "disconnect", "machine", "panel"),
    "control-first": ("control", "coil", "chain", "line-side", "overload", "box"),
}


@dataclass(frozen=True, slots=True)
class Choice:
    """A test with what it is expected to tell, in bits, and its cost in minutes times (1 + risk)."""

    trial: Trial
    bits: float
    cost: float

    @property
    def worth(self) -> float:
        """Bits per minute and risk. In bits a minute (computed)."""
        return self.bits / self.cost


@lru_cache(maxsize=4096)
def _signatures(panel: Panel, trial: Trial) -> NDArray[np.int64]:
    """What each variant would show, in steps that a meter surely tells apart, as one number."""
    state = trial.circuit
    if state is None:
        raise ValueError(f"{trial.name} has no state")
    between = trial.between or tuple((f"L{n}", "") for n in (1, 2, 3))
    columns = [_steps(panel, trial, expected(panel, trial.quantity, state, a, b)) for a, b in between]
    _, inverse = np.unique(np.stack(columns, axis=1), axis=0, return_inverse=True)
    return np.asarray(inverse).reshape(-1)


def _steps(panel: Panel, trial: Trial, shown: NDArray[np.float64]) -> NDArray[np.int64]:
    place = panel.place
    match trial.quantity:
        case "volts-ac" | "volts-ac-high-z":
            scale = place.control_volts if trial.between[0][1] == "control-N" or "coil" in trial.name else place.volts
            steps = shown / scale / 0.16
        case "volts-across":
            steps = np.log10(shown + 0.03) / 0.9
        case "amps":
            steps = np.log10(shown / place.amps + 0.08) / 0.16
        case "insulation":
            steps = np.minimum(np.log10(shown + 0.3), TIGHT_X) / 0.9
        case _:
            steps = np.minimum(np.log10(shown + 0.3), OPEN_X) / 0.25
            steps = np.where(
                steps > 3.2 / 0.25, np.round(steps / 4) * 4, steps
            )  # kilohms and more: no finer than a decade
    return np.round(steps).astype(np.int64)


def bits_of(panel: Panel, trial: Trial, belief: NDArray[np.float64]) -> float:
    """How much the answer is expected to tell. In bits (computed)."""
    if trial.asks:
        table = answers(panel, trial)
        shares = np.array([[share[answer] for answer in trial.usual] for share in table])
        mixed = belief @ shares
        return _entropy(mixed) - float(
            sum(b * _entropy(row) for b, row in zip(belief, shares, strict=True) if b > 1e-4)
        )
    _, owner = panel.variants()
    weights = belief[owner] / np.bincount(owner)[owner]
    return _entropy(np.bincount(_signatures(panel, trial), weights=weights)) * 0.9


def _entropy(shares: NDArray[Any]) -> float:
    kept = shares[shares > 1e-9]
    return float(-(kept * np.log2(kept)).sum()) if kept.size else 0.0


def cost_of(guard: Guard, trial: Trial) -> float:
    """Minutes with what must be done before it, times (1 + risk) (computed)."""
    minutes = trial.minutes + PROOF_MIN * len(proofs_needed(guard, trial))
    state = trial.circuit
    if state is not None and state.live and guard.off:
        minutes += SWITCH_MIN
    return minutes * (1 + trial.risk)


def choices(
    panel: Panel, guard: Guard, belief: NDArray[np.float64], done: Iterable[str], order: str, blown: bool
) -> list[Choice]:
    """Allowed tests not yet done, the best first by the walking order. Belief without unit (computed)."""
    gone = set(done)
    out = []
    for trial in trials(panel.place).values():
        if trial.name in gone or not allowed(guard, panel.place, trial, blown):
            continue
        bits = bits_of(panel, trial, belief)
        if bits > WORTH:
            out.append(Choice(trial, bits, cost_of(guard, trial)))
    return sorted(out, key=lambda one: -one.worth * _favour(order, one.trial))


def _favour(order: str, trial: Trial) -> float:
    """The walking order as a factor; the most telling one has none."""
    if order == "motor-to-supply":
        rank = PLACES[order].index(trial.where) if trial.where in PLACES[order] else 4
        return math.pow(2.0, 4 - rank)
    if order == "control-first":
        for rank, word in enumerate(PLACES[order]):
            if word in trial.name:
                return math.pow(2.0, 4 - min(rank, 4))
    return 1.0
