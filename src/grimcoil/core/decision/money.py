"""Rewind or replace by money: energy and present cost of each over the years, and what would turn the answer.

Present cost = what falls due in year 0 + the sum of each year's energy at that year's end, brought back by the discount
rate. All money in one currency; hours, percent and kW as named.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from math import expm1, log1p

from grimcoil.core.findings import Finding, sound, unproven, watch

KW_PER_HP = 0.7457
# Full-load efficiency by horsepower, 4-pole 60 Hz, percent: NEMA MG-1 table 12-12 (standard, from memory).
TABLE_12_12 = {
    1.0: 85.5, 2.0: 86.5, 3.0: 89.5, 5.0: 89.5, 7.5: 91.7, 10.0: 91.7, 15.0: 92.4, 20.0: 93.0, 25.0: 93.6, 30.0: 93.6,
    40.0: 94.1, 50.0: 94.5, 60.0: 95.0, 75.0: 95.4, 100.0: 95.4, 125.0: 95.4, 150.0: 95.8, 200.0: 96.2,
}  # fmt: skip
SIX_WEEKS_H = 6 * 7 * 24.0
DOE = "US DOE motor tip sheets (standard, from memory)"
TRADE = "common practice without source"
SLACK, CLOSE = 1e-9, 1e-12


@dataclass(frozen=True, slots=True)
class Case:
    """What the answer rests on. power_kw: at the shaft, rated; years: whole; efficiencies None: see `filled`."""

    power_kw: float
    rewind_price: float
    new_price: float
    energy_price_per_kwh: float
    hours_per_year: float
    load_percent: float = 75.0
    efficiency_now_percent: float | None = None
    efficiency_rewound_percent: float | None = None
    efficiency_new_percent: float | None = None
    fit_price: float = 0.0
    downtime_cost_per_hour: float = 0.0
    lead_time_rewind_h: float = 0.0
    lead_time_new_h: float = 0.0
    spare: bool = False
    years: int = 10
    discount_rate_percent: float = 6.0
    built_year: int | None = None
    year: int | None = None
    rewinds_before: int = 0
    special: bool = False


@dataclass(frozen=True, slots=True)
class Flip:
    """An input, what it is, and the nearest value at which the answer alone by it would turn; None where none does."""

    name: str
    now: float | None
    at: float | None


@dataclass(frozen=True, slots=True)
class School:
    """What a rule of thumb says: `rewind`, `replace` or `none`."""

    name: str
    says: str
    why: str
    source: str


@dataclass(frozen=True, slots=True)
class Way:
    """One of the two: energy a year, kWh; what falls due at once; the sum so far as present value, by year from 0."""

    kwh_per_year: float
    at_once: float
    by_year: tuple[float, ...]

    @property
    def present_cost(self) -> float:
        """Over all the years. In the case's money (computed)."""
        return self.by_year[-1]


@dataclass(frozen=True, slots=True)
class Money:
    """The answer. payback_years: simple, of what replacing costs more at once; None where it saves nothing, 0 where it
    costs no more. break_even_rewind_price: at which both cost the same; None below 0.
    """

    rewind: Way
    replace: Way
    payback_years: float | None
    break_even_rewind_price: float | None
    flips: tuple[Flip, ...]
    schools: tuple[School, ...]
    says: str
    findings: tuple[Finding, ...]


def table_efficiency_percent(power_kw: float) -> float:
    """Of a new motor of the next listed horsepower up; the largest listed above that. (NEMA MG-1 table 12-12)

    >>> table_efficiency_percent(50 * KW_PER_HP), table_efficiency_percent(31.0)
    (94.5, 94.5)
    """
    hp = power_kw / KW_PER_HP
    listed = next((size for size in TABLE_12_12 if size * (1 + SLACK) >= hp), max(TABLE_12_12))
    return TABLE_12_12[listed]


def filled(case: Case) -> Case:
    """The case with its efficiencies: now and new by the table, rewound as now (a controlled burn-out and the same
    copper change nothing).
    """
    table = table_efficiency_percent(case.power_kw)
    now = case.efficiency_now_percent if case.efficiency_now_percent is not None else table
    rewound = case.efficiency_rewound_percent if case.efficiency_rewound_percent is not None else now
    new = case.efficiency_new_percent if case.efficiency_new_percent is not None else table
    return replace(case, efficiency_now_percent=now, efficiency_rewound_percent=rewound, efficiency_new_percent=new)


