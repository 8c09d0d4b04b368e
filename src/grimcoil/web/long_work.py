"""A page that says how far a long work is while it goes on: sent line by line, without a script."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from queue import Queue

from markupsafe import escape
from starlette.responses import StreamingResponse

from grimcoil.core.errors import Refusal

HERE = "<!--here-->"
EVERY_S = 1.0
Told = Callable[[int, int], None]


def told_meanwhile(page: str, what: str, onward: str, work: Callable[[Told], object]) -> StreamingResponse:
    """The page up to its mark, a line a second while the work goes on, then how it ended, and the rest of the page.

    what: is counted; onward: where it goes on afterwards. The work is done whether or not anybody stays to see it.
    """
    return StreamingResponse(lines(page, what, onward, work), media_type="text/html; charset=utf-8")


def lines(page: str, what: str, onward: str, work: Callable[[Told], object]) -> Iterator[str]:
    """The same, piece by piece. Raises what broke, once the page is out."""
    said: Queue[tuple[int, int] | None] = Queue()

    def do() -> None:
        try:
            work(lambda done, of: said.put((done, of)))
        finally:
            said.put(None)

    pool = ThreadPoolExecutor(1, "long work")
    done = pool.submit(do)
    pool.shutdown(wait=False)
    head, _, rest = page.partition(HERE)
    yield head
    last = 0.0
    while (one := said.get()) is not None:
        if time.monotonic() - last >= EVERY_S:
            last = time.monotonic()
            yield f"<p>{one[0]:,} of {one[1]:,} {escape(what)}</p>\n".replace(",", " ")
    error = done.exception()
    if error is None:
        yield f'<p role="status"><b>It is in.</b> <a href="{escape(onward)}">Go on</a></p>\n'
    else:
        words = error.sentence() if isinstance(error, Refusal) else "Something broke on our side."
        yield f'<p class="act" role="alert"><b>{escape(words)}</b> Nothing was saved.</p>\n'
    yield rest
    if error is not None and not isinstance(error, Refusal):
        raise error  # into the log; the page is out
