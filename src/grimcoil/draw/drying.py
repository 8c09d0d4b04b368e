"""A winding on the direct-current set, each line as thick as its current; and its insulation over the hours."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from grimcoil.core.drying.hookup import Hookup
from grimcoil.core.readings import three_digits
from grimcoil.draw.panel import coil
from grimcoil.draw.svg import circle, figure, n, path, rect, text

Point = tuple[float, float]
W, H, X0 = 440.0, 392.0, 62.0
THIN, THICK = 1.8, 4.4
LOW_MOHM = 0.3


@dataclass(frozen=True, slots=True)
class Reading:
    """Insulation at hours since the beginning: as read and at 40 °C, MΩ; above: only known to be more."""

    hours: float
    mohm: float
    r40_mohm: float | None
    above: bool = False


def hookup_figure(hookup: Hookup, amps: float | None, warm: Mapping[str, str], on: bool) -> str:
    """Set, winding and each phase's share. amps: of the set, None before it gives any; warm: words by phase."""
    body = {"series": _series, "one-and-two": _wye, "delta-two": _delta}[hookup.name](hookup, amps, warm)
    shown = "off" if amps is None or not on else f"{amps:g} A"
    box = (
        rect(4, 14, 124, 82, "dev", 3) + rect(16, 26, 74, 26, "armature", 2) + text(53, 45, shown, "ps small", "middle")
        + text(16, 82, "DC set", "ps small") + text(118, 45, "+", "ln", "end") + text(60, 118, "-", "ln", "end")
    )  # fmt: skip
    shares = ", ".join(f"phase {phase} {share:.0%}" for phase, share in hookup.share().items())
    label = f"Hookup {hookup.name}: {shares} of the current{'' if on else ', the heat is off'}."
    return figure(W, H, label, f'<g class="{"on" if on else "still"}">{body}</g>{box}', "drying-hookup")


def _amp(share: float, amps: float | None) -> str:
    return "all of the current" if share > 0.99 else f"{three_digits(share * amps)} A" if amps else _part(share)


def _part(share: float) -> str:
    return {0.5: "half of it", 0.67: "two thirds", 0.33: "a third"}.get(round(share, 2), f"{share:.0%}")


def _run(a: Point, b: Point, share: float) -> str:
    """A coil whose line is as thick as the current in it."""

    def on(k: float) -> Point:
        return a[0] + (b[0] - a[0]) * k, a[1] + (b[1] - a[1]) * k

    p, q = on(0.2), on(0.82)
    css = "amp full" if share > 0.6 else "amp half"
    ends = path(f"M{n(a[0])} {n(a[1])}L{n(p[0])} {n(p[1])}M{n(q[0])} {n(q[1])}L{n(b[0])} {n(b[1])}", css)
    return f'<g stroke-width="{n(THIN + THICK * share)}">{ends}{coil(p, q, 5, css)}</g>'


def _wire(d: str, share: float) -> str:
    return f'<g stroke-width="{n(THIN + THICK * share)}">{path(d, "amp full" if share > 0.6 else "amp half")}</g>'


def _words(
    at: Point, phase: str, share: float, amps: float | None, warm: Mapping[str, str], anchor: str = "start"
) -> str:
    x, y = at
    out = text(x, y, phase, "ln live" if share > 0.6 else "ln", anchor) + text(
        x, y + 22, _amp(share, amps), "cap", anchor
    )
    return out + (text(x, y + 43, warm[phase], "ps", anchor) if warm.get(phase) else "")


