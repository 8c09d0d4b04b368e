"""Insulation history in as CSV or `grimcoil-history/1`, its trend out as `grimcoil-trend/1`."""

from __future__ import annotations

import csv
import io
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import Field, FiniteFloat, ValidationError

from grimcoil.core.choices import HistoryEvent, InsulationSystem
from grimcoil.core.decision.schedule import NextTest
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.fields import INSULATION
from grimcoil.core.insulation.curve import in_mohm
from grimcoil.core.trend.fit import Crossing, TrendFit
from grimcoil.core.trend.history import HistoryRow, HistoryTrend
from grimcoil.core.trend.judge import TrendResult
from grimcoil.core.version import VERSION
from grimcoil.exchange.strict import (
    MOST_ROWS,
    Celsius,
    Positive,
    ReadingText,
    Strict,
    Text,
    first_refusal,
    load_json,
    reading,
)

FORMAT = "grimcoil-history/1"


class Row(Strict):
    """One row; a row without a reading only marks its event."""

    date_: date = Field(alias="date")
    reading: ReadingText | None = None
    test_voltage_v: Positive | None = None
    t_s: Positive | None = None
    winding_temperature_c: Celsius | None = None
    insulation_system: InsulationSystem = InsulationSystem.THERMOSETTING
    note: Text | None = None
    at: Text | None = None
    instrument: Text | None = None
    relative_humidity_percent: Annotated[FiniteFloat, Field(ge=0, le=100)] | None = None
    event: HistoryEvent | None = None


COLUMNS = tuple(field.alias or name for name, field in Row.model_fields.items())


class History(Strict):
    """`grimcoil-history/1`: the rows of a history and the minimum it is held against, MΩ at 40 °C."""

    format: Literal["grimcoil-history/1"]
    minimum_mohm: Positive
    rows: Annotated[list[Row], Field(max_length=MOST_ROWS)] = []


def read_history(text: str | bytes) -> tuple[list[HistoryRow], float]:
    """A JSON history: its rows and its minimum. Raises RecordRefusal."""
    try:
        given = History.model_validate(load_json(text))
    except ValidationError as error:
        raise first_refusal(error, FORMAT) from None
    return [_row(row, f"rows.{i}") for i, row in enumerate(given.rows)], given.minimum_mohm


def read_csv(text: bytes) -> list[HistoryRow]:
    """A CSV history (RFC 4180, UTF-8, one header row). Raises RecordRefusal naming the row and the column."""
    try:
        decoded = text.decode("utf-8-sig")
        lines = list(csv.reader(io.StringIO(decoded, newline=""), strict=True))
    except UnicodeDecodeError:
        raise RecordRefusal("file", "", "not UTF-8 text") from None
    except csv.Error as error:
        raise RecordRefusal("file", "", f"not CSV: {error}") from None
    lines = [line for line in lines if any(cell.strip() for cell in line)]
    if len(lines) > MOST_ROWS + 1:
        raise RecordRefusal(f"row {MOST_ROWS + 2}", f"{len(lines) - 1} rows", f"a history of {MOST_ROWS} rows at most")
    if not lines:
        raise RecordRefusal("row 1", "", f"a header with the columns {', '.join(COLUMNS[:7])}")
    header = [cell.strip() for cell in lines[0]]
    _check_header(header)
    return [_csv_row(header, cells, number) for number, cells in enumerate(lines[1:], start=2)]


def _check_header(header: list[str]) -> None:
    unknown = [name for name in header if name not in COLUMNS]
    if unknown:
        raise RecordRefusal("row 1", unknown[0], f"columns from {', '.join(COLUMNS)}", "date,reading")
    if len(set(header)) != len(header):
        raise RecordRefusal("row 1", ",".join(header)[:60], "each column once", "date,reading")
    for needed in ("date", "reading"):
        if needed not in header:
            raise RecordRefusal("row 1", "", f"the column {needed} is needed", "date,reading")


def _csv_row(header: list[str], cells: list[str], number: int) -> HistoryRow:
    where = f"row {number}"
    if len(cells) != len(header):
        raise RecordRefusal(where, f"{len(cells)} cells", f"{len(header)} cells, as in the header")
    given = {name: cell.strip() for name, cell in zip(header, cells, strict=True) if cell.strip()}
    try:
        row = Row.model_validate(given)
    except ValidationError as error:
        refusal = first_refusal(error, "the CSV")
        raise RecordRefusal(f"{where}, {refusal.where}", refusal.found, refusal.accepted, refusal.example) from None
    return _row(row, where, ", ")


def _row(row: Row, where: str, joint: str = ".") -> HistoryRow:
    mohm = None
    if row.reading is not None:
        mohm = in_mohm(reading(row.reading, INSULATION, f"{where}{joint}reading").amount)
    return HistoryRow(
        row.date_,
        mohm,
        row.test_voltage_v,
        row.t_s,
        row.winding_temperature_c,
        row.insulation_system,
        row.at,
        row.instrument,
        row.event,
    )


def to_document(history: HistoryTrend, minimum_mohm: float, following: NextTest | None) -> dict[str, Any]:
    """`grimcoil-trend/1`; null where the series doesn't support a figure."""
    trend = history.trend
    return {
        "format": "grimcoil-trend/1",
        "core_version": VERSION,
        "n": trend.n,
        "n_censored": trend.n_censored,
        **_fit(trend.fit),
        "minimum_mohm": minimum_mohm,
        "crosses_minimum": _crossing(trend.crosses),
        "since": _iso(history.since),
        "left_out": history.left_out,
        "steps": [
            {
                "date": dated.on.isoformat(),
                "usual_mohm": dated.step.usual_mohm,
                "ratio": dated.step.ratio,
                "scatters": dated.step.scatters,
                "severity": dated.finding.severity.value,
            }
            for dated in history.steps
        ],
        "without_outliers": _without(trend),
        "series": [
            {"at": one.at, "n": one.trend.n, "since": _iso(one.since), "verdict": one.trend.verdict.value}
            | _fit(one.trend.fit)
            for one in history.others
        ],
        "verdict": history.verdict.value,
        "next_test": None if following is None else {"date": following.on.isoformat(), "why": following.why},
        "findings": [
            {"code": f.code, "text": f.text, "source": f.source, "severity": f.severity.value} for f in history.findings
        ],
    }


def _crossing(crosses: Crossing | None) -> dict[str, Any] | None:
    if crosses is None:
        return None
    return {"date": _iso(crosses.on), "earliest": _iso(crosses.earliest), "latest": _iso(crosses.latest)}


def _without(trend: TrendResult) -> dict[str, Any] | None:
    """The same figures without what stands off; null where nothing does, figures null where the rest is too short."""
    if not trend.off:
        return None
    left = trend.without
    return {
        "n": trend.n - len(trend.off),
        "outliers": [point.on.isoformat() for point in trend.off],
        **_fit(left.fit if left else None),
        "crosses_minimum": _crossing(left.crosses if left else None),
    }


def _fit(fit: TrendFit | None) -> dict[str, Any]:
    slopes = None if fit is None else fit.level_set[:, 1]
    return {
        "slope_decades_per_year": None if fit is None else fit.slope_decades_per_year,
        "slope_lowest": None if slopes is None else float(slopes.min()),
        "slope_highest": None if slopes is None else float(slopes.max()),
        "intercept_log10_mohm": None if fit is None else fit.intercept_log10_mohm,
        "reference_date": None if fit is None else fit.reference_date.isoformat(),
        "sigma_decades": None if fit is None else fit.sigma_decades,
    }


def _iso(day: date | None) -> str | None:
    return None if day is None else day.isoformat()
