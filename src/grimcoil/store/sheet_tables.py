"""Sheets on their way in: a file with its map while a person answers what it leaves open, maps remembered, and the
values of those that came in.
"""

from __future__ import annotations

from datetime import date, datetime

from sqlalchemy import Date, ForeignKey, Index, Integer, String
from sqlalchemy.dialects.mysql import LONGTEXT, MEDIUMBLOB
from sqlalchemy.orm import Mapped, mapped_column

from grimcoil.store.tables import WHO, Base, Measured, Utc

TEXT, POINTS, TAB = 300, 120, 100


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


class SheetReading(Base):
    """A value of a sheet that came in, as it was understood; it stays where the import is undone.

    points: `1-2` of a winding, `1-2-3~frame` of insulation; t_s: the hold, s; shown: how a meter showed it, empty for a
    note; low, high: its ends in the field's home unit, a null high end is open; sheet, row, cell: where it stood.
    """

    __tablename__ = "sheet_reading"
    __table_args__ = (Index("ix_sheet_reading_motor_id_on_day", "motor_id", "on_day"),)

    import_id: Mapped[int] = mapped_column(ForeignKey("sheet_import.id"), primary_key=True)
    number: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=False)
    motor_id: Mapped[int] = mapped_column(ForeignKey("motor.id"))
    on_day: Mapped[date] = mapped_column(Date)
    field: Mapped[str] = mapped_column(String(30))
    points: Mapped[str] = mapped_column(String(POINTS))
    t_s: Mapped[float | None] = mapped_column(Measured)
    text: Mapped[str] = mapped_column(String(TEXT))
    shown: Mapped[str | None] = mapped_column(String(12))
    low: Mapped[float | None] = mapped_column(Measured)
    high: Mapped[float | None] = mapped_column(Measured)
    sheet: Mapped[str | None] = mapped_column(String(TAB))
    row: Mapped[int] = mapped_column(Integer)
    cell: Mapped[str] = mapped_column(String(12))
