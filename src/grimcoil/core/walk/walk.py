"""A walk: entries in, what each suspect is worth, where to measure next, and its end.

Belief is the odds by the symptom times what all entries say together of each variant of a suspect (Bayes in
logarithms), summed over its variants: readings that agree never push the right one down. Entries weigh the same in
whatever order they come; between them only resets, liftings and repairs change the circuit.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import chain

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.circuit.place import FEEDS, LINES, Place, State
from grimcoil.core.walk.catalogue import STATES, Trial, suspects, trials
from grimcoil.core.walk.choose import Choice, choices
from grimcoil.core.walk.ending import End, Left, Standing, condemned, end_of, handed_over
from grimcoil.core.walk.entries import MISFIT, Entry, Fold, Said, Twice, folded
from grimcoil.core.walk.faults import Suspect, priors
from grimcoil.core.walk.history import NO_PAST, Past, runs_even
from grimcoil.core.walk.panel import Panel, expected, rests_on_feed
from grimcoil.core.walk.safety import PAIRS, Guard, allowed, proofs_needed
from grimcoil.core.walk.standing import repaired, standings_of

BLOWN = 0.25  # of belief that something is open that tripped or blew: then nothing is closed before it is shown clear
PROVE_DEAD = Trial(
    "prove-dead", "prove-dead", "panel", "two-pole tester", "cold", 4.0, "nothing dead is touched before it",
    question="Isolate and lock. Prove the tester, test each point, prove the tester again. Is it dead?",
    caution="Stored charge and back-feed can hurt: two-pole tester, proved before and after.",
    usual={"dead": 0.97, "live": 0.03},
)  # fmt: skip
FED_BY = "control-supply-ask"
CLEARING = frozenset({"ohms-overload-out", "insulation-load-earth", "ohms-load-earth"})


@dataclass(frozen=True, slots=True)
class Next:
    """The next test, with where it must be proved dead first folded in: then it is that proof."""

    trial: Trial
    where: str
    state: State


@dataclass(frozen=True, slots=True)
class Walk:
    """The whole of it."""

    place: Place
    symptom: str
    standings: tuple[Standing, ...]
    next: Next | None
    others: tuple[Choice, ...]
    end: End | None
    hand_over: tuple[Standing, ...]
    contradictions: tuple[str, ...]
    unproved: tuple[int, ...]
    guard: Guard
    mended: tuple[tuple[str, str | None], ...]
    misfit: bool
    left_unclear: bool  # what would show the load side clear was skipped: nothing is closed
    twice: tuple[Twice, ...] = ()
    plain: Mapping[str, str] = field(default_factory=dict)  # each entry's words as the trade says them
    device: str = ""  # the contact of the control chain that is open, where a verdict says that one is
    because: str = ""  # what the believed circuit would show instead of the first contradiction
    electronics: bool = False  # insulation was read into electronics, or where its maker forbids it
    past: Past = NO_PAST
    runs: bool = False  # even running amps, not over the plate's, were the last that was read running


def walk(place: Place, symptom: str, order: str, entries: Sequence[Entry], past: Past = NO_PAST) -> Walk:
    """Where a walk stands, with what was found here before. Raises RecordRefusal where an entry tells of something
    dangerous.
    """
    place = _as_told(place, entries)
    fold = folded(place, symptom, entries)
    shares = _posterior(fold, past)
    panel = fold.panel
    belief = np.bincount(panel.owner, weights=shares, minlength=len(panel.suspects)).astype(np.float64)
    standings = standings_of(fold, belief, shares)
    kept = np.array([0.0 if one.state == "cleared" else one.belief for one in standings])
    kept = kept / kept.sum() if kept.sum() > 0 else belief
    standings = [replace(one, belief=float(share)) for one, share in zip(standings, kept, strict=True)]
    contradictions, misfit = _contradictions(fold.said, shares)
    blown = float(shares[_left_open(panel)].sum()) > BLOWN or _of(panel.suspects, kept, {"fuse-blown"}) > BLOWN
    stop = bool(fold.guard.unproved) or fold.guard.found_live
    done = fold.done - {one.trial for one in fold.twice}
    ranked = [] if stop else choices(panel, fold.guard, shares, done, order, blown)
    held_back = (fold.guard.tripped or blown) and not fold.guard.clear(place)
    left = Left(ranked, held_back, bool(fold.skipped))
    end = None if misfit or stop or not fold.said or fold.twice else end_of(standings, left)
    wanted = None if end is None else _wanted(fold, end, blown)
    if end is not None and wanted is None:
        standings = [condemned(one, end) for one in standings]
    else:
        end = None
    following = None if end is not None else _next(fold, ranked, held_back, wanted)
    hand_over = tuple(handed_over(standings)) if end is None else ()
    return Walk(
        place, symptom, tuple(standings), following, tuple(ranked[1:4]), end, hand_over, contradictions,
        fold.guard.unproved, fold.guard, tuple(fold.mended), misfit,
        held_back and bool(fold.skipped & CLEARING), tuple(fold.twice),
        {one.words: one.plain for one in fold.said if one.plain}, _device(fold, shares, end),
        _because(fold, contradictions, shares), fold.electronics, past, runs_even(entries, place.amps),
    )  # fmt: skip


def _as_told(place: Place, entries: Sequence[Entry]) -> Place:
    """With what was answered of the control supply, where nothing on record says it."""
    answers = [one.answer for one in entries if one.trial is not None and one.trial.name == FED_BY]
    if not answers or not place.feeds:
        return place
    if answers[-1] == "separate":
        return replace(place, control="separate", feeds=())
    return place if answers[-1] == "unknown" else replace(place, feeds=FEEDS[:3])


def _left_open(panel: Panel) -> NDArray[np.bool_]:
    """Of each variant, whether fuses or the breaker are open."""
    return np.array([one.left == "guard" and one.shut is not None for one in panel.variants()[:-1]])


def _posterior(fold: Fold, past: Past) -> NDArray[np.float64]:
    """Belief over all variants: prior odds, what the past says, shares within a suspect, and every entry."""
    panel = fold.panel
    odds = np.array(priors(fold.place, panel.suspects, fold.symptom))
    logs = panel.of_variants(odds + np.log([past.weight(one) for one in panel.suspects])) + np.log(panel.weights)
    for said in fold.said:
        logs = logs + np.log(np.maximum(said.rows[:-1], 1e-6))
    gone = panel.of_variants(np.array([repaired(one, fold) for one in panel.suspects]).astype(float)) > 0
    logs = np.where(gone, -np.inf, logs)
    if np.all(np.isinf(logs)):
        return np.ones(len(logs)) / len(logs)
    shares = np.exp(logs - logs.max())
    return np.asarray(shares / shares.sum())


def _contradictions(said: Sequence[Said], shares: NDArray[np.float64]) -> tuple[tuple[str, ...], bool]:
    """Entries that don't fit what is believed by all the others together; and whether nothing fits at all."""
    out = [one.words for one in said if not one.old and float(one.rows[:-1] @ shares) < MISFIT * float(one.rows.max())]
    nothing = [one.words for one in said if not one.old and float(one.rows.max()) < MISFIT]
    return tuple(dict.fromkeys([*out, *nothing])), bool(nothing)


