"""Queries about motors, their windings, positions and what the register shows of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from sqlalchemy import func, or_, select
from sqlalchemy.orm import Session, defer, joinedload

from grimcoil.store.tables import Job, LifeEvent, Motor, MotorState, Position, Site, WindingRow


@dataclass(frozen=True, slots=True)
class RegisterRow:
    """One line of the register. Everything after `open_job_id` is None until a first job is signed."""

    tag: str
    power_text: str
    place: str | None
    area: str | None
    winding: str | None
    lead_scheme: str | None
    open_job_id: int | None
    verdict: str | None
    why: str | None
    r40_low_mohm: float | None
    r40_high_mohm: float | None
    unbalance_percent: float | None
    unbalance_percent_lowest: float | None
    unbalance_percent_highest: float | None
    last_on: date | None
    next_on: date | None
    next_why: str | None
    spark: str | None


_SITE = select(Site).limit(1)


def site(session: Session) -> Site | None:
    """The works."""
    return session.scalar(_SITE)


_NEWEST = select(func.max(WindingRow.since)).where(WindingRow.motor_id == Motor.id).correlate(Motor).scalar_subquery()
_STATE = MotorState
_REGISTER = (
    select(
        Motor.id, Motor.tag, Motor.power_text, Position.name, Position.area, WindingRow.winding,
        WindingRow.lead_scheme, _STATE.verdict, _STATE.why, _STATE.r40_low_mohm, _STATE.r40_high_mohm,
        _STATE.unbalance_percent, _STATE.unbalance_percent_lowest, _STATE.unbalance_percent_highest,
        _STATE.last_on, _STATE.next_on, _STATE.next_why, _STATE.spark,
    )
    .outerjoin(_STATE, _STATE.motor_id == Motor.id)
    .outerjoin(WindingRow, (WindingRow.motor_id == Motor.id) & (WindingRow.since == _NEWEST))
    .outerjoin(Position, Position.id == Motor.position_id)
    .order_by(func.coalesce(Position.area, "~"), Motor.tag)
)  # fmt: skip
_OPEN_JOBS = select(Job.motor_id, Job.id).where(Job.state == "open")


def register(session: Session, search: str = "") -> list[RegisterRow]:
    """Every motor with what its last signed job showed, by area and tag. Two queries, plain columns.

    Registers are long and read often: whole rows of tables would cost more than they are worth here.
    """
    query = _REGISTER
    for word in search.split()[:6]:
        places = (Motor.tag, Motor.serial, Position.name, Position.area)
        query = query.where(or_(*(place.contains(word, autoescape=True) for place in places)))
    open_jobs = {row[0]: row[1] for row in session.execute(_OPEN_JOBS)}
    return [_register_row(tuple(row), open_jobs) for row in session.execute(query)]


def _register_row(values: tuple[Any, ...], open_jobs: dict[int, int]) -> RegisterRow:
    tag, power, place, area, winding, scheme, *shown = values[1:]
    return RegisterRow(tag, power, place, area, winding, scheme, open_jobs.get(values[0]), *shown)


def by_tag(session: Session, tag: str) -> tuple[Motor, MotorState | None, int | None] | None:
    """A motor with its state and the id of its open job. One query."""
    open_job = (
        select(func.max(Job.id)).where(Job.motor_id == Motor.id, Job.state == "open").correlate(Motor).scalar_subquery()
    )
    query = (
        select(Motor, MotorState, open_job)
        .outerjoin(MotorState, MotorState.motor_id == Motor.id)
        .where(Motor.tag == tag)
        .options(joinedload(Motor.position))
    )
    row = session.execute(query).first()
    return None if row is None else (row[0], row[1], row[2])


def windings(session: Session, motor_id: int) -> Sequence[WindingRow]:
    """All windings a motor has had, oldest first."""
    return session.scalars(select(WindingRow).where(WindingRow.motor_id == motor_id).order_by(WindingRow.since)).all()


def winding_now(session: Session, motor_id: int) -> WindingRow | None:
    """The newest winding."""
    query = select(WindingRow).where(WindingRow.motor_id == motor_id).order_by(WindingRow.since.desc()).limit(1)
    return session.scalar(query)


def life(session: Session, motor_id: int) -> Sequence[LifeEvent]:
    """What happened to a motor, oldest first."""
    return session.scalars(select(LifeEvent).where(LifeEvent.motor_id == motor_id).order_by(LifeEvent.on_day)).all()


def position_named(session: Session, name: str) -> Position | None:
    """A position by its name."""
    return session.scalar(select(Position).where(Position.name == name))


def signed_jobs(session: Session, motor_id: int) -> Sequence[Job]:
    """Signed jobs of a motor, oldest first; the assessment is left in the database."""
    query = (
        select(Job)
        .where(Job.motor_id == motor_id, Job.state == "signed")
        .order_by(Job.tested_on, Job.id)
        .options(defer(Job.assessment, raiseload=True))
    )
    return session.scalars(query).all()


def count(session: Session) -> int:
    """How many motors there are."""
    return session.scalar(select(func.count(Motor.id))) or 0
