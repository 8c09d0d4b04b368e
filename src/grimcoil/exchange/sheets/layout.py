"""Names of columns and tags, what is no reading, and rows that hold none."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import lru_cache

from grimcoil.exchange.sheets.grid import Tab, letter

NOTHING = frozenset({"", "-", "–", "—", "n/a", "na", "n.a."})
TOTAL = re.compile(
    r"(?:.*\s)?(?:total|totals|sum|mean|average|avg|minimum|maximum|min|max|summe|mittel|mittelwert|σ|∑)(?:[\s:.].*)?",
    re.IGNORECASE | re.DOTALL,
)


def column_names(tab: Tab, headings: Sequence[int]) -> dict[int, str]:
    """By column, its name: heading rows joined, the letter behind it where it is empty or stands twice."""
    names: dict[int, str] = {}
    for column in range(tab.width):
        parts = [" ".join(tab.cell(row, column).text.split()) for row in headings]
        names[column] = " / ".join(part for part in parts if part)
    counts: dict[str, int] = {}
    for name in names.values():
        counts[name] = counts.get(name, 0) + 1
    return {
        column: name if name and counts[name] == 1 else f"{name} [{letter(column)}]".strip()
        for column, name in names.items()
    }


@lru_cache(maxsize=8192)
def tag_key(tag: str) -> str:
    """One motor however cased and whatever stands between a letter and a digit; between two digits it counts.

    >>> tag_key("bw 114") == tag_key("BW-114") == tag_key("BW114"), tag_key("BW-11-4") == tag_key("BW-114")
    (True, False)
    """
    plain = " ".join(tag.split()).casefold()
    out = []
    for i, sign in enumerate(plain):
        if sign.isalnum():
            out.append(sign)
            continue
        before = next((s for s in reversed(plain[:i]) if s.isalnum()), "")
        after = next((s for s in plain[i:] if s.isalnum()), "")
        if not (before.isdigit() != after.isdigit() and before and after):
            out.append(sign)
    return "".join(out)


def is_total(text: str) -> bool:
    """Whether a cell says that its row adds up others.

    >>> is_total("page total"), is_total("Mean:"), is_total("MAX-12")
    (True, True, False)
    """
    return bool(text) and TOTAL.fullmatch(text.strip()) is not None
