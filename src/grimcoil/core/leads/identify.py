"""Unmarked leads: from any readings to the schemes that fit, the labels still possible, and the next reading."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.leads.coupling import PLAIN, Coupling, misfits
from grimcoil.core.leads.faults import FaultFound, explain
from grimcoil.core.leads.layouts import expected, layouts, pair_index, part_of, schemes_with
from grimcoil.core.leads.markings import finer, free_choices, free_moves, has_axes, possible_labels
from grimcoil.core.leads.next_reading import NextTest, best_coupling, best_pair
from grimcoil.core.leads.ohms import Fits, OhmReading, Path, broken_by, fit_layouts
from grimcoil.core.leads.sanity import Contradiction, contradictions
from grimcoil.core.stator.coils import merged
from grimcoil.core.stator.schemes import SCHEMES

MOST_MARKED = 120_000
TWO_WINDINGS = "two-speed-two-winding"
NO_SPEED = "which group is the low speed: their ohms don't tell with this meter"


@dataclass(frozen=True, slots=True)
class Puzzle:
    """Leads by name, and what was read between them. again: pairs (numbers) that were read more than once."""

    leads: tuple[str, ...]
    ohms: tuple[OhmReading, ...] = ()
    coupling: tuple[Coupling, ...] = ()
    again: frozenset[frozenset[int]] = frozenset()


@dataclass(frozen=True, slots=True)
class Candidate:
    """A scheme that fits: worst misfit, leads known to belong together, labels still possible by lead, what stays
    free, and the fault it needs. ways: markings left apart from what is free.
    """

    scheme: str
    misfit: float
    groups: tuple[tuple[str, ...], ...]
    markings: Mapping[str, tuple[str, ...]]
    free: tuple[str, ...]
    ways: int
    fault: FaultFound | None = None
    fault_between: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Identification:
    """Candidates, best first; what contradicts; the reading to take next (None: nothing more to be told)."""

    candidates: tuple[Candidate, ...]
    contradictions: tuple[Contradiction, ...]
    next_test: NextTest | None


@dataclass(frozen=True, slots=True)
class _Left:
    """Layouts of a scheme that fit all readings, and, where coupling was judged, the markings of each."""

    fits: Fits
    marked: NDArray[np.int8] | None
    coupling_misfit: float = 0.0


def identify(puzzle: Puzzle) -> Identification:
    """Solve what can be solved. Nothing makes it raise: what can't be is a contradiction with its next step."""
    count = len(puzzle.leads)
    told = contradictions(puzzle.leads, puzzle.ohms)
    left = [_left(fit_layouts(scheme, puzzle.ohms), puzzle.coupling) for scheme in schemes_with(count)]
    alive = [one for one in left if one.fits.numbers.size]
    if alive:
        candidates = [_candidate(one, puzzle.leads) for one in alive]
        unjudged = bool(puzzle.coupling)  # two-speed schemes have no fixed axes to hold coupling against
        candidates.sort(key=lambda c: (unjudged and not has_axes(c.scheme), c.misfit, c.ways))
        return Identification(tuple(candidates), tuple(told), _next(alive, puzzle))
    told += _named(puzzle)
    sound = any(fit_layouts(scheme, puzzle.ohms).numbers.size for scheme in schemes_with(count))
    faulty = [] if sound or any(c.code == "all-zero" for c in told) else explain(count, puzzle.ohms)
    if not sound and not told and puzzle.ohms:
        told.append(_breaks(puzzle))
    left_over = tuple(_faulty(fault, puzzle.leads) for fault in faulty)
    return Identification(left_over, tuple(told), _again(puzzle, left_over, told))


def _breaks(puzzle: Puzzle) -> Contradiction:
    """What no sound scheme gives: the readings that the nearest one doesn't explain."""
    count = len(puzzle.leads)
    nearest = min((broken_by(scheme, puzzle.ohms) for scheme in schemes_with(count)), key=len, default=())
    pairs = [f"{puzzle.leads[r.first]}–{puzzle.leads[r.second]}" for r in nearest]
    shown = ", ".join(pairs[:6]) + (f" and {len(pairs) - 6} more" if len(pairs) > 6 else "")
    names = tuple(dict.fromkeys(puzzle.leads[n] for r in nearest for n in (r.first, r.second)))
    text = (
        f"No sound winding of {count} leads reads so; what breaks the nearest one: {shown or 'their sum'}. Clean the"
        " ends, read these again; if they stay, more than one thing is wrong: look at each coil by itself."
    )
    return Contradiction("breaks-every-scheme", text, names)


