"""Positions as a list: what stands there now, in order of area and name."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import Any, NamedTuple

from sqlalchemy import select
from sqlalchemy.orm import Session

from grimcoil.store.tables import Motor, Position, columns

PAGE = 100
_P, _M = columns(Position), columns(Motor)
_SHOWN = (_P.id, _P.name, _P.area, _P.criticality, _P.supply_system, _P.system_voltage_v, _P.circuit, _P.retired_on)


class ListedPlace(NamedTuple):
    """A position in the list; motors: tags of those that stand there."""

    id: int
    name: str
    area: str
    criticality: str
    supply_system: str | None
    system_voltage_v: Any
    circuit: dict[str, Any] | None
    retired_on: date | None
    motors: Sequence[str] = ()


def listed(session: Session, area: str = "", words: str = "", after: int = 0) -> list[ListedPlace]:
    """A page at most and one more; two queries. area: of one alone; words: in the name; after: so many come before."""
    query = select(*_SHOWN).order_by(_P.retired_on.is_not(None), _P.area, _P.name)
    query = query.where(_P.area == area) if area else query
    query = query.where(_P.name.contains(words, autoescape=True)) if words else query
    found = [ListedPlace(*row) for row in session.execute(query.offset(after).limit(PAGE + 1))]
    standing: dict[int, list[str]] = {}
    there = select(_M.position_id, _M.tag).where(_M.position_id.in_([one.id for one in found])).order_by(_M.tag)
    for number, tag in session.execute(there):
        standing.setdefault(number, []).append(tag)
    return [one._replace(motors=standing.get(one.id, ())) for one in found]


def areas(session: Session) -> list[str]:
    """Areas that positions stand in, by name."""
    return [area for area in session.scalars(select(_P.area).distinct().order_by(_P.area)) if area]
