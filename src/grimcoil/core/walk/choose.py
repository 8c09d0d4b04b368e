"""Which test tells most per minute and risk, of those that are allowed: by itself, or together with one more at the
same place, so that one goes to the box once and not twice.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import combinations
from typing import Any

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.walk.catalogue import Trial, trials
from grimcoil.core.walk.evidence import OPEN_X, TIGHT_X
from grimcoil.core.walk.evidence import shares as answer_shares
from grimcoil.core.walk.panel import Panel, expected
from grimcoil.core.walk.safety import Guard, allowed, idle, proofs_needed

PROOF_MIN, SWITCH_MIN = 4.0, 2.0
CHEAPER = 1.1  # than the best test alone: less isn't worth a way of its own
LOOKED_AT = 6  # of the tests that share what must be done first, the best by themselves
METERED = 0.9  # of what a meter could tell; it doesn't always read as expected
PLAIN = ("overload-look", "breaker-look", "look-closed", "drive-look", "changed-lately")
PLAINLY, HARDLY = 0.15, 0.005  # bits: below these a question, a plain look isn't worth its half minute
ALIVE = 0.97  # of all belief: what is left over chooses no test
MOST_SHOWN = 4  # the next one and three others
WORTH = 0.02  # bits: less than this isn't asked for
PLACES = {
    "motor-to-supply": ("motor", "motor-box", "disconnect", "machine", "panel"),
    "control-first": ("control", "coil", "chain", "line-side", "overload", "box"),
    "overload-first": ("overload-", "supply", "line-side", "protection", "breaker", "disconnect", "pole", "contactor",
                       "overload", "box", "motor"),
    "from-local": ("local", "box", "motor", "overload", "pole", "line-side"),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Choice:
    """A test with what it is expected to tell, in bits, and its cost in minutes times (1 + risk). ahead: bits a minute
    of it and `then` together, where the way to both is made once.
    """

    trial: Trial
    bits: float
    cost: float
    ahead: float = 0.0
    then: str = ""

    @property
    def worth(self) -> float:
        """Bits per minute and risk, by itself or with `then`, whose way there is then made already.

        In bits a minute (computed).
        """
        return max(self.alone, self.ahead)

    @property
    def alone(self) -> float:
        """The same of this test alone. In bits a minute (computed)."""
        return self.bits / self.cost


@lru_cache(maxsize=1024)
def _signatures(panel: Panel, trial: Trial) -> NDArray[np.int64]:
    """What each variant would show, in steps that a meter surely tells apart, as one number."""
    state = trial.circuit
    if state is None:
        raise ValueError(f"{trial.name} has no state")
    between = trial.between or tuple((f"L{n}", "") for n in (1, 2, 3))
    of = np.zeros(len(panel.variants()), dtype=np.int64)
    for a, b in between:  # mixed into one number: two that differ hardly ever come out alike
        of = of * MIX + _steps(panel, trial, expected(panel, trial.quantity, state, a, b))
    _, inverse = np.unique(of, return_inverse=True)
    return np.asarray(inverse)[:-1]


MIX = 1_000_003


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
    """How much the answer is expected to tell; belief over variants. In bits (computed)."""
    if trial.asks:
        return _entropy(belief @ _shares(panel, trial)) - _noise(panel, trial, belief)
    return _entropy(np.bincount(_signatures(panel, trial), weights=belief)) * METERED


def bits_of_both(panel: Panel, one: Trial, other: Trial, belief: NDArray[np.float64]) -> float:
    """How much two answers together are expected to tell: what both show of the same variant counts once. In bits
    (computed).
    """
    asked = [trial for trial in (one, other) if trial.asks]
    noise = sum(_noise(panel, trial, belief) for trial in asked)
    if len(asked) == 2:
        table, beside = (_shares(panel, trial) for trial in asked)
        return _entropy((table.T @ (belief[:, None] * beside)).ravel()) - noise
    if asked:
        read = _signatures(panel, other if one.asks else one)
        split = [np.bincount(read, weights=belief * share) for share in _shares(panel, asked[0]).T]
        return (_entropy(np.concatenate(split)) - noise) * METERED
    first, second = _signatures(panel, one), _signatures(panel, other)
    return _entropy(np.bincount(first * (int(second.max()) + 1) + second, weights=belief)) * METERED


def _shares(panel: Panel, trial: Trial) -> NDArray[np.float64]:
    """How often each answer comes, by variant."""
    return answer_shares(panel, trial)[:-1]


@lru_cache(maxsize=1024)
def _row_noise(panel: Panel, trial: Trial) -> NDArray[np.float64]:
    rows = np.maximum(_shares(panel, trial), 1e-12)
    return np.asarray(-(rows * np.log2(rows)).sum(axis=1))


def _noise(panel: Panel, trial: Trial, belief: NDArray[np.float64]) -> float:
    """Bits of an answer that no variant explains."""
    return float(belief @ _row_noise(panel, trial))


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
    panel: Panel, guard: Guard, belief: NDArray[np.float64], done: Iterable[str], order: str, blown: bool,
    every: bool = False,
) -> list[Choice]:  # fmt: skip
    """Allowed tests not yet done, the best first by the walking order; belief over variants, without unit (computed).

    Those that can't come among the first are left out unless `every` is asked for.
    """
    gone = set(done)
    out: list[Choice] = []
    belief, panel = _alive(panel, belief)
    looks = _plain_looks(panel, guard, belief, gone, blown)
    if looks:
        return looks
    left = [trial for trial in trials(panel.place).values() if trial.name not in gone]
    left = [trial for trial in left if allowed(guard, panel.place, trial, blown) and not idle(guard, trial)]
    all_there_is = _entropy(belief)
    for cost, trial in sorted(((cost_of(guard, trial), trial) for trial in left), key=lambda one: one[0]):
        best = sorted((one.alone * _favour(order, one.trial) for one in out), reverse=True)
        if not every and len(best) >= MOST_SHOWN and all_there_is / cost * _favour(order, trial) < best[MOST_SHOWN - 1]:
            continue  # whatever it tells, those already found tell more a minute: its circuit isn't solved
        bits = bits_of(panel, trial, belief)
        if bits > WORTH:
            out.append(Choice(trial, bits, cost))
    out = _no_open_box_for_little(out)
    out = _two_ahead(panel, guard, belief, out)
    return sorted(out, key=lambda one: -one.worth * _favour(order, one.trial))


AS_MUCH = 0.9  # of what an opened box would tell


def _no_open_box_for_little(found: list[Choice]) -> list[Choice]:
    """Without live work at an opened motor box where something dead or covered tells as much (common practice)."""
    live = [one for one in found if one.trial.where == "motor-box" and one.trial.circuit and one.trial.circuit.live]
    other = max((one.bits for one in found if one not in live), default=0.0)
    return [one for one in found if one not in live or other < AS_MUCH * one.bits]


def _alive(panel: Panel, belief: NDArray[np.float64]) -> tuple[NDArray[np.float64], Panel]:
    """Belief without what hardly anybody believes, and a panel that solves no circuit for it."""
    order = np.argsort(-belief)
    count = int(np.searchsorted(np.cumsum(belief[order]), ALIVE)) + 1
    wanted = np.zeros(len(belief) + 1, dtype=bool)
    wanted[order[:count]] = True
    kept = np.where(wanted[:-1], belief, 0.0)
    return kept / kept.sum(), replace(panel, wanted=tuple(wanted.tolist()))


def _plain_looks(
    panel: Panel, guard: Guard, belief: NDArray[np.float64], gone: set[str], blown: bool
) -> list[Choice]:  # fmt: skip
    """Looks and questions for which nothing is opened, where one of the plain looks is still to be made: it is first,
    before any cover comes off (common practice), and no circuit is solved for it.
    """
    free = [
        trial for trial in trials(panel.place).values()
        if trial.quantity in ("look", "ask") and not trial.state and trial.name not in gone
        and allowed(guard, panel.place, trial, blown)
    ]  # fmt: skip
    out = [Choice(trial, bits_of(panel, trial, belief), cost_of(guard, trial)) for trial in free]
    plain = {one.trial.name: one.bits for one in out if one.trial.name in PLAIN}
    if not any(bits > (PLAINLY if name == "changed-lately" else HARDLY) for name, bits in plain.items()):
        return []
    return sorted(out, key=lambda one: (one.trial.name not in PLAIN, -one.worth))


def _two_ahead(panel: Panel, guard: Guard, belief: NDArray[np.float64], found: list[Choice]) -> list[Choice]:
    """Each with the best companion among those that need the same first: the same proofs, or the supply on again.

    Together they have to be clearly cheaper than the best one alone; the one that tells more per minute by itself goes
    first. Without a shared way a pair is never worth more than the better of the two, so no other is looked at.
    """
    groups: dict[tuple[str, ...], list[Choice]] = {}
    for one in found:
        if way := _way(guard, one.trial):
            groups.setdefault(way, []).append(one)
    better = {one.trial.name: one for one in found}
    least = CHEAPER * max((one.alone for one in found), default=0.0)
    for group in groups.values():
        best = sorted(group, key=lambda one: -one.alone)[:LOOKED_AT]
        for first, second in combinations(best, 2):
            both = bits_of_both(panel, first.trial, second.trial, belief)
            ahead = both / (first.cost + second.trial.minutes * (1 + second.trial.risk))
            if ahead > max(least, better[first.trial.name].worth):
                better[first.trial.name] = replace(first, ahead=ahead, then=second.trial.name)
    return list(better.values())


def _way(guard: Guard, trial: Trial) -> tuple[str, ...]:
    """What must be done before it."""
    state = trial.circuit
    if state is not None and state.live and guard.off:
        return ("supply on",)
    return tuple(proofs_needed(guard, trial))


def _favour(order: str, trial: Trial) -> float:
    """The walking order as a factor; the most telling one has none."""
    if order == "motor-to-supply":
        rank = PLACES[order].index(trial.where) if trial.where in PLACES[order] else 4
        return math.pow(2.0, 4 - rank)
    for rank, word in enumerate(PLACES.get(order, ())):
        if word in trial.name:
            return math.pow(2.0, 4 - min(rank, 4))
    return 1.0
