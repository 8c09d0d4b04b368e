"""Rewind or replace as its page shows it: the form with its defaults and where they come from, the answer in words."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any
from urllib.parse import urlencode

from pydantic_core import from_json, to_json

from grimcoil.core.decision.money import Case, Flip, Money, School, energy_kwh, filled, judge_money
from grimcoil.core.errors import RecordRefusal
from grimcoil.draw.money import Costs, cost_chart, flip_rule
from grimcoil.exchange.money import FORMAT, read_money
from grimcoil.service.money import MoneyFacts


@dataclass(frozen=True, slots=True)
class Input:
    """A field of the form. hint: its default and where that comes from."""

    name: str
    label: str
    unit: str = ""
    hint: str = ""
    digits: int = 0


INPUTS = (
    Input("power", "Rated power", "", "As the plate has it: 30 kW, 50 hp"),
    Input("rewind_price", "Rewind price", "", "As the repairer quotes it"),
    Input("new_price", "Price of a new one", "", "As the shop quotes it"),
    Input("fit_price", "Fitting a new one", "", "Base, coupling, alignment; else nothing"),
    Input("energy_price_per_kwh", "Energy price", "a kWh", "From the plant's bill", 3),
    Input("hours_per_year", "Hours run", "h a year", "Counted, or the campaign's hours"),
    Input("load_percent", "Load", "% of rated", "Else 75, common practice without source"),
    Input("efficiency_now_percent", "Efficiency now", "%", "Plate; else NEMA MG-1 table 12-12, from memory", 1),
    Input(
        "efficiency_rewound_percent", "Efficiency after a rewind", "%", "Else as now; half a point less where unsure", 1
    ),
    Input(
        "efficiency_new_percent",
        "Efficiency of a new one",
        "%",
        "Its plate; else NEMA MG-1 table 12-12, from memory",
        1,
    ),
    Input("years", "Years in use", "", "Else 10"),
    Input("discount_rate_percent", "Discount rate", "% a year", "Else 6; ask who keeps the books", 1),
    Input("downtime_cost_per_hour", "Standing still costs", "an hour", "Nothing with a spare at hand"),
    Input("lead_time_rewind_h", "Rewind takes", "h", "From leaving to running"),
    Input("lead_time_new_h", "A new one takes", "h", "From ordering to running"),
    Input("built_year", "Built", "year", "From the plate"),
    Input("rewinds_before", "Rewound so far", "times", "From the record"),
)
WHOLE = frozenset({"years", "built_year", "rewinds_before"})
TICKS = (("spare", "A spare is at hand"), ("special", "Special frame or shaft"))
NEEDED = ("rewind_price", "new_price", "energy_price_per_kwh", "hours_per_year")
SCHOOL_WORDS = {
    "price-share": "Rewind price against new", "small-and-old": "Small and old", "special-or-late": "Special or late",
    "third-rewind": "Third rewind",
}  # fmt: skip
_BY_NAME = {one.name: one for one in INPUTS}


@dataclass(frozen=True, slots=True)
class FlipShown:
    """An input, what it is now, where the answer turns, and its rule."""

    words: str
    now: str
    at: str
    rule: str


@dataclass(frozen=True, slots=True)
class MoneyShown:
    """The answer: its sentence, what it hangs on, the chart wide and for a phone, flips nearest first, what never
    turns it, the schools.
    """

    money: Money
    case: Case
    says: str
    because: str
    hangs_on: str
    wide: str
    small: str
    flips: list[FlipShown]
    still: str
    schools: list[tuple[str, School]]


def defaults(facts: MoneyFacts) -> dict[str, str]:
    """The form before anything was typed: what the record knows."""
    return {one.name: "" for one in INPUTS} | {
        "power": facts.motor.power_text,
        "built_year": str(facts.motor.built_year or ""),
        "rewinds_before": str(facts.rewinds),
        "load_percent": "75",
        "years": "10",
        "discount_rate_percent": "6",
        "fit_price": "0",
        "downtime_cost_per_hour": "0",
        "lead_time_rewind_h": "0",
        "lead_time_new_h": "0",
        "spare": "yes" if facts.spares else "",
        "special": "",
    }


def document_of(texts: Mapping[str, str], year: int) -> dict[str, Any]:
    """`grimcoil-money/1` out of the form. Raises RecordRefusal at the field."""
    out: dict[str, Any] = {"format": FORMAT, "power": texts["power"].strip(), "year": year}
    for one in INPUTS[1:]:
        text = texts.get(one.name, "").strip()
        if text:
            out[one.name] = _figure(one.name, text)
    return out | {name: texts.get(name, "") == "yes" for name, _ in TICKS}


def _figure(name: str, text: str) -> float | int:
    plain = text.replace(" ", "").replace(",", ".")
    try:
        return int(plain) if name in WHOLE else float(plain)
    except ValueError:
        wanted = "a whole number" if name in WHOLE else "a figure"
        raise RecordRefusal(name, text, wanted, "10" if name in WHOLE else "0.12") from None


def reopened(given: str, job_id: int | None) -> str:
    """The address's part that opens a kept case again."""
    kept = {name: value for name, value in from_json(given).items() if name not in ("format", "year")}
    texts = {
        name: "yes" if value is True else "" if value in (False, None) else str(value) for name, value in kept.items()
    }
    return urlencode({name: text for name, text in texts.items() if text} | ({"job": job_id} if job_id else {}))


