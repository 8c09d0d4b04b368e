"""Side sheets kept with a motor: brushes, capacitors, starters by their figures, what is heard and seen."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, Index, String
from sqlalchemy.orm import Mapped, mapped_column

from grimcoil.store.tables import WHO, Base, Utc


class SideSheet(Base):
    """A side sheet as it was kept. kind, document: as the open format of a job writes it; verdict: as judged then."""

    __tablename__ = "side_sheet"
    __table_args__ = (Index("ix_side_sheet_motor_id_at", "motor_id", "at"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    motor_id: Mapped[int] = mapped_column(ForeignKey("motor.id"))
    token: Mapped[str] = mapped_column(String(40), unique=True)
    kind: Mapped[str] = mapped_column(String(30))
    document: Mapped[dict[str, Any]] = mapped_column(JSON)
    verdict: Mapped[str] = mapped_column(String(10))
    at: Mapped[datetime] = mapped_column(Utc)
    who: Mapped[str] = mapped_column(String(WHO))
    taken_back_at: Mapped[datetime | None] = mapped_column(Utc)
    taken_back_by: Mapped[str | None] = mapped_column(String(WHO))
