"""What was reckoned for a motor between rewinding and replacing, as it was kept."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import ForeignKey, String
from sqlalchemy.dialects.mysql import LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from grimcoil.store.tables import WHO, Base, Utc


class MoneyRow(Base):
    """A case that was kept. given: `grimcoil-money/1`; says: the answer then; job_id: the job it was reckoned for."""

    __tablename__ = "money"

    id: Mapped[int] = mapped_column(primary_key=True)
    token: Mapped[str] = mapped_column(String(40), unique=True)
    motor_id: Mapped[int] = mapped_column(ForeignKey("motor.id"))
    job_id: Mapped[int | None] = mapped_column(ForeignKey("job.id"))
    at: Mapped[datetime] = mapped_column(Utc)
    who: Mapped[str] = mapped_column(String(WHO))
    says: Mapped[str] = mapped_column(String(10))
    given: Mapped[str] = mapped_column(LONGTEXT)
