"""What stands over the bench: the gate in view, the worst found so far, what keeps a motor off its supply."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import datetime
from itertools import groupby
from zoneinfo import ZoneInfo

from grimcoil.core.findings import Verdict, by_weight
from grimcoil.core.plan.gates import GIVES_BACK, live_words
from grimcoil.core.plan.record import part_of
from grimcoil.core.plan.steps import Slot
from grimcoil.service.bench import Bench


def local(bench: Bench, moment: datetime) -> datetime:
    """A moment in the works' own zone."""
    return moment.astimezone(ZoneInfo(bench.on.zone))


def _ago(bench: Bench, moment: datetime) -> str:
    minutes = int((bench.state.situation.latest - moment).total_seconds() // 60)
    hours, rest = divmod(minutes, 60)
    spans = [f"{hours} h"] * bool(hours) + [f"{rest} min"] * bool(rest)
    return f"{' '.join(spans)} ago" if minutes >= 1 else "just now"


def gate_words(bench: Bench) -> tuple[str, str, str]:
    """The gate in view: symbol, class, words."""
    at = bench.state.safety
    if bench.state.signed:
        if bench.filed:
            return "unproven", "", "Imported, not signed"
        return "sound", "", f"Signed by {bench.job.signed_by}"
    if at.live is not None:
        return "live", "hot", live_words(bench.state.situation)
    hold = at.charged
    if hold is not None:
        return "live", "hot", _hold_words(bench)
    if at.energised:
        return "live", "hot", "Power is on. Live work."
    if at.proved_at is not None:
        where = ". Leads disconnected" if at.lifted and not at.joined else ""
        when = local(bench, at.proved_at)
        return "locked", "sound", f"Proved dead {when.day} {when:%b %H:%M}, {_ago(bench, at.proved_at)}{where}"
    if at.fault:
        return "live", "hot", f"Not proved dead: {at.fault}."
    if at.joined:
        return "live", "hot", "Reconnected. Treat it as live."
    return "live", "hot", "Not proved dead. Treat as live."


def _hold_words(bench: Bench) -> str:
    hold = bench.state.safety.charged
    if hold is None or hold.short_at is not None:
        return "Winding shorted to frame. Don't touch the leads."
    if hold.off_at is not None:
        return "Tester off, but the winding is still charged. Connect the shorting strap to the frame."
    volts = part_of(bench.plan, bench.state.kept, "volts")
    return f"{volts:g} V DC on the winding. Stand clear." if volts else "Test voltage on the winding. Stand clear."


def doubts(bench: Bench, slot: Slot | None) -> Sequence[str]:
    """Why this motor shouldn't go back on its supply, while nobody has said that it may."""
    if slot is None or slot.act not in GIVES_BACK:
        return ()
    at = bench.state.situation
    out = [] if "power!dead-tests" in at.kept.overruled else at.in_doubt
    if "power!left-out" not in at.kept.overruled:
        out = out + [f"{one.stays_unproven} stays unproven: {one.why}" for one in at.stands.left_out]
    return tuple(_told_once(out))


def _told_once(lines: Sequence[str]) -> Iterator[str]:
    """`failed: winding resistance 1-2` and `… 2-3` as one line."""
    for head, same in groupby(lines, key=lambda line: line.rpartition(" ")[0]):
        yield f"{head} {', '.join(line.rpartition(' ')[2] for line in same)}"


def worst_words(bench: Bench) -> str:
    """The worst that was found so far, in view to the end."""
    if bench.state.signed:
        return ""
    found = [f for f in by_weight(bench.whole.findings) if f.severity is Verdict.ACT]
    return found[0].text.partition(". ")[0].rstrip(".") + "." if found else ""
