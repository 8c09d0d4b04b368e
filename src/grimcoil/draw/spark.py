"""The register's small trend: log axis, bounds as arrows, a torn line at a rewind, the minimum underneath."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date

from grimcoil.core.amount import Amount, Bound
from grimcoil.draw.svg import n

WIDTH, HEIGHT = 156.0, 38.0
Dot = tuple[date, Amount | None, int]


def spark(dots: Sequence[Dot], minimum_mohm: float) -> str:
    """Dots are (day, R40 in MΩ or None, winding); evenly spaced, as a tally of tests."""
    low, high = math.log10(minimum_mohm * 0.6), max(math.log10(3200), math.log10(minimum_mohm * 60))
    shown = list(dots)[-12:]

    def x(i: int) -> float:
        return 8 + i * (WIDTH - 16) / max(1, len(shown) - 1)

    def y(value: float) -> float:
        share = (math.log10(max(value, 1e-6)) - low) / (high - low)
        return HEIGHT - 3 - min(1.05, max(-0.05, share)) * (HEIGHT - 10)

    out = [f'<path class="sp-min" d="M2 {n(y(minimum_mohm))}H{n(WIDTH - 2)}"/>']
    line: list[str] = []
    last = None
    for i, (_, amount, winding) in enumerate(shown):
        if last is not None and winding != last:
            out += [_drawn(line), _torn(x(i) - (WIDTH - 16) / max(1, len(shown) - 1) / 2)]
            line = []
        last = winding
        if amount is None or amount.bound is Bound.NOTHING:
            continue
        if amount.bound is Bound.ABOVE:
            out += [_drawn(line), _arrow(x(i), y(amount.value))]
            line = []
        else:
            line.append(f"{n(x(i))} {n(y(amount.value))}")
    out.append(_drawn(line))
    if shown and (end := shown[-1][1]) is not None and end.is_exact:
        out.append(f'<circle class="sp-end" cx="{n(x(len(shown) - 1))}" cy="{n(y(end.value))}" r="3.5"/>')
    return f'<svg class="sp" viewBox="0 0 {n(WIDTH)} {n(HEIGHT)}" aria-hidden="true">{"".join(out)}</svg>'


def _drawn(line: Sequence[str]) -> str:
    if len(line) == 1:
        at_x, at_y = line[0].split()
        return f'<circle class="sp-dot" cx="{at_x}" cy="{at_y}" r="1.6"/>'
    return f'<path class="sp-line" d="M{"L".join(line)}"/>' if line else ""


def _arrow(x: float, y: float) -> str:
    return f'<path class="sp-up" d="M{n(x - 3.5)} {n(y + 5)}h7M{n(x)} {n(y + 5)}v-9m-3 4l3-4 3 4"/>'


def _torn(x: float) -> str:
    zig = "l3 4-3 4 3 4-3 4 3 4-3 4"
    return f'<path class="sp-torn" d="M{n(x - 4)} 5{zig}M{n(x + 1)} 5{zig}"/>'
