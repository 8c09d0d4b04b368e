"""The motor box as met: wall cut through, bushing to the winding, leads fanned, the ones to touch pulled forward,
and the probe cables that run to the reading line.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

from grimcoil.draw.svg import circle, n, path, rect, text


@dataclass(frozen=True, slots=True)
class Layout:
    """Where things stand in one size of the drawing."""

    width: float
    height: float
    box: tuple[float, float, float, float]
    bushing: tuple[float, float]
    lead_x: tuple[float, float, float]
    rest_y: float
    live_y: float
    earth: tuple[float, float]
    jacks: tuple[float, float]
    scale: float
    handle: float
    tilt: tuple[float, float]


WIDE = Layout(
    872, 502, (4, 6, 520, 366), (256, 48), (130, 250, 370), 206, 246, (466, 300), (29, 129), 1.0, 78, (18, -14)
)
PHONE = Layout(
    390, 250, (3, -14, 387, 206), (195, 24), (80, 180, 280), 100, 116, (346, 150), (30, 111), 0.84, 24, (48, -44)
)


@lru_cache(maxsize=256)
def motor_box(
    layout: Layout,
    labels: tuple[str, ...],
    ends: tuple[str, ...],
    clamp: str = "",
    strap: bool = False,
    marked: tuple[tuple[str, str, str], ...] = (),
    lit: str = "",
) -> str:
    """The drawing without its svg element. labels: the leads, one to twelve; ends: what the probes touch
    (`1`, `L2`, `E`, `frame`, `1+4`: leads joined by a bare wire); clamp: the lead a clamp goes round; strap: the leads
    are shorted to the frame. marked: leads with their name in this box and the fill of their core's colour, each
    empty where not known. lit: the lead that is asked about without a probe on it.
    """
    bridged = [tuple(label for label in end.split("+") if label in labels) for end in ends if "+" in end]
    tied = {label for group in bridged for label in group}
    forward = set(labels) if strap else ({*ends, lit} & set(labels)) | tied
    parts = [_wall(layout), _earth(layout, strap or bool({"E", "frame"} & set(ends)))]
    tips: dict[str, tuple[float, float]] = {"E": layout.earth, "frame": layout.earth}
    leads, lugs = [], []
    own = {lead: (name, fill) for lead, name, fill in marked}
    places = _across(layout, len(labels))
    pitch = places[1] - places[0] if len(places) > 1 else 120.0
    for label, x in sorted(zip(labels, places, strict=True), key=lambda item: item[0] in forward):
        on = label in forward or label == clamp
        y = layout.live_y if label in forward else layout.rest_y
        leads.append(_lead(layout, x, y, on, labels.index(label) - (len(labels) - 1) / 2, len(labels)))
        lug, tip = _lug(layout, x, y, label, on, pitch)
        lugs.append(lug + _mark(layout, tip, *own.get(label, ("", "")), pitch))
        tips[label] = tip
        if label == clamp:
            lugs.append(_clamp(layout, x, y))
    for end, group in zip((end for end in ends if "+" in end), bridged, strict=True):
        if group:
            lugs.append(_bridge(layout, [tips[label] for label in group]))
            tips[end] = tips[group[0]]
    if strap:
        lugs.append(_bridge(layout, [*(tips[label] for label in labels), layout.earth]))
    parts += leads + lugs
    for (end, tilt), (css, jack) in zip(
        zip(ends, layout.tilt, strict=False), (("bk", layout.jacks[0]), ("cu", layout.jacks[1])), strict=False
    ):
        if end in tips:
            parts.append(_probe_and_cable(layout, tips[end], _leaning(layout, tips[end][0], tilt), css, jack))
    return "".join(parts)


def _leaning(at: Layout, x: float, tilt: float) -> float:
    """A probe at the edge of the box hangs straighter, so that its handle stays in the picture."""
    edge = 120 * at.scale
    return tilt / 4 if (x < edge and tilt > 0) or (x > at.width - edge and tilt < 0) else tilt


def _across(at: Layout, count: int) -> Sequence[float]:
    """Where the leads hang: three as drawn, more in even steps between the bolts and the earth stud."""
    if count <= len(at.lead_x):
        return at.lead_x[:count]
    first, last = at.box[0] + 52 * at.scale, at.earth[0] - 38 * at.scale
    return [first + (last - first) * i / (count - 1) for i in range(count)]


def _wall(at: Layout) -> str:
    x0, y0, x1, y1 = at.box
    s, t = at.scale, 13 * at.scale
    fins = "".join(path(f"M-40 {y}H{n(x1 + 60 * s)}", "fin") for y in range(4, int(at.height), 8))
    out = [
        f'<g class="fins" mask="url(#fade)">{fins}</g>',
        rect(x0, y0, x1 - x0, y1 - y0, "wall", 20 * s),
        rect(x0, y0, x1 - x0, y1 - y0, "wallh", 20 * s),
        rect(x0 + t, y0 + t, x1 - x0 - 2 * t, y1 - y0 - 2 * t, "cav", 10 * s),
        rect(x0 + t + 5, y0 + t + 5, x1 - x0 - 2 * t - 10, y1 - y0 - 2 * t - 10, "gasket", 7 * s),
    ]
    for x in (x0 + t + 9 * s, x1 - t - 9 * s):
        for y in (y0 + t + 9 * s, y1 - t - 9 * s):
            out += [circle(x, y, 13 * s, "boss"), circle(x, y, 5.5 * s, "bolt")]
    bx, by = at.bushing
    for css, rx, ry in (("bushing", 85, 26), ("bushh", 85, 26), ("throat", 65, 17)):
        out.append(f'<ellipse class="{css}" cx="{n(bx)}" cy="{n(by)}" rx="{n(rx * s)}" ry="{n(ry * s)}"/>')
    return "".join(out)


def _earth(at: Layout, on: bool) -> str:
    x, y = at.earth
    s = at.scale
    css = "earth on" if on else "earth"
    sign = f"M{n(x)} {n(y - 34 * s)}v{n(10 * s)}M{n(x - 11 * s)} {n(y - 34 * s)}h{n(22 * s)}"
    sign += f"M{n(x - 7 * s)} {n(y - 39 * s)}h{n(14 * s)}M{n(x - 3 * s)} {n(y - 44 * s)}h{n(6 * s)}"
    return f'<g class="{css}">{circle(x, y, 15 * s, "boss")}{circle(x, y, 7 * s, "bolt")}{path(sign, "sign")}</g>'


def _lead(at: Layout, x: float, y: float, on: bool, from_middle: float, count: int) -> str:
    s = at.scale
    bx, by = at.bushing
    start = bx + from_middle * min(26.0, 116 / count) * s
    width = (10 if on else 8) * s * (1.0 if count <= 6 else 0.75)
    d = f"M{n(start)} {n(by + 2)}C{n(start)} {n(by + 70 * s)} {n(x)} {n(by + (84 if on else 54) * s)} {n(x)} {n(y)}"
    core = "".join(
        f'<path class="{css}" stroke-width="{n(w)}" d="{d}"{move}/>'
        for css, w, move in (
            ("o", width + 2.4, ""),
            ("i", width, ""),
            ("h", 1, f' transform="translate({n(width * 0.22)} 0)"'),
        )
    )
    return f'<g class="lead{" on" if on else ""}">{core}</g>'


def _lug(
    at: Layout, x: float, y: float, label: str, on: bool, pitch: float
) -> tuple[str, tuple[float, float]]:  # fmt: skip
    s = at.scale
    big = len(label) > 1
    w, h = (58.0 if big else 40.0, 34.0) if on else (48.0 if big else 31.0, 27.0)
    w, h, size = min(w * s, pitch - 3), h * s, (28.0 if on else 21.0) * s
    size = min(size, w / (0.66 * len(label)))
    ring, barrel, long = (15.0, 13.0, 22.0) if on else (11.5, 10.0, 17.0)
    fine = min(1.0, (pitch - 2) / (2 * ring * s))
    ring, barrel, long = ring * s * fine, barrel * s * fine, long * s
    top = y + h / 2
    centre = top + long + ring - 2
    body = [
        rect(x - barrel / 2, top, barrel, long, "barrel"),
        *(path(f"M{n(x - barrel / 2)} {n(top + long * k)}h{n(barrel)}", "eng") for k in (0.35, 0.6)),
        circle(x, centre, ring, "ring"),
        circle(x, centre, ring * 0.48, "hole"),
        rect(x - w / 2, y - h / 2, w, h, "sleeve", 2),
        text(x, y + size * 0.35, label, "no", "middle", size),
    ]
    return f'<g class="lug{" on" if on else ""}">{"".join(body)}</g>', (x, centre)


def _mark(at: Layout, tip: tuple[float, float], name: str, fill: str, pitch: float) -> str:
    """What is marked on a lead, left of its lug where there is room, else below it; with a bar in its core's colour."""
    s, (x, y) = at.scale, tip
    beside = pitch >= 80 * s
    left, top, width = (x - 62 * s, y - 9 * s, 40 * s) if beside else (x - pitch / 2 + 2, y + 20 * s, pitch - 4)
    out = ""
    if fill:
        place = f'x="{n(left)}" y="{n(top + 15 * s)}" width="{n(width)}" height="{n(6 * s)}"'
        out = f'<rect class="core-colour" {place} fill="{fill}"/>'
    words = name.split()
    for i, word in enumerate(words, start=1):
        size = min(17 * s, width / (0.62 * max(map(len, words))))
        out += text(left + width / 2, top + 11 * s - (len(words) - i) * size, word, "marked", "middle", size)
    return out


