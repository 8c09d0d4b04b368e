"""Words of a motor and the pieces of them that a search asks for: close spellings share pieces."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Sequence
from functools import lru_cache

from rapidfuzz import fuzz

_BREAKS = re.compile(r"[^0-9a-z]+")
SHORT = range(3, 7)  # words so short that one wrong letter spoils most of their pieces
MOST_WORDS = 8


def plain(text: str) -> str:
    """Lower case, marks off the letters."""
    folded = unicodedata.normalize("NFKD", text.casefold())
    return "".join(letter for letter in folded if not unicodedata.combining(letter))


def bare(text: str) -> str:
    """Letters and digits only: `BW-114`, `bw 114` and `BW114` are one."""
    return _BREAKS.sub("", plain(text))


def words_of(texts: Iterable[str]) -> list[str]:
    """Words in order of their first standing, each once; one broken by signs stands whole too (`bw114 bw 114`)."""
    out: dict[str, None] = {}
    for text in texts:
        for word in plain(text).split():
            whole = _BREAKS.sub("", word)
            for part in (whole, *_BREAKS.split(word)):
                if part:
                    out[part] = None
    return list(out)


def asked(text: str) -> list[str]:
    """A search's words, some at most."""
    return [word for word in (_BREAKS.sub("", part) for part in plain(text).split()) if word][:MOST_WORDS]


def pieces(word: str) -> set[str]:
    """What a word of the register is found by."""
    return _threes(f" {word} ") | _shorter(word)


def asked_pieces(word: str) -> set[str]:
    """What a word being typed asks for: its end may be to come."""
    return _threes(f" {word}") | _shorter(word)


def _threes(padded: str) -> set[str]:
    return {padded[i : i + 3] for i in range(len(padded) - 2)} or {padded}


def _shorter(word: str) -> set[str]:
    if len(word) not in SHORT:
        return set()
    return {f"~{word}", *(f"~{word[:i]}{word[i + 1 :]}" for i in range(len(word)))}


CLOSE = 70.0


@lru_cache(maxsize=1 << 16)  # motors share most of their words
def _likeness(one: str, word: str) -> float:
    return 95.0 if word.startswith(one) else fuzz.ratio(one, word)


def nearness(asked_words: Sequence[str], words: Sequence[str]) -> float:
    """How well a motor's words answer a search, 0 to 100; 0 where one of the asked words has nothing near it.

    A word that begins with what was typed is whole; else likeness by single letters changed (rapidfuzz). 70 is ours.

    Computed.
    """
    total = 0.0
    for one in asked_words:
        best = 0.0
        for word in words:
            if word == one:
                best = 100.0
                break
            best = max(best, _likeness(one, word))
        if best < CLOSE:
            return 0.0
        total += best
    return total / len(asked_words) if asked_words else 0.0
