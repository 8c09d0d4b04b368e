"""Readings typed in one go: each kept in its place as an entry of its own, up to the first that is refused."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from grimcoil.core.errors import Forbidden, Refusal
from grimcoil.core.people import Actor
from grimcoil.core.plan.several import spread
from grimcoil.service import jobs
from grimcoil.service.bench import Bench
from grimcoil.service.jobs import AS_READ, How
from grimcoil.store.engine import Store


@dataclass(frozen=True, slots=True)
class Line:
    """What became of a line: the bench after it, and, where a reading was refused, which and the rest of the text."""

    bench: Bench
    refusal: Refusal | None = None
    place: str = ""
    rest: str = ""


def keep_line(
    store: Store, job_id: int, place: str, text: str, actor: Actor, token: str, now: datetime, how: How = AS_READ
) -> Line:
    """Keep one reading or several. The same token again changes nothing. Raises Forbidden, Unknown, Refusal where not
    even the first is kept.
    """
    if len(text.split()) < 2:
        return Line(jobs.keep(store, job_id, place, text, actor, token, now, how))
    bench = jobs.open_bench(store, job_id, now)
    ours = {row.place for row in bench.rows if row.token.startswith(f"{token}-")}
    pairs = spread(bench.state, place, text, ours) if place in bench.plan.places else [(place, text)]
    if len(pairs) == 1:
        return Line(jobs.keep(store, job_id, place, text, actor, token, now, how))
    for number, (where, word) in enumerate(pairs):
        try:
            bench = jobs.keep(store, job_id, where, word, actor, f"{token[:36]}-{number}", now, how)
        except Forbidden:
            raise
        except Refusal as refusal:
            return Line(bench, refusal, where, " ".join(word for _, word in pairs[number:]))
    return Line(bench)