def _bridge(at: Layout, tips: Sequence[tuple[float, float]]) -> str:
    """A bare wire that joins the leads."""
    drop = 20 * at.scale
    d = f"M{n(tips[0][0])} {n(tips[0][1])}" + "".join(
        f"C{n(a[0] + 20)} {n(a[1] + drop)} {n(b[0] - 20)} {n(b[1] + drop)} {n(b[0])} {n(b[1])}"
        for a, b in pairwise(tips)
    )
    return path(d, "bridge o") + path(d, "bridge")


def _clamp(at: Layout, x: float, y: float) -> str:
    """The jaws of a clamp meter round one lead."""
    s = at.scale
    top = y - 58 * s
    jaw = f'<ellipse class="jaw o" cx="{n(x)}" cy="{n(top)}" rx="{n(34 * s)}" ry="{n(15 * s)}"/>'
    jaw += f'<ellipse class="jaw" cx="{n(x)}" cy="{n(top)}" rx="{n(34 * s)}" ry="{n(15 * s)}"/>'
    body = rect(x + 30 * s, top - 13 * s, 66 * s, 26 * s, "jawbody", 4)
    grips = "".join(path(f"M{n(x + (44 + 10 * i) * s)} {n(top - 9 * s)}v{n(18 * s)}", "grip") for i in range(4))
    return f'<g class="probe cu">{jaw}{body}{grips}</g>'


