"""Rolling the leads: which lead each line takes now, and where it lay before."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

from grimcoil.draw.joints import line_colour
from grimcoil.draw.panel import plate
from grimcoil.draw.svg import circle, n, path, text

Pairs = tuple[tuple[str, str], ...]
TOP, FOOT = 74, 286


@lru_cache(maxsize=64)
def roll_plate(x: float, y: float, now: Pairs, before: Pairs, colours: tuple[str, ...]) -> str:
    """Lines above, leads below. now, before: lead by line, `(("L1", "3"), …)`; colours: of the three lines."""
    lines = [line for line, _ in now]
    leads = sorted(lead for _, lead in now)
    across = {name: x + 58 + 106 * i for names in (lines, leads) for i, name in enumerate(names)}
    body = [plate(x, y, 328, 360)]
    body += [path(_way(across[line], across[lead], y), "should") for line, lead in before]
    for i, (line, lead) in enumerate(now):
        d = _way(across[line], across[lead], y)
        body.append(f'<path class="wire-o" stroke-width="12" d="{d}"/>')
        body.append(f'<path class="wire-i" stroke="{line_colour(colours, i)}" stroke-width="9" d="{d}"/>')
    body += _ends(lines, across, y + TOP, -22)
    body += _ends([*leads], across, y + FOOT, 34)
    said = ", ".join(f"{line} takes {lead}" for line, lead in now)
    return "".join([*body, text(x + 164, y + 346, said, "cap", "middle")])


def _way(start: float, end: float, y: float) -> str:
    top, foot = y + TOP, y + FOOT
    return f"M{n(start)} {n(top)}C{n(start)} {n(top + 96)} {n(end)} {n(foot - 96)} {n(end)} {n(foot)}"


def _ends(names: Sequence[str], across: dict[str, float], y: float, beside: float) -> list[str]:
    dots = [circle(across[name], y, 8, "nd") for name in names]
    return dots + [text(across[name], y + beside, name, "ln", "middle", 19) for name in names]
