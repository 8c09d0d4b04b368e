"""A verb whose transaction met another's is done again as a whole: nothing of it was kept, and what was kept under its
key is found the second time. One rule for pages, API and commands.
"""

from __future__ import annotations

import re
import time
from collections.abc import Callable
from random import SystemRandom
from typing import TypeVar

from sqlalchemy.exc import DBAPIError, IntegrityError

T = TypeVar("T")
# MariaDB's numbers: a deadlock or a change certified elsewhere, a lock waited for too long, a statement ended.
CONFLICT = frozenset({1213, 1205, 1317})
# A node that isn't ready, a connection that went away: once more, on another connection.
LOST = frozenset({1047, 2006, 2013, 2055})
STANDS = 1062  # a row with this key stands; a verb that can say which of its own claims it first
WAITS_S = (0.02, 0.08, 0.32)  # each by chance up to twice as long; common practice without source
SOON_S = 1.0  # a connection lost after longer than this was waited for long enough
_CHANCE = SystemRandom()


def number_of(error: BaseException) -> int:
    """The database's number of an error; 0 where it has none."""
    told = next(iter(getattr(getattr(error, "orig", None), "args", ())), 0)
    return told if isinstance(told, int) else 0


def key_of(error: IntegrityError) -> str:
    """The name of the key that stands already; nothing where it is another error."""
    found = re.search(r"for key '(?:\w+\.)?(\w+)'", str(error.orig)) if number_of(error) == STANDS else None
    return found[1] if found else ""


def stands_in(error: IntegrityError, table: str) -> bool:
    """Whether it is a key of this table, beside its number, that stands already."""
    return key_of(error).startswith(f"uq_{table}_")


def is_conflict(error: BaseException) -> bool:
    """Whether somebody else changed the same just now."""
    return number_of(error) in CONFLICT or number_of(error) == STANDS


def wait_s(error: BaseException, tried: int, took_s: float) -> float | None:
    """How long to wait before a verb is done once more that was tried so many times; None where it is given up.

    Seconds; took_s: of the last try.
    """
    lost = number_of(error) in LOST and tried == 1 and took_s < SOON_S
    if not lost and not (is_conflict(error) and tried <= len(WAITS_S)):
        return None
    return _CHANCE.uniform(0, 2 * WAITS_S[tried - 1])


def again(verb: Callable[[], T], sleep: Callable[[float], None] = time.sleep) -> T:
    """Do it, and once more where its transaction met another's; not where a connection was lost: a command has no key
    by which what was kept would be found. Raises what it raises, the last time.
    """
    tried = 0
    while True:
        tried, begun = tried + 1, time.monotonic()
        try:
            return verb()
        except DBAPIError as error:
            wait = wait_s(error, tried, time.monotonic() - begun)
            if wait is None or not is_conflict(error):
                raise
        sleep(wait)
