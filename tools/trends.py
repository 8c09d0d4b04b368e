"""The trend's own report: how often the band holds the true line, how often none is given, false steps on flat noise.

`bin/bench trend [DRAWS]`.
"""

from __future__ import annotations

import sys
from collections.abc import Callable
from datetime import date, timedelta

import numpy as np

from grimcoil.core.amount import Amount
from grimcoil.core.findings import Verdict
from grimcoil.core.trend.fit import TrendPoint, fit_trend, usable
from grimcoil.core.trend.steps import step_finding

START = date(2015, 1, 1)
LEVEL, SLOPE, SCATTER = 2.7, -0.1, 0.15
LAMPS = (0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000)
Shown = Callable[[float], Amount]


def exact(mohm: float) -> Amount:
    """A figure."""
    return Amount.exact(mohm)


def over_range(mohm: float) -> Amount:
    """A tester whose range ends near the middle of the values."""
    return Amount.above(420.0) if mohm > 420 else Amount.exact(mohm)


def lamps(mohm: float) -> Amount:
    """Every third reading comes off a row of lamps: a band."""
    low = max((edge for edge in LAMPS if edge <= mohm), default=0.0)
    high = min((edge for edge in LAMPS if edge > mohm), default=float("inf"))
    return Amount(low, high) if int(mohm * 1000) % 3 == 0 else Amount.exact(mohm)


def history(count: int, dice: np.random.Generator, shown: Shown, slope: float = SLOPE) -> list[TrendPoint]:
    """A straight fall with scatter, as a meter shows it."""
    days = np.sort(dice.choice(np.arange(count * 150), count, replace=False))
    logs = LEVEL + slope * days / 365.25 + dice.normal(0, SCATTER, count)
    return [TrendPoint(START + timedelta(days=int(t)), shown(10**y)) for t, y in zip(days, logs, strict=True)]


def coverage(draws: int) -> None:
    """How often the line's 90 % band, a year ahead, holds the true line, and how often no line is given."""
    for name, shown in (("none", exact), ("half bounds", over_range), ("lamp bands", lamps)):
        for count in (5, 8, 12, 20):
            dice = np.random.default_rng(100 * count + len(name))
            hits = made = 0
            for _ in range(draws):
                points = history(count, dice, shown)
                if usable(points) is not None:
                    continue
                fit = fit_trend(points)
                ahead = (fit.reference_date - START).days / 365.25 + 1
                low, high = fit.band(np.array([1.0]))
                hits += bool(low[0] <= LEVEL + SLOPE * ahead <= high[0])
                made += 1
            held = f"{100 * hits / made:5.1f} %" if made else "  none"
            none = f"none given {100 * (draws - made) / draws:4.1f} %"
            print(f"band     {held} of {made} hold the line, {none}, n = {count:2}, {name:11}   aim 85 to 95")


def false_steps(draws: int) -> None:
    """Steps cried on flat noise of 0.2 decades."""
    dice = np.random.default_rng(8)
    for count in (5, 8, 12, 20):
        told = []
        for _ in range(draws):
            values = 10 ** dice.normal(2.8, 0.2, count)
            days = [START + timedelta(days=180 * i) for i in range(count)]
            made = [TrendPoint(day, Amount.exact(float(v))) for day, v in zip(days, values, strict=True)]
            told.append(step_finding(made))
        watch = sum(one is not None and one.severity is Verdict.WATCH for one in told)
        act = sum(one is not None and one.severity is Verdict.ACT for one in told)
        shares = f"watch {100 * watch / draws:4.2f} %, act {100 * act / draws:4.2f} % of {draws}"
        print(f"steps    {shares}, n = {count:2}   aim 2, 0.2")


if __name__ == "__main__":
    number = int(sys.argv[1]) if len(sys.argv) > 1 else 1000
    coverage(number)
    false_steps(10 * number)
