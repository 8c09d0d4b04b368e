"""When no sound scheme fits: one coil open, one lead broken off, a leak between two leads, or one coil off."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from grimcoil.core.leads.layouts import layouts, schemes_with
from grimcoil.core.leads.ohms import OhmReading, Path, fit_layouts
from grimcoil.core.stator.network import Fault, Matrix, lead_ohms
from grimcoil.core.stator.schemes import SCHEMES

MOST_STEPS = 20_000
NEAREST = 4
FACTORS = np.geomspace(0.4, 2.5, 41)


@dataclass(frozen=True, slots=True)
class FaultFound:
    """A scheme with one fault that fits. kind: `open-coil`, `lead-off`, `leak`, `coil-off`; labels by lead; percent
    of the coil's usual ohms, or the leak's ohms.
    """

    scheme: str
    kind: str
    labels: tuple[int, ...]
    at: tuple[str, ...]
    misfit: float
    size: float | None = None


def explain(count: int, readings: Sequence[OhmReading]) -> list[FaultFound]:
    """Single faults that make the readings fit, best first."""
    found: list[FaultFound] = []
    for scheme in schemes_with(count):
        found += [*_open(scheme, readings), *_leaks(scheme, readings), *_off(scheme, readings)]
    return sorted(found, key=lambda fault: (fault.misfit > 1, fault.misfit))[:NEAREST]


def _worst(ohms: Matrix, labels: Sequence[int], readings: Sequence[OhmReading]) -> float:
    """Misfit of a labelled, faulty scheme with a free scale; inf where open and closed don't agree."""
    a, b = [], []
    for r in readings:
        value = float(ohms[labels[r.first], labels[r.second]])
        if (r.path is Path.OPEN) != np.isinf(value):
            return np.inf
        if r.path is Path.VALUE and value > 0:
            a.append(r.ohm / value)
            b.append(r.width / value)
    if not a:
        return 0.0
    ratio, width = np.array(a), np.array(b)
    return float(((ratio[:, None] - ratio[None, :]) / np.maximum(width[:, None] + width[None, :], 1e-12)).max())


def _open(scheme: str, readings: Sequence[OhmReading]) -> Iterator[FaultFound]:
    """One coil open or one lead off: the labels are searched for anew, since the symmetry is gone."""
    made = SCHEMES[scheme]
    tries: list[tuple[str, Fault, tuple[str, ...]]] = [
        ("open-coil", Fault(opened=(coil.name,)), (coil.start, coil.finish)) for coil in made.coils
    ]
    tries += [("lead-off", Fault(lifted=(label,)), (made.end_of(label),)) for label in made.labels]
    seen = set()
    for kind, fault, ends in tries:
        ohms = lead_ohms(made, fault)
        key = tuple(sorted(tuple(sorted(np.round(row, 6))) for row in ohms))
        if key in seen:
            continue
        seen.add(key)
        labels = _search(ohms, readings)
        if labels is not None:
            at = tuple(label for label, end in made.leads if end in ends)
            yield FaultFound(scheme, kind, labels, at, _worst(ohms, labels, readings))


def _search(ohms: Matrix, readings: Sequence[OhmReading]) -> tuple[int, ...] | None:
    """The first labels that fit within the widths, or None (also where the search grows too long)."""
    rows = np.round(ohms, 9).tolist()
    count = len(rows)
    by_lead: list[list[OhmReading]] = [[] for _ in range(count)]
    for r in readings:
        by_lead[max(r.first, r.second)].append(r)
    steps = 0

    def extend(used: tuple[int, ...], low: float, high: float) -> tuple[int, ...] | None:
        nonlocal steps
        lead = len(used)
        if lead == count:
            return used
        for label in range(count):
            steps += 1
            if label in used or steps > MOST_STEPS:
                continue
            bounds = _narrowed((*used, label), rows, by_lead[lead], low, high)
            if bounds is not None and (found := extend((*used, label), *bounds)) is not None:
                return found
        return None

    return extend((), 0.0, float("inf"))


def _narrowed(
    labels: tuple[int, ...], rows: list[list[float]], readings: Sequence[OhmReading], low: float, high: float
) -> tuple[float, float] | None:
    """Bounds of the scale after one more lead; None where a reading contradicts."""
    for r in readings:
        value = rows[labels[r.first]][labels[r.second]]
        if (r.path is Path.OPEN) != (value == float("inf")):
            return None
        if r.path is Path.VALUE and value > 0:
            low, high = max(low, (r.ohm - r.width) / value), min(high, (r.ohm + r.width) / value)
            if low > high:
                return None
    return low, high


def _leaks(scheme: str, readings: Sequence[OhmReading]) -> Iterator[FaultFound]:
    """Values between groups that should be apart: the smallest of them is where the leak is."""
    values = sorted((r for r in readings if r.path is Path.VALUE), key=lambda r: r.ohm)
    for count in range(len(values) - 1, 0, -1):
        inside, between = values[:count], values[count:]
        sound = [r for r in readings if r.path is not Path.VALUE] + inside
        fits = fit_layouts(scheme, sound)
        for number, scale in zip(fits.numbers[:NEAREST], fits.scale[:NEAREST], strict=True):
            found = _leak(scheme, layouts(scheme)[number].tolist(), float(np.nanmax(scale)), between, readings)
            if found is not None:
                yield found
                return


def _leak(
    scheme: str, labels: list[int], scale: float, between: Sequence[OhmReading], readings: Sequence[OhmReading]
) -> FaultFound | None:
    made = SCHEMES[scheme]
    least = between[0]
    if not scale > 0 or np.isfinite(lead_ohms(made)[labels[least.first], labels[least.second]]):
        return None
    a, b = made.labels[labels[least.first]], made.labels[labels[least.second]]
    fault = Fault(leaks=((a, b, max(least.ohm / scale, 1e-6)),))
    misfit = _worst(lead_ohms(made, fault), labels, readings)
    return FaultFound(scheme, "leak", tuple(labels), (a, b), misfit, least.ohm) if misfit <= 1 else None


def _off(scheme: str, readings: Sequence[OhmReading]) -> Iterator[FaultFound]:
    """One coil of other ohms than its sisters, in a layout whose paths fit."""
    made = SCHEMES[scheme]
    fits = fit_layouts(scheme, readings, most=np.inf)
    order = np.argsort(fits.misfit)[:NEAREST]
    best: FaultFound | None = None
    for number in fits.numbers[order]:
        labels = tuple(layouts(scheme)[number].tolist())
        for coil in made.coils:
            for factor in FACTORS:
                misfit = _worst(lead_ohms(made, Fault(scaled=((coil.name, float(factor)),))), labels, readings)
                if misfit <= 1 and (best is None or misfit < best.misfit):
                    at = tuple(label for label, end in made.leads if end in (coil.start, coil.finish))
                    best = FaultFound(scheme, "coil-off", labels, at, misfit, 100 * float(factor))
    if best is not None:
        yield best
