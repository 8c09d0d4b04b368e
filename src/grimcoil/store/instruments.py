"""Queries about instruments."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from grimcoil.core.instruments import InstrumentRange
from grimcoil.store.lines import RangeLine
from grimcoil.store.tables import Instrument, InstrumentRangeRow, columns

_R, _I = columns(InstrumentRangeRow), columns(Instrument)
_RANGES = (
    select(_R.id, _I.name, _R.function, _R.top, _R.resolution, _R.test_voltage_v, _I.calibration_due)
    .join(Instrument.__table__, _I.id == _R.instrument_id)
    .order_by(_I.name, _R.id)
)


def ranges(session: Session) -> list[RangeLine]:
    """Every range of every instrument, by instrument."""
    return [RangeLine(*row) for row in session.execute(_RANGES)]


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
