"""Queries about instruments."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from grimcoil.core.instruments import InstrumentRange
from grimcoil.store.lines import RangeLine
from grimcoil.store.tables import Instrument, InstrumentRangeRow, columns

_R, _I = columns(InstrumentRangeRow), columns(Instrument)
_RANGES = (
    select(
        _R.id, _I.name, _R.function, _R.top, _R.resolution, _R.test_voltage_v, _I.calibration_due, _R.lamps,
        _R.corrects_to_40c, _R.shows, _R.beep_below_ohm,
    )
    .join(Instrument.__table__, _I.id == _R.instrument_id)
    .order_by(_I.name, _R.id)
)  # fmt: skip


def ranges(session: Session) -> list[RangeLine]:
    """Every range of every instrument, by instrument."""
    return [RangeLine(*row) for row in session.execute(_RANGES)]


_KEPT = (
    select(
        _I.id, _I.name, _I.calibration_due, _R.id, _R.function, _R.top, _R.resolution, _R.test_voltage_v,
        _R.lamps, _R.corrects_to_40c, _R.shows, _R.beep_below_ohm,
    )
    .outerjoin(InstrumentRangeRow.__table__, _I.id == _R.instrument_id)
    .order_by(_I.name, _I.id, _R.id)
)  # fmt: skip


def with_ranges(session: Session) -> list[tuple[int, str, date | None, RangeLine | None]]:
    """Every instrument with each of its ranges; one without a range once."""
    return [
        (number, name, due, None if row is None else RangeLine(row, name, function, top, fine, volts, due, *more))
        for number, name, due, row, function, top, fine, volts, *more in session.execute(_KEPT)
    ]


def named(session: Session, name: str) -> Instrument | None:
    """An instrument by its name."""
    return session.scalar(select(Instrument).where(Instrument.name == name))


def ranges_of(session: Session, instrument_id: int) -> list[tuple[str, float | None, float | None, float | None]]:
    """Function, top, resolution and test voltage of each range."""
    query = select(_R.function, _R.top, _R.resolution, _R.test_voltage_v).where(_R.instrument_id == instrument_id)
    return [(function, top, fine, volts) for function, top, fine, volts in session.execute(query)]


def range_columns(row: Any, instrument: Any) -> tuple[Any, ...]:
    """The columns of one range and its instrument, in the order of InstrumentRange; the lamps as they are kept."""
    return (
        instrument.name, row.function, row.top, row.resolution, row.accuracy_percent, row.counts,
        row.test_voltage_v, instrument.calibration_due, row.lamps, row.corrects_to_40c, row.shows, row.beep_below_ohm,
    )  # fmt: skip


def from_columns(values: Sequence[Any]) -> InstrumentRange | None:
    """What `range_columns` selected; None where the outer join found nothing."""
    return None if values[0] is None else _range(values)


def to_range(row: InstrumentRangeRow) -> InstrumentRange:
    """Row to the core's range."""
    return _range(range_columns(row, row.instrument))


def _range(values: Sequence[Any]) -> InstrumentRange:
    *first, lamps, corrects, shows, beep = values
    return InstrumentRange(*(*first, tuple(map(float, lamps.split())), bool(corrects), shows, beep))
