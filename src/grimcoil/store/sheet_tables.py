"""Sheets on their way in: a file with its map while a person answers what it leaves open, and maps remembered."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import String
from sqlalchemy.dialects.mysql import LONGTEXT, MEDIUMBLOB
from sqlalchemy.orm import Mapped, mapped_column

from grimcoil.store.tables import WHO, Base, Utc


class SheetDraft(Base):
    """A file that was handed over and isn't in yet. map: `grimcoil-map/1`; left_rows: JSON list of rows left out by
    choice, `tab!7` or `7`. Gone once it is in or thrown away.
    """

    __tablename__ = "sheet_draft"

    id: Mapped[int] = mapped_column(primary_key=True)
    token: Mapped[str] = mapped_column(String(40), unique=True)
    login: Mapped[str] = mapped_column(String(40), index=True)
    who: Mapped[str] = mapped_column(String(WHO))
    at: Mapped[datetime] = mapped_column(Utc)
    file_name: Mapped[str] = mapped_column(String(200))
    sha256: Mapped[str] = mapped_column(String(64))
    raw: Mapped[bytes] = mapped_column(MEDIUMBLOB, deferred=True)
    map: Mapped[str] = mapped_column(LONGTEXT)
    left_rows: Mapped[str] = mapped_column(LONGTEXT)


class SheetMapRow(Base):
    """A map that was used: the next sheet with these headings (SHA-256 of their names) begins with it."""

    __tablename__ = "sheet_map"

    headings: Mapped[str] = mapped_column(String(64), primary_key=True)
    file_name: Mapped[str] = mapped_column(String(200))
    who: Mapped[str] = mapped_column(String(WHO))
    at: Mapped[datetime] = mapped_column(Utc)
    map: Mapped[str] = mapped_column(LONGTEXT)
