"""Leads joined in the terminal box, and the coils drawn to the volts they get.

The coil diagram puts every joint where its potential lies, so a star is a star, a delta a delta, and a wrong joining
looks as wrong as it is; the dashed figure is the design.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import groupby, pairwise

from grimcoil.draw.panel import coil, plate
from grimcoil.draw.svg import circle, figure, n, path, rect, text

Group = tuple[str, ...]
Point = tuple[float, float]
PHASE_COLOURS = {
    "brown": "#7a4a24", "black": "#3a3a3a", "grey": "#8a9298", "red": "#b3261e", "blue": "#2f5fa8", "yellow": "#d9a514",
    "orange": "#d9731a", "white": "#e9e6dc", "green": "#2f7d4f", "violet": "#71448f",
}  # fmt: skip
ONE_COLOUR = (
    "svg{background:#fff;font-family:sans-serif}text{fill:#000}.pl,.pl-in,.should{fill:none;stroke:#999}"
    ".should{stroke-dasharray:5 5}"
    ".c,.leg-o,.wire-o{fill:none;stroke:#000}.leg-o{stroke:#fff;stroke-width:7}.wire-i{display:none}.phase-leg{fill:none;stroke:#000;stroke-width:3}"
    ".nd,.stud,.nut,.sleeve{fill:#fff;stroke:#000}.jt,.start-dot,.bar-link{fill:#000}.leg-act{stroke-dasharray:9 4}"
)


@dataclass(frozen=True, slots=True)
class Leg:
    """A coil between two potentials (volts, real and imaginary). state: `ok`, `low`, `act`; name and volts as text."""

    name: str
    start: complex
    finish: complex
    state: str
    words: str


def _plane(legs: Sequence[Leg], lines: Sequence[complex], design: float) -> tuple[float, Point]:
    top = max([design, 1e-9, *(abs(p) for leg in legs for p in (leg.start, leg.finish)), *(abs(p) for p in lines)])
    return 150 / top, (210.0, 205.0)


@lru_cache(maxsize=128)
def coil_diagram(
    legs: tuple[Leg, ...], lines: tuple[complex, ...], design: float, colours: tuple[str, ...], label: str
) -> str:
    """Coils at their potentials. lines: potentials of L1, L2, L3; design: the reach the right connection has, V."""
    scale, centre = _plane(legs, lines, design)

    def at(p: complex) -> Point:
        turned = p * 1j
        return centre[0] + turned.real * scale, centre[1] - turned.imag * scale

    body = [plate(4, 4, 412, 402)]
    corners = [at(p) for p in lines]
    if len(corners) == 3:
        d = "M" + "L".join(f"{n(x)} {n(y)}" for x, y in corners) + "Z"
        body.append(path(d, "should"))
    seen: dict[tuple[int, int, int, int], int] = {}
    labels = []
    for leg in legs:
        a, b = at(leg.start), at(leg.finish)
        ends = sorted([(round(a[0]), round(a[1])), (round(b[0]), round(b[1]))])
        key = (*ends[0], *ends[1])
        beside = seen.get(key, 0)
        seen[key] = beside + 1
        body.append(_leg(a, b, leg, beside))
        labels.append(_leg_label(a, b, leg, beside, centre))
    for i, (x, y) in enumerate(corners):
        body.append(circle(x, y, 9, "nd"))
        body.append(f'<circle cx="{n(x)}" cy="{n(y)}" r="6" fill="{line_colour(colours, i)}"/>')
        away = math.hypot(x - centre[0], y - centre[1]) or 1.0
        ux, uy = (x - centre[0]) / away, (y - centre[1]) / away
        body.append(text(x + ux * 24, y + uy * 22 + 7, f"L{i + 1}", "ln", "middle"))
    return figure(420, 410, label, "".join(body + labels))


def line_colour(colours: Sequence[str], index: int) -> str:
    """What a line of the three is drawn in: the works' own colour of its core, grey where none is kept."""
    return PHASE_COLOURS.get(colours[index] if index < len(colours) else "", "#8a9298")


