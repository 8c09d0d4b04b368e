"""A winding's insulation history: which rows compare with one another, and what their trend shows."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.choices import HistoryEvent
from grimcoil.core.findings import Finding, Verdict, by_weight, sound, unproven, verdict_of, watch
from grimcoil.core.insulation.correction import HIGHEST_C, LOWEST_C, correction_factor
from grimcoil.core.trend.fit import TrendPoint, fit_trend, usable
from grimcoil.core.trend.judge import TrendResult, judge_trend
from grimcoil.core.trend.steps import DatedStep, all_steps

RESTARTS = frozenset(HistoryEvent) - {HistoryEvent.MOVED}
RECOVERIES = frozenset({HistoryEvent.DRYING, HistoryEvent.CLEANING})
RECOVERED = 6  # tests without a fall, then the one before is past; common practice without source
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
        """The value at 40 °C; None where reading or temperature don't allow it. MΩ (computed)."""
        warm = self.winding_temperature_c
        if self.mohm is None or self.mohm.bound is Bound.NOTHING or warm is None or not LOWEST_C <= warm <= HIGHEST_C:
            return None
        return self.mohm.scaled(correction_factor(warm, self.insulation_system))


@dataclass(frozen=True, slots=True)
class Series:
    """One test point's values since its last restart, and their trend."""

    at: str | None
    trend: TrendResult
    points: tuple[TrendPoint, ...]
    since: date | None


@dataclass(frozen=True, slots=True)
class HistoryTrend:
    """The trend of the newest test point's last like-with-like stretch, its steps, what was left out and why; and the
    series of other test points beside it.
    """

    trend: TrendResult
    steps: tuple[DatedStep, ...]
    points: tuple[TrendPoint, ...]
    since: date | None
    left_out: int
    findings: tuple[Finding, ...]
    others: tuple[Series, ...] = ()

    @property
    def verdict(self) -> Verdict:
        """Never better than the worst finding."""
        return verdict_of(self.findings)

    @property
    def governing(self) -> list[Finding]:
        """What a motor is judged by beside its last test: what was found, not what the history can't tell."""
        remarks = ("series-changed", "short-holds-left-out", "trend-as-read")
        return [f for f in self.findings if f.severity is not Verdict.UNPROVEN and f.code not in remarks]


def judge_history(rows: Sequence[HistoryRow], minimum_mohm: float) -> HistoryTrend:
    """Sort, leave out what does not compare, start anew where the winding changed; judge each test point by itself.

    MΩ at 40 °C. Each finding names its source.
    """
    ordered = sorted(rows, key=lambda row: row.on)
    kept, remarks, as_read = _comparable(ordered)
    places = _places(kept)
    main, *others = [_series(ordered, kept, at, places, minimum_mohm, as_read) for at in places]
    last = main[1][-1] if main[1] else []
    steps = all_steps(main[0].points)
    findings = [*main[0].trend.findings, *_restarted(main[1], ordered), *_changes(last), *remarks]
    findings += [_beside(series) for series, _ in others if series.points]
    return HistoryTrend(
        main[0].trend,
        tuple(steps),
        main[0].points,
        main[0].since,
        sum(row.mohm is not None for row in ordered) - len(last),
        tuple(findings),
        tuple(series for series, _ in others),
    )


Stretches = list[list[HistoryRow]]


def _places(kept: Sequence[HistoryRow]) -> list[str | None]:
    """Test points, that of the newest value first. Values without one belong to the only one there is."""
    named = dict.fromkeys(row.at for row in reversed(kept) if row.at is not None)
    if len(named) <= 1:
        return [next(iter(named), None)]
    return list(dict.fromkeys(row.at for row in reversed(kept)))


def _series(
    ordered: Sequence[HistoryRow], kept: Sequence[HistoryRow], at: str | None, places: Sequence[str | None],
    minimum_mohm: float, as_read: bool,
) -> tuple[Series, Stretches]:  # fmt: skip
    mine = kept if len(places) == 1 else [row for row in kept if row.at == at]
    stretches = _stretches(ordered, mine)
    last = stretches[-1] if stretches else []
    points = tuple(_points(last, as_read))
    return Series(at, judge_trend(points, minimum_mohm), points, last[0].on if last else None), stretches


