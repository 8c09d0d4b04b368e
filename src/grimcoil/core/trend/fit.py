"""A straight line in log10 R40 against time by maximum likelihood, its band, and when it meets the minimum.

Without censoring the fit is ordinary least squares. The band is the profile of the likelihood with the
cut-off n log(1 + t^2/(n - 2)), Student's t: exact for ordinary regression, kept for censored series with
n the exact points plus a half of the bounds (computed; coverage is checked by simulation in the tests).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.quantiles import student_t
from grimcoil.core.trend.likelihood import Array, Censored, best, best_theta

YEAR_DAYS = 365.25
LEAST_EXACT = 4
HORIZON_YEARS = 20.0
SPANS_AHEAD = 5.0
LEAST_SPAN_DAYS = 90
CONFIDENCE = 0.90
_DIRECTIONS = 64
_LEAST_SIGMA = 1e-3
_FAR = 1e3


@dataclass(frozen=True, slots=True)
class TrendPoint:
    """One R40, MΩ, exact or a bound."""

    on: date
    r40_mohm: Amount


@dataclass(frozen=True, slots=True)
class Crossing:
    """When the line meets the minimum, and the edges of its 90 % band; None is open or beyond 20 years."""

    on: date | None
    earliest: date
    latest: date | None


@dataclass(frozen=True, slots=True)
class TrendFit:
    """The line log10 R40 = intercept + slope (years since reference_date), with what its band needs.

    level_set: (intercept, slope) pairs round the 90 % likelihood region, (k, 2); sigma corrected for two
    fitted figures; t_quantile: Student's t of the band; first_years: the first test, years before the last.
    """

    n: int
    n_censored: int
    slope_decades_per_year: float
    intercept_log10_mohm: float
    reference_date: date
    sigma_decades: float
    level_set: Array
    t_quantile: float
    first_years: float

    def at(self, years: Array) -> Array:
        """The line, log10 MΩ, at years since the reference date."""
        return self.intercept_log10_mohm + self.slope_decades_per_year * years

    def band(self, years: Array) -> tuple[Array, Array]:
        """Lower and upper edge of the line's 90 % band, log10 MΩ."""
        lines = self.level_set[:, :1] + self.level_set[:, 1:] * years
        return lines.min(axis=0), lines.max(axis=0)

    def reading_band(self, years: Array) -> tuple[Array, Array]:
        """The same for the next single reading, decades: the line's half-widths and the scatter in quadrature."""
        line = self.at(years)
        low, high = self.band(years)
        scatter = self.t_quantile * self.sigma_decades
        return line - np.hypot(line - low, scatter), line + np.hypot(high - line, scatter)

    @property
    def surely_falling(self) -> bool:
        """Every slope in the 90 % region is negative."""
        return bool(self.level_set[:, 1].max() < 0)


def usable(points: Sequence[TrendPoint]) -> str | None:
    """Why no line can be fitted, or None."""
    exact = [p for p in points if p.r40_mohm.is_exact and p.r40_mohm.value > 0]
    if not points:
        return "no tests yet"
    if len({p.on for p in points}) < 2:
        return "all tests are of one day"
    if len(exact) < 2:
        return "all values, or all but one, are bounds"
    if len({p.on for p in exact}) < 2:
        return "the exact values are all of one day"
    span = (max(p.on for p in points) - min(p.on for p in points)).days
    if span < LEAST_SPAN_DAYS:
        return f"the tests span {span} days, {LEAST_SPAN_DAYS} are needed"
    if len(exact) < LEAST_EXACT:
        return f"{LEAST_EXACT - len(exact)} more exact value{'s' if LEAST_EXACT - len(exact) > 1 else ''} needed"
    return None


def fit_trend(points: Sequence[TrendPoint]) -> TrendFit:
    """Fit the line. Needs `usable(points) is None`; values <= 0 MΩ count as bounds at 0.001 MΩ."""
    reference = max(p.on for p in points)
    years = np.array([(p.on - reference).days / YEAR_DAYS for p in points])
    low, high = np.array([_log_ends(p.r40_mohm) for p in points]).T
    middle = float(years.mean())
    data = Censored(years - middle, low, high)
    plain = bool(data.exact.all())
    line, theta = _least_squares(data) if plain else maximum_likelihood(data)
    n_exact = int(data.exact.sum())
    n_effective = n_exact + 0.5 * (len(points) - n_exact)
    quantile = student_t((1 + CONFIDENCE) / 2, n_effective - 2)
    cut = n_effective * np.log1p(quantile**2 / (n_effective - 2))
    solved = plain and theta < 0.999 / _LEAST_SIGMA  # points that lie on a line scatter by the least there is
    level = _ellipse(data.t, theta, float(cut)) + line if solved else _level_set(data, line, theta, float(cut))
    shift = np.array([[1.0, -middle], [0.0, 1.0]])
    moved, level = shift @ line, level @ shift.T
    sigma = float(np.sqrt(n_effective / (n_effective - 2))) / theta
    return TrendFit(
        len(points),
        len(points) - n_exact,
        float(moved[1]),
        float(moved[0]),
        reference,
        sigma,
        level,
        quantile,
        float(years.min()),
    )


def _log_ends(amount: Amount) -> tuple[float, float]:
    if amount.bound is Bound.NOTHING or amount.high <= 0:
        return (-np.inf, -3.0) if amount.high <= 0 else (-np.inf, np.inf)
    low = np.log10(amount.low) if amount.low > 0 else -np.inf
    return float(low), float(np.log10(amount.high)) if np.isfinite(amount.high) else np.inf