def asked(texts: Mapping[str, str], year: int) -> tuple[Case | None, dict[str, str]]:
    """The case, or the sentence at the field that can't be used."""
    try:
        return read_money(to_json(document_of(texts, year))), {}
    except RecordRefusal as refusal:
        where = refusal.where.partition(".")[0] if refusal.where.partition(".")[0] in texts else "power"
        return None, {where: refusal.sentence()}


def money_shown(case: Case) -> MoneyShown:
    """The answer to a case."""
    made = judge_money(case)
    gap = abs(made.rewind.present_cost - made.replace.present_cost)
    other = {"rewind": "replacing", "replace": "rewinding"}[made.says]
    costs = _costs(case)
    flips = sorted((one for one in made.flips if one.now is not None), key=_nearness)
    hangs = next((one for one in flips if one.at is not None), None)
    return MoneyShown(
        made,
        case,
        "Rewind it." if made.says == "rewind" else "Replace it.",
        f"{gap:,.0f} less than {other} over {case.years} years at {case.discount_rate_percent:g} %".replace(",", " "),
        _hangs(hangs, made.says),
        cost_chart(costs, 620, 320),
        cost_chart(costs, 366, 260),
        [_flip_shown(one) for one in flips if one.at is not None],
        ", ".join(_BY_NAME[one.name].label.lower() for one in flips if one.at is None and one.name in _BY_NAME),
        [(SCHOOL_WORDS[one.name], one) for one in made.schools],
    )


def _costs(case: Case) -> Costs:
    """Both ways less what the energy costs as the motor takes it now, some years beyond the planned ones."""
    longer = replace(case, years=min(40, max(case.years + 5, round(1.6 * case.years))))
    made = judge_money(longer)
    now = filled(case).efficiency_now_percent or 100.0
    kwh = energy_kwh(case.power_kw, case.load_percent, case.hours_per_year, now)
    spent, taken = 0.0, [0.0]
    for year in range(1, longer.years + 1):
        spent += kwh * case.energy_price_per_kwh / (1 + case.discount_rate_percent / 100) ** year
        taken.append(spent)
    rewind, new = (
        [cost - off for cost, off in zip(way.by_year, taken, strict=True)] for way in (made.rewind, made.replace)
    )
    return Costs(rewind, new, case.years)


def _nearness(flip: Flip) -> float:
    """How far the turn is, as a share of what is now; those that never turn last."""
    if flip.at is None or flip.now is None:
        return float("inf")
    return abs(flip.at - flip.now) / max(abs(flip.now), 1e-9)


def _hangs(flip: Flip | None, says: str) -> str:
    if flip is None or flip.at is None:
        return "No single input turns the answer."
    other = "replacing" if says == "rewind" else "rewinding"
    one = _BY_NAME[flip.name]
    way = "above" if flip.at > (flip.now or 0) else "below"
    unit = f" {one.unit}" if one.unit else ""
    turns = f"{way.capitalize()} {figured(flip.name, flip.at)}{unit} {other} costs less."
    return f"Deciding input: {one.label.lower()}. {turns}"


def figured(name: str, value: float) -> str:
    """A figure as people write it, to what its input deserves.

    >>> figured("energy_price_per_kwh", 0.13849), figured("new_price", 3858.2)
    ('0.138', '3858')
    """
    return f"{value:.{_BY_NAME[name].digits}f}"


def _flip_shown(flip: Flip) -> FlipShown:
    one, value = _BY_NAME[flip.name], flip.at or 0.0
    now, at = figured(flip.name, flip.now or 0.0), figured(flip.name, value)
    return FlipShown(one.label, f"{now} {one.unit}".strip(), at if at != now else f"{value:.6g}", flip_rule(flip))
