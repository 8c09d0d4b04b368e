"""Several quantities of a motor over one axis of time, a panel each; every test is a place to point at."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import lru_cache
from html import escape
from itertools import groupby, pairwise

from grimcoil.draw.svg import circle, n, path, rect, text
from grimcoil.draw.trend import YEAR_DAYS, Forecast, event_mark

Scale = Callable[[float], float]
LINE = 19.0  # between lines of words, and the least between names in the margin


@dataclass(frozen=True, slots=True)
class Mark:
    """A figure of a day; an open bound has an infinite end. run: marks next to each other are joined within one; odd:
    read under other conditions than the last, or without load.
    """

    on: date
    low: float
    high: float
    run: Hashable = None
    odd: bool = False


@dataclass(frozen=True, slots=True)
class Series:
    """Marks of one name; css tells how its line looks."""

    name: str
    marks: Sequence[Mark]
    css: str = ""


@dataclass(frozen=True, slots=True)
class Panel:
    """Series over one scale; lines: limits with their words; tall: the one that is looked at first; least: values the
    scale always reaches, so that what changes by nothing doesn't look like a fall.
    """

    title: str
    series: Sequence[Series]
    lines: Sequence[tuple[float, str]] = ()
    log: bool = False
    tall: bool = False
    least: Sequence[float] = ()


@dataclass(frozen=True, slots=True)
class Visit:
    """A test to point at: where it leads, its name for those who don't see it, and the lines shown when it is."""

    on: date
    href: str
    name: str
    says: Sequence[str]


@dataclass(frozen=True, slots=True)
class Picture:
    """All that is drawn from `since` through `until`; began: what lies before, where it does."""

    tag: str
    since: date
    until: date
    today: date
    panels: Sequence[Panel]
    visits: Sequence[Visit]
    events: Sequence[tuple[date, str, str]]
    began: str = ""
    forecast: Forecast | None = None


@dataclass(frozen=True, slots=True)
class _Frame:
    width: float
    left: float
    right: float
    first: float
    last: float
    small: bool

    def x(self, day: date) -> float:
        share = (day.toordinal() - self.first) / (self.last - self.first)
        return self.left + min(1.0, max(0.0, share)) * (self.width - self.left - self.right)

    @property
    def edge(self) -> float:
        return self.width - self.right


@lru_cache(maxsize=256)
def panels(picture: Picture, small: bool = False) -> str:
    """The whole as an svg element whose tests are links: a group, not an image, to a screen reader."""
    margin = max(timedelta(days=20), (picture.until - picture.since) * 0.02)
    first, last = (picture.since - margin).toordinal(), (_ahead(picture) + margin).toordinal()
    f = _Frame(386 if small else 960, 46 if small else 64, 16 if small else 92, first, last, small)
    lines = max((len(visit.says) for visit in picture.visits), default=0) if small else 1
    top = 74 + LINE * lines
    out, spans = _strip(f, picture), []
    for panel in picture.panels:
        height = (200 if small else 230) if panel.tall else (84 if small else 96)
        spans.append((top + 24, top + 24 + height))
        top += height + 46
    bottom = spans[-1][1] if spans else top
    out += _years(f, spans, picture)
    for panel, (a, b) in zip(picture.panels, spans, strict=True):
        out += _panel(f, panel, a, b, picture.forecast if panel.tall else None)
    out.append(f'<g class="visits" data-visits="">{_visits(f, picture.visits, spans)}</g>')
    label = escape(f"Trends of {picture.tag}: {len(picture.visits)} tests")
    return (
        f'<svg class="panels {"phone" if small else "wide"}" viewBox="0 0 {n(f.width)} {n(bottom + 40)}" role="group"'
        f' aria-label="{label}">{"".join(out)}</svg>'
    )


def _ahead(picture: Picture) -> date:
    """Where the axis ends: a span that reaches today shows some of what is coming, as far as the line may meet the
    minimum within six years.
    """
    if picture.until < picture.today:
        return picture.until
    room = max(timedelta(days=90), (picture.until - picture.since) * 0.12)
    meets = picture.forecast and (picture.forecast.latest or picture.forecast.earliest)
    far = picture.today + timedelta(days=round(6 * YEAR_DAYS))
    return max(picture.until + room, min(meets, far)) if meets else picture.until + room


