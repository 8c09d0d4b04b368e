"""Texts of one line as they are kept: what can't be seen is shown as such, so that nothing hides in a record."""

from __future__ import annotations

import unicodedata

HIDDEN = frozenset({"Cc", "Cf", "Cs", "Co", "Zl", "Zp"})  # controls, bidi and zero-width, halves, private, separators
_BLANK = str.maketrans("\t\r\n", "   ")


def shown_as_such(text: str) -> str:
    r"""The text with each character that no eye can see written out; line ends and tabs are blanks.

    >>> shown_as_such("BW\u200b-114\x1b[2J"), shown_as_such("as  found\n")
    ('BW[U+200B]-114[U+001B][2J', 'as  found ')
    """
    if text.isascii() and text.isprintable():
        return text
    plain = text.translate(_BLANK)
    return "".join(f"[U+{ord(c):04X}]" if hides(c) else c for c in plain)


def hides(character: str) -> bool:
    """Whether it can't be seen where it stands."""
    return unicodedata.category(character) in HIDDEN
