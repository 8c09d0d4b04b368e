"""A motor's life over one time axis: events, R40 with its forecast, unbalance, resistance against the first set."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import lru_cache
from typing import Any

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.readings import three_digits
from grimcoil.draw.svg import circle, figure, n, path, rect, text

YEAR_DAYS = 365.25
_LOW_DECADE, _HIGH_DECADE = 0.0, 3.7


@dataclass(frozen=True, slots=True)
class TestDot:
    """One signed job: R40 MΩ, unbalance shown and its ends, resistance against the winding's first set in percent."""

    on: date
    winding_id: int
    r40: Amount | None
    unbalance: tuple[float, float, float] | None
    against_first: float | None


@dataclass(frozen=True, slots=True)
class Forecast:
    """The fitted line and its bands, log10 MΩ at years since the reference date, and when they meet the minimum."""

    reference: date
    intercept: float
    slope: float
    years: tuple[float, ...]
    low: tuple[float, ...]
    high: tuple[float, ...]
    next_low: tuple[float, ...]
    next_high: tuple[float, ...]
    surely_falling: bool
    earliest: date | None = None
    latest: date | None = None

    @classmethod
    def of(cls, document: dict[str, Any] | None) -> Forecast | None:
        """From the stored trend; None where no line could be fitted."""
        fit = (document or {}).get("fit")
        if not document or not fit:
            return None
        crosses = document.get("crosses") or {}

        def day(text: str | None) -> date | None:
            return date.fromisoformat(text) if text else None

        return cls(
            date.fromisoformat(fit["reference_date"]),
            fit["intercept_log10_mohm"],
            fit["slope_decades_per_year"],
            tuple(fit["years"]),
            tuple(fit["low"]),
            tuple(fit["high"]),
            tuple(fit["next_low"]),
            tuple(fit["next_high"]),
            fit["surely_falling"],
            earliest=day(crosses.get("earliest")),
            latest=day(crosses.get("latest")),
        )


@dataclass(frozen=True, slots=True)
class Life:
    """All that is drawn."""

    tag: str
    dots: tuple[TestDot, ...]
    events: tuple[tuple[date, str, str], ...]
    today: date
    minimum_mohm: float
    balance_limit: float
    forecast: Forecast | None = None
    torn: tuple[date, ...] = ()


@dataclass(frozen=True, slots=True)
class _Frame:
    width: float
    height: float
    left: float
    right: float
    tops: tuple[tuple[float, float], ...]
    first: float
    last: float
    small: bool

    def x(self, day: date) -> float:
        """Where a day stands; days before the first shown stand at the edge."""
        return max(
            self.left,
            self.left + (_years(day) - self.first) / (self.last - self.first) * (self.width - self.left - self.right),
        )


def _years(day: date) -> float:
    return day.year + (day.timetuple().tm_yday - 1) / YEAR_DAYS


@lru_cache(maxsize=512)
def life_plots(life: Life, size: str = "wide") -> str:
    """The whole figure as an svg element; size is `wide`, `beside` (half a page) or `phone`."""
    frame = _frame(life, size)
    parts = [_years_axis(frame, life), *_strip(frame, life), *_r40(frame, life), *_unbalance(frame, life)]
    parts += _against_first(frame, life)
    label = f"Life and trends of {life.tag}: {len(life.dots)} tests."
    return figure(frame.width, frame.height, label, "".join(parts), f"plots {size}")


def _frame(life: Life, size: str) -> _Frame:
    tests = [d.on for d in life.dots]
    days = [*(tests or [e[0] for e in life.events]), life.today, *life.torn]
    first = math.floor(_years(min(days))) - (1 if tests and life.events else 0)
    ahead = life.today
    if life.forecast and (meets := life.forecast.latest or life.forecast.earliest):
        ahead = min(meets, life.today + timedelta(days=round(6 * YEAR_DAYS)))
    last = max(_years(life.today) + 1.2, _years(ahead) + 0.6)
    if size == "beside":
        return _Frame(600, 440, 60, 14, ((92, 228), (272, 320), (362, 404)), first, last, True)
    if size == "phone":
        return _Frame(386, 560, 52, 10, ((118, 326), (372, 440), (486, 530)), first, last, True)
    return _Frame(880, 636, 66, 16, ((94, 336), (378, 470), (510, 596)), first, last, False)


