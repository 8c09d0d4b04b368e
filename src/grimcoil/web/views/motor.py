"""The Motor page's drawing and findings."""

from __future__ import annotations

from datetime import date
from typing import Any

from grimcoil.core.choices import LifeKind
from grimcoil.core.criteria import Criteria, for_winding
from grimcoil.draw.trend import Forecast, Life, TestDot, life_plots
from grimcoil.service.bench import Bench
from grimcoil.service.motor_states import trend_document
from grimcoil.service.motors import MotorView, against
from grimcoil.service.subjects import subject_of
from grimcoil.service.trends import least_mohm

EVENT_WORDS: dict[str, str] = {kind.value: kind.capitalize() for kind in LifeKind} | {
    "marked": "Leads marked",
    "walked": "Fault found",
}


def motor_life(view: MotorView, today: date) -> tuple[str, str]:
    """The plots, wide and for a phone."""
    life = _life(view, today, view.dots(), view.state.trend if view.state else None, view.limits)
    return life_plots(life), life_plots(life, "phone")


def life_of(view: MotorView, bench: Bench) -> tuple[str, str]:
    """The plots with this job included, beside the evidence and for a phone."""
    dots = [*view.dots(), *_own_dot(view, bench)]
    trend = trend_document(bench.trend) if bench.trend else None
    life = _life(view, bench.state.now.date(), dots, trend, bench.criteria)
    return life_plots(life, "beside"), life_plots(life, "phone")


def _life(view: MotorView, today: date, dots: list[TestDot], trend: dict[str, Any] | None, criteria: Criteria) -> Life:
    least = view.state.minimum_mohm if view.state else None
    if least is None:
        least = least_mohm(subject_of(view.motor, view.winding, view.motor.position, criteria))
    begun = "Built" if view.motor.built_year else "On record since"
    events = tuple(
        (e.on_day, e.kind, f"{begun} {e.on_day.year}" if e.kind == "built" else EVENT_WORDS.get(e.kind, e.kind))
        for e in view.events
    )
    rewinds = tuple(w.since for w in view.windings[1:])
    limit = for_winding(criteria, view.winding.winding).balance_sound.value
    return Life(view.motor.tag, tuple(dots), events, today, least, limit, Forecast.of(trend), rewinds)


def _own_dot(view: MotorView, bench: Bench) -> list[TestDot]:
    on = bench.begun_on
    if on is None:
        return []
    told = bench.told
    unbalance = told.unbalance if told.unbalance is not None and told.unbalance[2] < 1e6 else None
    mean = bench.job.r_reference_ohm if bench.state.signed else _mean(bench)
    change = against(mean, view.bases().get(bench.job.winding_id))
    return [TestDot(on, bench.job.winding_id, told.r40_mohm, unbalance, change)]


def _mean(bench: Bench) -> float | None:
    results = bench.whole.winding_resistance
    return results[0].mean_at_reference_ohm if results else None
