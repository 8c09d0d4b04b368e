"""Small helpers for SVG text."""

from __future__ import annotations

from html import escape


def n(value: float) -> str:
    """A coordinate with at most two decimals."""
    return f"{value:.2f}".rstrip("0").rstrip(".")


def text(x: float, y: float, words: str, css: str = "", anchor: str = "start", size: float | None = None) -> str:
    """A text element; `words` are escaped."""
    css_part = f' class="{css}"' if css else ""
    size_part = f' font-size="{n(size)}"' if size else ""
    anchor_part = f' text-anchor="{anchor}"' if anchor != "start" else ""
    return f'<text x="{n(x)}" y="{n(y)}"{css_part}{anchor_part}{size_part}>{escape(words)}</text>'


def path(d: str, css: str) -> str:
    """A path with a class."""
    return f'<path class="{css}" d="{d}"/>'


def circle(x: float, y: float, r: float, css: str) -> str:
    """A circle with a class."""
    return f'<circle class="{css}" cx="{n(x)}" cy="{n(y)}" r="{n(r)}"/>'


def rect(x: float, y: float, w: float, h: float, css: str, rx: float = 0) -> str:
    """A rectangle with a class."""
    round_part = f' rx="{n(rx)}"' if rx else ""
    return f'<rect class="{css}" x="{n(x)}" y="{n(y)}" width="{n(w)}" height="{n(h)}"{round_part}/>'


def figure(width: float, height: float, label: str, body: str, css: str = "", fit: str = "xMinYMin meet") -> str:
    """An SVG element with a name for those who don't see it."""
    return (
        f'<svg class="{css}" viewBox="0 0 {n(width)} {n(height)}" preserveAspectRatio="{fit}" role="img"'
        f' aria-label="{escape(label)}">{body}</svg>'
    )
