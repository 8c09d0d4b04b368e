"""Where each suspect stands: cleared by what would have shown it, or open, with the entries that moved it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.walk.ending import AGAINST, CLEARED, Standing
from grimcoil.core.walk.entries import Fold, Said
from grimcoil.core.walk.evidence import answered, likelihood
from grimcoil.core.walk.faults import Suspect, line_up
from grimcoil.core.walk.panel import Key

POINTS = 3.0  # times as likely as with nothing wrong


def repaired(suspect: Suspect, fold: Fold) -> bool:
    """Whether this suspect was mended: at its line, or wherever."""
    return (suspect.name, suspect.line) in fold.mended or (suspect.name, None) in fold.mended


def standings_of(fold: Fold, belief: NDArray[np.float64], shares: NDArray[np.float64]) -> list[Standing]:
    """Each suspect: cleared by an entry that would have shown it bad beside what is believed, or still open.

    belief: by suspect; shares: by variant; no unit (computed).
    """
    line = line_up(fold.place)
    unshown = belief < CLEARED
    shown: dict[int, NDArray[np.bool_]] = {}
    for n in sorted(range(len(fold.said)), key=lambda n: _abnormal(fold.said[n])):
        shown[n] = _shown(fold.said[n], shares, unshown)
        unshown &= ~shown[n]
    of_each = [said.panel.by_suspect(said.rows) for said in fold.said]
    typical = [float(said.rows[:-1] @ shares) for said in fold.said]
    out = []
    for i, one in enumerate(line):
        if repaired(one, fold):
            out.append(Standing(one, "cleared", 0.0, ("mended",)))
            continue
        against = [said.words for n, said in enumerate(fold.said) if shown[n][i]]
        if belief[i] < CLEARED and against:
            out.append(Standing(one, "cleared", 0.0, tuple(dict.fromkeys(against))))
            continue
        moved = sorted(
            (n for n in range(len(fold.said)) if of_each[n][i] > 1.5 * typical[n] or belief[i] > 0.5),
            key=lambda n: -_told(of_each[n], i),
        )
        by = tuple(dict.fromkeys(fold.said[n].words for n in moved))
        pointed = any(of_each[n][i] > POINTS * fold.said[n].rows[-1] for n in range(len(fold.said)))
        out.append(Standing(one, "open", float(belief[i]), by, pointed))
    return out


def _told(of_each: NDArray[np.float64], i: int) -> float:
    """How much more an entry fits one suspect than the mean of all others."""
    return float(of_each[i] / max(np.delete(of_each, i).mean(), 1e-6))


def _abnormal(said: Said) -> bool:
    """Whether it tells of a fault: nothing wrong gives it much less than what fits best."""
    return float(said.rows[-1]) < 0.3 * float(said.rows.max())


def _shown(said: Said, shares: NDArray[np.float64], asked: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """For each suspect, whether this entry would have shown it: nothing wrong gives the entry and the suspect doesn't;
    or, where the entry tells of a fault, what is believed gives it, and that with the suspect besides doesn't.

    asked: the suspects of which it isn't known yet.
    """
    rows = said.rows
    sound, best = float(rows[-1]), float(rows.max())
    if not _abnormal(said):
        return np.asarray(said.panel.by_suspect(rows) <= AGAINST * sound)
    top = int(shares.argmax())
    nothing = np.zeros(len(said.panel.suspects), dtype=bool)
    if shares[top] < 0.3 or rows[top] < 0.3 * best or said.entry is None or not asked.any():
        return nothing
    owner = int(said.panel.owner[top])
    suspect = said.panel.suspects[owner]
    number = top - int(np.searchsorted(said.panel.owner, owner))
    besides: tuple[tuple[Key, int], ...] = (*said.panel.besides, (suspect.key, number))
    wanted = (*asked[said.panel.owner].tolist(), True)
    both = replace(said.panel, besides=besides, wanted=wanted)
    entry = said.entry
    if entry.measured is not None:
        beside = likelihood(both, entry.measured)
    elif entry.trial is not None and entry.trial.model == "contactor":
        beside = answered(both, entry.trial, entry.answer)
    else:
        return nothing
    return np.asarray(asked & (both.by_suspect(beside) <= AGAINST * float(rows[top])))
