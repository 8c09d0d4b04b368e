"""What the entries of a drying come to, worked out once for all who look at them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from pydantic_core import from_json, to_json
from sqlalchemy.orm import Session

from grimcoil.core.drying.cycle import Act, Done, Stands, stands
from grimcoil.core.drying.judge import Drying, Set, judge_drying
from grimcoil.exchange.drying import FORMAT, FRAME, read_drying
from grimcoil.store import dryings as rows
from grimcoil.store.drying_tables import DryingRow
from grimcoil.store.dryings import DryingEntryLine, DryingLine

Document = dict[str, Any]


def document_of(known: Document, row: DryingRow | DryingLine, entries: Sequence[DryingEntryLine]) -> Document:
    """The drying as `grimcoil-drying/1`. known: the motor."""
    out: Document = {
        "format": FORMAT, "motor": known, "hookup": row.hookup,
        "cold": {"ohm": row.cold_ohm, "temperature_c": row.cold_c, "other_meter": row.other_meter},
        "entries": [told for one in entries if (told := _told(one))],
    }  # fmt: skip
    return out | ({"current_limit_a": row.current_limit_a} if row.current_limit_a is not None else {})


def _told(one: DryingEntryLine) -> Document | None:
    """An entry in the format; acts of the hands alone aren't in it, nor what was taken back."""
    at = {"at": one.at.isoformat()}
    if one.taken_back_at is not None:
        return None
    if one.act == Act.HEAT:
        return at | {"amps": one.amps, "volts": one.volts}
    if one.act == Act.ROTATED:
        return at | {"rotated_to": one.rotated_to}
    if one.act == Act.READ:
        first, _, second = (one.ends or FRAME).partition("~")
        return at | {"insulation": one.insulation, "t_s": one.t_s, "from": first.split("-"), "to": second.split("-")}
    return None


@dataclass(frozen=True, slots=True)
class Worked:
    """What some entries come to."""

    made: Set
    entries: tuple[DryingEntryLine, ...]
    state: Drying
    stands: Stands
    drawn: dict[str, Any] = field(default_factory=dict)


REMEMBERED = 64
# By the entries' fingerprint, the drying and its motor: worked out once for all who look at them.
WORKED: dict[tuple[tuple[int, ...], DryingLine, bytes], Worked] = {}


def worked_out(session: Session, known: bytes, row: DryingLine, ends: tuple[str, ...]) -> Worked:
    """What the entries of a drying come to, as they stand now. known: the motor as JSON. Raises RecordRefusal."""
    mark = (rows.fingerprint(session, row.id), row, known)
    worked = WORKED.get(mark)
    if worked is None:
        worked = _worked_out(known, row, tuple(rows.entries(session, row.id)), ends)
        while len(WORKED) >= REMEMBERED:
            WORKED.pop(next(iter(WORKED)), None)
        WORKED[mark] = worked
    return worked


def _worked_out(known: bytes, row: DryingLine, kept: tuple[DryingEntryLine, ...], ends: tuple[str, ...]) -> Worked:
    """What these very entries come to. known: the motor as JSON."""
    # A clock that was set back finds its own entries in the future: they stand.
    latest = max((one.at for one in kept), default=row.started_at)
    document = document_of(from_json(known), row, kept)
    made, entries = read_drying(to_json(document), latest)
    made = replace(made, ends=ends)
    return Worked(made, kept, judge_drying(made, entries), stands_of(kept))


def stands_of(kept: Sequence[DryingEntryLine]) -> Stands:
    """How the winding stands after these acts."""
    return stands([
        Done(Act(one.act), one.at, one.t_s or 0.0, one.ends or "") for one in kept if one.taken_back_at is None
    ])  # fmt: skip
