"""A walk: entries in, what each suspect is worth, where to measure next, and its end.

Belief is the odds by the symptom times what every entry says (Bayes in logarithms). Entries weigh the same in whatever
order they come; between them only resets, liftings and repairs change the circuit.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.circuit.place import LINES, Place, State
from grimcoil.core.walk.catalogue import STATES, Trial, suspects, trials
from grimcoil.core.walk.choose import Choice, choices
from grimcoil.core.walk.ending import AGAINST, CLEARED, End, Left, Standing, condemned, end_of, handed_over
from grimcoil.core.walk.evidence import Measured, Panel, answered, likelihood, pulls_in
from grimcoil.core.walk.faults import Suspect, line_up, priors
from grimcoil.core.walk.safety import (
    PAIRS,
    Guard,
    after_answer,
    after_measuring,
    begun,
    mended,
    proofs_needed,
    read_elsewhere,
    refuse_danger,
)

MISFIT = 0.08
STAYED = frozenset({"at-once", "after-cooling"})  # what an overload did that could be reset
PROVE_DEAD = Trial(
    "prove-dead", "prove-dead", "panel", "two-pole tester", "cold", 4.0, "nothing dead is touched before it",
    question="Isolate, lock, prove the tester, the points, the tester again: dead?",
    caution="Stored charge and back-feed can hurt: two-pole tester, proved before and after.",
    usual={"dead": 0.97, "live": 0.03},
)  # fmt: skip
CONTROL = ("control-", "chain-", "coil-")
CLEARING = frozenset({"ohms-overload-out", "insulation-load-earth", "ohms-load-earth"})


@dataclass(frozen=True, slots=True)
class Entry:
    """One line of what was done: a test with its answer, what was measured, or both; or a skip, or a repair.

    told: the entry itself says in which state the circuit was; elsewhere: read in a job, under that job's own proof.
    """

    trial: Trial | None = None
    answer: str = ""
    where: str = "panel"
    measured: Measured | None = None
    skip: str = ""
    mended: tuple[str, str | None] | None = None
    path: str = ""
    told: bool = False
    elsewhere: bool = False


@dataclass(frozen=True, slots=True)
class Said:
    """What one entry says: its words, and its likelihood for each suspect."""

    words: str
    weight: NDArray[np.float64]
    number: int


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


@dataclass(frozen=True, slots=True)
class _Fold:
    guard: Guard
    said: tuple[Said, ...]
    done: frozenset[str]
    skipped: frozenset[str]
    mended: tuple[tuple[str, str | None, int], ...]
    reset: bool


def walk(place: Place, symptom: str, order: str, entries: Sequence[Entry]) -> Walk:
    """Where a walk stands. Raises RecordRefusal where an entry tells of something dangerous."""
    fold = _folded(place, symptom, entries)
    line = line_up(place)
    repaired = {(name, line_of) for name, line_of, _ in fold.mended}
    belief = _belief(place, symptom, fold, repaired)
    weights = np.array([said.weight for said in fold.said]) if fold.said else np.ones((0, len(line)))
    standings = [_standing(line, i, belief, weights, fold.said, repaired) for i in range(len(line))]
    kept = np.array([0.0 if one.state == "cleared" else one.belief for one in standings])
    kept = kept / kept.sum() if kept.sum() > 0 else belief
    standings = [replace(one, belief=float(share)) for one, share in zip(standings, kept, strict=True)]
    contradictions, misfit = _contradictions(fold.said, kept)
    blown = _of(line, kept, {"fuse-blown", "breaker-tripped"}) > 0.25
    panel = Panel(place, (), fold.reset)
    stop = fold.guard.unproved or fold.guard.found_live
    ranked = [] if stop else choices(panel, fold.guard, kept, fold.done, order, blown)
    held_back = (fold.guard.tripped or blown) and not fold.guard.clear(place)
    left = Left(ranked, held_back, bool(fold.skipped))
    end = None if misfit or stop or not fold.said else end_of(standings, left)
    if end is not None:
        standings = [condemned(one, end) for one in standings]
    following = None if end is not None else _next(fold, ranked, held_back, place)
    hand_over = tuple(handed_over(standings)) if end is None else ()
    return Walk(
        place, symptom, tuple(standings), following, tuple(ranked[1:4]), end, hand_over, contradictions,
        fold.guard.unproved, fold.guard, tuple((name, at) for name, at, _ in fold.mended), misfit,
        held_back and bool(fold.skipped & CLEARING),
    )  # fmt: skip


def _folded(place: Place, symptom: str, entries: Sequence[Entry]) -> _Fold:  # noqa: C901 - each kind of entry
    guard, said = begun(symptom), list[Said]()
    done: set[str] = set()
    skipped: set[str] = set()
    repairs: list[tuple[str, str | None, int]] = []
    came_in: set[str] = set()
    reset = False
    read: dict[tuple[str, State], set[frozenset[str]]] = {}
    for number, entry in enumerate(entries):
        if entry.mended is not None:
            guard = mended(guard, entry.mended[0])
            repairs.append((*entry.mended, number))
            done, came_in, reset, read = set(), set(), False, {}
            continue
        if entry.skip:
            done.add(entry.skip)
            skipped.add(entry.skip)
            continue
        state = entry.measured.state if entry.measured else (entry.trial.circuit if entry.trial else None)
        if state is not None and not (entry.trial is not None and entry.trial.name == "prove-dead"):
            refuse_danger(place, entry.path, entry.trial, entry.measured, state)
        panel = Panel(place, _later(place, entries, number), reset)
        said += _said(panel, entry, number, came_in)
        if entry.measured is not None:
            said += _below_setting(panel, symptom, entry.measured, number)
        if entry.measured is not None:
            after = after_measuring(guard, place, number, entry.measured)
            guard = read_elsewhere(guard, after) if entry.elsewhere else after
        elif entry.trial is not None:
            guard = after_answer(guard, number, entry.trial, entry.answer, entry.where)
        if entry.measured is not None:
            done |= _made(place, entry.measured, read)
        if entry.trial is not None and entry.trial.name != "prove-dead":
            done.add(entry.trial.name)
            if (now := _resets(entry.trial, entry.answer)) is not None:
                reset, came_in, read = now, set(), {}
                done -= {"overload-look"} if entry.trial.name == "overload-reset" else set()
    return _Fold(guard, tuple(said), frozenset(done), frozenset(skipped), tuple(repairs), reset)


def _made(place: Place, measured: Measured, read: dict[tuple[str, State], set[frozenset[str]]]) -> set[str]:
    """Tests that the readings make by now, whoever named them: all their points were read in their state."""
    state = measured.state if place.disconnect == "local" else replace(measured.state, local="closed")
    known = read.setdefault((measured.quantity, state), set())
    known |= {_points(state, a, b) for a, b, _ in measured.readings}
    return {
        trial.name
        for trial in trials(place).values()
        if (trial.quantity, trial.circuit) == (measured.quantity, state)
        and known >= {_points(state, *pair) for pair in _asked(trial)}
    }


def _asked(trial: Trial) -> Sequence[tuple[str, ...]]:
    """The readings of a test by their points; amps by line."""
    return [(f"L{line}",) for line in LINES] if trial.quantity == "amps" else trial.between


def _points(state: State, a: str, b: str = "") -> frozenset[str]:
    """Points of a reading as a set, each by one name: the cable's end is the overload's until it is lifted there."""
    if state.motor == "lifted-at-starter":
        return frozenset((a, b))
    return frozenset((a.replace("cable-T", "overload-T"), b.replace("cable-T", "overload-T")))


def _resets(trial: Trial, answer: str) -> bool | None:
    """Whether an overload stays in from here on; None where nothing is said of it."""
    if trial.name == "overload-reset":
        return answer in STAYED
    return False if (trial.name, answer) == ("overload-look", "tripped") else None


def _later(place: Place, entries: Sequence[Entry], number: int) -> tuple[tuple[str, str | None, str], ...]:
    """Faults that were still there at an entry: those mended afterwards."""
    gone = {entry.mended for entry in entries[number:] if entry.mended is not None}
    return tuple(one.key for one in line_up(place) if (one.name, one.line) in gone or (one.name, None) in gone)


def _said(panel: Panel, entry: Entry, number: int, came_in: set[str]) -> list[Said]:
    out = []
    if entry.measured is not None:
        words = _words(entry.measured)
        weight = _quick_likelihood(panel, entry.measured)
        out.append(Said(words, weight, number))
        if entry.told or not any(point.startswith(CONTROL) for a, b, _ in entry.measured.readings for point in (a, b)):
            out += _contactor(panel, entry.measured.state, number, came_in)
    elif entry.trial is not None and entry.trial.asks and entry.trial.quantity != "prove-dead":
        words = f"{entry.trial.name}: {entry.answer}"
        if entry.trial.model == "contactor":
            came_in.update(("in", "out"))
        out.append(Said(words, answered(panel, entry.trial, entry.answer), number))
    return out


@lru_cache(maxsize=4096)
def _quick_likelihood(panel: Panel, measured: Measured) -> NDArray[np.float64]:
    return likelihood(panel, measured)


def _contactor(panel: Panel, state: State, number: int, came_in: set[str]) -> list[Said]:
    """A start that was held says whether the contactor came in; a motor that turned says that it can."""
    out = []
    if state.live and state.at in ("start", "run") and state.contactor not in came_in:
        came_in.add(state.contactor)
        share = panel.by_suspect(pulls_in(panel))
        words = f"contactor {state.contactor} with the start held"
        out.append(Said(words, share if state.contactor == "in" else 1 - share, number))
    if state.live and state.at == "run" and "run" not in came_in:
        came_in.add("run")
        turning = [0.15 if panel.start_of(one) in ("hums", "nothing", "blows") else 0.9 for one in panel.suspects]
        out.append(Said("it turns", np.array(turning), number))
    return out


# Trips with a settled current below its setting: the relay or what is round it (rule of the trade without source).
ROUND_THE_RELAY = {
    "overload-faulty": 1.0, "overload-misset": 1.0, "joint-loose": 1.0, "starts-too-many": 1.0,
    "overload-tripped": 0.5,  # by a load that has passed
}  # fmt: skip
EVEN, AT_PLATE = 0.05, 1.02


def _below_setting(panel: Panel, symptom: str, measured: Measured, number: int) -> list[Said]:
    if symptom != "trips-later" or measured.quantity != "amps" or measured.state.at != "run":
        return []
    amps = [reading.amount.value for _, _, reading in measured.readings]
    if len(amps) < 3 or max(amps) > AT_PLATE * panel.place.amps or max(amps) - min(amps) > EVEN * max(amps):
        return []
    weight = np.array([ROUND_THE_RELAY.get(one.name, 0.1) for one in panel.suspects])
    return [Said("it trips with even current at or below the plate", weight, number)]


def _words(measured: Measured) -> str:
    state = measured.state
    parts = [f"{a if not b else f'{a}~{b}'} {reading.text}" for a, b, reading in measured.readings]
    how = "dead" if not state.live else "live"
    lifted = ", motor lifted" if state.motor != "connected" else ""
    at = {"rest": "at rest", "start": "while trying", "run": "running"}[state.at]
    return f"{', '.join(parts)} {at}, {how}{lifted}"


def _belief(place: Place, symptom: str, fold: _Fold, repaired: set[tuple[str, str | None]]) -> NDArray[np.float64]:
    line = line_up(place)
    logs = np.array(priors(place, line, symptom))
    for said in fold.said:
        logs = logs + np.log(np.maximum(said.weight, 1e-6))
    gone = np.array([_repaired(one, repaired) for one in line])
    logs = np.where(gone, -np.inf, logs)
    if np.all(np.isinf(logs)):
        return np.ones(len(line)) / len(line)
    shares = np.exp(logs - logs.max())
    return np.asarray(shares / shares.sum())


def _repaired(suspect: Suspect, repaired: set[tuple[str, str | None]]) -> bool:
    return (suspect.name, suspect.line) in repaired or (suspect.name, None) in repaired


def _standing(
    line: Sequence[Suspect], i: int, belief: NDArray[np.float64], weights: NDArray[np.float64],
    said: Sequence[Said], repaired: set[tuple[str, str | None]],
) -> Standing:  # fmt: skip
    one = line[i]
    if _repaired(one, repaired):
        return Standing(one, "cleared", 0.0, ("mended",))
    best = weights.max(axis=1) if len(weights) else np.ones(0)
    against = [said[n].words for n in range(len(weights)) if weights[n, i] <= AGAINST * best[n]]
    if belief[i] < CLEARED and against:
        return Standing(one, "cleared", 0.0, tuple(dict.fromkeys(against)))
    typical = weights @ belief if len(weights) else np.ones(0)
    moved = [said[n].words for n in range(len(weights)) if weights[n, i] > 1.5 * typical[n] or belief[i] > 0.5]
    return Standing(one, "open", float(belief[i]), tuple(dict.fromkeys(moved)))


def _contradictions(said: Sequence[Said], belief: NDArray[np.float64]) -> tuple[tuple[str, ...], bool]:
    """Entries that don't fit what is believed by all the others together; and whether nothing fits at all."""
    out = [one.words for one in said if float(one.weight @ belief) < MISFIT * float(one.weight.max())]
    nothing = [one.words for one in said if float(one.weight.max()) < MISFIT]
    return tuple(dict.fromkeys([*out, *nothing])), bool(nothing)


