"""A motor's trend over a span of its life: its tests with what they came to, what happened, and what stands beside."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from grimcoil.core.criteria import Criteria
from grimcoil.exchange.motors import winding_of
from grimcoil.exchange.plotted import Plotted, plotted
from grimcoil.service.motors import REFERENCE_C, limits_of
from grimcoil.service.registered import found
from grimcoil.service.subjects import motor_file
from grimcoil.store import jobs as job_rows
from grimcoil.store import motors as motor_rows
from grimcoil.store import plotting as rows
from grimcoil.store.engine import Store
from grimcoil.store.jobs import Follow
from grimcoil.store.lines import MotorLine, StateLine, line_of, motor_line
from grimcoil.store.motors import History, SignedJob

BESIDE_MOST = 3


@dataclass(frozen=True, slots=True)
class TrendTest:
    """A signed job and what it came to. change: percent by pair of leads, against the winding's baseline or its first
    accepted job; odd: its insulation was read at another place, with another voltage or tester than the last one's.
    """

    job: SignedJob
    figures: Plotted
    change: Mapping[str, float]
    odd: bool

    @property
    def on(self) -> date:
        """The day of the test; only tests that have one are here."""
        return self.job.tested_on or date.min

    @property
    def conditions(self) -> tuple[str | None, float | None, str | None]:
        """Where, with which voltage and which tester its insulation was read."""
        return _conditions(self.job)


def _conditions(job: SignedJob) -> tuple[str | None, float | None, str | None]:
    by = job.compares or {}
    return by.get("at"), by.get("test_voltage_v"), by.get("instrument")


@dataclass(frozen=True, slots=True)
class TrendView:
    """All that is plotted from `since` through `until`. first, last: days of the oldest and newest test there is;
    in_span: how many tests the span has, the newest of which are here.
    """

    motor: MotorLine
    state: StateLine | None
    history: History
    tests: Sequence[TrendTest]
    beside: rows.Beside
    since: date
    until: date
    first: date | None
    last: date | None
    in_span: int
    limits: Criteria
    follow: Follow = ()

    @property
    def counted(self) -> str:
        """How many tests the span has, as far as they are counted: a long life isn't read for its number."""
        return str(self.in_span) if self.in_span <= rows.COUNTED else f"{rows.COUNTED}+"


def trend_view(
    store: Store, tag: str, years: tuple[int | None, int | None], sisters: Sequence[str], today: date
) -> TrendView:
    """years: first and last year of the span, None for as far as there are tests; sisters: tags to stand beside, of
    those that are sisters the first three. Five queries. Raises Unknown.
    """
    low, high = years
    if low is not None and high is not None and low > high:
        low, high = high, low
    since, until = (None if low is None else date(low, 1, 1)), (None if high is None else date(high, 12, 31))
    with store() as session:
        motor, state, _ = found(session, tag)
        history = motor_rows.history(session, motor.id)
        plain = rows.plotted_jobs(session, motor.id, since, until)
        begins = since or plain.first or (history.windings[0].since if history.windings else today)
        ends = max(until or today, begins)
        near = rows.beside(session, motor.id, sisters[:BESIDE_MOST], begins, ends)
        bases = _bases(motor_line(motor), history, near)
        last = next((_conditions(job) for job in reversed(plain.jobs) if job.compares is not None), None)
        tests = []
        for job, document in zip(plain.jobs, plain.assessments, strict=True):
            figures = plotted(document)
            change = _change(figures.ohms, bases.get(job.winding_id, {}))
            tests.append(TrendTest(job, figures, change, job.compares is not None and _conditions(job) != last))
        return TrendView(
            motor_line(motor), None if state is None else line_of(StateLine, state), history, tests,
            _known(near), begins, ends, plain.first, plain.last, plain.in_span, limits_of(session, plain.jobs),
            job_rows.discharging(session),
        )  # fmt: skip


def _known(near: rows.Beside) -> rows.Beside:
    """Tests of those alone that are sisters: an address may ask for anybody."""
    kin = set(near.sisters)
    return rows.Beside(near.sisters, [test for test in near.tests if test.tag in kin], near.figures, near.firsts)


def _bases(motor: MotorLine, history: History, near: rows.Beside) -> dict[int, Mapping[str, float]]:
    """By winding the ohms at the reference temperature that its later ones are held against: its baseline as typed,
    else its first accepted job's.
    """
    typed = {one.id: winding_of(motor_file(motor, one), REFERENCE_C).baseline_ohm for one in history.windings}
    return {number: first.ohms for number, first in near.firsts.items()} | {
        number: ohms for number, ohms in typed.items() if ohms
    }


def _change(ohms: Mapping[str, float], base: Mapping[str, float]) -> dict[str, float]:
    return {pair: 100 * (ohm / base[pair] - 1) for pair, ohm in ohms.items() if base.get(pair)}
