"""The shape of a hold's curve: rising, flat, falling, or unsteady."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.findings import Finding, act, sound, unproven, watch
from grimcoil.core.insulation.absorption import FIRST_S, Absorption, fit_absorption
from grimcoil.core.measured import Timed
from grimcoil.core.readings import three_digits

FALL = 0.97
FLAT = 1.10
DOES_NOT_FIT = 0.10


@dataclass(frozen=True, slots=True)
class Curve:
    """Times (s) and values (MΩ) of a hold. shape: `rising`, `flat`, `falling`, `unsteady`, or None with too few."""

    times_s: tuple[float, ...]
    mohm: tuple[Amount, ...]

    @property
    def in_order(self) -> bool:
        """Times rise."""
        return all(a < b for a, b in pairwise(self.times_s))

    @property
    def settled(self) -> list[tuple[float, Amount]]:
        """Points from 15 s on."""
        return [(t, r) for t, r in zip(self.times_s, self.mohm, strict=True) if t >= FIRST_S]

    @property
    def fall(self) -> tuple[float, float] | None:
        """The first two times between which the value surely falls by more than 3 %."""
        steps = pairwise(self.settled)
        return next(((a, b) for (a, ra), (b, rb) in steps if rb.high < FALL * ra.low), None)

    @property
    def shape(self) -> str | None:
        """One word for the curve; None with fewer than two points from 15 s on, or where bounds leave it open."""
        points = self.settled
        if not self.in_order or len(points) < 2:
            return None
        if self.fall is not None:
            rises = any(rb.low > ra.high / FALL for (_, ra), (_, rb) in pairwise(points))
            return "unsteady" if rises else "falling"
        first, last = points[0], points[-1]
        if last[1].low >= FLAT * first[1].high:
            return "rising"
        doubled = last[0] >= 2 * first[0]
        return "flat" if doubled and last[1].high < FLAT * first[1].low else None

    @property
    def fit(self) -> Absorption | None:
        """The absorption fit, where five exact points from 15 s on allow it and the curve doesn't fall."""
        exact = [(t, r.value) for t, r in zip(self.times_s, self.mohm, strict=True) if r.is_exact and r.value > 0]
        if not self.in_order or self.fall is not None:
            return None
        return fit_absorption([t for t, _ in exact], [r for _, r in exact])


def curve_of(series: Sequence[Timed]) -> Curve:
    """The curve of timed readings, ohm to MΩ."""
    return Curve(tuple(p.t_s for p in series), tuple(in_mohm(p.reading.amount) for p in series))


def in_mohm(amount: Amount) -> Amount:
    """Ohm to MΩ; what bounds nothing stays so."""
    return amount if amount.bound is Bound.NOTHING else Amount(amount.low / 1e6, amount.high / 1e6)


def curve_findings(curve: Curve, volts: float | None, low_mohm: float) -> list[Finding]:
    """What the shape says; low_mohm: up to this a flat curve is suspect."""
    if not curve.in_order:
        text = "The times of the series are out of order; repeat the hold or put the times right."
        return [unproven("series-out-of-order", text)]
    out = []
    if curve.fall is not None:
        a, b = curve.fall
        if curve.shape == "unsteady":
            text = f"The value drops from {a:g} s to {b:g} s after a rise: breakdown now and then. Stop the test."
            out.append(act("curve-unsteady", text))
        else:
            text = f"The value falls from {a:g} s to {b:g} s under steady voltage: water or a breakdown path."
            out.append(act("curve-falling", text))
    elif curve.shape == "flat" and curve.settled[-1][1].high < low_mohm:
        text = f"The curve stays flat and below {low_mohm:g} MΩ: surface leakage or water."
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