def energy_kwh(power_kw: float, load_percent: float, hours: float, efficiency_percent: float) -> float:
    """Energy taken in a year, kWh: P · load · hours / η (computed).

    >>> round(energy_kwh(37.3, 75, 8000, 93.0) - energy_kwh(37.3, 75, 8000, 94.5))
    3820
    """
    return power_kw * load_percent / 100 * hours / (efficiency_percent / 100)


def judge_money(case: Case) -> Money:
    """Both ways, what would turn the answer, and the schools beside it."""
    rewind, new = _ways(case)
    whole = filled(case)
    saved = (rewind.kwh_per_year - new.kwh_per_year) * case.energy_price_per_kwh
    more = new.at_once - rewind.at_once
    payback = None if saved <= 0 else max(0.0, more) / saved
    even = case.rewind_price + new.present_cost - rewind.present_cost
    return Money(
        rewind,
        new,
        payback,
        even if even >= 0 else None,
        tuple(_flip(case, name) for name in FLIPS),
        _schools(case),
        says(case),
        tuple(_findings(case, whole)),
    )


def _ways(case: Case) -> tuple[Way, Way]:
    whole = filled(case)
    down = 0.0 if case.spare else case.downtime_cost_per_hour
    return (
        _way(whole, whole.efficiency_rewound_percent or 0.0, case.rewind_price + down * case.lead_time_rewind_h),
        _way(
            whole,
            whole.efficiency_new_percent or 0.0,
            case.new_price + case.fit_price + down * case.lead_time_new_h,
        ),
    )


def _way(case: Case, efficiency: float, at_once: float) -> Way:
    kwh = energy_kwh(case.power_kw, case.load_percent, case.hours_per_year, efficiency)
    so_far, out = at_once, [at_once]
    for year in range(1, case.years + 1):
        so_far += kwh * case.energy_price_per_kwh / (1 + case.discount_rate_percent / 100) ** year
        out.append(so_far)
    return Way(kwh, at_once, tuple(out))


def says(case: Case) -> str:
    """`replace` where that costs less over the years, else `rewind`; by the closed sum, as it is asked often."""
    whole = filled(case)
    down = 0.0 if case.spare else case.downtime_cost_per_hour
    energy = energy_kwh(case.power_kw, case.load_percent, case.hours_per_year, 100.0) * case.energy_price_per_kwh
    energy *= _years_now(case.discount_rate_percent / 100, case.years) * 100
    rewind = case.rewind_price + down * case.lead_time_rewind_h + energy / (whole.efficiency_rewound_percent or 0.0)
    new = case.new_price + case.fit_price + down * case.lead_time_new_h
    new += energy / (whole.efficiency_new_percent or 0.0)
    return "replace" if new < rewind else "rewind"


def _years_now(rate: float, years: int) -> float:
    """Present worth of one at each year's end: (1 - (1 + r)^-n) / r."""
    return -expm1(-years * log1p(rate)) / rate if rate > 0 else float(years)


# --- what turns the answer

Range = Callable[[float], tuple[float, float]]


def _tenth_to_ten(now: float) -> tuple[float, float]:
    return now / 10, now * 10


def _from(low: float, high: float) -> Range:
    return lambda _: (low, high)


# Every numeric input with the range it is searched in; None: it has no say in the money.
FLIPS: Mapping[str, Range | None] = {
    "load_percent": _from(10, 125),
    "hours_per_year": _from(0, 8760),
    "energy_price_per_kwh": _tenth_to_ten,
    "efficiency_now_percent": _from(70, 99),
    "efficiency_rewound_percent": _from(70, 99),
    "efficiency_new_percent": _from(70, 99),
    "rewind_price": _tenth_to_ten,
    "new_price": _tenth_to_ten,
    "fit_price": _tenth_to_ten,
    "downtime_cost_per_hour": _tenth_to_ten,
    "lead_time_rewind_h": _tenth_to_ten,
    "lead_time_new_h": _tenth_to_ten,
    "years": _from(1, 40),
    "discount_rate_percent": _from(0, 30),
    "built_year": None,
    "year": None,
    "rewinds_before": None,
}


