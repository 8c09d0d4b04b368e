"""The plate beside the box: what the readings say of the winding or of the lines, drawn where they were taken."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from grimcoil.draw.svg import circle, n, path, rect, text

Point = tuple[float, float]
OPEN_HALF = 8.0  # half of the gap that an open is drawn with


@dataclass(frozen=True, slots=True)
class Mark:
    """A value on the plate: as read, or what is being read. open: nothing flows, and it is drawn so."""

    words: str
    live: bool = False
    open: bool = False


Marks = tuple[tuple[str, Mark], ...]


def plate(x: float, y: float, w: float, h: float) -> str:
    """An engraved plate: one hairline, a second 5 px inside."""
    return rect(x, y, w, h, "pl", 2) + rect(x + 5, y + 5, w - 10, h - 10, "pl-in", 2)


def coil(a: Point, b: Point, turns: int, css: str) -> str:
    """A coil as a row of half-turns."""
    d = f"M{n(a[0])} {n(a[1])}"
    radius = math.dist(a, b) / turns / 2
    tilt = math.degrees(math.atan2(b[1] - a[1], b[0] - a[0]))
    for i in range(1, turns + 1):
        x, y = a[0] + (b[0] - a[0]) * i / turns, a[1] + (b[1] - a[1]) * i / turns
        d += f"A{n(radius)} {n(radius * 1.25)} {n(tilt)} 0 1 {n(x)} {n(y)}"
    return path(d, css)


@lru_cache(maxsize=1024)
def winding_plate(x: float, y: float, connection: str | None, marks: Marks, live: tuple[str, ...]) -> str:
    """Three terminals with what joins them, and a value on each pair (`1-2`, `2-3`, `3-1`).

    connection: `wye`, `delta`, or None: then the inside stays closed, as ohms alone don't tell.
    """
    cx, cy, r = x + 164, y + 196, 96
    nodes = {name: _polar(cx, cy, r, angle) for name, angle in (("1", 90), ("2", -30), ("3", 210))}
    body = [plate(x, y, 328, 360), _inside(connection, (cx, cy), nodes, live, broken_leads(marks))]
    for name, (nx, ny) in nodes.items():
        on = name in live
        body.append(circle(nx, ny, 6 if on else 4.5, "nd live" if on else "nd"))
        ux, uy = (nx - cx) / r, (ny - cy) / r
        body.append(text(nx + ux * 22, ny + uy * 20 + 7, name, "ln live" if on else "ln", "middle"))
    for pair, angle in (("1-2", 30), ("2-3", -90), ("3-1", 150)):
        body.append(_pair_value(pair, _polar(cx, cy, 118 if angle != -90 else 96, angle), dict(marks).get(pair)))
    return "".join(body)


def _polar(cx: float, cy: float, r: float, angle: float) -> Point:
    a = math.radians(angle)
    return cx + r * math.cos(a), cy - r * math.sin(a)


def broken_leads(marks: Marks) -> frozenset[str]:
    """Leads that no pair reads through, where two open pairs or three say so: one open pair alone tells of no lead."""
    opened = [pair.split("-") for pair, mark in marks if mark.open]
    counted = Counter(lead for pair in opened for lead in pair)
    return frozenset(lead for lead, times in counted.items() if times > 1)


def _inside(
    connection: str | None, centre: Point, nodes: Mapping[str, Point], live: Sequence[str], broken: Collection[str]
) -> str:
    out = []
    if connection == "delta":
        corners = {name: _towards(centre, node, 0.55) if name in broken else node for name, node in nodes.items()}
        for a, b in (("1", "2"), ("2", "3"), ("3", "1")):
            out.append(_coil_between(corners[a], corners[b], a in live and b in live))
        out += [_gap(corners[name], nodes[name]) for name in sorted(broken)]  # the lead before the corner, not a coil
    elif connection == "wye":
        for name, node in nodes.items():
            out.append(_gap(centre, node) if name in broken else _coil_between(centre, node, name in live))
        out.append(circle(*centre, 6, "jt live" if live else "jt"))
    else:
        out.append(circle(*centre, 58, "shut"))
        for name, node in nodes.items():
            edge = _towards(centre, node, 58 / 96)
            d = f"M{n(edge[0])} {n(edge[1])}L{n(node[0])} {n(node[1])}"
            out.append(_gap(edge, node) if name in broken else path(d, "c live" if name in live else "c done"))
        out.append(text(centre[0], centre[1] - 4, "wye or delta:", "cap", "middle"))
        out.append(text(centre[0], centre[1] + 16, "not told", "cap", "middle"))
    return "".join(out)


def _coil_between(a: Point, b: Point, on: bool) -> str:
    css = "c live" if on else "c done"

    p, q = _towards(a, b, 0.2), _towards(a, b, 0.8)
    ends = path(f"M{n(a[0])} {n(a[1])}L{n(p[0])} {n(p[1])}M{n(q[0])} {n(q[1])}L{n(b[0])} {n(b[1])}", css)
    return ends + coil(p, q, 5, css)


def _towards(a: Point, b: Point, share: float) -> Point:
    return a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share


def _gap(a: Point, b: Point) -> str:
    """A wire that is broken in its middle, its two ends blunt."""
    length = math.dist(a, b) or 1.0
    along = (b[0] - a[0]) / length, (b[1] - a[1]) / length
    middle = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
    d = ""
    for end, side in ((a, -1), (b, 1)):
        x, y = middle[0] + side * OPEN_HALF * along[0], middle[1] + side * OPEN_HALF * along[1]
        d += f"M{n(end[0])} {n(end[1])}L{n(x)} {n(y)}"
        d += f"M{n(x - 6 * along[1])} {n(y + 6 * along[0])}L{n(x + 6 * along[1])} {n(y - 6 * along[0])}"
    return path(d, "c broken")


def _pair_value(pair: str, at: Point, mark: Mark | None) -> str:
    x, y = at
    name = pair.replace("-", "–")
    if mark is None:
        return text(x, y - 8, name, "valn", "middle") + path(f"M{n(x - 28)} {n(y + 8)}h56", "blank")
    css = "val live" if mark.live else "val"
    return text(x, y - 10, name, "valn", "middle") + text(x, y + 16, mark.words, css, "middle")


@dataclass(frozen=True, slots=True)
class Row:
    """A line of a plate: what is measured between which two ends, and what it read. live: read now; hatched: the two
    ends are kept apart by insulation, not joined by a coil.
    """

    near: str
    far: str
    mark: Mark | None = None
    hatched: bool = False


MOST_ROWS = 12


@lru_cache(maxsize=1024)
def rows_plate(x: float, y: float, rows: tuple[Row, ...]) -> str:
    """Coils, or what insulation keeps apart, one a line with its value: for windings of any number of leads."""
    shown = rows[:MOST_ROWS]
    body = [plate(x, y, 328, 360)]
    step = min(54.0, 330 / max(1, len(shown)))
    top = y + 180 - step * (len(shown) - 1) / 2
    wide = max((len(row.near) for row in shown), default=1) > 3 or max((len(row.far) for row in shown), default=1) > 3
    left, right = (x + 100, x + 150) if wide else (x + 48, x + 148)
    for i, row in enumerate(shown):
        body.append(_row(row, left, right, top + step * i, wide))
        value = row.mark or Mark("")
        css = "val live" if value.live else "val"
        body.append(text(x + 312, top + step * i + 7, value.words, css, "end", 17 if step < 40 else 21))
        if row.mark is None:
            body.append(path(f"M{n(x + 258)} {n(top + step * i + 8)}h54", "blank"))
    return "".join(body)


def _row(row: Row, left: float, right: float, y: float, wide: bool) -> str:
    on = row.mark is not None and row.mark.live
    css, size = ("ln live" if on else "ln"), 13 if wide else 18
    ends = text(left - 10, y + 6, row.near, css, "end", size) + text(right + 10, y + 6, row.far, css, "start", size)
    dots = circle(left, y, 4, "nd live" if on else "nd") + circle(right, y, 4, "nd live" if on else "nd")
    if row.hatched:
        line = f"M{n(left + 6)} {n(y)}H{n(right - 6)}"
        strokes = "".join(f"M{n(left + 10 + 7 * k)} {n(y)}l-5 -6" for k in range(int((right - left - 14) // 7)))
        return path(line, "c live" if on else "c done") + path(strokes, "c live" if on else "c done") + dots + ends
    if row.mark is not None and row.mark.open:
        return _gap((left, y), (right, y)) + dots + ends
    coiled = "c live" if on else "c done"
    a, b = left + (right - left) * 0.18, left + (right - left) * 0.82
    leads = path(f"M{n(left)} {n(y)}H{n(a)}M{n(b)} {n(y)}H{n(right)}", coiled)
    return leads + coil((a, y), (b, y), 5, coiled) + dots + ends


@lru_cache(maxsize=1024)
def one_line_plate(x: float, y: float, stage: str, marks: Marks) -> str:
    """The circuit as one line: supply, disconnect, starter, overload, motor, with open or closed contacts.

    stage: `open` (locked, dead), `closed` (running). marks: values beside the line by `L1-L2` or `L1`, the last six
    of them.
    """
    cx = x + 92
    top, gap = y + 44, 74
    closed = stage == "closed"
    body = [plate(x, y, 328, 360)]
    names = ("supply", "disconnect", "starter", "overload", "motor")
    for i, name in enumerate(names):
        cy = top + i * gap * 0.9
        if i:
            body.append(path(f"M{n(cx)} {n(cy - gap * 0.9 + 16)}V{n(cy - 16)}", "c live" if closed else "c done"))
        body.append(_symbol(name, cx, cy, closed))
        body.append(text(cx + 34, cy + 6, name, "cap"))
    for i, (key, mark) in enumerate(marks[-6:]):
        my = y + 62 + i * 50
        body.append(text(x + 306, my - 18, key.replace("-", "–"), "valn", "end"))
        body.append(text(x + 306, my + 6, mark.words, "val live" if mark.live else "val", "end"))
    return "".join(body)


def _symbol(name: str, x: float, y: float, closed: bool) -> str:
    css = "c live" if closed else "c done"
    if name == "supply":
        return path(
            f"M{n(x - 16)} {n(y - 6)}h32M{n(x - 16)} {n(y)}h32M{n(x - 16)} {n(y + 6)}h32M{n(x)} {n(y + 6)}v10", css
        )
    if name in ("disconnect", "starter"):
        blade = f"L{n(x)} {n(y - 12)}" if closed else f"L{n(x + 18)} {n(y - 10)}"
        out = path(f"M{n(x)} {n(y + 16)}V{n(y + 10)}{blade}M{n(x)} {n(y - 16)}v4", css)
        if name == "disconnect" and not closed:
            out += f'<use class="s-lock" href="#gc-locked" x="{n(x - 34)}" y="{n(y - 12)}" width="22" height="22"/>'
        return out
    if name == "overload":
        return path(f"M{n(x)} {n(y - 16)}v6h9v20h-9v6", css)
    return circle(x, y + 6, 21, css) + text(x, y + 12, "M", "ln", "middle")