def _least_squares(data: Censored) -> tuple[Array, float]:
    t, y = data.t, data.low
    centred = t - t.mean()
    slope = float((centred * y).sum() / (centred * centred).sum())
    intercept = float(y.mean() - slope * t.mean())
    rss = float(((y - intercept - slope * t) ** 2).sum())
    return np.array([intercept, slope]), 1 / max(np.sqrt(rss / t.size), _LEAST_SIGMA)


def maximum_likelihood(data: Censored) -> tuple[Array, float]:
    """Line (intercept, slope) and 1/sigma of the best fit. Needs two exact points at different times."""
    exact = data.exact
    start_line, start_theta = _least_squares(Censored(data.t[exact], data.low[exact], data.low[exact]))
    scale = float(np.ptp(data.t)) / 2 or 1.0
    scaled = Censored(data.t / scale, data.low, data.high)
    theta = min(start_theta, 20.0)
    start = np.array([start_line[0] * theta, start_line[1] * scale * theta, theta])
    found = best(scaled, start, 1 / _LEAST_SIGMA)
    return np.array([found[0], found[1] / scale]) / found[2], float(found[2])


def _rays() -> tuple[Array, Array]:
    angles = 2 * np.pi * np.arange(_DIRECTIONS) / _DIRECTIONS
    return np.cos(angles), np.sin(angles)


def _ellipse(t: Array, theta: float, cut: float) -> Array:
    """Where the region ends round a line through exact points alone: squares grow as the square of the way from it, so
    that the deviance n log(S/S0) is solved for the way. The same directions as of censored points.
    """
    spread = float(np.sqrt((t**2).sum())) or 1.0
    cos, sin = _rays()
    rays = np.column_stack([cos / np.sqrt(t.size), sin / spread]) / theta
    grows = rays[:, 0] ** 2 * t.size + 2 * rays[:, 0] * rays[:, 1] * t.sum() + rays[:, 1] ** 2 * (t**2).sum()
    least = t.size / theta**2
    return np.asarray(rays * np.sqrt(least * np.expm1(cut / t.size) / grows)[:, None])


def _level_set(data: Censored, line: Array, theta: float, cut: float) -> Array:
    """Lines on the edge of the likelihood region, in directions spread evenly after whitening."""
    most = 1 / _LEAST_SIGMA
    spread = float(np.sqrt((data.t[data.exact] ** 2).sum())) or 1.0
    unit = np.array([1.0 / np.sqrt(data.exact.sum()), 1.0 / spread]) / theta
    rays = np.column_stack(_rays()) * unit
    at = np.full(_DIRECTIONS, theta)
    top = float(best_theta(data, line[None, :], np.array([theta]), most)[1][0])

    def root_excess(radius: Array, at: Array) -> tuple[Array, Array]:
        at, value = best_theta(data, line + rays * radius[:, None], at, most, steps=10)
        return np.sqrt(np.maximum(2 * (top - value), 0.0)) - np.sqrt(cut), at

    # The root of the deviance is nearly straight in the radius, so a guarded secant settles in a few steps.
    old, radius = np.zeros(_DIRECTIONS), np.full(_DIRECTIONS, np.sqrt(cut))
    old_value = np.full(_DIRECTIONS, -np.sqrt(cut))
    for _ in range(24):
        value, at = root_excess(radius, at)
        rise = (value - old_value) / np.where(radius == old, 1.0, radius - old)
        step = np.where(rise > 0, -value / np.where(rise > 0, rise, 1.0), radius)
        old, old_value = radius, value
        radius = np.clip(radius + step, radius / 4, np.minimum(radius * 4, _FAR))
        if np.max(np.abs(value)[radius < _FAR], initial=0.0) < 1e-6:
            break
    return np.asarray(line + rays * radius[:, None])


def horizon_of(fit: TrendFit) -> float:
    """How far ahead the series can be carried, years: five times its own span, 20 at most (common practice)."""
    return min(HORIZON_YEARS, SPANS_AHEAD * -fit.first_years)


def crossing(fit: TrendFit, minimum_mohm: float) -> Crossing | None:
    """When the line and its band come down to the minimum (MΩ) for good, from the first test to the horizon ahead.

    None: it doesn't come down in that time. A line that has met the minimum already has a date in the past.
    """
    span = fit.first_years, horizon_of(fit)
    limit = float(np.log10(minimum_mohm))
    edges = fit.level_set - np.array([limit, 0.0])
    ends = [_under(float(a), float(b), span) for a, b in edges]
    earliest = min((end for end in ends if end is not None), default=None)  # the first line that stays under it
    if earliest is None:
        return None
    if any(b > 0 and -a / b >= earliest for a, b in edges):  # another was under it till then
        earliest = span[0]
    line = _under(fit.intercept_log10_mohm - limit, fit.slope_decades_per_year, span)
    known = [end for end in ends if end is not None]
    latest = max(known) if len(known) == len(ends) else None
    return Crossing(
        _date(fit.reference_date, line),
        fit.reference_date + timedelta(days=round(earliest * YEAR_DAYS)),
        _date(fit.reference_date, latest),
    )


def _date(reference: date, years: float | None) -> date | None:
    return None if years is None else reference + timedelta(days=round(years * YEAR_DAYS))


def _under(above: float, slope: float, span: tuple[float, float]) -> float | None:
    """After which time a line stays at or below zero; None where it ends above, the first time where it never was."""
    first, last = span
    if above + slope * last > 0:
        return None
    return first if above + slope * first <= 0 else -above / slope