def _strip(f: _Frame, picture: Picture) -> list[str]:
    """What happened, over the tests; words that would run into others are left out: the table has them."""
    y, out = 40.0, []
    out.append(path(f"M{n(f.left)} {y}H{n(f.x(min(picture.today, picture.until)))}", "life"))
    if picture.until >= picture.today:
        out.append(path(f"M{n(f.x(picture.today))} {y}H{n(f.edge)}", "ahead"))
    free = 0.0
    if picture.began:
        out.append(path(f"M{n(f.left)} {y - 10}l5 5l-8 5l8 5l-5 5", "torn"))
        out.append(text(2, y - 18, picture.began, "tx"))
        free = 2 + 8.4 * len(picture.began)
    for day, kind, words in picture.events:
        if not picture.since <= day <= picture.until:
            continue
        x = f.x(day)
        out.append(event_mark(kind, x, y))
        half = 4.2 * len(words)
        at = min(max(x, half + 2), f.width - half - 2)
        if at - half > free:
            out.append(text(at, y - 18, words, "tx", "middle"))
            free = at + half + 10
    return out


def _years(f: _Frame, spans: Sequence[tuple[float, float]], picture: Picture) -> list[str]:
    years = range(picture.since.year, date.fromordinal(int(f.last)).year + 1)
    room = (f.edge - f.left) / max(1, len(years))
    every = next(k for k in (1, 2, 5, 10, 50) if room * k >= 46)
    out = []
    for year in years:
        day = date(year, 1, 1)
        if not f.first <= day.toordinal() <= f.last:
            continue
        x = f.x(day)
        big = year % every == 0
        out += [path(f"M{n(x)} {n(a)}V{n(b)}", "grid") for a, b in spans if big]
        if spans:
            out.append(path(f"M{n(x)} {n(spans[-1][1])}v{10 if big else 5}", "tick"))
            out += [text(x, spans[-1][1] + 28, str(year), "ax", "middle")] if big else []
    if picture.since <= picture.today <= picture.until and spans:
        x = f.x(picture.today)
        out.append(
            path(f"M{n(x)} 34v14M{n(x)} {n(spans[0][0])}V{n(spans[-1][1])}", "nowl")
            + path(f"M{n(x - 7)} 24h14l-7 11Z", "nowt")
        )
    return out


def _ends(panel: Panel) -> tuple[float, float]:
    shown = [v for series in panel.series for mark in series.marks for v in (mark.low, mark.high) if math.isfinite(v)]
    shown += [*(value for value, _ in panel.lines), *panel.least]
    if panel.log:
        positive = [v for v in shown if v > 0] or [1.0]
        ends = math.floor(math.log10(min(positive)) * 2) / 2, math.ceil(math.log10(max(positive)) * 2 + 0.3) / 2
        return ends if ends[0] < ends[1] else (ends[0], ends[0] + 1)
    low, high = min([0.0, *shown]), max([0.0, *shown])
    room = (high - low or 1.0) * 0.1
    return (low - room if low < 0 else 0.0), high + room


def _scale(panel: Panel, ends: tuple[float, float], a: float, b: float) -> Scale:
    low, high = ends

    def y(value: float) -> float:
        shown = math.log10(max(value, 1e-12)) if panel.log else value
        return b - min(1.0, max(0.0, (shown - low) / (high - low))) * (b - a)

    return y


def _steps(ends: tuple[float, float], log: bool, most: int) -> list[float]:
    low, high = ends
    if log:
        decades = range(math.ceil(low), math.floor(high) + 1)
        return [10.0**k for k in decades] or [10.0 ** round(low)]
    rough = (high - low) / most
    decade = 10.0 ** math.floor(math.log10(rough))
    step = next(k * decade for k in (1, 2, 5, 10) if k * decade >= rough)
    return [k * step for k in range(math.ceil(low / step), math.floor(high / step + 1e-9) + 1)]


def _panel(f: _Frame, panel: Panel, a: float, b: float, forecast: Forecast | None) -> list[str]:
    ends = _ends(panel)
    y = _scale(panel, ends, a, b)
    out = [text(2, a - 8, panel.title, "ti"), path(f"M{n(f.left)} {n(a)}V{n(b)}H{n(f.edge)}", "axis")]
    for value in _steps(ends, panel.log, 4 if b - a < 120 else 6):
        out.append(path(f"M{n(f.left - 8)} {n(y(value))}h8", "tick"))
        out.append(path(f"M{n(f.left)} {n(y(value))}H{n(f.edge)}", "griddot"))
        out.append(text(f.left - 11, y(value) + 5, f"{value:g}".replace("-", "−"), "ax", "end"))
    named: list[tuple[float, str, str]] = []
    for value, words in panel.lines:
        out.append(path(f"M{n(f.left)} {n(y(value))}H{n(f.edge)}", "limit"))
        named.append((y(value), words, "tx actc"))
    out += _band(f, y, forecast) if forecast else []
    for series in panel.series:
        out += _series(f, series, y)
        if series.marks and len(panel.series) > 1:
            named.append((y(_shown(series.marks[-1])), series.name, f"tx b {series.css}"))
    return out + ([] if f.small else _margin(f, named, a, b))


