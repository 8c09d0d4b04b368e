"""Log-likelihood of a straight line through exact, right-, left- and interval-censored points.

Olsen's form: with theta = 1/sigma the log-likelihood is concave in (beta theta, theta), so the best theta
for a given line is found by Newton steps, and the level sets over the line's two figures are convex.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
_HALF_LOG_2PI = 0.5 * float(np.log(2 * np.pi))
_TINY = 1e-300


@dataclass(frozen=True, slots=True)
class Censored:
    """Points in time (years) with the ends of log10 R; equal ends are exact."""

    t: Array
    low: Array
    high: Array

    @property
    def exact(self) -> NDArray[np.bool_]:
        """Which points are exact."""
        return np.asarray(self.low == self.high, dtype=np.bool_)


def _density(z: Array) -> Array:
    return np.exp(-0.5 * z * z - _HALF_LOG_2PI)


def terms(data: Censored, line: Array, theta: Array) -> tuple[Array, Array, Array]:
    """Log-likelihood and its first two derivatives in theta, for lines (k, 2) and theta (k,): arrays (k,)."""
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
    log_mass = _log_mass(zl, zh)
    mass = np.maximum(np.exp(np.maximum(log_mass, -690.0)), _TINY)
    first = (_edge(high, zh) - _edge(low, zl)) / mass
    bend = _edge(high, zh) * _finite(zh) * _finite(high) - _edge(low, zl) * _finite(zl) * _finite(low)
    return (
        log_mass.sum(axis=1),
        first.sum(axis=1),
        (-bend / mass - first**2).sum(axis=1),
    )


def _finite(values: Array) -> Array:
    return np.where(np.isfinite(values), values, 0.0)


def _log_mass(zl: Array, zh: Array) -> Array:
    from scipy.special import log_ndtr

    open_top = np.isposinf(zh)
    return np.where(
        open_top,
        log_ndtr(-zl),
        _log_between(zl, np.where(open_top, np.maximum(zl, 0.0) + 1.0, zh)),
    )


def _edge(offset: Array, z: Array) -> Array:
    """Offset x density at z; nothing at an open end."""
    return _finite(offset) * np.where(np.isfinite(z), _density(_finite(z)), 0.0)


def _log_between(zl: Array, zh: Array) -> Array:
    """log(Phi(zh) - Phi(zl)), taken on the side where no digits are lost."""
    from scipy.special import log_ndtr  # loads in its own time, for bounds only

    flip = zl > 0
    a, b = np.where(flip, -zh, zl), np.where(flip, -zl, zh)
    la, lb = log_ndtr(a), log_ndtr(b)
    out: Array = lb + np.log1p(-np.exp(np.minimum(la - lb, -1e-12)))
    return out


def best_theta(data: Censored, line: Array, theta: Array, most: float, steps: int = 40) -> tuple[Array, Array]:
    """The theta that fits each line best (bounded by `most`) and the log-likelihood there."""
    for _ in range(steps):
        _, first, second = terms(data, line, theta)
        step = np.where(second < 0, -first / np.minimum(second, -_TINY), theta)
        new = np.clip(theta + step, theta / 3, np.minimum(theta * 3, most))
        moved = np.max(np.abs(new / theta - 1))
        theta = new
        if moved < 1e-9:
            break
    return theta, terms(data, line, theta)[0]


def gradient(data: Censored, params: Array) -> tuple[float, Array]:
    """Negative log-likelihood and its gradient at (intercept, slope, log theta)."""
    a, b, log_theta = params
    theta = float(np.exp(log_theta))
    mu = a + b * data.t
    exact = data.exact
    r = data.low[exact] - mu[exact]
    value = r.size * (log_theta - _HALF_LOG_2PI) - 0.5 * theta**2 * float((r * r).sum())
    score = np.zeros_like(mu)
    score[exact] = theta**2 * r
    d_log_theta = r.size - theta**2 * float((r * r).sum())
    if not exact.all():
        low, high = data.low[~exact] - mu[~exact], data.high[~exact] - mu[~exact]
        v, f, _ = _bounded(low[None, :], high[None, :], np.array([[theta]]))
        value += float(v[0])
        d_log_theta += theta * float(f[0])
        score[~exact] = _score(low, high, theta)
    grad = -np.array([score.sum(), (score * data.t).sum(), d_log_theta])
    return -value, grad


def _score(low: Array, high: Array, theta: float) -> Array:
    """D log(mass) / d mu of bounded points."""
    zl, zh = theta * low, theta * high
    top = np.where(np.isfinite(zh), _density(_finite(zh)), 0.0)
    bottom = np.where(np.isfinite(zl), _density(_finite(zl)), 0.0)
    return np.asarray(theta * (bottom - top) / np.maximum(np.exp(_log_mass(zl, zh)), _TINY))
