"""Small figures beside the meaning of a term: what is compared with what, in sample figures."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import cache

from grimcoil.draw.svg import circle, figure, n, path, rect, text

WIDTH, HEIGHT, GROUND = 312.0, 130.0, 104.0


def _bars(bars: Sequence[tuple[str, str, float, str]], limit: tuple[float, str] | None = None) -> str:
    """Columns by name, figure, height in parts of the whole and class; a dashed limit over them."""
    step = 190 / len(bars)
    out = [path(f"M14 {n(GROUND)}H{n((limit and 216) or 298)}", "base")]
    for i, (name, shown, share, css) in enumerate(bars):
        x, high = 24 + step * i, 76 * share
        out.append(rect(x, GROUND - high, min(44, step - 14), high, f"bar {css}"))
        middle = x + min(44, step - 14) / 2
        out += [
            text(middle, GROUND - high - 6, shown, "fig", "middle"),
            text(middle, GROUND + 19, name, "ax", "middle"),
        ]
    if limit:
        y = GROUND - 76 * limit[0]
        out += [path(f"M14 {n(y)}H216", "lim"), text(222, y + 5, limit[1], "limt")]
    return "".join(out)


def _range() -> str:
    """A coarse reading lies across the limit, a fine one clear of it."""
    body = path("M20 96H300", "base") + "".join(
        path(f"M{n(20 + 70 * i)} 96v6", "base") + text(20 + 70 * i, 119, str(2 * i), "ax", "middle") for i in range(4)
    )
    body += path("M90 18V96", "lim") + text(96, 26, "limit 2 %", "limt")
    body += path("M20 52H250", "open") + text(252, 45, "steps of 0.1 Ω", "ax", "end")
    return (
        body
        + circle(58, 52, 7, "ring dashed")
        + circle(58, 78, 7, "ring")
        + text(96, 83, "steps of 0.001 Ω: proven", "ax")
    )


def _lost_line() -> str:
    """One line lost: nothing in it, much in the other two."""
    return _bars((("L1", "33.6 A", 0.85, ""), ("L2", "0", 0.02, ""), ("L3", "33.6 A", 0.85, "")), (0.5, "nameplate"))


def _charge() -> str:
    """A charge that goes slowly while it is shorted."""
    points = "L".join(f"{n(20 + 7 * i)} {n(96 - 74 * 0.86**i)}" for i in range(40))
    body = path("M20 12V96H300", "base") + path(f"M{points}", "curve")
    return body + text(292, 118, "4 times as long as the voltage was on", "ax", "end") + text(28, 24, "charge", "ax")


FIGURES: dict[str, Callable[[], str]] = {
    "polarization-index": lambda: _bars(
        (("1 min", "318", 0.4, "pale"), ("10 min", "2.1×", 0.84, "")), (0.8, "wanted: 2")
    ),
    "60-30-s-ratio": lambda: _bars((("30 s", "250", 0.5, "pale"), ("60 s", "1.4×", 0.7, "")), (0.62, "adequate: 1.25")),
    "single-phasing": _lost_line,
    "unproven": _range,
    "limit-value": _range,
    "resistance-unbalance": lambda: _bars(
        (("1-2", "0.41", 0.6, "pale"), ("2-3", "0.41", 0.6, "pale"), ("3-1", "0.47", 0.78, "")), (0.66, "mean + 2 %")
    ),
    "discharge-time": _charge,
    "insulation-resistance": lambda: _bars(
        (("good", "100 MΩ", 0.9, "pale"), ("bad", "2", 0.2, "")), (0.36, "minimum 5")
    ),
    "contact-drop": lambda: _bars(
        (("L1", "0.1 V", 0.16, "pale"), ("L2", "1.1 V", 0.9, ""), ("L3", "0.1 V", 0.16, "pale")), (0.8, "change: 1 V")
    ),
}


@cache
def term_figure(key: str) -> str:
    """The figure of a term; empty where words do."""
    made = FIGURES.get(key)
    if made is None:
        return ""
    drawn = figure(WIDTH, HEIGHT, "", made(), "term-figure")
    return drawn.replace('role="img" aria-label=""', 'aria-hidden="true"')  # its words say all of it