def _margin(f: _Frame, named: Sequence[tuple[float, str, str]], a: float, b: float) -> list[str]:
    """Names beside the ends of their lines, moved apart where they would stand on each other."""
    at, out = a - LINE, []
    for y, words, css in sorted(named):
        at = max(at + LINE, y + 5)
        out.append((at, words, css))
    over = max(0.0, at - b - 6)
    return [text(f.edge + 8, y - over, words, css) for y, words, css in out]


def _shown(mark: Mark) -> float:
    return mark.low if mark.low > 0 or math.isinf(mark.high) else mark.high if mark.low == 0 else mark.low


def _series(f: _Frame, series: Series, y: Scale) -> list[str]:
    out = []
    for _, some in groupby(series.marks, key=lambda mark: (mark.run, mark.low == mark.high)):
        run = [mark for mark in some if mark.low == mark.high]
        for one, next_one in pairwise(run):
            out.append(
                path(
                    f"M{n(f.x(one.on))} {n(y(one.low))}L{n(f.x(next_one.on))} {n(y(next_one.low))}",
                    f"trace {series.css}",
                )
            )
    return out + [_mark(f, mark, y, series.css) for mark in series.marks]


def _mark(f: _Frame, mark: Mark, y: Scale, css: str) -> str:
    x, w = f.x(mark.on), 4.5
    if math.isinf(mark.high):
        return path(f"M{n(x - 6)} {n(y(mark.low))}h12M{n(x)} {n(y(mark.low))}v-16m-5 7l5-7 5 7", f"up {css}".rstrip())
    if mark.low == mark.high:
        return circle(x, y(mark.low), w if not mark.odd else w - 1, f"dot {css}{' odd' if mark.odd else ''}")
    return path(f"M{n(x - 5)} {n(y(mark.high))}h10M{n(x)} {n(y(mark.high))}V{n(y(mark.low))}m-5 0h10", "up")


def _band(f: _Frame, y: Scale, fit: Forecast) -> list[str]:
    days = [fit.reference + timedelta(days=round(t * YEAR_DAYS)) for t in fit.years]
    keep = [i for i, day in enumerate(days) if day.toordinal() <= f.last]
    if len(keep) < 2 or days[keep[0]].toordinal() < f.first:
        return []
    up = [f"{n(f.x(days[i]))} {n(y(10 ** fit.high[i]))}" for i in keep]
    down = [f"{n(f.x(days[i]))} {n(y(10 ** fit.low[i]))}" for i in reversed(keep)]
    line = [f"{n(f.x(days[i]))} {n(y(10 ** (fit.intercept + fit.slope * fit.years[i])))}" for i in keep]
    return [path("M" + "L".join(up + down) + "Z", "band"), path("M" + "L".join(line), "forecast")]


def _visits(f: _Frame, visits: Sequence[Visit], spans: Sequence[tuple[float, float]]) -> str:
    """Each test's own width of the picture, half way to its neighbours; the last is the one a keyboard comes to."""
    out = []
    top, bottom = (spans[0][0], spans[-1][1]) if spans else (60.0, 60.0)
    places = [f.x(visit.on) for visit in visits]
    for i, (visit, x) in enumerate(zip(visits, places, strict=True)):
        left = f.left - 20 if i == 0 else (places[i - 1] + x) / 2
        right = f.edge + 14 if i == len(visits) - 1 else (x + places[i + 1]) / 2
        lines = visit.says if f.small else [", ".join(visit.says)]
        says = "".join(text(2, 80 + LINE * k, words, "says") for k, words in enumerate(lines))
        out.append(
            f'<a class="visit" href="{escape(visit.href)}" aria-label="{escape(visit.name)}"'
            f' tabindex="{0 if i == len(visits) - 1 else -1}">'
            f"{rect(left, 60, max(right - left, 1), bottom - 60, 'hit')}"
            f'{path(f"M{n(x)} {n(top)}V{n(bottom)}", "at")}<g class="read">{says}</g></a>'
        )
    return "".join(out)
