"""Ohm readings against every layout of a scheme: which fit, with what misfit and scale."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.leads.layouts import expected, layouts, pair_index, part_of

Array = NDArray[np.float64]
CONTACT = 0.01
OPEN_ABOVE_OHM = 1000.0
WINDINGS_APART = 1.05
MOST_STEPS = 50


class Path(StrEnum):
    """What a reading between two leads shows."""

    OPEN = "open"
    CLOSED = "closed"
    VALUE = "value"


@dataclass(frozen=True, slots=True)
class OhmReading:
    """Between two leads (their numbers): open, a path of unknown ohms (beep), or a value with its half-width.

    share: part of the value that contacts and gain explain beside it, 1 % unless the instrument says otherwise.
    """

    first: int
    second: int
    path: Path
    ohm: float = 0.0
    half_width: float = 0.0
    share: float = CONTACT

    @property
    def width(self) -> float:
        """What meter and contacts explain. Ω (computed)."""
        return self.half_width + self.share * self.ohm


@dataclass(frozen=True, slots=True)
class Fits:
    """Layouts of a scheme that fit: their numbers, the worst reading's misfit, and ohms of a half-coil by part: the
    likeliest (`scale`), and the least and greatest that the meter can mean (`least`, `greatest`).
    """

    scheme: str
    numbers: NDArray[np.intp]
    misfit: Array
    scale: Array
    least: Array
    greatest: Array

    @property
    def best(self) -> float:
        """Least misfit; inf where nothing fits. In parts of what the meter explains (computed)."""
        return float(self.misfit.min()) if self.misfit.size else np.inf

    def kept(self, mask: NDArray[np.bool_]) -> Fits:
        """Those of the mask. No unit of their own (computed)."""
        ends = (self.least[mask], self.greatest[mask])
        return Fits(self.scheme, self.numbers[mask], self.misfit[mask], self.scale[mask], *ends)


def fit_layouts(scheme: str, readings: Sequence[OhmReading], most: float = 1.0) -> Fits:
    """Layouts whose worst misfit is at most `most`, each with its own free scale (two windings: two scales).

    Readings in Ω; misfits in parts of what the meter explains (computed).
    """
    table = layouts(scheme)
    count = table.shape[1]
    columns = _columns(readings, count)
    ohms = expected(scheme)
    keep = np.ones(len(table), dtype=bool)
    for reading, column in zip(readings, columns, strict=True):
        keep &= np.isinf(ohms[:, column]) if reading.path is Path.OPEN else np.isfinite(ohms[:, column])
    numbers = np.flatnonzero(keep)
    values = [(r, c) for r, c in zip(readings, columns, strict=True) if r.path is Path.VALUE]
    if not values or not numbers.size:
        unread = np.full((numbers.size, 2), np.nan)
        return Fits(scheme, numbers, np.zeros(numbers.size), unread, unread, unread)
    e = ohms[numbers][:, np.array([c for _, c in values])]
    a = np.array([r.ohm for r, _ in values]) / e
    b = np.array([r.width for r, _ in values]) / e
    parts = part_of(scheme)[table[numbers][:, np.array([r.first for r, _ in values])]]
    misfit, *scales = _misfit(a, b, parts, most)
    fits = Fits(scheme, numbers, misfit, *scales)
    return fits.kept(misfit <= most)


def _columns(readings: Sequence[OhmReading], count: int) -> list[int]:
    first, second = pair_index(count)
    number = {(int(i), int(j)): n for n, (i, j) in enumerate(zip(first, second, strict=True))}
    return [number[min(r.first, r.second), max(r.first, r.second)] for r in readings]


def _misfit(a: Array, b: Array, parts: NDArray[np.int8], most: float) -> tuple[Array, Array, Array, Array]:
    """Least worst misfit over the free scales, the scales, and the least and greatest each can be.

    a: ohms by expected, b: their widths likewise, (layouts, readings).
    """
    worst = np.zeros(len(a))
    scale = np.full((len(a), 2), np.nan)
    least, greatest = np.full((len(a), 2), np.nan), np.full((len(a), 2), np.nan)
    for part in (0, 1):
        mine = parts == part
        if not mine.any():
            continue
        low = np.where(mine, a - most * b, -np.inf).max(axis=1)
        high = np.where(mine, a + most * b, np.inf).min(axis=1)
        possible = low <= high
        exact = np.full(len(a), np.inf)
        rows = np.flatnonzero(possible if most < np.inf else np.ones(len(a), dtype=bool))
        exact[rows] = spread(a[rows], b[rows], mine[rows])
        worst = np.maximum(worst, exact)
        some = mine.any(axis=1)
        ends = np.where(mine[some], a[some], -np.inf).max(axis=1), np.where(mine[some], a[some], np.inf).min(axis=1)
        scale[some, part] = (ends[0] + ends[1]) / 2
        bounds = np.where(mine, a - b, -np.inf).max(axis=1), np.where(mine, a + b, np.inf).min(axis=1)
        least[some, part] = np.maximum(np.minimum(*bounds), 1e-9)[some]
        greatest[some, part] = np.maximum(*bounds)[some]
    # alike for sure: even the ends of what the meter can mean lie closer than two windings do
    alike = np.maximum(greatest[:, 0] / least[:, 1], greatest[:, 1] / least[:, 0]) < WINDINGS_APART
    worst = np.where(alike, np.maximum(worst, 1.5 + most), worst)
    return worst, scale, least, greatest


def spread(ratio: Array, width: Array, mine: NDArray[np.bool_]) -> Array:
    """Max over two readings of (ratio_i - ratio_j) / (width_i + width_j), along the last axis and among those that
    are `mine`: the misfit no common scale can go below; 0 where none is. Of any shape, Ω in ratios (computed).

    By steps that end at the greatest quotient (fractional programming; Dinkelbach's, from memory): each asks which two
    readings lie furthest apart with their widths taken off at the quotient so far.
    """
    worst = np.zeros(ratio.shape[:-1])
    if not ratio.size:
        return worst
    high, low = np.where(mine, ratio, -np.inf), np.where(mine, ratio, np.inf)
    for _ in range(MOST_STEPS):
        apart = worst[..., None] * width
        ends = [np.argmax(high - apart, axis=-1)[..., None], np.argmin(low + apart, axis=-1)[..., None]]
        top, bottom = (np.take_along_axis(ratio, at, -1)[..., 0] for at in ends)
        room = sum(np.take_along_axis(width, at, -1)[..., 0] for at in ends)
        further = np.where(mine.any(axis=-1), (top - bottom) / np.maximum(room, 1e-12), 0.0)
        if not (further > worst).any():
            break
        worst = np.maximum(worst, further)
    return worst


def broken_by(scheme: str, readings: Sequence[OhmReading]) -> tuple[OhmReading, ...]:
    """The readings that the nearest layout of a sound scheme doesn't explain: paths first, then ohms off the rest."""
    table, ohms = layouts(scheme), expected(scheme)
    columns = np.array(_columns(readings, table.shape[1]))
    closed = np.isfinite(ohms[:, columns])
    is_open = np.array([r.path is Path.OPEN for r in readings])
    wrong = closed == is_open[None, :]
    nearest = int(np.argmin(wrong.sum(axis=1)))
    row, part = ohms[nearest][columns], part_of(scheme)[table[nearest]]
    ratios = {
        i: r.ohm / row[i]
        for i, r in enumerate(readings)
        if r.path is Path.VALUE and not wrong[nearest, i] and row[i] > 0
    }
    usual = {
        p: float(np.median([a for i, a in ratios.items() if part[readings[i].first] == p]))
        for p in {int(part[readings[i].first]) for i in ratios}
    }
    off = [
        i for i, a in ratios.items() if abs(a - usual[int(part[readings[i].first])]) * row[i] > 2 * readings[i].width
    ]
    return tuple(readings[i] for i in [*np.flatnonzero(wrong[nearest]), *off])
