"""A fleet drawn: insulation over the minimum against the years until it is used up; each motor a mark, many a cell."""

from __future__ import annotations

import math
import zlib
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from functools import lru_cache
from html import escape
from urllib.parse import quote

from grimcoil.core.fleet import AHEAD_YEARS, Margin, Place
from grimcoil.core.readings import three_digits
from grimcoil.draw.svg import n, path, rect, text

MOST_MARKS = 60  # beyond it the worst are marks, the rest cells
WORST = 12
LEAST_TIMES, DECADES = 0.3, 3.3
COLUMN = 36.0  # of the marks beside the years
LABEL = 9.6  # a letter of a tag is so wide
Box = tuple[float, float, float, float]


@dataclass(frozen=True, slots=True)
class _Frame:
    """Lengths of one of the two pictures."""

    width: float
    left: float
    year: float
    top: float
    decade: float
    beside: float
    small: bool

    @property
    def line(self) -> float:
        """Height of the minimum."""
        return self.top + DECADES * self.decade

    @property
    def foot(self) -> float:
        return self.line + 0.55 * self.decade

    @property
    def edge(self) -> float:
        return self.left + AHEAD_YEARS * self.year

    def x(self, years: float) -> float:
        return self.left + min(years, AHEAD_YEARS) * self.year

    def y(self, times: float) -> float:
        return self.line - max(math.log10(LEAST_TIMES), min(DECADES, math.log10(max(times, 1e-9)))) * self.decade


WIDE = _Frame(896, 84, 46, 46, 112, 572, small=False)
PHONE = _Frame(366, 56, 15, 40, 82, 224, small=True)


@dataclass(frozen=True, slots=True)
class Plane:
    """What is drawn: motors in the order of need, the day, the next stop where one is known, and the one chosen."""

    margins: tuple[Margin, ...]
    today: date
    stop: date | None = None
    chosen: str = ""


@lru_cache(maxsize=32)
def plane(picture: Plane, href: str, small: bool = False) -> str:
    """The whole as an svg whose marks are links, `href` before the tag: a group of links to a screen reader."""
    f = PHONE if small else WIDE
    marks: Sequence[Margin] = picture.margins
    cells: Sequence[Margin] = ()
    if len(picture.margins) > MOST_MARKS:
        marks, cells = picture.margins[:WORST], picture.margins[WORST:]
    body = [*_ground(f, picture), *_cells(f, picture, cells)]
    places = spots(f, Plane(tuple(marks), picture.today))
    taken = [(x - 10, y - 10, x + 10, y + 10) for x, y in places.values()]
    drawn = [_mark(f, picture, one, href, places[one.tag], taken) for one in marks]
    label = f"Fleet of {len(picture.margins)} motors: insulation at 40 °C over the minimum, years until it is used up"
    group = f'<g class="visits marks" data-visits="">{"".join(drawn)}</g>'
    return (
        f'<svg class="plane {"only-phone" if small else "only-wide"}" viewBox="0 0 {n(f.width)} {n(f.foot + 74)}"'
        f' role="group" aria-label="{escape(label)}">{"".join(body)}{group}</svg>'
    )


