"""Rewind or replace: present cost by years kept, and for each input the rule that shows where the answer turns."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from grimcoil.core.decision.money import Flip
from grimcoil.draw.svg import circle, figure, n, path, text

WAYS = ("rewind", "replace")
APART = 18.0  # two lines of words this close are moved apart


@dataclass(frozen=True, slots=True)
class Costs:
    """Present costs by year from 0, each less the energy that the motor takes now anyway; years: as planned."""

    rewind: Sequence[float]
    replace: Sequence[float]
    years: int

    def of(self, way: str) -> Sequence[float]:
        """One way's."""
        return self.rewind if way == "rewind" else self.replace

    def crossings(self) -> list[tuple[float, float]]:
        """Years and costs at which the cheaper way changes, on the straight lines between the years."""
        out = []
        for year in range(1, len(self.rewind)):
            before, after = (self.rewind[k] - self.replace[k] for k in (year - 1, year))
            if before * after < 0:
                share = before / (before - after)
                cost = self.rewind[year - 1] + share * (self.rewind[year] - self.rewind[year - 1])
                out.append((year - 1 + share, cost))
        return out


def cost_chart(costs: Costs, width: float, height: float) -> str:
    """Both ways as lines over the years; the planned years as a mark, each crossing as a diamond."""
    left, right, top, bottom = 62.0, 84.0, 20.0, 34.0
    values = [*costs.rewind, *costs.replace]
    step = round_step((max(values) - min(*values, 0.0)) / 4)
    low = math.floor(min(*values, 0.0) / step) * step
    high = max(math.ceil(max(values) / step) * step, low + step)
    last = len(costs.rewind) - 1

    def x(year: float) -> float:
        return left + year / last * (width - left - right)

    def y(cost: float) -> float:
        return height - bottom - (cost - low) / (high - low) * (height - bottom - top)

    out = [_grid(low, high, step, last, x, y, (left, width - right, top, height - bottom))]
    for way in WAYS:
        line = "L".join(f"{n(x(k))} {n(y(cost))}" for k, cost in enumerate(costs.of(way)))
        out.append(path(f"M{line}", f"way {way}"))
    out += _names(costs, y, width - right + 8)
    for year, cost in costs.crossings():
        out.append(path(f"M{n(x(year))} {n(y(cost) - 8)}l8 8-8 8-8-8Z", "flip"))
        out.append(text(x(year), y(cost) + 28, f"{year:.1f} years", "pv", "middle"))
    held = x(costs.years)
    out.append(path(f"M{n(held)} {n(top)}V{n(height - bottom)}", "nowl"))
    out.append(path(f"M{n(held - 8)} {n(top - 12)}h16l-8 12Z", "nowt"))
    out += [circle(held, y(costs.of(way)[costs.years]), 5, "dot") for way in WAYS]
    said = ", ".join(f"{way} {costs.of(way)[costs.years]:.0f}" for way in WAYS)
    label = f"Present cost by years in use, the energy taken now left out; after {costs.years} years {said}."
    return figure(width, height, label, "".join(out), "plots money-chart")


def _grid(
    low: float, high: float, step: float, last: int, x: Callable[[float], float], y: Callable[[float], float],
    box: tuple[float, float, float, float],
) -> str:  # fmt: skip
    left, right, top, bottom = box
    out = []
    for k in range(round((high - low) / step) + 1):
        cost = low + k * step
        out.append(path(f"M{n(left)} {n(y(cost))}H{n(right)}", "grid"))
        out.append(text(left - 8, y(cost) + 5, f"{cost:.0f}", "ax", "end"))
    every = max(1, math.ceil(last / 8))
    for year in range(0, last + 1, every):
        out.append(path(f"M{n(x(year))} {n(bottom)}v7", "tick"))
        out.append(text(x(year), bottom + 24, str(year), "ax", "middle"))
    return "".join(out) + path(f"M{n(left)} {n(top)}V{n(bottom)}H{n(right)}", "axis")


def _names(costs: Costs, y: Callable[[float], float], at: float) -> list[str]:
    """The ways' names at the ends of their lines, moved apart where these meet."""
    ends = {way: y(costs.of(way)[-1]) + 5 for way in WAYS}
    near = APART - abs(ends["rewind"] - ends["replace"])
    if near > 0:
        above = "rewind" if ends["rewind"] <= ends["replace"] else "replace"
        ends[above] -= near / 2
        ends["replace" if above == "rewind" else "rewind"] += near / 2
    return [text(at, ends[way], way, f"pn small {way}") for way in WAYS]


def round_step(rough: float) -> float:
    """The next 1, 2 or 5 times a power of ten.

    >>> round_step(170.0), round_step(0.0)
    (200.0, 1.0)
    """
    if rough <= 0:
        return 1.0
    power = 10.0 ** math.floor(math.log10(rough))
    return next(step * power for step in (1, 2, 5, 10) if step * power >= rough * (1 - 1e-9))


WINDOW = 0.5  # a rule shows half as much either way, of an efficiency a twentieth: near turns look near


def flip_rule(flip: Flip, width: float = 380.0) -> str:
    """An engraved rule: a thick line where the answer holds, hatched where the other wins, a pointer at what is now."""
    now = flip.now or 0.0
    share = WINDOW / 10 if flip.name.startswith("efficiency") else WINDOW
    span = max(share * abs(now), 1.15 * abs((flip.at if flip.at is not None else now) - now), 1e-9)
    low, high = now - span, now + span

    def x(value: float) -> float:
        return 6 + (value - low) / (high - low) * (width - 12)

    out = [path(f"M6 14H{n(width - 6)}", "rule-base")]
    out += [path(f"M{n(6 + k * (width - 12) / 20)} 14v{7 if k % 5 == 0 else 4}", "eng") for k in range(21)]
    if flip.at is None:
        out.append(path(f"M6 9H{n(width - 6)}", "rule-held"))
    else:
        beyond, held = (high, low) if flip.at > now else (low, high)
        a, b = sorted((x(flip.at), x(beyond)))
        out.append(path("".join(f"M{n(a + s)} 13l5 -9" for s in range(0, max(1, int(b - a - 4)), 7)), "rule-other"))
        c, d = sorted((x(flip.at), x(held)))
        out += [path(f"M{n(c)} 9H{n(d)}", "rule-held"), path(f"M{n(x(flip.at))} 1v20", "rule-flip")]
    out.append(path(f"M{n(x(now))} 15l-6 11h12Z", "ptr-s"))
    frame = f'<svg class="rule" viewBox="0 0 {n(width)} 27" preserveAspectRatio="none" aria-hidden="true">'
    return f"{frame}{''.join(out)}</svg>"
