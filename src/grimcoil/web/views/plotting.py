"""The trend page: its panels, the words of each test, and the same as lines of a file."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from datetime import date
from itertools import groupby

from grimcoil.core.amount import Amount, Bound
from grimcoil.core.criteria import for_winding
from grimcoil.core.days import day_told
from grimcoil.core.insulation.ratios import index_wanted
from grimcoil.core.readings import three_digits
from grimcoil.core.rounds.tasks import Task
from grimcoil.draw.panels import Mark, Panel, Picture, Series, Visit, panels
from grimcoil.draw.trend import Forecast
from grimcoil.service.plotting import TrendTest, TrendView
from grimcoil.service.rounds import FigureLine
from grimcoil.service.subjects import subject_of
from grimcoil.service.trends import EVENTS, least_mohm, r40_of
from grimcoil.web.views.motor import EVENT_WORDS

LINES, POLES = ("a", "b", "c"), ("L1", "L2", "L3")
COLUMNS = (
    "tag", "tested_on", "job", "winding", "read_at", "test_voltage_v", "instrument", "r40_low_mohm", "r40_high_mohm",
    "pi_low", "pi_high", "dar_low", "dar_high", "ohm_unbalance_percent", "ohm_change_percent",
    "volts_unbalance_percent", "amps_unbalance_percent", "load_percent", "frame_c",
    "drop_l1_v", "drop_l2_v", "drop_l3_v", "run_up_s",
)  # fmt: skip


def trend_pictures(view: TrendView, today: date) -> tuple[str, str]:
    """Wide and for a phone."""
    picture = _picture(view, today)
    return panels(picture), panels(picture, small=True)


def _picture(view: TrendView, today: date) -> Picture:
    events = [(e.on_day, e.kind, EVENT_WORDS.get(e.kind, e.kind)) for e in view.history.events]
    before = [e for e in events if e[0] < view.since]
    older = view.first is not None and view.first < view.since
    began = (
        f"{before[0][2]} {before[0][0].year}"
        if before
        else f"tests since {view.first:%Y}"
        if older and view.first
        else ""
    )
    falls = Forecast.of(view.state.trend) if view.state and view.until >= today else None
    drawn = tuple(panel for panel in _panels(view) if any(series.marks for series in panel.series))
    return Picture(
        view.motor.tag, view.since, view.until, today, drawn,
        tuple(_visit(test) for test in view.tests), tuple(events), began, falls,
    )  # fmt: skip


def _panels(view: TrendView) -> Iterator[Panel]:
    limits = for_winding(view.limits, view.history.windings[-1].winding) if view.history.windings else view.limits
    least = view.state.minimum_mohm if view.state and view.state.minimum_mohm else _least(view)
    own = Series(view.motor.tag, tuple(_mark(t, r40_of(t.job), view) for t in view.tests if _known(r40_of(t.job))))
    sisters = [
        Series(
            tag, tuple(Mark(t.on, t.low, math.inf if t.high is None else t.high, t.winding_id) for t in some), "sister"
        )
        for tag, some in groupby(view.beside.tests, key=lambda test: test.tag)
    ]
    yield Panel("Insulation at 40 °C, MΩ", (own, *sisters), ((least, "minimum"),), log=True, tall=True)
    index = [Series("PI", tuple(_mark(t, t.figures.pi, view) for t in view.tests if _known(t.figures.pi)), "a")]
    index.append(
        Series("60/30 s", tuple(_mark(t, t.figures.dar, view) for t in view.tests if _known(t.figures.dar)), "b")
    )
    wanted = index_wanted(view.motor.insulation_class, view.limits)
    yield Panel("Polarization index, absorption ratio", tuple(index), ((wanted, "PI least"),))
    yield Panel("Resistance at reference against its first, %", tuple(_pairs(view)), least=(-3, 3))
    yield Panel(
        "Unbalance, %",
        (
            Series("ohms", tuple(_bounded(t) for t in view.tests if t.job.unbalance_percent is not None), "a"),
            _plain(view, "volts", "b", [t.figures.volts_unbalance for t in view.tests]),
            _plain(view, "amps", "c", [t.figures.amps_unbalance for t in view.tests]),
        ),
        ((limits.balance_sound.value, "ohms limit"),),
    )
    yield Panel("Load, % of plate amps", (_plain(view, "load", "", [t.figures.load for t in view.tests]),))
    frame = _plain(view, "tests", "a", [t.figures.frame_c for t in view.tests])
    yield Panel("Frame, °C", (frame, _rounds(view.beside.figures, Task.FRAME)))
    amps = _plain(view, "tests", "a", [t.figures.amps for t in view.tests])
    yield Panel("Line amps, mean", (amps, _rounds(view.beside.figures, Task.AMPS)))
    poles = [
        _plain(view, line, css, [t.figures.drops.get(line) for t in view.tests])
        for line, css in zip(POLES, LINES, strict=True)
    ]
    change = (limits.contact_burnt_v.value, "change the set")
    yield Panel("Drop across each closed pole, V", tuple(poles), (change,))
    yield Panel("Run-up, s", (_plain(view, "run-up", "", [t.figures.run_up_s for t in view.tests]),))
    volts = _rounds(view.beside.figures, Task.VOLTS)
    if volts.marks:
        yield Panel("Line volts, mean", (_plain(view, "tests", "a", [t.figures.volts for t in view.tests]), volts))


def _least(view: TrendView) -> float:
    return least_mohm(subject_of(view.motor, view.history.windings[-1], view.motor.position, view.limits))


def _known(amount: Amount | None) -> bool:
    return amount is not None and amount.bound is not Bound.NOTHING


def _mark(test: TrendTest, amount: Amount | None, view: TrendView) -> Mark:
    """Joined within one winding, between two events that change what is read, under the same conditions."""
    given = amount or Amount.exact(0.0)
    between = sum(1 for e in view.history.events if e.kind in EVENTS and e.on_day <= test.on)
    return Mark(test.on, given.low, given.high, (test.job.winding_id, between, test.conditions), test.odd)


def _bounded(test: TrendTest) -> Mark:
    job = test.job
    shown, low, high = job.unbalance_percent or 0.0, job.unbalance_percent_lowest, job.unbalance_percent_highest
    wide = low is not None and (high is None or high - low > max(1.0, shown))
    if wide and low is not None:
        return Mark(test.on, low, math.inf if high is None else high, job.winding_id)
    return Mark(test.on, shown, shown, job.winding_id)


def _plain(view: TrendView, name: str, css: str, values: Sequence[float | None]) -> Series:
    marks = [
        Mark(t.on, v, v, t.job.winding_id) for t, v in zip(view.tests, values, strict=True) if v is not None
    ]  # fmt: skip
    return Series(name, tuple(marks), css)


def _pairs(view: TrendView) -> Iterator[Series]:
    names = list(dict.fromkeys(pair for test in view.tests for pair in test.change))
    for i, pair in enumerate(names):
        marks = [
            Mark(t.on, t.change[pair], t.change[pair], t.job.winding_id) for t in view.tests if pair in t.change
        ]  # fmt: skip
        yield Series(pair, tuple(marks), LINES[i % len(LINES)])


def _rounds(figures: Sequence[FigureLine], task: Task) -> Series:
    marks = [Mark(f.at.date(), f.value, f.value, f.loaded, f.loaded is False) for f in figures if f.task == task]
    return Series("inspections", tuple(marks), "b")


def _visit(test: TrendTest) -> Visit:
    says = [f"{day_told(test.on)}: {test.job.verdict or 'not judged'}", *_words(test)]
    return Visit(test.on, f"#test-{test.job.id}", ", ".join(says) + ". To its line", tuple(says))


def _words(test: TrendTest) -> list[str]:
    """Two lines: insulation with its conditions, the rest."""
    r40, figures, job = r40_of(test.job), test.figures, test.job
    at, volts, _ = test.conditions
    first = [
        f"{shown(r40)} MΩ at 40 °C" if _known(r40) else "",
        f"PI {shown(figures.pi)}" if _known(figures.pi) else "",
        f"at {volts:g} V" if volts else "",
        (at or "").replace("-", " "),
    ]
    second = [
        f"unbalance {job.unbalance_percent:.2f} %" if job.unbalance_percent is not None else "",
        f"load {figures.load:.0f} %" if figures.load is not None else "",
        f"frame {figures.frame_c:g} °C" if figures.frame_c is not None else "",
    ]
    return [", ".join(word for word in words if word) or "–" for words in (first, second)]


def signed(percent: float) -> str:
    """A change in percent, one decimal, with its sign where it has one.

    >>> signed(-0.04), signed(-2.31)
    ('0.0', '−2.3')
    """
    words = f"{percent:+.1f}"
    return "0.0" if words[1:] == "0.0" else words.replace("-", "−")


def shown(amount: Amount | None) -> str:
    """Three digits, bounds in front; empty where there is nothing to tell."""
    if amount is None or amount.bound is Bound.NOTHING:
        return ""
    if amount.bound is Bound.BETWEEN:
        return f"{three_digits(amount.low)} to {three_digits(amount.high)}"
    lead = {Bound.ABOVE: ">", Bound.BELOW: "<"}.get(amount.bound, "")
    return lead + three_digits(amount.value)


def trend_rows(view: TrendView) -> Iterator[list[object]]:
    """What is plotted, unrounded, in the order of COLUMNS; an open end is empty."""
    for test in view.tests:
        at, volts, meter = test.conditions
        job, figures = test.job, test.figures
        change = sum(test.change.values()) / len(test.change) if test.change else None
        yield [
            view.motor.tag, test.on.isoformat(), job.id, job.winding_id, at, volts, meter, job.r40_low_mohm,
            job.r40_high_mohm, *_both(figures.pi), *_both(figures.dar), job.unbalance_percent, change,
            figures.volts_unbalance, figures.amps_unbalance, figures.load, figures.frame_c,
            *(figures.drops.get(line) for line in POLES), figures.run_up_s,
        ]  # fmt: skip


def _both(amount: Amount | None) -> tuple[float | None, float | None]:
    return (None, None) if amount is None else (amount.low, amount.high if math.isfinite(amount.high) else None)
