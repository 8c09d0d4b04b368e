"""The engraved scale at the foot of the reading line: graduations, limits as line styles, a needle at what is typed."""

from __future__ import annotations

import math
from functools import lru_cache

from grimcoil.core.plan.scale import Scale
from grimcoil.draw.svg import n, path, text

HEIGHT = 42.0
_DASH = {"sound": "", "watch": "14 5", "act": "3 3", "unproven": "5 5"}


@lru_cache(maxsize=1024)
def reading_scale(scale: Scale, width: float, typed: float | None, css: str) -> str:
    """The scale as an svg element, `width` px wide; typed in the scale's units or None."""

    def x(value: float) -> float:
        return scale.share(value) * width

    out = []
    for band in scale.bands:
        a, b = x(band.low), x(band.high)
        if b - a > 0.5:
            dash = _DASH[band.verdict.value]
            dash_part = f' stroke-dasharray="{dash}"' if dash else ""
            out.append(f'<path class="sc-{band.verdict.value}" d="M{n(a)} 2.5H{n(b)}"{dash_part}/>')
    needle = x(typed) if typed is not None and math.isfinite(typed) else None
    marks = _log_marks(scale) if scale.logarithmic else _even_marks(scale, width)
    for value, rank in marks:
        at = x(value)
        out.append(path(f"M{n(at)} 7v{(7, 12, 18)[rank]}", "sc-tick major" if rank == 2 else "sc-tick"))
        if rank == 2 and 20 < at < width - 20 and (needle is None or abs(at - needle) > 34):
            out.append(text(at, HEIGHT - 6, _plain(value), "sc-no", "middle"))
    if needle is not None:
        out.append(path(f"M{n(needle)} 2L{n(needle + 9)} {n(HEIGHT - 10)}H{n(needle - 9)}Z", "sc-needle"))
        out.append(path(f"M{n(needle)} 0V{n(HEIGHT)}", "sc-hair"))
    return (
        f'<svg class="scale {css}" viewBox="0 0 {n(width)} {n(HEIGHT)}" preserveAspectRatio="none"'
        f' aria-hidden="true">{"".join(out)}</svg>'
    )


def _plain(value: float) -> str:
    return f"{value:.6g}"


def _even_marks(scale: Scale, width: float) -> list[tuple[float, int]]:
    """Graduations at 1, 2 or 5 times a power of ten, about 75 px between numbers."""
    span = scale.high - scale.low
    raw = span * 75 / width
    power = 10 ** math.floor(math.log10(raw))
    major = next(step * power for step in (1, 2, 5, 10) if step * power >= raw)
    minor = major / 10
    out = []
    for i in range(math.ceil(scale.low / minor), math.floor(scale.high / minor) + 1):
        out.append((i * minor, 2 if i % 10 == 0 else 1 if i % 5 == 0 else 0))
    return out


def _log_marks(scale: Scale) -> list[tuple[float, int]]:
    out = []
    for decade in range(math.floor(math.log10(scale.low)), math.ceil(math.log10(scale.high)) + 1):
        for digit in range(1, 10):
            value = digit * 10.0**decade
            if scale.low <= value <= scale.high * 1.0001:
                out.append((value, 2 if digit == 1 else 1 if digit == 5 else 0))
    return out


def time_scale(
    hold_s: float | None, discharge_s: float | None, total_s: float, hold_total_s: float, width: float, css: str
) -> str:
    """Hold and discharge on one line of minutes: what has passed solid, what is to come dashed."""
    whole = hold_total_s + total_s
    at_s = hold_total_s + discharge_s if discharge_s is not None else hold_s or 0.0

    def x(seconds: float) -> float:
        return min(1.0, seconds / whole) * width

    out = [
        f'<path class="sc-hold" d="M0 2.5H{n(x(hold_total_s))}" stroke-dasharray="4 3"/>',
        f'<path class="sc-hold" d="M0 2.5H{n(x(min(at_s, hold_total_s)))}"/>',
        f'<path class="sc-unproven" d="M{n(x(hold_total_s) + 2)} 2.5H{n(width)}" stroke-dasharray="12 5"/>',
        f'<path class="sc-sound" d="M{n(x(hold_total_s) + 2)} 2.5H{n(max(x(at_s), x(hold_total_s) + 2))}"/>',
    ]
    step = 60.0 if whole <= 900 else 300.0
    for i in range(int(whole // (step / 2)) + 1):
        seconds = i * step / 2
        big = i % 2 == 0
        out.append(path(f"M{n(x(seconds))} 7v{18 if big else 9}", "sc-tick major" if big else "sc-tick"))
        if big and 30 < x(seconds) < width - 40:
            out.append(text(x(seconds), HEIGHT - 6, f"{seconds / 60:g}", "sc-no", "middle"))
    needle = x(at_s)
    out.append(path(f"M{n(needle)} 2L{n(needle + 9)} {n(HEIGHT - 10)}H{n(needle - 9)}Z", "sc-needle"))
    return (
        f'<svg class="scale {css}" viewBox="0 0 {n(width)} {n(HEIGHT)}" preserveAspectRatio="none"'
        f' aria-hidden="true">{"".join(out)}</svg>'
    )
