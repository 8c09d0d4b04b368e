"""Lines of the trail from before it had a running digest: links hold them, each up to a line, with a digest of all."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from datetime import datetime
from typing import Any, NamedTuple

from sqlalchemy.orm import Session

from grimcoil.service.register import COMMAND_LINE
from grimcoil.service.signatures import append_link
from grimcoil.store import signatures as rows
from grimcoil.store.engine import Store
from grimcoil.store.trail_lanes import earlier_digest

KIND = "trail"


class HeldLines(NamedTuple):
    """Behind the link before it up to a line: how many there are, and the SHA-256 over all of them."""

    to: int
    lines: int
    sha256: str


def held_by(document: Mapping[str, Any]) -> HeldLines:
    """What a link says; nothing where it says nothing."""
    told = document.get("earlier")
    told = told if isinstance(told, dict) else {}
    to, lines = (told[name] if isinstance(told.get(name), int) else 0 for name in ("to", "lines"))
    return HeldLines(to, lines, str(told.get("sha256", "")))


def hold_earlier_trail(store: Store, now: datetime) -> int:
    """A link over the lines that none holds yet and that have no digest of their own; returns how many there were."""
    with store.begin() as session:
        rows.locked_head(session)
        told = [held_by(rows.read(link)) for link in rows.links(session, KIND)]
        count, last, digest = earlier_digest(session, max([0, *(held.to for held in told)]))
        if count:
            append_link(session, COMMAND_LINE, KIND, now, {"earlier": {"to": last, "lines": count, "sha256": digest}})
        return count


def earlier_breaks(session: Session, told: Sequence[HeldLines]) -> Iterator[str]:
    """Where these lines aren't as the links hold them; told: what each link says, in order."""
    after = 0
    for held in told:
        if earlier_digest(session, after, held.to) != (held.lines, held.to, held.sha256):
            yield f"trail: lines {after + 1} to {held.to} were changed, put in or taken out"
        after = held.to
    count, last, _ = earlier_digest(session, after)
    if count:
        yield f"trail: {count} lines up to {last} were put in without a digest"