def _ground(f: _Frame, picture: Plane) -> Iterator[str]:
    title = "Insulation at 40 °C, times its minimum" if not f.small else "Insulation, times its minimum"
    yield text(f.left if not f.small else 2, 20, title, "ti")
    for power in range(int(DECADES) + 1):
        y = f.y(10.0**power)
        yield path(f"M{n(f.left)} {n(y)}H{n(f.width - 8)}", "grid")
        yield text(f.left - 10, y + 5, f"{10**power}×", "ax", "end")
    if picture.stop is not None and picture.stop > picture.today:
        x = f.x((picture.stop - picture.today).days / 365.25)
        yield rect(f.left, f.top - 6, x - f.left, f.line - f.top + 6, "before-stop")
        yield path(f"M{n(x)} {n(f.top - 14)}V{n(f.foot)}", "stop")
        if not f.small:
            yield text(x + 6, f.top - 2, f"next stop, {picture.stop.day} {picture.stop:%b %Y}", "stopt")
    for slope, words in ((1.0, "to a tenth in 1 year"), (0.30103, "halves in 1 year"), (0.100343, "halves in 3 years")):
        years = min(AHEAD_YEARS, DECADES / slope)
        x, y = f.x(years), f.y(10 ** (slope * years))
        yield path(f"M{n(f.left)} {n(f.line)}L{n(x)} {n(y)}", "slope")
        if not f.small:
            turn = -math.degrees(math.atan2(f.line - y, x - f.left))
            at = f.left + (x - f.left) * 0.74, f.line + (y - f.line) * 0.74 - 7
            said_at = text(0, 0, words, "slopet", "middle")
            yield f'<g transform="translate({n(at[0])} {n(at[1])}) rotate({n(turn)})">{said_at}</g>'
    yield path(f"M{n(f.left)} {n(f.line)}H{n(f.width - 8)}", "limit")
    yield text(f.width - 8, f.line + 18, "below the minimum", "tx actc", "end")
    yield path(f"M{n(f.left)} {n(f.top - 10)}V{n(f.foot)}H{n(f.edge)}", "axis")
    yield path(f"M{n(f.beside)} {n(f.foot)}H{n(f.width - 8)}", "axis")
    for ahead in range(0, int(AHEAD_YEARS) + 1, 2):
        words = "now" if ahead == 0 else str(picture.today.year + ahead)
        yield path(f"M{n(f.x(ahead))} {n(f.foot)}v6", "tick")
        yield text(f.x(ahead), f.foot + 22, words if not f.small or ahead % 4 == 0 else "", "ax", "middle")
    middle = (f.beside + f.width - 8) / 2
    yield text(middle, f.foot + 22, "not in ten years" if not f.small else "later", "ax", "middle")
    unproven = sum(one.place(picture.today) is Place.UNPROVEN for one in picture.margins)
    if unproven:
        yield text(2 if f.small else f.left, f.foot + 58, f"Unproven, {unproven}:", "tx b")


