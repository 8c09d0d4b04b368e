"""Tables that lists are read from: one narrow row a motor, words to find it by, and tallies. All of it can be made anew
from the register (`store.listing.relist`); nothing stands here alone.
"""

from __future__ import annotations

from datetime import date

from sqlalchemy import Date, ForeignKey, Index, Integer, String
from sqlalchemy.dialects.mysql import DOUBLE
from sqlalchemy.orm import Mapped, mapped_column

from grimcoil.store.tables import Base

SORTS = ("by_area", "by_worst", "by_due", "by_insulation")
# Orders of the fleet's page, read from the head only; a motor that one says nothing of has `NONE` as its key there.
FLEET = ("by_matter", "by_fall", "by_age", "by_rewinds")
NONE = "~"
FILTERS = ("area", "verdict", "standing", "scheme", "due_month")
# Byte by byte: the order of a page's keys is the order of the database, whatever letters are in them.
KEY = String(200, collation="utf8mb4_bin")


class Listing(Base):
    """A motor as lists filter and sort it.

    by_…: unique keys, each a sort of its own; a page goes on behind the last key of the one before.
    r40_before_mohm: at the test before the last, of the same winding. rewinds: windings since the first.
    standing: `open` (a job runs), `untested`, `tested`. due: null where it was never tested. tag_bare: letters and
    digits of the tag, lower case.
    """

    __tablename__ = "listing"
    __table_args__ = (
        *(Index(f"ix_listing_{sort}", sort) for sort in (*SORTS, *FLEET)),
        *(Index(f"ix_listing_{one}_{sort}", one, sort) for one in FILTERS for sort in SORTS),
    )

    motor_id: Mapped[int] = mapped_column(ForeignKey("motor.id"), primary_key=True, autoincrement=False)
    tag_bare: Mapped[str] = mapped_column(String(40), index=True)
    area: Mapped[str] = mapped_column(String(100))
    verdict: Mapped[str] = mapped_column(String(10))
    standing: Mapped[str] = mapped_column(String(10))
    scheme: Mapped[str] = mapped_column(String(30))
    due: Mapped[date | None] = mapped_column(Date)
    due_month: Mapped[str] = mapped_column(String(7))
    r40_mohm: Mapped[float | None] = mapped_column(DOUBLE(asdecimal=False))
    by_area: Mapped[str] = mapped_column(KEY)
    by_worst: Mapped[str] = mapped_column(KEY)
    by_due: Mapped[str] = mapped_column(KEY)
    by_insulation: Mapped[str] = mapped_column(KEY)
    criticality: Mapped[str] = mapped_column(String(20))
    built_year: Mapped[int | None]
    rewinds: Mapped[int]
    r40_high_mohm: Mapped[float | None] = mapped_column(DOUBLE(asdecimal=False))
    r40_before_mohm: Mapped[float | None] = mapped_column(DOUBLE(asdecimal=False))
    by_matter: Mapped[str] = mapped_column(KEY)
    by_fall: Mapped[str] = mapped_column(KEY)
    by_age: Mapped[str] = mapped_column(KEY)
    by_rewinds: Mapped[str] = mapped_column(KEY)
    words: Mapped[str] = mapped_column(String(600))


class ListingTally(Base):
    """How many motors show a value of a filter."""

    __tablename__ = "listing_tally"

    field: Mapped[str] = mapped_column(String(20), primary_key=True)
    value: Mapped[str] = mapped_column(String(100), primary_key=True)
    n: Mapped[int] = mapped_column(Integer)


class SearchKey(Base):
    """A piece of a word of a motor: three letters in a row, or a short word with one letter left out (`~bet`)."""

    __tablename__ = "search_key"

    piece: Mapped[str] = mapped_column(String(8, collation="utf8mb4_bin"), primary_key=True)
    motor_id: Mapped[int] = mapped_column(ForeignKey("motor.id"), primary_key=True, autoincrement=False, index=True)


class SearchTally(Base):
    """How many motors have a piece: the rarest are asked for first."""

    __tablename__ = "search_tally"

    piece: Mapped[str] = mapped_column(String(8, collation="utf8mb4_bin"), primary_key=True)
    n: Mapped[int] = mapped_column(Integer)
