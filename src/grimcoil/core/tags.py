"""What a motor may be called: one rule for every way in."""

from __future__ import annotations

import re
import unicodedata

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.lines import shown_as_such

TAG = re.compile(r"[^\W_](?:[\w./ -]{0,38}[\w./-])?")
ACCEPTED_TAG = "a letter or digit, then letters, digits, - _ . / and blanks inside, 40 at most"
RESERVED = frozenset({"new", "views"})  # words that stand where a tag stands in an address


def is_tag(text: str) -> bool:
    r"""Whether a motor can be called so.

    >>> [is_tag(tag) for tag in ("BW-114", "LÜ 7/2", "-7", "new", "BW\u200b-1", "A ")]
    [True, True, False, False, False, False]
    """
    return TAG.fullmatch(text) is not None and text.casefold() not in RESERVED


def checked_tag(text: str, path: str = "") -> str:
    """A tag, composed as one writes it. Raises RecordRefusal with what can't be seen in it written out."""
    tag = unicodedata.normalize("NFC", text)
    if not is_tag(tag):
        accepted = "a tag that is no word of an address" if tag.casefold() in RESERVED else ACCEPTED_TAG
        raise RecordRefusal(path, shown_as_such(text), accepted, "BW-114")
    return tag


def looks_like(key: str) -> str:
    """What an eye takes a tag's key for: without accents, and O, I and l after a digit as the figure they look like.

    >>> looks_like("xx9o2") == looks_like("xx902"), looks_like("bü7") == looks_like("bu7"), looks_like("pi10")
    (True, True, 'pi10')
    """
    out: list[str] = []
    for sign in without_accents(key):
        after_digit = bool(out) and out[-1].isdigit()
        out.append({"o": "0", "i": "1", "l": "1"}.get(sign, sign) if after_digit else sign)
    return "".join(out)


def without_accents(key: str) -> str:
    """Letters alone, as a register that knows no accents compares them."""
    plain = "".join(c for c in unicodedata.normalize("NFKD", key) if not unicodedata.combining(c))
    return plain.casefold()
