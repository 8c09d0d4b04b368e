"""How far a long work is, on a terminal that is looked at; silent where standard error is a file or a pipe."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable

EVERY_S = 0.5


class Counting:
    """Called with how many are done, and of how many where that is known: a line that is written over, at most twice a
    second, and ended with the last.
    """

    def __init__(self, what: str, clock: Callable[[], float] = time.monotonic) -> None:
        self.what, self.clock = what, clock
        self.seen, self.last = sys.stderr.isatty(), float("-inf")

    def __call__(self, done: int, of: int | None = None) -> None:
        """Told so many times as it likes."""
        ended = of is not None and done >= of
        if not self.seen or (not ended and self.clock() - self.last < EVERY_S):
            return
        self.last = self.clock()
        words = f"{done:,}" + (f" of {of:,}" if of is not None else "")
        sys.stderr.write(f"\rgrimcoil: {words.replace(',', ' ')} {self.what}" + ("\n" if ended else ""))
        sys.stderr.flush()
