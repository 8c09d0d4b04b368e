"""The terms of the trade with their meaning, and where one stands in a sentence."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

VERDICTS = ("sound", "watch", "act", "unproven")


@dataclass(frozen=True, slots=True)
class Term:
    """A term: its key, its name, how it is written in a sentence, and its meaning in two sentences."""

    key: str
    name: str
    also: tuple[str, ...]
    text: str


@cache
def terms() -> dict[str, Term]:
    """Every term by its key, in the order of the file."""
    read = tomllib.loads((files("grimcoil.core") / "glossary.toml").read_text(encoding="utf-8"))
    return {key: Term(key, one["name"], tuple(one["also"]), one["text"]) for key, one in read.items()}


def listed() -> list[Term]:
    """All terms but the verdicts, by name."""
    return sorted((one for one in terms().values() if one.key not in VERDICTS), key=lambda one: one.name.casefold())


@cache
def _pattern() -> tuple[re.Pattern[str], dict[str, str]]:
    """One expression for all ways of writing, the longest first, and the key of each."""
    keys = {word.casefold(): one.key for one in terms().values() for word in one.also}
    words = sorted(keys, key=len, reverse=True)
    return re.compile(rf"(?<![\w-])(?:{'|'.join(map(re.escape, words))})(?![\w-])", re.IGNORECASE), keys


def found(text: str) -> Iterator[tuple[int, int, Term]]:
    """Where terms stand in a text: begin, end, term.

    >>> [(begin, end, one.key) for begin, end, one in found("below the dew point")]
    [(10, 19, 'dew-point')]
    """
    pattern, keys = _pattern()
    for match in pattern.finditer(text):
        yield match.start(), match.end(), terms()[keys[match[0].casefold()]]
