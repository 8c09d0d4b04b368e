"""The heads of the fleet's four orders, and a motor's sisters, each by its own index."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Any, NamedTuple

from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session

from grimcoil.store.list_tables import FLEET, NONE, Listing
from grimcoil.store.tables import Motor, MotorState, Position, columns

_L, _M, _P, _S = columns(Listing), columns(Motor), columns(Position), columns(MotorState)


class FleetLine(NamedTuple):
    """A motor as the fleet's lists show it. r40: now (its ends; an open one is null), and the least at the test before,
    MΩ at 40 °C.
    """

    tag: str
    place: str | None
    area: str
    verdict: str
    criticality: str
    due: date | None
    built_year: int | None
    rewinds: int
    r40_mohm: float | None
    r40_high_mohm: float | None
    r40_before_mohm: float | None


def _heads(order: str, most: int) -> Select[Any]:
    return (
        select(
            _M.tag, _P.name, _L.area, _L.verdict, _L.criticality, _L.due, _L.built_year, _L.rewinds, _L.r40_mohm,
            _L.r40_high_mohm, _L.r40_before_mohm,
        )
        .join(Motor.__table__, _M.id == _L.motor_id)
        .outerjoin(Position.__table__, _P.id == _M.position_id)
        .where(getattr(_L, order) < NONE)
        .order_by(getattr(_L, order))
        .limit(most)
    )  # fmt: skip


def heads(session: Session, most: int) -> dict[str, list[FleetLine]]:
    """The first so many of each order; a motor that an order says nothing of isn't in it. Four queries."""
    return {order: [FleetLine(*row) for row in session.execute(_heads(order, most))] for order in FLEET}


class MarginLine(NamedTuple):
    """A motor's last insulation with its minimum, MΩ at 40 °C, and the meeting of its trend as stored: ISO days."""

    tag: str
    place: str | None
    area: str | None
    verdict: str
    criticality: str | None
    r40_low_mohm: float | None
    r40_high_mohm: float | None
    minimum_mohm: float | None
    slope: str | None
    earliest: str | None
    on: str | None
    latest: str | None
    due: date | None
    why: str | None


def margins(session: Session) -> list[MarginLine]:
    """Every motor in use, in the order of areas. One query, whatever their number."""
    of_trend = [func.json_value(_S.trend, f"$.{path}") for path in (
        "fit.slope_decades_per_year", "crosses.earliest", "crosses.on", "crosses.latest",
    )]  # fmt: skip
    query: Select[Any] = (
        select(
            _M.tag, _P.name, _L.area, _L.verdict, _P.criticality, _S.r40_low_mohm, _S.r40_high_mohm, _S.minimum_mohm,
            *of_trend, _L.due, _S.why,
        )
        .select_from(Listing.__table__)
        .join(Motor.__table__, _M.id == _L.motor_id)
        .outerjoin(Position.__table__, _P.id == _M.position_id)
        .outerjoin(MotorState.__table__, _S.motor_id == _M.id)
        .order_by(_L.by_area)
    )  # fmt: skip
    return [MarginLine(*row) for row in session.execute(query)]


class SisterLine(NamedTuple):
    """A motor of the same plate, with what it last read: MΩ at 40 °C, % between the lines."""

    tag: str
    place: str | None
    verdict: str | None
    last_on: date | None
    r40_low_mohm: float | None
    r40_high_mohm: float | None
    unbalance_percent: float | None


class Kin(NamedTuple):
    """What sisters have in common: power as the plate prints it, volts, and speed in r/min."""

    power: str
    volts: Decimal
    speed: Decimal


def sisters(session: Session, motor_id: int, kin: Kin, most: int) -> list[SisterLine]:
    """So many other motors of the same power, volts and speed, the last tested first. One query."""
    query = (
        select(
            _M.tag, _P.name, _S.verdict, _S.last_on, _S.r40_low_mohm, _S.r40_high_mohm, _S.unbalance_percent,
        )
        .outerjoin(Position.__table__, _P.id == _M.position_id)
        .outerjoin(MotorState.__table__, _S.motor_id == _M.id)
        .where(_M.power_text == kin.power, _M.rated_voltage_v == kin.volts, _M.speed_rpm == kin.speed)
        .where(_M.id != motor_id, _M.withdrawn_at.is_(None))
        .order_by(_M.id)  # as the index has them: however many there are, no more than these are read
        .limit(most)
    )  # fmt: skip
    found = [SisterLine(*row) for row in session.execute(query)]
    return sorted(found, key=lambda one: (-(one.last_on or date.min).toordinal(), one.tag))