def _again(puzzle: Puzzle, candidates: Sequence[Candidate], told: Sequence[Contradiction]) -> NextTest | None:
    """Where nothing sound fits the next reading is one again, each once: at the fault, else where it contradicts."""
    number = {lead: i for i, lead in enumerate(puzzle.leads)}
    ends = [number[lead] for lead in (candidates[0].fault_between if candidates else ()) if lead in number]
    ends += [number[lead] for one in told for lead in one.between if lead in number]
    times = Counter(frozenset((r.first, r.second)) for r in puzzle.ohms)
    once = {pair for pair, count in times.items() if count == 1} - puzzle.again
    read = [(r.first, r.second) for r in puzzle.ohms if frozenset((r.first, r.second)) in once]
    return next(
        (NextTest("ohms", between=pair) for pair in read if set(pair) <= set(ends[:2])),
        next((NextTest("ohms", between=pair) for pair in read if set(pair) & set(ends)), None),
    )


def _left(fits: Fits, tests: Sequence[Coupling]) -> _Left:
    if not tests or not fits.numbers.size:
        return _Left(fits, None)
    fits = fits.kept(_possible(fits, tests))
    if fits.scheme == TWO_WINDINGS:
        fits = fits.kept(_uncoupled(fits, tests))
    if not has_axes(fits.scheme):
        return _Left(fits, None)
    table, fine = layouts(fits.scheme), finer(fits.scheme)
    if fits.numbers.size * len(fine) > MOST_MARKED or not fits.numbers.size:
        return _Left(fits, None)
    marked = fine[:, table[fits.numbers]].reshape(-1, table.shape[1])
    misfit = misfits(tests, fits.scheme, marked)
    good = np.asarray(misfit <= 1)
    by_layout = np.asarray(good.reshape(len(fine), -1).any(axis=0))
    return _Left(fits.kept(by_layout), marked[good], float(misfit[good].min()) if good.any() else 0.0)


def _possible(fits: Fits, tests: Sequence[Coupling]) -> NDArray[np.bool_]:
    """A source pair, and a pair that shows volts, must be closed."""
    first, second = pair_index(layouts(fits.scheme).shape[1])
    number = {(int(i), int(j)): n for n, (i, j) in enumerate(zip(first, second, strict=True))}
    keep = np.ones(fits.numbers.size, dtype=bool)
    for test in tests:
        if test.joined:
            continue
        for pair in (test.source, test.across):
            column = expected(fits.scheme)[fits.numbers, number[min(pair), max(pair)]]
            keep &= np.isfinite(column)
    return keep


def _uncoupled(fits: Fits, tests: Sequence[Coupling]) -> NDArray[np.bool_]:
    """Two windings of different poles don't couple: volts or a kick from one group into another speak against them."""
    part = part_of(fits.scheme)[layouts(fits.scheme)[fits.numbers]]
    keep = np.ones(fits.numbers.size, dtype=bool)
    for test in tests:
        seen = test.up is not None if test.volts is None else test.volts > PLAIN
        if seen and not test.joined:
            keep &= part[:, test.source[0]] == part[:, test.across[0]]
    return keep