def _wye(hookup: Hookup, amps: float | None, warm: Mapping[str, str]) -> str:
    """One phase to the star point, the other two back together."""
    top, star, left, right, joint = (264.0, 74.0), (264.0, 212.0), (168.0, 288.0), (360.0, 288.0), 346.0
    share = hookup.share()
    hot = hookup.hot or hookup.phases[0]
    one, two = (phase for phase in hookup.phases if phase != hot)
    out = [
        _wire(f"M128 44H{n(top[0])}V{n(top[1])}", 1.0), _wire(f"M60 96V{n(joint)}H{n(left[0])}", 1.0),
        _wire(f"M{n(left[0])} {n(joint)}V{n(left[1])}M{n(left[0])} {n(joint)}H{n(right[0])}V{n(right[1])}", 0.5),
        _run(top, star, share[hot]), _run(star, left, share[one]), _run(star, right, share[two]),
        circle(*star, 6, "jt"), circle(*top, 6.5, "nd live"), circle(left[0], joint, 6.5, "nd live"),
        circle(*left, 5, "nd"), circle(*right, 5, "nd"),
    ]  # fmt: skip
    out.append(_words((top[0] + 26, top[1] + 22), hot, share[hot], amps, warm))
    out.append(_words((left[0] - 16, left[1] - 30), one, share[one], amps, {}, "end"))
    out.append(_words((right[0] + 8, right[1] - 46), two, share[two], amps, {}))
    return "".join(out)


def _delta(hookup: Hookup, amps: float | None, warm: Mapping[str, str]) -> str:
    """Across one side: it carries two thirds, the other two in series a third."""
    top, left, right = (288.0, 74.0), (180.0, 296.0), (396.0, 296.0)
    share = hookup.share()
    hot = hookup.hot or hookup.phases[0]
    a, _, b = hot.partition("-")
    c = next(phase for phase in ("1", "2", "3") if phase not in (a, b))
    sides = {frozenset({a, b}): (top, left), frozenset({b, c}): (left, right), frozenset({c, a}): (right, top)}
    at = {frozenset({a, b}): (152.0, 152.0), frozenset({b, c}): (246.0, 322.0), frozenset({c, a}): (356.0, 150.0)}
    out = [_wire(f"M128 44H{n(top[0])}V{n(top[1])}", 1.0), _wire(f"M60 96V{n(left[1])}H{n(left[0])}", 1.0)]
    for phase in hookup.phases:
        key = frozenset(phase.split("-"))
        out.append(_run(*sides[key], share[phase]))
        out.append(
            _words(at[key], phase, share[phase], amps, warm if phase == hot else {}, "end" if phase == hot else "start")
        )
    for point, name, dx, dy in ((top, a, 14, -6), (left, b, -8, 26), (right, c, 10, 6)):
        out.append(circle(*point, 6.5, "nd live" if name != c else "nd"))
        out.append(text(point[0] + dx, point[1] + dy, name, "ln", "start"))
    return "".join(out)


def _series(hookup: Hookup, amps: float | None, warm: Mapping[str, str]) -> str:
    """All three one behind the other: all carry the same."""
    out = [_wire("M128 44H400V84", 1.0), _wire("M60 96V356H400V326", 1.0)]
    ends = [(400.0, 84.0), (400.0, 166.0), (400.0, 248.0), (400.0, 326.0)]
    for i, phase in enumerate(hookup.phases):
        out.append(_run(ends[i], ends[i + 1], 1.0))
        out.append(text(372, ends[i][1] + 36, phase, "ln", "end"))
        out.append(text(372, ends[i][1] + 58, f"{amps:g} A" if amps else "all of the current", "cap", "end"))
    out += [circle(*point, 6, "nd live" if i in (0, 3) else "jt") for i, point in enumerate(ends)]
    if warm.get(hookup.phases[0]):
        out.append(text(372, 330, warm[hookup.phases[0]], "ps", "end"))
    return "".join(out)