def _flip(case: Case, name: str) -> Flip:
    """The nearest value of one input at which the answer turns."""
    now = getattr(filled(case), name)
    ranged = FLIPS[name]
    if ranged is None or now is None:
        return Flip(name, now, None)
    answer = says(case)
    low, high = ranged(now)
    if name == "years":
        turned = [year for year in range(int(low), int(high) + 1) if says(replace(case, years=year)) != answer]
        return Flip(name, now, min(turned, key=lambda year: abs(year - now), default=None))

    def turns(value: float) -> bool:
        return says(_with(case, name, value)) != answer

    # What one costs more than the other grows or falls with each input all the way: it turns once, if at all.
    found = [_halved(turns, now, edge) for edge in (low, high) if turns(edge)]
    return Flip(name, now, min(found, key=lambda at: abs(at - now), default=None))


def _with(case: Case, name: str, value: float) -> Case:
    changes: dict[str, float] = {name: value}
    return replace(case, **changes)  # type: ignore[arg-type]


def _halved(turns: Callable[[float], bool], still: float, turned: float) -> float:
    while abs(turned - still) > CLOSE * max(1.0, abs(turned)):
        middle = (still + turned) / 2
        if turns(middle):
            turned = middle
        else:
            still = middle
    return turned


# --- rules of thumb


def _schools(case: Case) -> tuple[School, ...]:
    return (_share(case), _small_and_old(case), _special_or_late(case), _third(case))


def _share(case: Case) -> School:
    share = case.rewind_price / case.new_price if case.new_price > 0 else float("inf")
    open_from, open_to = 0.5 * (1 - SLACK), 0.65 * (1 + SLACK)
    says = "replace" if share > open_to else "none" if share >= open_from else "rewind"
    why = f"the rewind costs {share * 100:.4g} % of a new one; from 50 to 65 % it is open, above that replace"
    return School("price-share", says, why, DOE)


def _small_and_old(case: Case) -> School:
    hp = case.power_kw / KW_PER_HP
    age = None if case.built_year is None or case.year is None else case.year - case.built_year
    replaces = hp < 40 * (1 - SLACK) and age is not None and age > 15
    told = "of unknown age" if age is None else f"{age} years old"
    why = f"{hp:.3g} hp, {told}; below 40 hp and above 15 years replace"
    return School("small-and-old", "replace" if replaces else "none", why, DOE)


def _special_or_late(case: Case) -> School:
    late = case.lead_time_new_h > SIX_WEEKS_H
    why = "a special frame" if case.special else f"a new one comes in {case.lead_time_new_h / 168:.3g} weeks"
    says = "rewind" if case.special or late else "none"
    return School("special-or-late", says, f"{why}; a special frame or more than six weeks: rewind", TRADE)


def _third(case: Case) -> School:
    number = case.rewinds_before + 1
    says = "replace" if number >= 3 else "none"
    return School("third-rewind", says, f"it would be rewind number {number}; the third replaces", TRADE)


def _findings(case: Case, whole: Case) -> Sequence[Finding]:
    out = []
    if case.efficiency_now_percent is None:
        out.append(unproven("money-default", f"Efficiency now {whole.efficiency_now_percent:g} %: by the table."))
    if case.efficiency_rewound_percent is None:
        text = (
            f"After the rewind {whole.efficiency_rewound_percent:g} %, as now: a controlled burn-out, the same copper."
        )
        out.append(sound("money-default", text))
    if case.efficiency_new_percent is None:
        out.append(sound("money-default", f"A new one {whole.efficiency_new_percent:g} %: by the table."))
    if case.power_kw / KW_PER_HP > max(TABLE_12_12) * (1 + SLACK) and None in (
        case.efficiency_now_percent,
        case.efficiency_new_percent,
    ):
        out.append(watch("money-beyond-table", f"The table ends at {max(TABLE_12_12):g} hp: its last value is taken."))
    if case.spare:
        out.append(sound("money-spare", "A spare is at hand: swap, then decide without the clock."))
    return out