def _device(fold: Fold, shares: NDArray[np.float64], end: End | None) -> str:
    """Which device of the chain is open, by the readings; empty where they don't tell two of them apart."""
    if end is None or end.suspect.name != "control-chain-open":
        return ""
    panel = fold.panel
    mine = panel.owner == panel.suspects.index(end.suspect)
    if shares[mine].max() < 0.8 * shares[mine].sum():
        return ""
    variant = panel.variants()[int(np.where(mine, shares, -1.0).argmax())]
    k = variant.control.open_at
    return "" if k is None else f"“{fold.place.chain[k]}” (chain-{k + 1})"


def _because(fold: Fold, contradictions: Sequence[str], shares: NDArray[np.float64]) -> str:
    """What would be read instead, with what is believed most; empty where nothing of a meter contradicts."""
    said = next((one for one in fold.said if one.words in contradictions[:1]), None)
    if said is None or said.entry is None or said.entry.measured is None:
        return ""
    top = int(shares.argmax())
    kind = said.panel.suspects[int(said.panel.owner[top])].kind
    measured = said.entry.measured
    shown = [float(expected(said.panel, measured.quantity, measured.state, a, b)[top]) for a, b, _ in measured.readings]
    unit = UNITS[measured.quantity]
    figures = ", ".join("open" if unit == "Ω" and value > OPEN_OHM else f"{value:.3g} {unit}" for value in shown)
    return f" {kind.text}: then it would read {figures}."


