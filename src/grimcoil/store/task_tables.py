"""What a finding, a decision, a round or a person asks to be done at a motor afterwards."""

from __future__ import annotations

from datetime import date, datetime

from sqlalchemy import Date, ForeignKey, Index, Integer, String
from sqlalchemy.orm import Mapped, mapped_column

from grimcoil.store.tables import WHO, Base, Utc


class FollowUpTask(Base):
    """state: `open`, `done`, `dropped`; open_of: motor and task while it is open, so that it is there once; whom: the
    sign-in name of whom it is for, empty: anyone; origin and origin_id: what opened it; word: said when it was closed.
    """

    __tablename__ = "follow_up_task"
    __table_args__ = (Index("ix_follow_up_task_state_by_day", "state", "by_day"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    motor_id: Mapped[int] = mapped_column(ForeignKey("motor.id"), index=True)
    token: Mapped[str | None] = mapped_column(String(40), unique=True)
    open_of: Mapped[str | None] = mapped_column(String(80), unique=True)
    what: Mapped[str] = mapped_column(String(200))
    because: Mapped[str] = mapped_column(String(500), default="")
    by_day: Mapped[date] = mapped_column(Date)
    whom: Mapped[str] = mapped_column(String(40), default="")
    origin: Mapped[str] = mapped_column(String(20))
    origin_id: Mapped[int | None] = mapped_column(Integer)
    opened_at: Mapped[datetime] = mapped_column(Utc)
    opened_by: Mapped[str] = mapped_column(String(WHO))
    state: Mapped[str] = mapped_column(String(10), default="open")
    closed_at: Mapped[datetime | None] = mapped_column(Utc)
    closed_by: Mapped[str | None] = mapped_column(String(WHO))
    word: Mapped[str] = mapped_column(String(200), default="")