def _marked(one: _Left) -> NDArray[np.int8]:
    """Markings left: those that coupling left, or every one of the layouts (of some, where there are many)."""
    if one.marked is not None:
        return one.marked
    table, fine = layouts(one.fits.scheme), finer(one.fits.scheme)
    numbers = one.fits.numbers[: max(1, MOST_MARKED // len(fine))]
    return np.asarray(fine[:, table[numbers]].reshape(-1, table.shape[1]))


def _candidate(one: _Left, leads: Sequence[str]) -> Candidate:
    scheme = one.fits.scheme
    marked = _marked(one)
    labels = SCHEMES[scheme].labels
    marked, moves = _by_speed(one, marked)
    possible = possible_labels(scheme, marked, moves)
    free = [*free_choices(scheme), *([] if scheme != TWO_WINDINGS or _low_part(one.fits) is not None else [NO_SPEED])]
    ways = one.fits.numbers.size * len(finer(scheme))
    return Candidate(
        scheme,
        max(one.fits.best, one.coupling_misfit),
        _groups(one.fits, leads),
        {lead: tuple(labels[n] for n in sorted(numbers)) for lead, numbers in zip(leads, possible, strict=True)},
        tuple(free),
        len(one.marked) if one.marked is not None else ways,
    )


def _by_speed(one: _Left, marked: NDArray[np.int8]) -> tuple[NDArray[np.int8], Sequence[tuple[int, ...]] | None]:
    """Of two windings the one with more ohms is the low speed, once both are read and surely apart: then they can't be
    exchanged. Until then either may be either.
    """
    if one.fits.scheme != TWO_WINDINGS or one.fits.numbers.size != 1:
        return marked, None
    part, low = part_of(one.fits.scheme), _low_part(one.fits)
    exchanged = np.asarray((marked + 3) % 6, dtype=np.int8)
    if low is None:
        marked = np.concatenate([marked, exchanged])
    elif low == 1:
        marked = exchanged
    keep = [move for move in free_moves(one.fits.scheme) if part[move[0]] == part[0]]
    return marked, keep


def _low_part(fits: Fits) -> int | None:
    """Which part has more ohms for sure, whatever the meter's digits leave; None where that can't be said."""
    if fits.numbers.size != 1 or np.isnan(fits.scale).any():
        return None
    return next((one for one in (0, 1) if fits.least[0, one] > fits.greatest[0, 1 - one]), None)


def _groups(fits: Fits, leads: Sequence[str]) -> tuple[tuple[str, ...], ...]:
    """Leads that every layout left has on one another."""
    first, second = pair_index(len(leads))
    closed = np.isfinite(expected(fits.scheme)[fits.numbers]).all(axis=0)
    pairs = [(leads[i], leads[j]) for i, j in zip(first[closed], second[closed], strict=True)]
    node = merged(leads, pairs)
    out: dict[int, list[str]] = {}
    for lead in leads:
        out.setdefault(node[lead], []).append(lead)
    return tuple(tuple(group) for group in out.values() if len(group) > 1)


def _next(alive: Sequence[_Left], puzzle: Puzzle) -> NextTest | None:
    asked = [(r.first, r.second) for r in puzzle.ohms]
    pair = best_pair([one.fits for one in alive], len(puzzle.leads), asked)
    if pair is not None:
        return pair
    best = min(alive, key=lambda one: one.fits.best)
    unseen = _unseen(best.fits, puzzle)
    if unseen is not None:
        return NextTest("ohms", between=unseen)
    return best_coupling(best.fits.scheme, int(best.fits.numbers[0]), _marked(best), puzzle.coupling)


def _unseen(fits: Fits, puzzle: Puzzle) -> tuple[int, int] | None:
    """A pair that should be closed, of a lead no reading has shown closed yet: it may be broken off."""
    seen = {lead for r in puzzle.ohms if r.path is not Path.OPEN for lead in (r.first, r.second)}
    first, second = pair_index(len(puzzle.leads))
    closed = np.flatnonzero(np.isfinite(expected(fits.scheme)[fits.numbers[0]]))
    pairs = [(int(first[n]), int(second[n])) for n in closed if int(first[n]) not in seen or int(second[n]) not in seen]
    return max(pairs, key=lambda pair: len(set(pair) - seen), default=None)


def _named(puzzle: Puzzle) -> list[Contradiction]:
    """The single reading without which something would fit."""
    schemes = schemes_with(len(puzzle.leads))
    out = []
    ohms_fit = any(fit_layouts(scheme, puzzle.ohms).numbers.size for scheme in schemes)
    if not ohms_fit:
        for i, reading in enumerate(puzzle.ohms):
            rest = puzzle.ohms[:i] + puzzle.ohms[i + 1 :]
            if any(fit_layouts(scheme, rest).numbers.size for scheme in schemes):
                pair = (puzzle.leads[reading.first], puzzle.leads[reading.second])
                text = f"Without {pair[0]}–{pair[1]} a sound scheme fits: read that pair again with clean contacts."
                out.append(Contradiction("odd-reading", text, pair))
        return out[:3]
    for i, test in enumerate(puzzle.coupling):
        others = puzzle.coupling[:i] + puzzle.coupling[i + 1 :]
        if any(_left(fit_layouts(scheme, puzzle.ohms), others).fits.numbers.size for scheme in schemes):
            names = tuple(puzzle.leads[n] for n in (*test.source, *test.across))
            text = (
                f"Coupling test {i + 1} ({names[0]}–{names[1]} to {names[2]}–{names[3]}) contradicts the others: repeat"
                " it, with the rotor turned a little."
            )
            out.append(Contradiction("odd-coupling", text, names))
    return out or [
        Contradiction("coupling", "The coupling tests fit no marking: repeat them, the rotor turned a little.")
    ]


def _faulty(fault: FaultFound, leads: Sequence[str]) -> Candidate:
    labels = SCHEMES[fault.scheme].labels
    names = {labels[label]: lead for label, lead in zip(fault.labels, leads, strict=True)}
    return Candidate(
        fault.scheme,
        fault.misfit,
        (),
        {lead: (labels[label],) for label, lead in zip(fault.labels, leads, strict=True)},
        tuple(free_choices(fault.scheme)),
        1,
        fault,
        tuple(names[label] for label in fault.at),
    )
