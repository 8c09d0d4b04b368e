"""Which walk a job was handed over from."""

from __future__ import annotations

from sqlalchemy import ForeignKey
from sqlalchemy.dialects.mysql import LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from grimcoil.store.tables import Base


class JobWalk(Base):
    """The walk as its page's address has it, for the way back with the job's readings."""

    __tablename__ = "job_walk"

    job_id: Mapped[int] = mapped_column(ForeignKey("job.id"), primary_key=True, autoincrement=False)
    address: Mapped[str] = mapped_column(LONGTEXT)
