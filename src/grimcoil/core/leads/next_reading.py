"""Which reading splits what is left best: a pair for ohms, then a coupling test."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import permutations

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.leads.coupling import COUPLINGS, SILENT, Coupling, ratio
from grimcoil.core.leads.layouts import expected, layouts, pair_index, value_classes
from grimcoil.core.leads.markings import has_axes
from grimcoil.core.leads.ohms import Fits

Array = NDArray[np.float64]
STEP = 0.06
MOST_MARKINGS = 96
MOST_TESTS = 60
USUAL_COUPLING = int(np.argmin(np.abs(COUPLINGS - 0.86)))
VOLTS_STEP = 0.3
WORTH = 1e-6
OPEN, CLOSED = -100_000, 100_000


@dataclass(frozen=True, slots=True)
class NextTest:
    """A reading to take. test: `ohms`, `excite`, `joined`, `series` or `kick`; leads by number; bits it tells on
    average.
    """

    test: str
    between: tuple[int, ...] = ()
    source: tuple[int, ...] = ()
    across: tuple[int, ...] = ()
    joined: tuple[int, ...] = ()
    bits: float = 0.0


def best_pair(fits: Sequence[Fits], count: int, asked: Iterable[tuple[int, int]]) -> NextTest | None:
    """The pair whose reading tells most on average over the layouts left, each scheme as likely as the next."""
    first, second = pair_index(count)
    done = {(min(pair), max(pair)) for pair in asked}
    left = [n for n, pair in enumerate(zip(first.tolist(), second.tolist(), strict=True)) if pair not in done]
    alive = [fit for fit in fits if fit.numbers.size]
    if not left or not alive or (len(alive) == 1 and alive[0].numbers.size == 1):
        return None
    shares: dict[int, Array] = {}
    for fit in alive:
        for outcome, share in _outcomes(fit, np.array(left)):
            shares[outcome] = shares.get(outcome, np.zeros(len(left))) + share / len(alive)
    table = np.array(list(shares.values()))
    bits = -(table * np.log2(np.where(table > 0, table, 1.0))).sum(axis=0)
    best = int(np.argmax(bits))
    if bits[best] < WORTH:
        return None
    pair = (int(first[left[best]]), int(second[left[best]]))
    return NextTest("ohms", between=pair, bits=float(bits[best]))


def _outcomes(fit: Fits, left: NDArray[np.intp]) -> Iterable[tuple[int, Array]]:
    """What the meter would show, as a class, and its share of the layouts for each pair left.

    Classes: open, closed where the scale isn't known yet, else steps of 6 %.
    """
    values, classes = value_classes(fit.scheme)
    seen = classes[fit.numbers][:, left]
    scale = _scale(fit)
    for number, value in enumerate(values.tolist()):
        share = np.asarray((seen == number).mean(axis=0))
        if np.isinf(value):
            yield OPEN, share
        else:
            yield CLOSED if scale is None else round(np.log(value * scale) / STEP), share


def _scale(fit: Fits) -> float | None:
    known = fit.scale[fit.scale > 0]
    return float(np.median(known)) if known.size else None


def _bits(outcomes: NDArray[np.int64], weights: Array) -> float:
    """Entropy of the outcome."""
    if (outcomes == outcomes[0]).all():
        return 0.0
    _, group = np.unique(outcomes, return_inverse=True)
    shares = np.bincount(group.reshape(-1), weights)
    shares = shares[shares > 0] / shares.sum()
    return float(-(shares * np.log2(shares)).sum())


def best_coupling(scheme: str, layout: int, marked: NDArray[np.int8], made: Sequence[Coupling] = ()) -> NextTest | None:
    """The coupling test not yet made that splits the markings left best; marked: (markings, n) labels by lead.

    Shares, no unit (computed).
    """
    if not has_axes(scheme) or len(marked) < 2:
        return None
    some = marked[:: max(1, len(marked) // MOST_MARKINGS)]
    best: NextTest | None = None
    done = {_kind(test.source, test.across, test.joined, test.volts is None) for test in made}
    fresh = [
        test
        for test in _tests(scheme, layout)
        if _kind(test.source, test.across, test.joined, test.test == "kick") not in done
    ]
    for test in fresh[:MOST_TESTS]:
        bits = _bits(_voltages(scheme, test, some), np.full(len(some), 1 / len(some)))
        if best is None or bits > best.bits + 1e-3:
            best = NextTest(test.test, (), test.source, test.across, test.joined, bits)
    return best if best is not None and best.bits > WORTH else None


def _tests(scheme: str, layout: int) -> Iterable[NextTest]:
    """Tests of two coils that lie apart: excite, joined, kick; each pair's leads in order."""
    labels = layouts(scheme)[layout]
    first, second = pair_index(len(labels))
    ohms = expected(scheme)[layout]
    closed = [(int(i), int(j)) for i, j, ohm in zip(first, second, ohms, strict=True) if np.isfinite(ohm)]
    apart = [(p, q) for p, q in permutations(closed, 2) if not _touch(p, q, closed)]
    yield from (NextTest("excite", source=p, across=q) for p, q in apart)
    yield from (NextTest("joined", source=p, across=(p[0], q[1]), joined=(p[1], q[0])) for p, q in apart)
    yield from (NextTest("kick", source=p, across=q) for p, q in apart)


def _kind(
    source: Sequence[int], across: Sequence[int], joined: Sequence[int], kick: bool
) -> tuple[frozenset[int], frozenset[int], frozenset[int], bool]:
    """A test without the order of its leads."""
    return frozenset(source), frozenset(across), frozenset(joined), kick


def _touch(p: tuple[int, int], q: tuple[int, int], closed: Sequence[tuple[int, int]]) -> bool:
    return bool(set(p) & set(q)) or any(frozenset((a, b)) in {frozenset(c) for c in closed} for a in p for b in q)


def _voltages(scheme: str, test: NextTest, marked: NDArray[np.int8]) -> NDArray[np.int64]:
    """What the meter would show at a usual coupling, in coarse steps; a kick only tells its direction."""
    leads = [*test.source, *test.across, *test.joined]
    images, inverse = np.unique(marked[:, leads], axis=0, return_inverse=True)
    out = []
    for image in images.tolist():
        shares = ratio(scheme, tuple(image[:2]), tuple(image[2:4]), tuple(sorted(image[4:])))
        if shares is None:
            out.append(-1)
        elif test.test == "kick":
            value = shares[USUAL_COUPLING]
            out.append(0 if abs(value) <= SILENT else 1 if value > 0 else 2)
        else:
            out.append(round(abs(shares[USUAL_COUPLING]) / VOLTS_STEP))
    return np.array(out, dtype=np.int64)[inverse.reshape(-1)]