UNITS = {"volts-ac": "V", "volts-ac-high-z": "V", "volts-across": "V", "ohms": "Ω", "insulation": "Ω", "amps": "A"}
OPEN_OHM = 4e6


def _of(line: Sequence[Suspect], belief: NDArray[np.float64], names: set[str]) -> float:
    return float(sum(share for one, share in zip(line, belief, strict=True) if one.name in names))


def _wanted(fold: Fold, end: End, blown: bool) -> Trial | None:
    """What must be read before this end stands: the first test of a group of which none was made, where it may be."""
    known = trials(fold.place)
    for group in end.suspect.kind.before:
        here = [known[name] for name in group if name in known]
        may = [trial for trial in here if allowed(fold.guard, fold.place, trial, blown)]
        if may and not any(trial.name in fold.done for trial in here):
            return may[0]
    return None


def _next(fold: Fold, ranked: Sequence[Choice], held_back: bool, wanted: Trial | None) -> Next | None:
    guard, place = fold.guard, fold.place
    if guard.unproved or guard.found_live:
        return Next(PROVE_DEAD, "panel" if "panel" not in guard.proved else "motor-box", STATES["cold"])
    known = trials(place)
    best = wanted or (ranked[0].trial if ranked else None)
    again = next((known[one.trial] for one in fold.twice if one.trial in known), None)
    if again is not None and allowed(guard, place, again, blown=held_back):
        best = again
    elif (
        "overload-reset" in known and "overload-reset" not in fold.done and _resets_first(guard, place, best, held_back)
    ):
        best = known["overload-reset"]
    elif fold.start_asked and "contactor-did" not in fold.done:
        best = known["contactor-did"]
    elif held_back and (best is None or best.quantity not in ("look", "ask")):
        clearing = _clearing(guard, place, fold.skipped)
        best = clearing if clearing is not None else best
    if best is None:
        return None
    if place.feeds and FED_BY not in fold.done and any(map(rests_on_feed, chain(*best.between))):
        best = known[FED_BY]
    needed = proofs_needed(guard, best)
    if needed:
        return Next(PROVE_DEAD, needed[0], STATES["cold"])
    return Next(best, best.where, best.circuit or State(supply="off" if guard.off else "on"))


def _resets_first(guard: Guard, place: Place, best: Trial | None, held_back: bool) -> bool:
    """A tripped overload keeps all behind it out: its one reset comes before anything but looks and questions."""
    plain = best is not None and best.quantity in ("look", "ask")
    return guard.overload_tripped and not plain and allowed(
        guard, place, trials(place)["overload-reset"], blown=held_back
    )  # fmt: skip


def _clearing(guard: Guard, place: Place, skipped: set[str]) -> Trial | None:
    """What is still to be shown of the load side before anything is closed; nothing where that can't be done here."""
    known = trials(place)
    if len(guard.pairs) < len(PAIRS):
        wanted = known["ohms-overload-out"]
    elif len(guard.earth) < len(LINES):
        wanted = known.get("insulation-load-earth") or known["ohms-load-earth"]
    else:
        return None
    return None if wanted.name in skipped else wanted


def known_suspects() -> frozenset[str]:
    """Names of every suspect."""
    return frozenset(suspects())