def _beside(series: Series) -> Finding:
    """The worst of another test point's series, said with its place."""
    worst = by_weight([f for f in series.trend.findings if f.code != "trend-too-few"])
    where = f"At {series.at or 'a test point that was not said'}, {len(series.points)} tests"
    if not worst:
        return sound("series-beside", f"{where}: a series of its own, too short for a forecast.")
    return Finding("series-beside", worst[0].severity, f"{where}: {worst[0].text}")


def _points(rows: Sequence[HistoryRow], as_read: bool = False) -> list[TrendPoint]:
    values = ((row.on, row.mohm if as_read else row.r40_mohm) for row in rows)
    return [TrendPoint(on, mohm) for on, mohm in values if mohm is not None and mohm.bound is not Bound.NOTHING]


def _comparable(rows: Sequence[HistoryRow]) -> tuple[list[HistoryRow], list[Finding], bool]:
    """Rows with a value at 40 °C and the same hold, 1 minute where there is a choice; all of them as they were read
    where no row has a temperature, and that is told.
    """
    read = [row for row in rows if row.mohm is not None and row.mohm.bound is not Bound.NOTHING]
    corrected = [row for row in read if row.r40_mohm is not None]
    remarks = []
    as_read = bool(read) and not corrected
    if as_read:
        corrected = read
        many = "1 value" if len(read) == 1 else f"{len(read)} values"
        text = f"{many} as read: without a winding temperature insulation rises and falls with it."
        remarks.append(watch("trend-as-read", text))
    elif lacking := sum(row.mohm is not None for row in rows) - len(corrected):
        count = sum(row.mohm is not None for row in rows)
        text = f"{lacking} of {count} values left out: no winding temperature from 10 to 85 °C, or no bound known."
        remarks.append(unproven("temperature-missing", text))
    holds = Counter(row.t_s for row in corrected)
    if len(holds) <= 1:
        return corrected, remarks, as_read
    minutes = {hold: count for hold, count in holds.items() if hold is not None and hold >= MINUTE_S}
    chosen = max(minutes, key=lambda hold: (hold == MINUTE_S, minutes[hold])) if minutes else None
    kept = [row for row in corrected if chosen is not None and row.t_s == chosen]
    held = "one hold" if chosen is None else f"a hold of {chosen:g} s"
    text = f"{len(corrected) - len(kept)} of {len(corrected)} values left out: only {held} compares with like."
    return kept, [*remarks, watch("short-holds-left-out", text)], as_read


def _stretches(rows: Sequence[HistoryRow], kept: Sequence[HistoryRow]) -> Stretches:
    """Kept rows split at restarting events; the row of an event comes after it."""
    chosen = {id(row) for row in kept}
    out: Stretches = [[]]
    for row in rows:
        if row.event in RESTARTS:
            out.append([])
        if id(row) in chosen:
            out[-1].append(row)
    return out


def _restarted(stretches: Sequence[Sequence[HistoryRow]], rows: Sequence[HistoryRow]) -> list[Finding]:
    """What came before a restart stays said: its fall isn't hidden by the recovery."""
    if len(stretches) < 2:
        return []
    before = next((s for s in reversed(stretches[:-1]) if s), [])
    last = stretches[-1]
    event = next(r for r in reversed(rows) if r.event in RESTARTS)
    words, since = f"the {event.event} of {event.on.day} {event.on:%b %Y}", _tests(len(last))
    earlier = _points(before)
    slope = fit_trend(earlier).slope_decades_per_year if usable(earlier) is None else None
    counted = f"The trend starts again after {words} ({since} since)"
    if slope is None:
        return [sound("series-restarted", f"{counted}.")]
    if slope >= 0 or event.event not in RECOVERIES:
        return [
            sound("series-restarted", f"{counted}. Before it, insulation changed to {100 * 10**slope:.3g} % a year.")
        ]
    text = (
        f"Before {words} it fell to {100 * 10**slope:.3g} % a year over {_tests(len(earlier))}; {since} since. Find"
        f" what brought it down, test at half the interval until {RECOVERED} tests show no fall."
    )
    return [watch("series-restarted", text) if len(last) < RECOVERED else sound("series-restarted", text)]


def _tests(count: int) -> str:
    return "1 test" if count == 1 else f"{count} tests"


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
