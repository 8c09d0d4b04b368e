"""Keys of forms that were kept, with a digest of what came under each."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import CHAR, Index, String
from sqlalchemy.orm import Mapped, mapped_column

from grimcoil.store.tables import Base, Utc


class SentForm(Base):
    """A form that was kept: its key, and the SHA-256 of its content."""

    __tablename__ = "sent_form"
    __table_args__ = (Index("ix_sent_form_at", "at"),)

    token: Mapped[str] = mapped_column(String(40), primary_key=True)
    digest: Mapped[str] = mapped_column(CHAR(64))
    at: Mapped[datetime] = mapped_column(Utc)