def _leg(a: Point, b: Point, leg: Leg, beside: int) -> str:
    length = math.dist(a, b)
    if length < 6:
        return circle(a[0], a[1], 5, "jt")
    shift = (0, 16, -16, 30)[beside % 4]
    nx, ny = -(b[1] - a[1]) / length * shift, (b[0] - a[0]) / length * shift

    def along(share: float) -> Point:
        return a[0] + (b[0] - a[0]) * share + nx, a[1] + (b[1] - a[1]) * share + ny

    p, q = along(0.14), along(0.86)
    ends = f"M{n(a[0])} {n(a[1])}L{n(p[0])} {n(p[1])}M{n(q[0])} {n(q[1])}L{n(b[0])} {n(b[1])}"
    css = f"phase-leg leg-{leg.state}"
    return path(ends, css) + coil(p, q, 5 if length > 60 else 3, css) + circle(p[0], p[1], 4, "start-dot")


def _leg_label(a: Point, b: Point, leg: Leg, beside: int, centre: Point) -> str:
    x, y = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
    away = math.hypot(x - centre[0], y - centre[1])
    ux, uy = ((x - centre[0]) / away, (y - centre[1]) / away) if away > 8 else (0.0, 1.0)
    side = 1 if beside % 2 == 0 else -1
    length = math.dist(a, b) or 1.0
    nx, ny = -(b[1] - a[1]) / length, (b[0] - a[0]) / length
    if nx * ux + ny * uy < 0:
        nx, ny = -nx, -ny
    across = nx * side
    offset = ((26, 26, 42)[beside % 3] if beside else 20) + (14 if abs(across) < 0.3 else 0)
    lx, ly = x + nx * offset * side, y + ny * offset * side + 5
    anchor = "middle" if abs(across) < 0.3 else "start" if across > 0 else "end"
    return text(lx, ly - 8, leg.name, "valn", anchor) + text(lx, ly + 10, leg.words, "cap", anchor)


@lru_cache(maxsize=128)
def stud_block(
    rows: tuple[Group, Group], nodes: tuple[tuple[str, str], ...], colours: tuple[str, ...], label: str
) -> str:
    """Six studs in two rows with links as bars; each stud says its number and letter.

    rows: stud texts (`1 U1`) above and below; nodes: stud number -> what it lies on (`L1`, `a`, or nothing).
    """
    on = dict(nodes)
    where = {
        stud.split(" ")[0]: (90.0 + 120 * i, 140.0 if r == 0 else 270.0)
        for r, row in enumerate(rows)
        for i, stud in enumerate(row)
    }
    body = [plate(4, 4, 412, 402)]
    body += _links(where, on)
    lines = ("L1", "L2", "L3")
    for i, line in enumerate(lines):
        fed = [where[stud] for stud in where if on.get(stud) == line]
        if fed:
            low = max(fed, key=lambda p: p[1])
            body.append(_feed(low, i, colours))
    for stud, (x, y) in where.items():
        words = next(s for row in rows for s in row if s.split(" ")[0] == stud)
        body += [circle(x, y, 24, "stud"), circle(x, y, 13, "nut")]
        body.append(text(x, y + 6, stud, "no", "middle", 16))
        above = y < 200
        body.append(
            text(
                x + (0 if above else 30),
                y - 32 if above else y + 6,
                words.partition(" ")[2],
                "valn",
                "middle" if above else "start",
            )
        )
    return figure(420, 410, label, "".join(body))


def _links(where: dict[str, Point], on: dict[str, str]) -> list[str]:
    out = []
    for node in sorted({value for value in on.values() if value}):
        points = sorted(where[stud] for stud in where if on.get(stud) == node)
        for (x1, y1), (x2, y2) in pairwise(points):
            length = math.dist((x1, y1), (x2, y2))
            turn = math.degrees(math.atan2(y2 - y1, x2 - x1))
            body = rect(-16, -8, length + 32, 16, "bar-link", 7)
            out.append(f'<g transform="translate({n(x1)} {n(y1)}) rotate({n(turn)})">{body}</g>')
    return out


