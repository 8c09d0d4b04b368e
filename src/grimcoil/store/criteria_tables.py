"""The works' own criteria: every version as it was kept; jobs name the one they are judged by."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import String, UniqueConstraint
from sqlalchemy.dialects.mysql import LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from grimcoil.store.tables import WHO, Base, Utc


class OwnCriteria(Base):
    """One version. document: `grimcoil-criteria/1`, every limit written out; based_on: what it was copied from."""

    __tablename__ = "own_criteria"
    __table_args__ = (UniqueConstraint("name", "version"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(40))
    version: Mapped[int]
    based_on: Mapped[str] = mapped_column(String(40))
    document: Mapped[str] = mapped_column(LONGTEXT)
    kept_at: Mapped[datetime] = mapped_column(Utc)
    kept_by: Mapped[str] = mapped_column(String(WHO))