def _years_axis(f: _Frame, life: Life) -> str:
    bottom, top = f.tops[-1][1], f.tops[0][0]
    span = f.last - f.first
    every = 1 if span <= 9 and not f.small else 2 if span <= 18 else 5
    out = [rect(f.x(life.today), top, f.width - f.right - f.x(life.today), bottom - top, "future")]
    for year in range(math.ceil(f.first), math.floor(f.last) + 1):
        x = f.left + (year - f.first) / span * (f.width - f.left - f.right)
        big = year % every == 0
        out.append(path(f"M{n(x)} {n(bottom)}v{12 if big else 6}", "tick"))
        if big:
            out.append(path(f"M{n(x)} {n(top)}V{n(bottom)}", "grid"))
            out.append(text(x, bottom + 28, str(year), "ax", "middle"))
    return "".join(out)


def _strip(f: _Frame, life: Life) -> list[str]:
    y = 48.0
    start = min([e[0] for e in life.events] + [d.on for d in life.dots] + [life.today])
    out = [
        path(f"M{n(f.x(start))} {y}H{n(f.x(life.today))}", "life"),
        path(f"M{n(f.x(life.today))} {y}H{n(f.width - f.right)}", "ahead"),
    ]
    for a, b in f.tops:
        out.append(path(f"M{n(f.left)} {n(a)}V{n(b)}H{n(f.width - f.right)}", "axis"))
    for day in life.torn:
        out.append(_torn(f, day))
    last_x = -100.0
    cut, shown = _cut(f, life)
    if cut:  # what lies before the axis isn't drawn as if it were at its first day
        out.append(path(f"M{n(f.left)} {n(y - 10)}l5 5l-8 5l8 5l-5 5", "torn"))
        out.append(text(f.left, y - 24, cut, "tx"))
    for i, (day, kind, words) in enumerate([*shown, (life.today, "now", "Now")], start=1 if cut else 0):
        x = f.x(day)
        out.append(_now(f, x, y) if kind == "now" else event_mark(kind, x, y))
        anchor = "start" if i == 0 else "end" if x > f.width - 60 else "middle"
        low = x - last_x < 90
        out.append(text(x, y + 34 if low else y - 24, words, "tx b" if kind in ("rewound", "now") else "tx", anchor))
        last_x = x if not low else last_x
    return out


def _cut(f: _Frame, life: Life) -> tuple[str, Sequence[tuple[date, str, str]]]:
    """What the axis leaves out, in words, and the events it shows."""
    before = [words for day, _, words in life.events if _years(day) < f.first]
    if not before:
        return "", life.events
    more = len(before) - 1
    told = f"{more} more before {f.first:.0f}" if more else f"shown from {f.first:.0f}"
    return f"{before[0]}, {told}", [event for event in life.events if _years(event[0]) >= f.first]


def _now(f: _Frame, x: float, y: float) -> str:
    return path(f"M{n(x)} {n(y - 12)}V{n(f.tops[-1][1])}", "nowl") + path(f"M{n(x - 8)} {n(y - 16)}h16l-8 13Z", "nowt")


def event_mark(kind: str, x: float, y: float) -> str:
    """What happened to a motor, as a mark on the line of its life."""
    if kind == "rewound":
        return circle(x, y, 11, "ev-coil") + circle(x + 1, y - 1, 5, "ev-turn")
    if kind in ("dried", "cleaned"):
        d = "".join(f"M{n(x + k)} {n(y + 9)}q5 -9 0 -18" for k in (-8, 0, 8))
        return path(d, "ev-gap") + path(d, "ev-dry")
    if kind == "moved":
        return path(f"M{n(x - 9)} {n(y - 9)}L{n(x + 7)} {n(y)}L{n(x - 9)} {n(y + 9)}Z", "ev-move")
    return path(f"M{n(x)} {n(y - 12)}V{n(y + 12)}", "life")


def _torn(f: _Frame, day: date) -> str:
    x = f.x(day) - 9
    steps = int((f.tops[-1][1] + 8 - 76) / 12) + 1
    zig = "M" + "L".join(f"{n(x + (4 if i % 2 else -4))} {76 + i * 12}" for i in range(steps))
    return path(zig, "torn-gap") + "".join(
        f'<path class="torn" d="{zig}" transform="translate({k} 0)"/>' for k in (-4, 4)
    )


