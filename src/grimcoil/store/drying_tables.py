"""Dryings: the hookup and cold value each began with, and what was done and read, in order."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import Boolean, ForeignKey, Index, Integer, String, UniqueConstraint
from sqlalchemy.dialects.mysql import DOUBLE
from sqlalchemy.orm import Mapped, mapped_column

from grimcoil.store.tables import WHO, Base, Utc

Figure = DOUBLE(asdecimal=False)


class DryingRow(Base):
    """A winding on its way to dry. cold_ohm: of the whole hookup, as typed; job_id: the wet job it came from; due_at,
    doing: what runs now and until when, for the strip on every page; end_why: why it was ended, empty where it is dry;
    open_of: the motor while it goes on, a key: one of a motor at a time, on whatever host it is begun.
    """

    __tablename__ = "drying"
    __table_args__ = (Index("uq_drying_open_of", "open_of", unique=True),)

    id: Mapped[int] = mapped_column(primary_key=True)
    token: Mapped[str] = mapped_column(String(40), unique=True)
    motor_id: Mapped[int] = mapped_column(ForeignKey("motor.id"))
    job_id: Mapped[int | None] = mapped_column(ForeignKey("job.id"))
    state: Mapped[str] = mapped_column(String(10), index=True)
    hookup: Mapped[str] = mapped_column(String(20))
    cold_ohm: Mapped[str] = mapped_column(String(40))
    cold_c: Mapped[float] = mapped_column(Figure)
    other_meter: Mapped[bool] = mapped_column(Boolean)
    current_limit_a: Mapped[float | None] = mapped_column(Figure)
    started_at: Mapped[datetime] = mapped_column(Utc)
    started_by: Mapped[str] = mapped_column(String(WHO))
    due_at: Mapped[datetime | None] = mapped_column(Utc)
    doing: Mapped[str] = mapped_column(String(40), default="")
    ended_at: Mapped[datetime | None] = mapped_column(Utc)
    ended_by: Mapped[str | None] = mapped_column(String(WHO))
    end_why: Mapped[str | None] = mapped_column(String(200))
    open_of: Mapped[int | None]


class DryingEntryRow(Base):
    """One act or reading of a drying, figures as typed. Never overwritten: a taken-back one is marked."""

    __tablename__ = "drying_entry"
    __table_args__ = (UniqueConstraint("drying_id", "seq"), UniqueConstraint("drying_id", "token"))

    id: Mapped[int] = mapped_column(primary_key=True)
    drying_id: Mapped[int] = mapped_column(ForeignKey("drying.id"))
    seq: Mapped[int] = mapped_column(Integer)
    token: Mapped[str] = mapped_column(String(40))
    act: Mapped[str] = mapped_column(String(10))
    at: Mapped[datetime] = mapped_column(Utc)
    kept_at: Mapped[datetime] = mapped_column(Utc)
    who: Mapped[str] = mapped_column(String(WHO))
    amps: Mapped[str | None] = mapped_column(String(40))
    volts: Mapped[str | None] = mapped_column(String(40))
    insulation: Mapped[str | None] = mapped_column(String(40))
    t_s: Mapped[float | None] = mapped_column(Figure)
    ends: Mapped[str | None] = mapped_column(String(60))
    rotated_to: Mapped[str | None] = mapped_column(String(10))
    taken_back_at: Mapped[datetime | None] = mapped_column(Utc)
    taken_back_by: Mapped[str | None] = mapped_column(String(WHO))
