"""What a round's closed answers say of each bearing: what was heard there, how much grease it got."""

from __future__ import annotations

import re
from collections.abc import Mapping

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.findings import Finding, act, sound, watch
from grimcoil.core.side.wear import HEARD_AT

ENDS = ("drive", "other")
MOST_G = 2000.0  # a bearing of 2 m takes no more; our own bound
_MADE = {"sound": sound, "watch": watch, "act": act}
_CODES = {"sound": "vibration-sound", "watch": "vibration-watch", "act": "vibration-act"}
_SAID = re.compile(rf"\b({'|'.join(ENDS)}) end ({'|'.join(HEARD_AT)})\b")


def heard_told(answers: Mapping[str, str]) -> str:
    """One line of what was heard by end. Raises RecordRefusal for a word that isn't in the list.

    >>> heard_told({"drive": "rough", "other": "even"})
    'drive end rough, other end even'
    """
    for word in answers.values():
        if word not in HEARD_AT:
            raise RecordRefusal("", word[:40], "one of " + ", ".join(HEARD_AT))
    return ", ".join(f"{end} end {answers[end]}" for end in ENDS if end in answers)


def heard_in(line: str) -> dict[str, str]:
    """The same line read again: what was heard by end.

    >>> heard_in("drive end rough, other end even")
    {'drive': 'rough', 'other': 'even'}
    """
    return dict(_SAID.findall(line))


def judge_heard(line: str) -> Finding | None:
    """The worst of what was heard at both ends; None where nothing was said (common practice without source)."""
    said = heard_in(line)
    worst = max(said.items(), key=lambda one: list(_MADE).index(HEARD_AT[one[1]][0]), default=None)
    if worst is None:
        return None
    end, word = worst
    severity, following = HEARD_AT[word]
    return _MADE[severity](_CODES[severity], f"{end.capitalize()} end {word}: {following}.")


def grease_told(grams: Mapping[str, float], kind: str) -> str:
    """One line of the grams by end and the kind of grease. g, as read. Raises RecordRefusal for grams that can't be.

    >>> grease_told({"drive": 8.0}, "EP2")
    'drive end 8 g, of EP2'
    """
    for value in grams.values():
        if not 0 < value <= MOST_G:
            raise RecordRefusal("", f"{value:g} g", f"more than 0, up to {MOST_G:g} g", "8")
    parts = [f"{end} end {grams[end]:g} g" for end in ENDS if end in grams]
    return ", ".join([*parts, f"of {kind}"] if kind else parts)
