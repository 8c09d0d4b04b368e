"""When no sound scheme fits: one coil open, one lead broken off, a leak between two leads, or one coil off."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from grimcoil.core.leads.layouts import layouts, part_of, schemes_with
from grimcoil.core.leads.ohms import OhmReading, Path, fit_layouts
from grimcoil.core.leads.sizes import coil_off, leak_between, misfit_of
from grimcoil.core.stator.coils import Scheme
from grimcoil.core.stator.network import Fault, Matrix, lead_ohms
from grimcoil.core.stator.schemes import SCHEMES

MOST_STEPS = 20_000
NEAREST = 4
LAYOUTS = 4


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
        parts = part_of(scheme).tolist()
        labels = _search(ohms, readings, parts)
        if labels is not None:
            at = tuple(label for label, end in made.leads if end in ends)
            yield FaultFound(scheme, kind, labels, at, misfit_of(ohms, labels, readings, parts))


Bounds = tuple[tuple[float, float], tuple[float, float]]


def _search(ohms: Matrix, readings: Sequence[OhmReading], parts: Sequence[int]) -> tuple[int, ...] | None:
    """The first labels that fit within the widths, or None (also where the search grows too long)."""
    rows = np.round(ohms, 9).tolist()
    count = len(rows)
    by_lead: list[list[OhmReading]] = [[] for _ in range(count)]
    for r in readings:
        by_lead[max(r.first, r.second)].append(r)
    steps = 0

    def extend(used: tuple[int, ...], bounds: Bounds) -> tuple[int, ...] | None:
        nonlocal steps
        lead = len(used)
        if lead == count:
            return used
        for label in range(count):
            steps += 1
            if label in used or steps > MOST_STEPS:
                continue
            closer = _narrowed((*used, label), rows, by_lead[lead], bounds, parts)
            if closer is not None and (found := extend((*used, label), closer)) is not None:
                return found
        return None

    anything = (0.0, float("inf"))
    return extend((), (anything, anything))


def _narrowed(
    labels: tuple[int, ...], rows: list[list[float]], readings: Sequence[OhmReading], bounds: Bounds,
    parts: Sequence[int],
) -> Bounds | None:  # fmt: skip
    """Bounds of each winding's scale after one more lead; None where a reading contradicts."""
    now = list(bounds)
    for r in readings:
        value = rows[labels[r.first]][labels[r.second]]
        if (r.path is Path.OPEN) != (value == float("inf")):
            return None
        if r.path is Path.VALUE and value > 0:
            low, high = now[parts[labels[r.first]]]
            low, high = max(low, (r.ohm - r.width) / value), min(high, (r.ohm + r.width) / value)
            if low > high:
                return None
            now[parts[labels[r.first]]] = (low, high)
    return now[0], now[1]


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
    misfit = misfit_of(lead_ohms(made, fault), labels, readings, part_of(scheme).tolist())
    return FaultFound(scheme, "leak", tuple(labels), (a, b), misfit, least.ohm) if misfit <= 1 else None


def _off(scheme: str, readings: Sequence[OhmReading]) -> Iterator[FaultFound]:
    """One coil of other ohms than its sisters, or a leak between two leads of one winding, in a layout whose paths fit:
    the factor that fits best is searched for each.
    """
    made = SCHEMES[scheme]
    fits = fit_layouts(scheme, readings, most=np.inf)
    nearest = layouts(scheme)[fits.numbers[np.argsort(fits.misfit)[:LAYOUTS]]]
    if not len(nearest):
        return
    coils = [(made.coils[i], one) for i, one in enumerate(coil_off(scheme, nearest, readings))]
    tries = [
        FaultFound(
            scheme, "coil-off", one.labels, _leads_of(made, (coil.start, coil.finish)), one.misfit, 100 * one.size
        )
        for coil, one in coils
    ]
    tries += [
        FaultFound(scheme, "leak", one.labels, (made.labels[a], made.labels[b]), one.misfit, one.size)
        for (a, b), one in leak_between(scheme, nearest, readings)
    ]
    for kind in ("coil-off", "leak"):
        best = min((one for one in tries if one.kind == kind), key=lambda one: one.misfit, default=None)
        if best is not None and best.misfit <= 1:
            yield best


def _leads_of(made: Scheme, ends: tuple[str, str]) -> tuple[str, ...]:
    return tuple(label for label, end in made.leads if end in ends)