def spots(f: _Frame, picture: Plane) -> dict[str, tuple[float, float]]:
    """Where each mark stands. Those beside the years have no place of their own from left to right: each takes the
    column whose marks are the farthest off.
    """
    out, columns = {}, max(1, int((f.width - f.beside - 30) // COLUMN))
    taken: list[list[float]] = [[] for _ in range(columns)]
    for one in picture.margins:
        x, y = spot(f, one, picture)
        if x > f.edge and one.place(picture.today) in (Place.LASTING, Place.NO_SLOPE):
            free = [min((abs(y - other) for other in some), default=1e6) for some in taken]
            column = free.index(max(free))
            taken[column].append(y)
            x = f.beside + 22 + COLUMN * column
        out[one.tag] = x, y
    return out


def spot(f: _Frame, one: Margin, picture: Plane) -> tuple[float, float]:
    """Where a motor's mark stands. What has no slope or lasts is spread sideways by its tag."""
    place, times = one.place(picture.today), one.times
    spread = zlib.crc32(one.tag.encode()) % 97 / 97
    if place is Place.UNPROVEN or times is None:
        at = [m.tag for m in picture.margins if m.place(picture.today) is Place.UNPROVEN].index(one.tag)
        step = 30 if f.small else 116
        return (110 if f.small else f.left + 116) + step * at, f.foot + 53
    if place is Place.BELOW:
        return f.left + 16 + 26 * spread, f.y(times[1])
    if place is Place.FALLING:
        years = one.years(picture.today) or (0.0, None, None)
        middle = years[1] if years[1] is not None else (years[0] + (years[2] or AHEAD_YEARS)) / 2
        return f.x(middle), f.y(times[0])
    return f.beside + 12 + (f.width - f.beside - 36) * spread, f.y(times[0])


def _mark(f: _Frame, picture: Plane, one: Margin, href: str, at: tuple[float, float], taken: list[Box]) -> str:
    x, y = at
    if x > f.width - 12:
        return ""  # past the foot's end: the list beside has it
    place, body = one.place(picture.today), []
    years = one.years(picture.today) if place is Place.FALLING else None
    if years is not None:
        late = AHEAD_YEARS if years[2] is None else years[2]
        a, b = f.x(years[0]), f.x(late)
        arrow = "l-7-5m7 5l-7 5" if late >= AHEAD_YEARS else "m0-6v12"
        body.append(path(f"M{n(a)} {n(y - 6)}v12M{n(a)} {n(y)}H{n(b)}{arrow}", f"wh {one.verdict}"))
    if one.times is not None and math.isinf(one.times[1]):
        body.append(path(f"M{n(x - 8)} {n(y)}h16M{n(x)} {n(y)}v-22m-6 8l6-8 6 8", "up"))
    if one.critical:
        body.append(rect(x - 15, y - 15, 30, 30, "frame") + rect(x - 12, y - 12, 24, 24, "frame in"))
    verdict = escape(one.verdict)
    body.append(f'<use href="#gc-{verdict}" class="{verdict}" x="{n(x - 8)}" y="{n(y - 8)}" width="16" height="16"/>')
    if one.tag == picture.chosen:
        body.append(rect(x - 21, y - 21, 42, 42, "chosen"))
    if not f.small or one.tag in (picture.chosen, *(m.tag for m in picture.margins[:3])):
        body.append(_name(f, one.tag, x, y, taken, place is Place.UNPROVEN))
    first, name = one is picture.margins[0], escape(said(one, picture.today))
    inner = rect(x - 22, y - 22, 44, 44, "hit") + "".join(body)
    where = escape(href + quote(one.tag, safe=""))
    return f'<a class="visit" href="{where}" aria-label="{name}" tabindex="{0 if first else -1}">{inner}</a>'


AROUND = ((0, -20, "middle"), (20, 5, "start"), (-20, 5, "end"), (0, 32, "middle"))  # a name, round its mark


def _name(f: _Frame, tag: str, x: float, y: float, taken: list[Box], in_row: bool) -> str:
    """The tag at the first free place round its mark; none if none is free."""
    wide = LABEL * len(tag)
    for dx, dy, anchor in ((14, 5, "start"),) if in_row else AROUND:
        left = x + dx - (wide / 2 if anchor == "middle" else wide if anchor == "end" else 0)
        box = (left, y + dy - 13, left + wide, y + dy + 3)
        if box[0] < 2 or box[2] > f.width - 2 or any(_meet(box, other) for other in taken):
            continue
        taken.append(box)
        return text(x + dx, y + dy, tag, "name", anchor)
    return ""


def _meet(a: Box, b: Box) -> bool:
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


def _cells(f: _Frame, picture: Plane, margins: Sequence[Margin]) -> Iterator[str]:
    """What is too many for marks: strokes by how many stand there, one more with each doubling."""
    wide, high = (24.0, 20.0) if not f.small else (16.0, 16.0)
    found: Counter[tuple[int, int]] = Counter()
    for one in margins:
        if one.times is not None and one.place(picture.today) is not Place.UNPROVEN:
            x, y = spot(f, one, picture)
            found[int(x // wide), int(y // high)] += 1
    for (i, j), count in sorted(found.items()):
        strokes = min(7, 1 + int(math.log2(count)))
        d = "".join(f"M{n(i * wide + 3 + 3 * k)} {n(j * high + 4)}v{n(high - 8)}" for k in range(strokes))
        yield f"<g><title>{count} motors</title>{path(d, 'cell')}</g>"


def said(one: Margin, today: date) -> str:
    """A motor in a sentence: place, insulation over its minimum, years. For the window and for who doesn't see it."""
    place, times, years = one.place(today), one.times, one.years(today)
    at = f"{one.tag}, {one.position}" if one.position else one.tag
    if times is None:
        return f"{at}: no insulation value over a minimum is on record"
    least, most = times
    shown = f"{three_digits(least)} times its minimum" if least == most else f"at least {three_digits(least)} times"
    if place is Place.BELOW:
        return f"{at}: below the minimum, {three_digits(most)} of it"
    if place is Place.UNPROVEN:
        return f"{at}: unproven, {shown}"
    if place is Place.NO_SLOPE:
        return f"{at}: {shown}, too few tests for a line"
    if years is None or place is Place.LASTING:
        return f"{at}: {shown}, not used up in ten years"
    late = f" to {years[2]:.1f}" if years[2] is not None else " or more"
    return f"{at}: {shown}, used up in {years[0]:.1f}{late} years"


def strokes(verdicts: Sequence[str]) -> str:
    """An area's motors, a stroke each, the worst first and tallest; above 40 as one bar by shares."""
    high = {"act": 22, "watch": 18, "unproven": 12, "sound": 12}
    if len(verdicts) > 40:
        out, x = "", 0.0
        for verdict, count in Counter(verdicts).items():
            w = 240 * count / len(verdicts)
            out += rect(x, 6, w, 14, f"share {escape(verdict)}")
            x += w
        return f'<svg class="strokes" viewBox="0 0 240 26" aria-hidden="true">{out}</svg>'
    d = "".join(path(f"M{n(4 + 6 * i)} 24v-{high.get(v, 12)}", f"stroke {escape(v)}") for i, v in enumerate(verdicts))
    return f'<svg class="strokes" viewBox="0 0 240 26" aria-hidden="true">{d}</svg>'
