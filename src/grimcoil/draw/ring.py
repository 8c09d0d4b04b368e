"""Unmarked leads round the stator's outline: coils appear as readings join them, the next pair stands out.

Drawn where the leads come out, not where the coils lie.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from html import escape

from grimcoil.draw.svg import circle, n, path, rect, text

Point = tuple[float, float]
SLOTS = 36


@dataclass(frozen=True, slots=True)
class Ring:
    """One size of the drawing."""

    width: float
    height: float
    centre: Point
    outer: float
    bore: float
    reach: float
    tag: tuple[float, float, float]


WIDE = Ring(620, 470, (310, 235), 150, 98, 62, (44, 44, 22))
PHONE = Ring(390, 306, (195, 153), 82, 52, 44, (44, 44, 20))


@dataclass(frozen=True, slots=True)
class Shown:
    """What is known: pairs found closed with their text, the leads asked for next, those picked by hand, and labels."""

    found: tuple[tuple[str, str, str], ...] = ()
    asked: tuple[str, ...] = ()
    picked: tuple[str, ...] = ()
    labels: tuple[tuple[str, str], ...] = ()


@lru_cache(maxsize=256)
def ring(at: Ring, leads: tuple[str, ...], shown: Shown, links: tuple[tuple[str, str], ...], css: str) -> str:
    """The drawing as SVG. links: lead -> address that picks it; the labels say what each lead is found to be."""
    angle = {lead: 90 - 360 * i / len(leads) for i, lead in enumerate(leads)}
    used = {lead for a, b, _ in shown.found for lead in (a, b)}
    body = [_wire(at, angle[lead], lead in used, lead in shown.asked) for lead in leads]
    body.append(_core(at))
    body += [_coil(at, angle[a], angle[b], i) for i, (a, b, _) in enumerate(shown.found)]
    if len(shown.asked) == 2:
        body.append(_chord(at, angle[shown.asked[0]], angle[shown.asked[1]]))
    address, label = dict(links), dict(shown.labels)
    for lead in leads:
        state = "on" if lead in (shown.picked or shown.asked) else "us" if lead in used else ""
        body.append(_tag(at, lead, label.get(lead, ""), angle[lead], state, address.get(lead)))
    return (
        f'<svg class="{css}" viewBox="0 0 {n(at.width)} {n(at.height)}" role="group"'
        f' aria-label="Stator with {len(leads)} unmarked leads">{"".join(body)}</svg>'
    )


def _polar(centre: Point, r: float, angle: float) -> Point:
    a = math.radians(angle)
    return centre[0] + r * math.cos(a), centre[1] - r * math.sin(a)


def _wire(at: Ring, angle: float, used: bool, asked: bool) -> str:
    x0, y0 = _polar(at.centre, at.outer - 4, angle)
    x1, y1 = _polar(at.centre, at.outer + at.reach, angle)
    bend = _polar(at.centre, at.outer + at.reach * 0.5, angle + 7)
    d = f"M{n(x0)} {n(y0)}Q{n(bend[0])} {n(bend[1])} {n(x1)} {n(y1)}"
    state = " on" if asked else " u" if used else ""
    return (
        f'<g class="lead{state}"><path class="o" stroke-width="9.4" d="{d}"/>'
        f'<path class="i" stroke-width="7" d="{d}"/></g>'
    )


def _core(at: Ring) -> str:
    cx, cy = at.centre
    k = at.bore / 98
    out = [circle(cx, cy, at.outer, "core")]
    out += [circle(cx, cy, at.outer - i * 3.4 * k, "lam") for i in range(1, 8)]
    out.append(circle(cx, cy, at.bore, "bore"))
    inner, depth = at.bore, 26 * k
    d = f"M{n(inner - 1)} -1.6H{n(inner + 4)}V-4.2H{n(inner + depth)}V4.2H{n(inner + 4)}V1.6H{n(inner - 1)}"
    for i in range(SLOTS):
        turn = f"translate({n(cx)} {n(cy)}) rotate({n(i * 360 / SLOTS + 5)})"
        out.append(f'<path class="slot" transform="{turn}" d="{d}"/>')
    return "".join(out)


def _bent(at: Ring, one: float, two: float, depth: float) -> tuple[Point, Point, Point]:
    """A chord drawn towards the centre: its ends on the bore and its control point."""
    a, b = _polar(at.centre, at.bore - 2, one), _polar(at.centre, at.bore - 2, two)
    middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
    towards = (
        middle[0] + (at.centre[0] - middle[0]) * depth,
        middle[1] + (at.centre[1] - middle[1]) * depth,
    )
    return a, towards, b


def _coil(at: Ring, one: float, two: float, index: int) -> str:
    """A coil as a curl along the bent chord, its ends led through the core."""
    a, c, b = _bent(at, one, two, 0.3 + 0.12 * (index % 4))
    points = []
    radius = 7 * at.bore / 98
    for i in range(161):
        t = i / 160
        x = (1 - t) ** 2 * a[0] + 2 * t * (1 - t) * c[0] + t * t * b[0]
        y = (1 - t) ** 2 * a[1] + 2 * t * (1 - t) * c[1] + t * t * b[1]
        dx = 2 * (1 - t) * (c[0] - a[0]) + 2 * t * (b[0] - c[0])
        dy = 2 * (1 - t) * (c[1] - a[1]) + 2 * t * (b[1] - c[1])
        length = math.hypot(dx, dy) or 1.0
        swell = min(1.0, max(0.0, (t - 0.2) / 0.06), 1.0) * max(0.0, min(1.0, (0.8 - t) / 0.06))
        turn = 2 * math.pi * 8 * (t - 0.2) / 0.6
        tx, ty = dx / length, dy / length
        x += radius * swell * (math.sin(turn) * tx - (1 - math.cos(turn)) * ty * 0.75)
        y += radius * swell * (math.sin(turn) * ty + (1 - math.cos(turn)) * tx * 0.75)
        points.append(f"{n(x)} {n(y)}")
    d = "M" + "L".join(points)
    ends = "".join(_through(at, angle) for angle in (one, two))
    return ends + path(d, "fo") + path(d, "fc")


def _through(at: Ring, angle: float) -> str:
    p, q = _polar(at.centre, at.bore - 2, angle), _polar(at.centre, at.outer - 2, angle)
    return path(f"M{n(p[0])} {n(p[1])}L{n(q[0])} {n(q[1])}", "thru")


def _chord(at: Ring, one: float, two: float) -> str:
    a, c, b = _bent(at, one, two, 0.55)
    outer = _polar(at.centre, at.outer, one), _polar(at.centre, at.outer, two)
    d = f"M{n(outer[0][0])} {n(outer[0][1])}L{n(a[0])} {n(a[1])}Q{n(c[0])} {n(c[1])} {n(b[0])} {n(b[1])}"
    return path(f"{d}L{n(outer[1][0])} {n(outer[1][1])}", "asknext")


def _tag(at: Ring, lead: str, label: str, angle: float, state: str, href: str | None) -> str:
    x, y = _polar(at.centre, at.outer + at.reach, angle)
    w, h, size = at.tag
    parts = []
    if state == "on":
        parts.append(rect(x - w / 2 - 5, y - h / 2 - 5, w + 10, h + 10, "pulse", 3))
    parts.append(rect(x - w / 2, y - h / 2, w, h, "sleeve", 2))
    parts.append(text(x, y + size * (0.1 if label else 0.36), lead, "no", "middle", size))
    if label:
        parts.append(text(x, y + h / 2 - 4, label, "is", "middle", 14))
    body = f'<g class="{state}">{"".join(parts)}</g>'
    if href is None:
        return body
    said = f"Lead {lead}" + (f", marked {label}" if label else "") + (", read it next" if state == "on" else "")
    return f'<a class="pick" href="{escape(href)}" aria-label="{escape(said)}">{body}</a>'
