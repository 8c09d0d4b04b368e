"""Rounds: which task a motor has and when it is next, and what was done, skipped or seen."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import JSON, Boolean, Date, ForeignKey, Index, Integer, String, UniqueConstraint
from sqlalchemy.dialects.mysql import DOUBLE
from sqlalchemy.orm import Mapped, mapped_column

from grimcoil.store.tables import WHO, Base, Utc


class RoundTask(Base):
    """A task of a motor. next_on: null once it was taken off the round; bearings: sizes by end, of `grease`.
    every_h, hours_a_month: where months follow from running hours; season: `08-15`, where it is due before that day.
    """

    __tablename__ = "round_task"
    __table_args__ = (
        UniqueConstraint("motor_id", "task"),
        Index("ix_round_task_next_on_motor_id", "next_on", "motor_id"),
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    motor_id: Mapped[int] = mapped_column(ForeignKey("motor.id"))
    task: Mapped[str] = mapped_column(String(20))
    months: Mapped[int] = mapped_column(Integer)
    next_on: Mapped[date | None] = mapped_column(Date)
    bearings: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True))
    every_h: Mapped[int | None] = mapped_column(Integer)
    hours_a_month: Mapped[int | None] = mapped_column(Integer)
    season: Mapped[str | None] = mapped_column(String(5))
    counted_area: Mapped[str | None] = mapped_column(String(100))
    counted_on: Mapped[date | None] = mapped_column(Date)


class RoundTally(Base):
    """How many tasks fall due, by area and day; `counted_…` of a task say where it stands in here. Kept with every
    change by `store.listing`, and made anew from the tasks by `recount`.
    """

    __tablename__ = "round_tally"
    __table_args__ = (Index("ix_round_tally_next_on", "next_on"),)

    area: Mapped[str] = mapped_column(String(100), primary_key=True)
    next_on: Mapped[date] = mapped_column(Date, primary_key=True)
    n: Mapped[int] = mapped_column(Integer)


class RoundEntry(Base):
    """What was done. outcome: `done`, `skipped` (words say why), `observed` (words from the list). value: °C, A or V;
    loaded: under load. was_next: what the task's next day was before, for taking back.
    """

    __tablename__ = "round_entry"
    __table_args__ = (Index("ix_round_entry_motor_id_task_at", "motor_id", "task", "at"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    motor_id: Mapped[int] = mapped_column(ForeignKey("motor.id"))
    task: Mapped[str] = mapped_column(String(20))
    token: Mapped[str] = mapped_column(String(40), unique=True)
    at: Mapped[datetime] = mapped_column(Utc)
    kept_at: Mapped[datetime] = mapped_column(Utc)
    who: Mapped[str] = mapped_column(String(WHO))
    outcome: Mapped[str] = mapped_column(String(10))
    text: Mapped[str] = mapped_column(String(40), default="")
    value: Mapped[float | None] = mapped_column(DOUBLE(asdecimal=False))
    loaded: Mapped[bool | None] = mapped_column(Boolean)
    words: Mapped[str] = mapped_column(String(200), default="")
    was_next: Mapped[date | None] = mapped_column(Date)
    taken_back_at: Mapped[datetime | None] = mapped_column(Utc)
    taken_back_by: Mapped[str | None] = mapped_column(String(WHO))
    taken_back_why: Mapped[str | None] = mapped_column(String(200))