def curve_figure(
    readings: Sequence[Reading], minimum: float, left_h: tuple[float, float] | None, title: str, width: float = 432.0
) -> str:
    """R40 and the reading itself against hours, the minimum hatched, the hours still needed as a band at the right."""
    x0, x1, y0, y1 = X0, width - 20, 60.0, H - 44
    last = max([one.hours for one in readings], default=0.0)
    span = max(2.0, last * 1.15, last + (min(left_h[1], 24.0) if left_h else 0.0))
    values = [one.mohm for one in readings] + [one.r40_mohm for one in readings if one.r40_mohm] + [minimum]
    low = min(LOW_MOHM, min(value for value in values if value > 0) / 2)
    high = max(100.0, max(values) * 2)

    def x(hours: float) -> float:
        return x0 + hours / span * (x1 - x0)

    def y(mohm: float) -> float:
        return y1 - math.log10(max(mohm, low) / low) / math.log10(high / low) * (y1 - y0)

    out = [
        rect(2, 6, width - 4, H - 12, "pl", 2),
        rect(7, 11, width - 14, H - 22, "pl-in", 2),
        text(20, 38, title, "ti"),
    ]
    out.append(_curve_grid(low, high, span, x, y, (x0, x1, y0, y1)))
    hatch = "".join(f"M{n(x0 + k * 9)} {n(y(minimum) + 7)}l7 -7" for k in range(int((x1 - x0) / 9)))
    out.append(path(f"M{n(x0)} {n(y(minimum))}H{n(x1)}{hatch}", "mini"))
    out.append(text(x1 - 4, y(minimum) + 22, f"minimum {minimum:g}", "an actc", "end"))
    if left_h is not None:
        a, b = x(last + left_h[0]), min(x(last + left_h[1]), x1)
        out.append(
            rect(a, y0, max(b - a, 2), y1 - y0, "left-band") + text(min(a, x1 - 60), y0 + 16, "done", "an soundc")
        )
    out += _traces(readings, x, y)
    label = f"{title} against hours: " + (
        "; ".join(f"{one.hours:.1f} h {one.mohm:.3g}, at 40 °C {one.r40_mohm:.3g}" for one in readings if one.r40_mohm)
        or "nothing read yet"
    )
    return figure(width, H, label, "".join(out), "drying-curve")


def _curve_grid(
    low: float, high: float, span: float, x: Callable[[float], float], y: Callable[[float], float],
    box: tuple[float, float, float, float],
) -> str:  # fmt: skip
    x0, x1, y0, y1 = box
    out = []
    for power in range(math.ceil(math.log10(low)), math.floor(math.log10(high)) + 1):
        value = 10.0**power
        out.append(
            path(f"M{n(x0)} {n(y(value))}H{n(x1)}", "grid") + text(x0 - 10, y(value) + 5, f"{value:g}", "ax", "end")
        )
    step = next(s for s in (0.5, 1, 2, 4, 6, 12, 24, 48, 96, 1e9) if span / s <= 7)
    for k in range(int(span / step) + 1):
        out.append(path(f"M{n(x(k * step))} {n(y1)}v7", "tick"))
        out.append(
            text(x(k * step), y1 + 23, f"{k * step:g}" + (" h" if k == int(span / step) else ""), "ax", "middle")
        )
    return "".join(out) + path(f"M{n(x0)} {n(y0)}V{n(y1)}H{n(x1)}", "axis")


def _traces(readings: Sequence[Reading], x: Callable[[float], float], y: Callable[[float], float]) -> list[str]:
    if not readings:
        return []
    out = []
    raw = [(x(one.hours), y(one.mohm)) for one in readings]
    at40 = [(x(one.hours), y(one.r40_mohm), one.above) for one in readings if one.r40_mohm]
    out.append(path("M" + "L".join(f"{n(a)} {n(b)}" for a, b in raw), "rawline"))
    out.append(path("M" + "L".join(f"{n(a)} {n(b)}" for a, b, _ in at40), "trace") if at40 else "")
    out += [circle(a, b, 2.6, "rawdot") for a, b in raw]
    for a, b, above in at40:
        out.append(
            path(f"M{n(a - 6)} {n(b + 5)}L{n(a)} {n(b - 5)}L{n(a + 6)} {n(b + 5)}", "above")
            if above
            else circle(a, b, 4.5, "dot")
        )
    lowest = min(range(len(at40)), key=lambda k: -at40[k][1], default=0)
    if at40 and 0 < lowest < len(at40) - 1:
        low_x, low_y, _ = at40[lowest]
        out.append(text(max(low_x - 80, X0 + 8), low_y + 26, "falls first, as it should", "an"))
    if at40 and readings[-1].r40_mohm:
        out.append(text(at40[-1][0] - 8, at40[-1][1] - 12, three_digits(readings[-1].r40_mohm), "pv", "end"))
    return out
