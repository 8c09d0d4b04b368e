"""Queries about instruments."""

from __future__ import annotations

from collections.abc import Sequence

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


def to_range(row: InstrumentRangeRow) -> InstrumentRange:
    """Row to the core's range."""
    return InstrumentRange(
        row.instrument.name,
        row.function,
        row.top,
        row.resolution,
        row.accuracy_percent,
        row.counts,
        row.test_voltage_v,
        row.instrument.calibration_due,
    )
