"""Queries about instruments."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from grimcoil.core.instruments import InstrumentRange
from grimcoil.store.tables import Instrument, InstrumentRangeRow


def ranges(session: Session) -> Sequence[InstrumentRangeRow]:
    """Every range of every instrument, by instrument."""
    query = (
        select(InstrumentRangeRow)
        .join(Instrument)
        .options(joinedload(InstrumentRangeRow.instrument))
        .order_by(Instrument.name, InstrumentRangeRow.id)
    )
    return session.scalars(query).all()


def range_columns(row: Any, instrument: Any) -> tuple[Any, ...]:
    """The columns of one range and its instrument, in the order of InstrumentRange."""
    return (
        instrument.name, row.function, row.top, row.resolution, row.accuracy_percent, row.counts,
        row.test_voltage_v, instrument.calibration_due,
    )  # fmt: skip


def from_columns(values: Sequence[Any]) -> InstrumentRange | None:
    """What `range_columns` selected; None where the outer join found nothing."""
    return None if values[0] is None else InstrumentRange(*values)


def to_range(row: InstrumentRangeRow) -> InstrumentRange:
    """Row to the core's range."""
    return InstrumentRange(*range_columns(row, row.instrument))