def _of(line: Sequence[Suspect], belief: NDArray[np.float64], names: set[str]) -> float:
    return float(sum(share for one, share in zip(line, belief, strict=True) if one.name in names))


def _next(fold: _Fold, ranked: Sequence[Choice], held_back: bool, place: Place) -> Next | None:
    guard = fold.guard
    if guard.unproved or guard.found_live:
        return Next(PROVE_DEAD, "panel" if "panel" not in guard.proved else "motor-box", STATES["cold"])
    best = ranked[0].trial if ranked else None
    if held_back and (best is None or best.quantity not in ("look", "ask")):
        clearing = _clearing(guard, place)
        best = clearing if clearing is not None and clearing.name not in fold.skipped else best
    if best is None:
        return None
    needed = proofs_needed(guard, best)
    if needed:
        return Next(PROVE_DEAD, needed[0], STATES["cold"])
    return Next(best, best.where, best.circuit or State(supply="off" if guard.off else "on"))


def _clearing(guard: Guard, place: Place) -> Trial | None:
    """What is still to be shown of the load side before anything is closed."""
    known = trials(place)
    if len(guard.pairs) < len(PAIRS):
        return known["ohms-overload-out"]
    if len(guard.earth) < len(LINES):
        return known.get("insulation-load-earth") or known["ohms-load-earth"]
    return None


def known_suspects() -> frozenset[str]:
    """Names of every suspect."""
    return frozenset(suspects())