def _probe_and_cable(at: Layout, tip: tuple[float, float], tilt: float, css: str, jack: float) -> str:
    s, long = at.scale, at.handle
    x, y = tip
    grips = "".join(path(f"M-8.6 {62 + i * 6}H8.6", "grip") for i in range(max(2, int(min(7, (long - 14) // 6)))))
    body = (
        path("M0 0L-2.6 9V34H2.6V9Z", "needle")
        + path("M-7 34H7L9 46H-9Z", "collar")
        + path("M-15 46H15V52H-15Z", "guard")
        + path(f"M-9.5 52H9.5L8 {n(52 + long)}Q0 {n(60 + long)} -8 {n(52 + long)}Z", "handle")
        + grips
        + path(f"M-4.5 {n(56 + long)}H4.5L3 {n(76 + long)}H-3Z", "tail")
    )
    probe = f'<g class="probe {css}" transform="translate({n(x)} {n(y)}) rotate({n(tilt)}) scale({n(s)})">{body}</g>'
    angle, reach = math.radians(tilt), (76 + long) * s
    ex, ey = x - reach * math.sin(angle), y + reach * math.cos(angle)
    d = _cable(at, (ex, ey), (-math.sin(angle), math.cos(angle)), css, jack)
    return path(d, f"cable {css} o") + path(d, f"cable {css}") + probe


def _cable(at: Layout, end: tuple[float, float], along: tuple[float, float], css: str, jack: float) -> str:
    """From the probe's tail, on in its direction, along the floor of the box and up over the jack."""
    s, (ex, ey), bottom = at.scale, end, at.height
    floor = bottom - (16 if css == "cu" else 54) * s
    reach = max(24.0, (floor - ey) * 0.9)
    bend = f"{n(ex + along[0] * reach)} {n(ey + along[1] * reach)}"
    if abs(ex - jack) < 90 * s:
        return f"M{n(ex)} {n(ey)}C{bend} {n(jack)} {n(ey + 30 * s)} {n(jack)} {n(bottom + 4)}"
    middle = jack + 0.45 * (ex - jack)
    along_floor = f"M{n(ex)} {n(ey)}C{bend} {n(ex - 40 * s)} {n(floor)} {n(middle)} {n(floor)}"
    return f"{along_floor}S{n(jack)} {n(floor)} {n(jack)} {n(bottom + 4)}"