def _feed(at: Point, index: int, colours: Sequence[str]) -> str:
    x, y = at
    d = f"M{n(x)} {n(y + 20)}C{n(x)} {n(y + 60)} {n(90 + 120 * index)} {n(330)} {n(90 + 120 * index)} 372"
    wire = f'<path class="wire-o" stroke-width="12" d="{d}"/>'
    wire += f'<path class="wire-i" stroke="{line_colour(colours, index)}" stroke-width="9" d="{d}"/>'
    return wire + text(90 + 120 * index + 14, 390, f"L{index + 1}", "ln")


CAPPED = 100.0  # what the words "open, capped" are wide


@lru_cache(maxsize=128)
def splice_bundle(joints: tuple[tuple[str, Group], ...], colours: tuple[str, ...], label: str) -> str:
    """Leads in splices: each joint a nut with its leads above and, on a line, the feed below.

    joints: what they lie on (`L1`, `a`, `open`), and the lead texts (`7 U5`).
    """
    body = [plate(4, 4, 412, 402)]
    step = 396 / max(1, len(joints))
    for i, (node, leads) in enumerate(joints):
        x = 12 + step * (i + 0.5)
        body.append(_splice(x, step, node, leads, colours))
    at = 12.0
    for is_open, run in groupby(joints, key=lambda joint: joint[0] == "open"):
        wide = step * len(list(run))
        if is_open:  # one word over neighbours that all hang free: nine of them would run into one another
            body.append(text(at + wide / 2, 288, "open, capped" if wide >= CAPPED else "open", "cap", "middle"))
        at += wide
    return figure(420, 410, label, "".join(body))


def _splice(x: float, step: float, node: str, leads: Group, colours: Sequence[str]) -> str:
    out = []
    gap = min(30.0, step / max(1, len(leads)))
    for j, lead in enumerate(leads):
        top = x + (j - (len(leads) - 1) / 2) * gap
        level = 90 + (j % 2) * 44
        d = f"M{n(top)} {level + 22}C{n(top)} 200 {n(x)} 190 {n(x)} 232"
        out.append(f'<path class="wire-o" stroke-width="7" d="{d}"/>')
        out.append(f'<path class="wire-i" stroke="#c66a2c" stroke-width="5" d="{d}"/>')
        number, _, letter = lead.partition(" ")
        out.append(rect(top - 17, level - 22, 34, 42, "sleeve", 2))
        out.append(text(top, level - 3, number, "no", "middle", 17) + text(top, level + 14, letter, "is", "middle"))
    if node.startswith("L") and node[1:].isdigit():
        index = int(node[1:]) - 1
        d = f"M{n(x)} 262V372"
        out.append(f'<path class="wire-o" stroke-width="12" d="{d}"/>')
        out.append(f'<path class="wire-i" stroke="{line_colour(colours, index)}" stroke-width="9" d="{d}"/>')
        out.append(text(x, 394, node, "ln", "middle"))
    out.append(path(f"M{n(x - 13)} 228h26l-5 38h-16Z", "bar-link" if node != "open" else "nut"))
    return "".join(out)


def placed(svg: str, x: float, y: float, width: float, height: float) -> str:
    """The drawing as a part of a larger one."""
    return svg.replace("<svg ", f'<svg x="{n(x)}" y="{n(y)}" width="{n(width)}" height="{n(height)}" ', 1)


def one_colour(svg: str) -> str:
    """The drawing as a file of its own, black on white: legible printed and without this site's styles."""
    opened = svg.replace("<svg ", '<svg xmlns="http://www.w3.org/2000/svg" ', 1)
    head, close, rest = opened.partition(">")
    return f"{head}{close}<style>{ONE_COLOUR}</style>{rest}"
