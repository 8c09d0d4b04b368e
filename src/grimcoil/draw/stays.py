"""Which motors stood at a position, one bar each over the years, a failure as its mark at the day."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from grimcoil.draw.svg import figure, n, path, text

ROW, TOP, LEFT, RIGHT = 42.0, 34.0, 16.0, 14.0
LETTER = 8.2  # a letter of the label, about
_DAYS = 365.25


@dataclass(frozen=True, slots=True)
class Bar:
    """One stay: a tag, its days, and the day and words of a failure in it. until None: it stands there now."""

    tag: str
    since: date
    until: date | None
    failed: date | None = None
    words: str = ""


def stays(bars: Sequence[Bar], today: date, width: float) -> str:
    """Oldest on top. A stay longer than the axis begins with an open end at its left edge, which says it is cut."""
    first = _first_year(bars, today)
    last = today.year + 1
    bottom = TOP + ROW * max(1, len(bars))

    def x(day: date) -> float:
        years = day.year + (day.timetuple().tm_yday - 1) / _DAYS
        return LEFT + (max(first, years) - first) / (last - first) * (width - LEFT - RIGHT)

    out = []
    every = max(1, round((last - first) * 46 / (width - LEFT - RIGHT)))
    for year in range(first, last + 1):
        at = x(date(year, 1, 1))
        out.append(path(f"M{n(at)} {n(TOP - 12)}V{n(bottom)}", "grid"))
        if (year - first) % every == 0 and year < last:
            out.append(text(at + 4, bottom + 18, str(year), "ax"))
    for i, bar in enumerate(bars):
        out.append(_bar(bar, x, TOP + ROW * i + 12, first, today, width))
    said = f"{len(bars)} motors in this position, {sum(bar.failed is not None for bar in bars)} failed."
    return figure(width, bottom + 26, said, "".join(out), "plots stays")


def _first_year(bars: Sequence[Bar], today: date) -> int:
    """Where the axis begins: with the second stay where the first is much longer than all others."""
    begins = sorted(bar.since.year for bar in bars) or [today.year - 1]
    if len(begins) > 1 and begins[1] - begins[0] > 2 * (today.year - begins[1] + 1):
        return begins[1] - 1
    return min(begins[0], today.year - 1)


def _bar(bar: Bar, x: object, y: float, first: int, today: date, width: float) -> str:
    assert callable(x)  # noqa: S101 - for the type checker
    start, end = x(bar.since), x(bar.until or today)
    css = "stay now" if bar.until is None else "stay"
    out = [path(f"M{n(start)} {n(y)}H{n(max(end, start + 2))}", css)]
    if bar.since.year < first:
        out.append(path(f"M{n(start + 6)} {n(y - 6)}L{n(start - 2)} {n(y)}l8 6", "cut"))
    if bar.failed is not None:
        at = x(bar.failed)
        out.append(path(f"M{n(at)} {n(y - 7)}h14v5l-5 2 5 2v5h-14z", "failed"))
        end = max(end, at + 14)
    words = f"{bar.tag}, {bar.words}" if bar.words else bar.tag
    room = len(words) * LETTER
    if end + 10 + room <= width:
        out.append(text(end + 10, y + 5, words, "tx"))
    elif start - 10 - room >= 0:
        out.append(text(start - 10, y + 5, words, "tx", "end"))
    else:
        out.append(text(max(LEFT, min(start, width - room)), y - 10, words, "tx"))
    return "".join(out)
