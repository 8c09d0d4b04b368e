"""Queries about motors, their windings, positions and what the register shows of them."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import func, or_, select
from sqlalchemy.orm import Session, defer, joinedload

from grimcoil.store.tables import Job, LifeEvent, Motor, MotorState, Position, Site, WindingRow

RegisterRow = tuple[Motor, MotorState | None, WindingRow | None, int | None]


def site(session: Session) -> Site | None:
    """The works."""
    return session.scalar(select(Site).limit(1))


def register(session: Session, search: str = "") -> Sequence[RegisterRow]:
    """Every motor with its state, its winding now and the id of its open job, by area and tag. One query."""
    open_job = (
        select(func.max(Job.id)).where(Job.motor_id == Motor.id, Job.state == "open").correlate(Motor).scalar_subquery()
    )
    newest = (
        select(func.max(WindingRow.since)).where(WindingRow.motor_id == Motor.id).correlate(Motor).scalar_subquery()
    )
    query = (
        select(Motor, MotorState, WindingRow, open_job)
        .outerjoin(MotorState, MotorState.motor_id == Motor.id)
        .outerjoin(WindingRow, (WindingRow.motor_id == Motor.id) & (WindingRow.since == newest))
        .outerjoin(Position, Position.id == Motor.position_id)
        .options(joinedload(Motor.position))
        .order_by(func.coalesce(Position.area, "~"), Motor.tag)
    )
    for word in search.split()[:6]:
        places = (Motor.tag, Motor.serial, Position.name, Position.area)
        query = query.where(or_(*(place.contains(word, autoescape=True) for place in places)))
    return [(row[0], row[1], row[2], row[3]) for row in session.execute(query)]


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
