"""Log-likelihood of a straight line through exact, right-, left- and interval-censored points.

Olsen's form: with theta = 1/sigma the log-likelihood is concave in (beta theta, theta), so the best theta
for a given line is found by Newton steps, and the level sets over the line's two figures are convex.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from grimcoil.core.normal import log_normal_cdf

Array = NDArray[np.float64]
_HALF_LOG_2PI = 0.5 * float(np.log(2 * np.pi))
_TINY = 1e-300
# Newton doubles its digits with each step: one that promises 1e-13 of log-likelihood is the last worth taking.
_STEPS, _SETTLED, _LEAST_SHARE = 100, 1e-13, 1e-6


@dataclass(frozen=True, slots=True)
class Censored:
    """Points in time (years) with the ends of log10 R; equal ends are exact."""

    t: Array
    low: Array
    high: Array

    @property
    def exact(self) -> NDArray[np.bool_]:
        """Which points are exact. No unit (computed)."""
        return np.asarray(self.low == self.high, dtype=np.bool_)


def terms(data: Censored, line: Array, theta: Array) -> tuple[Array, Array, Array]:
    """Log-likelihood and its first two derivatives in theta, for lines (k, 2) and theta (k,): arrays (k,).

    Computed.
    """
    mu = line[:, :1] + line[:, 1:] * data.t
    th = theta[:, None]
    exact = data.exact
    value, first, second = _exact(data.low[exact] - mu[:, exact], th)
    if not exact.all():
        v, f, s = _bounded(data.low[~exact] - mu[:, ~exact], data.high[~exact] - mu[:, ~exact], th)
        value, first, second = value + v, first + f, second + s
    return value, first, second


def _exact(residual: Array, th: Array) -> tuple[Array, Array, Array]:
    n = residual.shape[1]
    square = (residual * residual).sum(axis=1)
    theta = th[:, 0]
    value = n * (np.log(theta) - _HALF_LOG_2PI) - 0.5 * theta**2 * square
    return value, n / theta - theta * square, -n / theta**2 - square


def _bounded(low: Array, high: Array, th: Array) -> tuple[Array, Array, Array]:
    """Points known to lie between low and high (either may be infinite), as offsets from the line."""
    zl, zh = th * low, th * high
    log_mass, at_low, at_high = _mass(zl, zh)
    low, high = _finite(low), _finite(high)
    first = high * at_high - low * at_low
    bend = high * high * _finite(zh) * at_high - low * low * _finite(zl) * at_low
    return log_mass.sum(axis=1), first.sum(axis=1), (-bend - first**2).sum(axis=1)


def _finite(values: Array) -> Array:
    return np.where(np.isfinite(values), values, 0.0)


def _mass(zl: Array, zh: Array) -> tuple[Array, Array, Array]:
    """Log of the probability between the ends, and the density at either over it; (k, n), ends infinite by column."""
    bottom, top = np.isneginf(zl[0]), np.isposinf(zh[0])
    out = np.zeros_like(zl)
    above, below, within = top & ~bottom, bottom & ~top, ~bottom & ~top
    if above.any():
        out[:, above] = log_normal_cdf(-zl[:, above])
    if below.any():
        out[:, below] = log_normal_cdf(zh[:, below])
    if within.any():
        out[:, within] = _log_between(zl[:, within], zh[:, within])
    return out, _over(zl, out, ~bottom), _over(zh, out, ~top)


def _over(z: Array, log_mass: Array, there: NDArray[np.bool_]) -> Array:
    out = np.zeros_like(z)
    some = z[:, there]
    out[:, there] = np.exp(-0.5 * some * some - _HALF_LOG_2PI - log_mass[:, there])
    return out


def _log_between(zl: Array, zh: Array) -> Array:
    """log(Phi(zh) - Phi(zl)), taken on the side where no digits are lost."""
    flip = zl > 0
    a, b = np.where(flip, -zh, zl), np.where(flip, -zl, zh)
    la, lb = log_normal_cdf(a), log_normal_cdf(b)
    out: Array = lb + np.log1p(-np.exp(np.minimum(la - lb, -1e-12)))
    return out


def best_theta(data: Censored, line: Array, theta: Array, most: float, steps: int = 40) -> tuple[Array, Array]:
    """The theta that fits each line best (bounded by `most`) and the log-likelihood there (computed)."""
    for _ in range(steps):
        _, first, second = terms(data, line, theta)
        step = np.where(second < 0, -first / np.minimum(second, -_TINY), theta)
        new = np.clip(theta + step, theta / 3, np.minimum(theta * 3, most))
        moved = np.max(np.abs(new / theta - 1))
        theta = new
        if moved < 1e-9:
            break
    return theta, terms(data, line, theta)[0]


def bend(data: Censored, params: Array) -> tuple[float, Array, Array]:
    """Log-likelihood, its gradient (3,) and curvature (3, 3) at (intercept x theta, slope x theta, theta).

    Computed.
    """
    alpha, beta, theta = (float(one) for one in params)
    exact = data.exact
    sides = np.column_stack([-np.ones_like(data.t), -data.t])
    at = np.column_stack([sides[exact], data.low[exact]])
    z = at @ params
    n = z.size
    value = n * (np.log(theta) - _HALF_LOG_2PI) - 0.5 * float(z @ z)
    first, second = -at.T @ z, -at.T @ at
    first[2] += n / theta
    second[2, 2] -= n / theta**2
    if not exact.all():
        low, high, some = data.low[~exact], data.high[~exact], sides[~exact]
        line = alpha + beta * data.t[~exact]
        zl, zh = theta * low - line, theta * high - line
        log_mass, at_low, at_high = (one[0] for one in _mass(zl[None, :], zh[None, :]))
        lows, highs = np.column_stack([some, _finite(low)]), np.column_stack([some, _finite(high)])
        each = highs * at_high[:, None] - lows * at_low[:, None]
        value += float(log_mass.sum())
        first += each.sum(axis=0)
        second += (lows * (_finite(zl) * at_low)[:, None]).T @ lows - each.T @ each
        second -= (highs * (_finite(zh) * at_high)[:, None]).T @ highs
    return value, first, second


def best(data: Censored, start: Array, most: float) -> Array:
    """The (intercept x theta, slope x theta, theta) of the greatest likelihood, theta up to `most`: Newton steps, each
    halved until it climbs. The likelihood is concave in these three, so there is one top.

    Computed.
    """
    params = start
    value, first, second = bend(data, params)
    for _ in range(_STEPS):
        free = [0, 1] if params[2] >= most and first[2] > 0 else [0, 1, 2]
        step = np.zeros(3)
        step[free] = np.linalg.solve(second[np.ix_(free, free)], -first[free])
        if float(first @ step) < _SETTLED:
            return params + step if 0 < params[2] + step[2] <= most else params
        share = 1.0 if params[2] + step[2] <= most else (most - params[2]) / step[2]
        while share > _LEAST_SHARE:
            moved = params + share * step
            moved[2] = min(moved[2], most)
            if moved[2] > 0 and (found := bend(data, moved))[0] >= value:
                break
            share /= 2
        else:
            break
        params, (value, first, second) = moved, found
    return params
