"""A winding's insulation history: which rows compare with one another, and what their trend shows."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.choices import HistoryEvent
from grimcoil.core.findings import Finding, sound, unproven, watch
from grimcoil.core.insulation.correction import HIGHEST_C, LOWEST_C, correction_factor
from grimcoil.core.trend.fit import TrendPoint, fit_trend, usable
from grimcoil.core.trend.judge import TrendResult, judge_trend
from grimcoil.core.trend.steps import DatedStep, all_steps

RESTARTS = frozenset(HistoryEvent) - {HistoryEvent.MOVED}
RECOVERIES = frozenset({HistoryEvent.DRYING, HistoryEvent.CLEANING})
MINUTE_S = 60.0


@dataclass(frozen=True, slots=True)
class HistoryRow:
    """One test of the past: resistance in MΩ as read (None for a row that only marks an event), and how."""

    on: date
    mohm: Amount | None
    test_voltage_v: float | None = None
    t_s: float | None = None
    winding_temperature_c: float | None = None
    insulation_system: str = "thermosetting"
    at: str | None = None
    instrument: str | None = None
    event: str | None = None

    @property
    def r40_mohm(self) -> Amount | None:
        """The value at 40 °C; None where reading or temperature don't allow it."""
        warm = self.winding_temperature_c
        if self.mohm is None or self.mohm.bound is Bound.NOTHING or warm is None or not LOWEST_C <= warm <= HIGHEST_C:
            return None
        return self.mohm.scaled(correction_factor(warm, self.insulation_system))


@dataclass(frozen=True, slots=True)
class HistoryTrend:
    """The trend of the last like-with-like stretch, its steps, and what was left out and why."""

    trend: TrendResult
    steps: tuple[DatedStep, ...]
    points: tuple[TrendPoint, ...]
    since: date | None
    left_out: int
    findings: tuple[Finding, ...]


def judge_history(rows: Sequence[HistoryRow], minimum_mohm: float) -> HistoryTrend:
    """Sort, leave out what doesn't compare, start anew where the winding or the test point changed, and judge."""
    ordered = sorted(rows, key=lambda row: row.on)
    kept, remarks = _comparable(ordered)
    stretches = _stretches(ordered, kept)
    last = stretches[-1] if stretches else []
    points = _points(last)
    trend = judge_trend(points, minimum_mohm)
    findings = [*trend.findings, *_restarted(stretches, ordered), *_changes(last), *remarks]
    return HistoryTrend(
        trend,
        tuple(all_steps(points)),
        tuple(points),
        last[0].on if last else None,
        sum(row.mohm is not None for row in ordered) - len(last),
        tuple(findings),
    )


def _points(rows: Sequence[HistoryRow]) -> list[TrendPoint]:
    return [TrendPoint(row.on, r40) for row in rows if (r40 := row.r40_mohm) is not None]


def _comparable(rows: Sequence[HistoryRow]) -> tuple[list[HistoryRow], list[Finding]]:
    """Rows with a value at 40 °C and the same hold, 1 minute where there is a choice."""
    read = [row for row in rows if row.mohm is not None]
    corrected = [row for row in read if row.r40_mohm is not None]
    remarks = []
    if lacking := len(read) - len(corrected):
        text = f"{lacking} of {len(read)} values left out: no winding temperature from 10 to 85 °C, or no bound known."
        remarks.append(unproven("temperature-missing", text))
    holds = Counter(row.t_s for row in corrected)
    if len(holds) <= 1:
        return corrected, remarks
    minutes = {hold: count for hold, count in holds.items() if hold is not None and hold >= MINUTE_S}
    chosen = max(minutes, key=lambda hold: (hold == MINUTE_S, minutes[hold])) if minutes else None
    kept = [row for row in corrected if chosen is not None and row.t_s == chosen]
    held = "one hold" if chosen is None else f"a hold of {chosen:g} s"
    text = f"{len(corrected) - len(kept)} of {len(corrected)} values left out: only {held} compares with like."
    return kept, [*remarks, watch("short-holds-left-out", text)]


def _stretches(rows: Sequence[HistoryRow], kept: Sequence[HistoryRow]) -> list[list[HistoryRow]]:
    """Kept rows split at restarting events and at changes of the test point; the row of an event comes after it."""
    chosen = {id(row) for row in kept}
    out: list[list[HistoryRow]] = [[]]
    at: str | None = None
    for row in rows:
        moved_point = id(row) in chosen and row.at is not None and at is not None and row.at != at
        if row.event in RESTARTS or moved_point:
            out.append([])
        if id(row) in chosen:
            out[-1].append(row)
            at = row.at or at
    return out


def _restarted(stretches: Sequence[Sequence[HistoryRow]], rows: Sequence[HistoryRow]) -> list[Finding]:
    """What came before a restart stays said: its fall isn't hidden by the recovery."""
    if len(stretches) < 2:
        return []
    before = next((s for s in reversed(stretches[:-1]) if s), [])
    last = stretches[-1]
    event = next((r for r in reversed(rows) if r.event in RESTARTS), None)
    words = f"the {event.event} of {event.on:%d %b %Y}" if event else f"the change of test point in {last[0].on:%b %Y}"
    earlier = _points(before)
    fall = ""
    if usable(earlier) is None:
        fall = f"; before it {fit_trend(earlier).slope_decades_per_year:+.3g} decades a year over {len(earlier)} tests"
    text = f"Counted from {words}, {len(last)} test{'' if len(last) == 1 else 's'} since{fall}."
    recovered = event is not None and event.event in RECOVERIES and bool(fall)
    return [watch("series-restarted", text) if recovered else sound("series-restarted", text)]


def _changes(rows: Sequence[HistoryRow]) -> list[Finding]:
    """Joined, but said: another test voltage or instrument, or the motor moved, within the stretch."""
    kinds: tuple[tuple[str, Callable[[HistoryRow], object]], ...] = (
        ("test voltage", lambda row: row.test_voltage_v),
        ("instrument", lambda row: row.instrument),
    )
    changed = [name for name, figure in kinds if len({figure(row) for row in rows} - {None}) > 1]
    changed += ["place"] if any(row.event == "moved" for row in rows[1:]) else []
    if not changed:
        return []
    return [
        watch("series-changed", f"Changed within the series: {', '.join(changed)}. Values are joined all the same.")
    ]