def _segments(dots: Sequence[TestDot], value: Callable[[TestDot], float | None]) -> list[list[tuple[date, float]]]:
    """Runs of like readings within one winding, broken where a value is missing or only a bound."""
    runs: list[list[tuple[date, float]]] = [[]]
    winding = None
    for dot in dots:
        v = value(dot)
        if v is None or (winding is not None and dot.winding_id != winding):
            runs.append([])
        winding = dot.winding_id
        if v is not None:
            runs[-1].append((dot.on, v))
    return [run for run in runs if run]


def _r40(f: _Frame, life: Life) -> list[str]:
    a, b = f.tops[0]
    known = [math.log10(d.r40.value) for d in life.dots if d.r40 and d.r40.value > 0]
    low = min([_LOW_DECADE, math.log10(life.minimum_mohm) - 0.3, *(k - 0.1 for k in known)])
    high = max([_HIGH_DECADE, *(k + 0.15 for k in known)])

    def y(mohm: float) -> float:
        share = (math.log10(max(mohm, 1e-9)) - low) / (high - low)
        return b - min(1.0, max(0.0, share)) * (b - a)

    out = []
    for decade in range(math.ceil(low), math.floor(high) + 1):
        out.append(path(f"M{n(f.left - 10)} {n(y(10.0**decade))}h10", "tick"))
        out.append(text(f.left - 14, y(10.0**decade) + 5, f"{10.0**decade:g}", "ax", "end"))
        out.append(path(f"M{n(f.left)} {n(y(10.0**decade))}H{n(f.width - f.right)}", "griddot"))
    out.append(text(f.left, a - 8, "Insulation at 40 °C, MΩ", "ti"))
    at = y(life.minimum_mohm)
    out.append(path(f"M{n(f.left)} {n(at)}H{n(f.width - f.right)}", "min"))
    out += [path(f"M{n(f.left + i)} {n(at)}l-6 7", "minh") for i in range(8, int(f.width - f.right - f.left), 9)]
    out.append(text(f.left + 8, at - 6, f"Minimum {life.minimum_mohm:g} MΩ", "tx actc"))
    out += _forecast(f, life, y)
    for run in _segments(life.dots, lambda d: d.r40.value if d.r40 and d.r40.is_exact and d.r40.value > 0 else None):
        out.append(path("M" + "L".join(f"{n(f.x(day))} {n(y(v))}" for day, v in run), "trace"))
    for dot in life.dots:
        if dot.r40 is not None and dot.r40.bound is not Bound.NOTHING:
            out.append(_r40_dot(f.x(dot.on), y(dot.r40.value), dot.r40, life.minimum_mohm, f.small))
    exact = [d for d in life.dots if d.r40]
    if exact and (r40 := exact[-1].r40) is not None:
        words = (">" if r40.bound is Bound.ABOVE else "") + three_digits(r40.value)
        at_x = f.x(exact[-1].on)
        tight = at_x > f.width - f.right - 16 * len(words)
        lift = 26 if r40.bound is Bound.ABOVE else 10
        out.append(text(at_x + (4 if tight else 10), y(r40.value) - lift, words, "pv big", "end" if tight else "start"))
    return out


def _r40_dot(x: float, y: float, r40: Amount, minimum: float, small: bool) -> str:
    w = 3.5 if small else 5.5
    if r40.bound is Bound.ABOVE:
        return path(f"M{n(x - w - 1.5)} {n(y)}h{n(2 * w + 3)}M{n(x)} {n(y)}v-20m{n(-w)} 8l{n(w)} -8 {n(w)} 8", "up")
    if r40.bound in (Bound.BELOW, Bound.BETWEEN):
        return path(f"M{n(x - w - 1.5)} {n(y)}h{n(2 * w + 3)}M{n(x)} {n(y)}v16m{n(-w)} -7l{n(w)} 7 {n(w)} -7", "up")
    if r40.high < minimum:
        return rect(x - 6, y - 6, 12, 12, "bad")
    return circle(x, y, 4 if small else 5, "dot")


