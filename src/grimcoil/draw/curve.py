"""The live insulation curve: values against time since voltage on, with the minimum here and where PI 2 would land."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.readings import three_digits
from grimcoil.draw.svg import circle, n, path, rect, text

Axis = Callable[[float], float]
FIRST_S = 9.0
LETTER = 11.5
MARKS = {10: "10 s", 15: "15", 30: "30", 45: "45", 60: "1 min", 120: "2", 180: "3", 300: "5", 420: "7", 600: "10"}


@dataclass(frozen=True, slots=True)
class Curve:
    """Points (s, MΩ), the minimum at this temperature, the 10-minute value for the least PI, and the time now."""

    points: Sequence[tuple[float, Amount]]
    minimum_here_mohm: float
    minimum_words: str
    pi_target_mohm: float | None
    pi_least: float
    hold_s: float | None


def insulation_curve(curve: Curve, width: float, height: float, small: bool = False) -> str:
    """The plot without its svg element. Log time from 9 s to 10 min or the last value, log resistance."""
    values = [a.value for _, a in curve.points if a.bound is not Bound.NOTHING and a.value > 0]
    low = 1 / _round_up(1 / (min([curve.minimum_here_mohm * 0.5, *values]) * 0.7))
    high = _round_up(max([curve.minimum_here_mohm * 30, *(v * 3 for v in values), curve.pi_target_mohm or 0]))
    end = max([600.0, *(t for t, _ in curve.points)])  # a value read late still has its place
    plot = _Plot(width, height, low, high, end, small)
    (left, right, top, bottom), x, y = plot.pads, plot.x, plot.y
    out = [_ground(plot)]
    at = y(curve.minimum_here_mohm)
    line = n(at)
    out.append(path(f"M{n(left)} {line}H{n(width - right)}", "min"))
    out.append(path("".join(f"M{left + i} {line}l-6 8" for i in range(8, int(width - right - left), 9)), "minh"))
    out.append(text(left + 8, at + 24, curve.minimum_words, "an actc"))
    if curve.pi_target_mohm:
        gate = y(curve.pi_target_mohm)
        out.append(path(f"M{n(x(600) - 11)} {n(gate)}H{n(x(600) + 11)}", "gate"))
        if not small:
            out.append(text(x(600) + 18, gate + 2, f"PI {curve.pi_least:g}", "an soundc b"))
            out.append(text(x(600) + 18, gate + 21, f"at {three_digits(curve.pi_target_mohm)}", "an soundc"))
    if curve.hold_s is not None:
        now = x(min(curve.hold_s, end))
        out.append(path(f"M{n(now)} {n(top)}V{n(height - bottom)}", "nowl"))
        out.append(path(f"M{n(now)} {n(height - bottom)}l-8 13h16Z", "nowt"))
    exact = [(t, a.value) for t, a in curve.points if a.is_exact and a.value > 0]
    if len(exact) > 1:
        out.append(path("M" + "L".join(f"{n(x(t))} {n(y(v))}" for t, v in exact), "trace"))
    out += [_point(x(t), y, amount, low) for t, amount in curve.points]
    out += _labels([(x(t), amount) for t, amount in curve.points], y, low)
    return "".join(out)


@dataclass(frozen=True, slots=True)
class _Plot:
    """What a curve is plotted into: its size, its ends in MΩ and s."""

    width: float
    height: float
    low: float
    high: float
    end_s: float
    small: bool

    @property
    def pads(self) -> tuple[int, int, int, int]:
        """Left, right, top, bottom of the plot within its size."""
        return (50, 16, 22, 32) if self.small else (66, 118, 40, 44)

    def x(self, t: float) -> float:
        left, right, _, _ = self.pads
        return left + math.log(max(t, FIRST_S) / FIRST_S) / math.log(self.end_s / FIRST_S) * (self.width - left - right)

    def y(self, mohm: float) -> float:
        _, _, top, bottom = self.pads
        share = math.log(max(mohm, self.low) / self.low) / math.log(self.high / self.low)
        return self.height - bottom - share * (self.height - bottom - top)


def _round_up(value: float) -> float:
    """The next of 1, 2, 5 times a power of ten: the axis stands still while a curve rises."""
    decade: float = 10.0 ** math.floor(math.log10(value))
    return next((step * decade for step in (1, 2, 5) if step * decade >= value), 10 * decade)


@lru_cache(maxsize=64)  # the same from one value of a hold to the next
def _ground(plot: _Plot) -> str:
    """Frame, axes and their marks."""
    (left, right, top, bottom), width, height = plot.pads, plot.width, plot.height
    small, x, y = plot.small, plot.x, plot.y
    out = [rect(1, 1, width - 2, height - 2, "pl"), rect(6, 6, width - 12, height - 12, "pl-in")]
    out.append(text(14, top - 12 if not small else top - 4, "MΩ", "ax"))
    for decade in range(math.floor(math.log10(plot.low)), math.ceil(math.log10(plot.high)) + 1):
        for digit in range(1, 10):
            value = digit * 10.0**decade
            if not plot.low <= value <= plot.high:
                continue
            at = y(value)
            out.append(path(f"M{n(left - (12 if digit == 1 else 6))} {n(at)}H{n(left)}", "tick"))
            if digit == 1:
                out.append(path(f"M{n(left)} {n(at)}H{n(width - right)}", "grid"))
                out.append(text(left - 15, at + 5, f"{value:g}", "ax", "end"))
    out.append(path(f"M{n(left)} {n(top - 6)}V{n(height - bottom)}H{n(width - right)}", "axis"))
    for t, label in MARKS.items():
        key = t in (60, 600)
        at = x(t)
        start = top if key else height - bottom - 8
        out.append(path(f"M{n(at)} {n(start)}V{n(height - bottom + 8)}", "keyl" if key else "tick"))
        if not small or t in (10, 30, 60, 120, 300, 600):
            out.append(text(at, height - bottom + (25 if not small else 22), label, "ax k" if key else "ax", "middle"))
    return "".join(out)


def _point(x: float, y: Axis, amount: Amount, low: float) -> str:
    """A value as a dot, over range as an arrow up, a band from its lower end to its upper."""
    at = y(amount.value if amount.value > 0 else low)
    if amount.bound in (Bound.ABOVE, Bound.NOTHING):
        return path(f"M{n(x - 7)} {n(at)}h14M{n(x)} {n(at)}v-20m-6 8l6-8 6 8", "up")
    if amount.bound is Bound.BELOW:
        return path(f"M{n(x - 7)} {n(at)}h14M{n(x)} {n(at)}v20m-6-8l6 8 6-8", "up")
    if amount.bound is Bound.BETWEEN:
        return path(f"M{n(x - 7)} {n(y(amount.high))}h14M{n(x)} {n(y(amount.high))}V{n(at)}m-7 0h14", "up")
    return circle(x, at, 6, "dot")


def _labels(points: Sequence[tuple[float, Amount]], y: Axis, low: float) -> list[str]:
    """Values beside their points, the last first: one that would run into the next is left to the list."""
    out, free = [], math.inf
    for x, amount in sorted(points, key=lambda point: point[0], reverse=True):
        words = _words(amount)
        if x + 10 + LETTER * len(words) > free:
            continue
        free = x + 10
        at = y(amount.value if amount.value > 0 else low)
        plain = amount.is_exact
        out.append(text(x + 10, at - (10 if plain else 8), words, "pv" if plain else "pv unprovenc"))
    return out


def _words(amount: Amount) -> str:
    if amount.bound is Bound.NOTHING:
        return "over range"
    if amount.bound is Bound.BETWEEN:
        return f"{three_digits(amount.low)}–{three_digits(amount.high)}"
    lead = {Bound.ABOVE: ">", Bound.BELOW: "<"}.get(amount.bound, "")
    return "short" if amount.is_exact and amount.value == 0 else lead + three_digits(amount.value)
