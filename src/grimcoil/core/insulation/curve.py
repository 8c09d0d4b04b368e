"""The shape of a hold's curve: rising, flat, falling, or unsteady."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import TYPE_CHECKING

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.findings import Finding, act, sound, unproven, watch
from grimcoil.core.insulation.settled import FIRST_S
from grimcoil.core.measured import Timed
from grimcoil.core.readings import three_digits

if TYPE_CHECKING:
    from grimcoil.core.insulation.absorption import Absorption

FALL = 0.97
FLAT = 1.10
DOES_NOT_FIT = 0.10
LEAST_FITTED = 5


@dataclass(frozen=True, slots=True)
class Curve:
    """Times (s) and values (MΩ) of a hold, and what they show.

    fall: the first two times between which the value surely falls by more than 3 %, from 15 s on. shape: `rising`,
    `flat`, `falling`, `unsteady`, or None with too few points or where bounds leave it open. fit: where five
    exact points from 15 s on allow it and the curve doesn't fall.
    """

    times_s: tuple[float, ...]
    mohm: tuple[Amount, ...]
    in_order: bool
    fall: tuple[float, float] | None
    shape: str | None
    fit: Absorption | None

    @property
    def last(self) -> Amount:
        """The last value. MΩ, as read (computed from ohm)."""
        return self.mohm[-1]


def curve_of(series: Sequence[Timed]) -> Curve:
    """The curve of timed readings, ohm to MΩ. At least one."""
    times = tuple(p.t_s for p in series)
    mohm = tuple(in_mohm(p.reading.amount) for p in series)
    in_order = all(a < b for a, b in pairwise(times))
    settled = [(t, r) for t, r in zip(times, mohm, strict=True) if t >= FIRST_S]
    fall = next(((a, b) for (a, ra), (b, rb) in pairwise(settled) if rb.high < FALL * ra.low), None)
    shape = _shape(settled, fall) if in_order and len(settled) >= 2 else None
    fit = _fit(settled) if in_order and fall is None else None
    return Curve(times, mohm, in_order, fall, shape, fit)


def _shape(points: Sequence[tuple[float, Amount]], fall: tuple[float, float] | None) -> str | None:
    if fall is not None:
        rises = any(rb.low > ra.high / FALL for (_, ra), (_, rb) in pairwise(points))
        return "unsteady" if rises else "falling"
    first, last = points[0], points[-1]
    if last[1].low >= FLAT * first[1].high:
        return "rising"
    doubled = last[0] >= 2 * first[0]
    return "flat" if doubled and last[1].high < FLAT * first[1].low else None


def _fit(points: Sequence[tuple[float, Amount]]) -> Absorption | None:
    exact = [(t, r.low) for t, r in points if r.low == r.high and r.low > 0]
    if len(exact) < LEAST_FITTED:
        return None
    return _fitted(tuple(t for t, _ in exact), tuple(r for _, r in exact))


@lru_cache(maxsize=512)
def _fitted(times_s: tuple[float, ...], mohm: tuple[float, ...]) -> Absorption | None:
    """A hold that is over is judged anew with each entry of its job: its curve is fitted once."""
    from grimcoil.core.insulation.absorption import fit_absorption  # loads numpy, which most holds don't need

    return fit_absorption(times_s, mohm)


def in_mohm(amount: Amount) -> Amount:
    """Ohm to MΩ; what bounds nothing stays so (computed)."""
    return amount if amount.bound is Bound.NOTHING else Amount(amount.low / 1e6, amount.high / 1e6)


def curve_findings(curve: Curve, volts: float | None, low_mohm: float) -> list[Finding]:
    """What the shape says; low_mohm: up to this a flat curve is suspect.

    Volts: of the test, V; MΩ. Each finding names its source.
    """
    if not curve.in_order:
        text = "The times of the series are out of order; repeat the hold or put the times right."
        return [unproven("series-out-of-order", text)]
    out = []
    if curve.fall is not None:
        a, b = curve.fall
        if curve.shape == "unsteady":
            text = f"Insulation fell between {a:g} s and {b:g} s after it had risen: intermittent breakdown."
            text += " Stop the test."
            out.append(act("curve-unsteady", text))
        else:
            text = f"The value falls from {a:g} s to {b:g} s under steady voltage: water or a breakdown path."
            out.append(act("curve-falling", text))
    elif curve.shape == "flat" and curve.last.high < low_mohm:
        text = (
            f"The curve stays flat and below {low_mohm:g} MΩ, no absorption current: surface leakage or water. Measure"
            " again with the surface on the guard terminal; much higher then means dirt or damp on it."
        )
        out.append(watch("curve-flat", text))
    if (fit := curve.fit) is not None and volts:
        out.append(sound("absorption-fit", _fit_text(fit, volts)))
    return out


def _fit_text(fit: Absorption, volts: float) -> str:
    quality = f"{fit.points} points from {fit.first_s:g} s fit within {100 * fit.misfit:.1f} %"
    if fit.misfit > DOES_NOT_FIT:
        return f"The curve doesn't go as leakage and absorption do ({quality}): no leakage is told from it."
    highest = three_digits(volts * fit.leak_highest)
    if fit.leak_lowest <= 0:
        return f"No steady leakage shown, at most {highest} µA at {volts:g} V; {quality}."
    ends = f"{three_digits(volts * fit.leak_lowest)} to {highest} µA"
    return (
        f"Steady leakage {three_digits(volts * fit.leak)} µA at {volts:g} V (90 % band {ends}), absorption falls as"
        f" t^−{fit.exponent:.2f}; {quality}."
    )