def _forecast(f: _Frame, life: Life, y: Callable[[float], float]) -> list[str]:
    fit = life.forecast
    if fit is None:
        return []
    days = [fit.reference + timedelta(days=round(t * YEAR_DAYS)) for t in fit.years]
    keep = [i for i, day in enumerate(days) if f.x(day) <= f.width - f.right]
    if len(keep) < 2:
        return []

    def band(low: tuple[float, ...], high: tuple[float, ...], css: str) -> str:
        up = [f"{n(f.x(days[i]))} {n(y(10 ** high[i]))}" for i in keep]
        down = [f"{n(f.x(days[i]))} {n(y(10 ** low[i]))}" for i in reversed(keep)]
        return path("M" + "L".join(up + down) + "Z", css)

    def at(years: float) -> float:
        return float(10 ** (fit.intercept + fit.slope * years))

    line = path("M" + "L".join(f"{n(f.x(days[i]))} {n(y(at(fit.years[i])))}" for i in keep), "forecast")
    out = [band(fit.next_low, fit.next_high, "band next"), band(fit.low, fit.high, "band"), line]
    if fit.earliest is not None and fit.surely_falling:
        out.append(_meets(f, y(life.minimum_mohm), fit.earliest, fit.latest))
    return out


def _meets(f: _Frame, at: float, earliest: date, latest: date | None) -> str:
    edge = f.width - f.right
    first = min(f.x(earliest), edge)
    last = min(f.x(latest), edge) if latest else edge
    return path(f"M{n(first)} {n(at - 7)}v14M{n(first)} {n(at)}H{n(last)}M{n(last)} {n(at - 7)}v14", "meets")


def _unbalance(f: _Frame, life: Life) -> list[str]:
    a, b = f.tops[1]
    shown = [d.unbalance[0] for d in life.dots if d.unbalance]
    top = max(2.4, life.balance_limit * 1.2, *(v * 1.15 for v in shown)) if shown else 2.4

    def y(v: float) -> float:
        return b - min(v, top) / top * (b - a)

    step = next(s for s in (1, 2, 5, 10, 20, 50, 100, 1000) if top / s <= 4)
    out = [text(f.left, a - 9, "Resistance unbalance, %", "ti")]
    for k in range(int(top // step) + 1):
        out.append(path(f"M{n(f.left - 10)} {n(y(k * step))}h10", "tick"))
        out.append(text(f.left - 14, y(k * step) + 5, f"{k * step:g}", "ax", "end"))
    out.append(path(f"M{n(f.left)} {n(y(life.balance_limit))}H{n(f.width - f.right)}", "limit"))
    proven = [d for d in life.dots if d.unbalance and not _undecided(d.unbalance, life.balance_limit)]
    for run in _segments(proven, lambda d: d.unbalance[0] if d.unbalance else None):
        out.append(path("M" + "L".join(f"{n(f.x(day))} {n(y(v))}" for day, v in run), "trace"))
    for dot in life.dots:
        if dot.unbalance is None:
            continue
        x, (v, low, high) = f.x(dot.on), dot.unbalance
        if _undecided(dot.unbalance, life.balance_limit):
            out.append(path(f"M{n(x)} {n(y(low))}V{n(y(high))}", "maybe"))
            out.append(circle(x, y(v), 6, "maybe"))
        elif low > life.balance_limit:
            out.append(rect(x - 5, y(v) - 5, 10, 10, "bad"))
        else:
            out.append(circle(x, y(v), 3.5 if f.small else 4.5, "dot"))
    return out


def _undecided(unbalance: tuple[float, float, float], limit: float) -> bool:
    return unbalance[1] <= limit < unbalance[2]


def _against_first(f: _Frame, life: Life) -> list[str]:
    a, b = f.tops[2]
    far = max([6.0, *(abs(d.against_first) * 1.1 for d in life.dots if d.against_first is not None)])

    def y(v: float) -> float:
        return (a + b) / 2 - v / far * (b - a) / 2

    out = [text(f.left, a - 9, "Resistance against the first set, %", "ti")]
    for v in (-5, 0, 5):
        out.append(path(f"M{n(f.left - 10)} {n(y(v))}h10", "tick"))
        label = "0" if v == 0 else f"{'+' if v > 0 else '−'}{abs(v)}"
        out.append(text(f.left - 14, y(v) + 5, label, "ax", "end"))
    out.append(
        path(f"M{n(f.left)} {n(y(5))}H{n(f.width - f.right)}M{n(f.left)} {n(y(-5))}H{n(f.width - f.right)}", "limit")
    )
    for run in _segments(life.dots, lambda d: d.against_first):
        out.append(path("M" + "L".join(f"{n(f.x(day))} {n(y(v))}" for day, v in run), "trace"))
        out += [circle(f.x(day), y(v), 3.5 if f.small else 4.5, "dot") for day, v in run]
    return out
