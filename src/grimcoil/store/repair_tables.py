"""Repairs under way: a row a motor that is ordered for or away, made anew from its life's events."""

from __future__ import annotations

from datetime import date

from sqlalchemy import Date, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from grimcoil.store.tables import NOTE, Base


class Repair(Base):
    """state: `ordered`, or `away` since a day; due: when it was promised back."""

    __tablename__ = "repair"

    motor_id: Mapped[int] = mapped_column(ForeignKey("motor.id"), primary_key=True, autoincrement=False)
    state: Mapped[str] = mapped_column(String(20))
    since: Mapped[date] = mapped_column(Date)
    due: Mapped[date | None] = mapped_column(Date, index=True)
    told: Mapped[str] = mapped_column(String(NOTE))
