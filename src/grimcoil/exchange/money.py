"""`grimcoil-money/1` in, `grimcoil-money-result/1` out."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, FiniteFloat, ValidationError

from grimcoil.core.decision.money import Case, Money, Way, judge_money
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.plate import parse_power
from grimcoil.exchange.strict import NotNegative, Positive, Strict, Text, first_refusal, load_json

FORMAT, RESULT = "grimcoil-money/1", "grimcoil-money-result/1"
Efficiency = Annotated[FiniteFloat, Field(gt=0, le=100)]
Year = Annotated[int, Field(ge=1850, le=2200)]


class MoneyCase(Strict):
    """`grimcoil-money/1`: what the answer between rewinding and replacing rests on."""

    format: Literal["grimcoil-money/1"]
    power: Text
    load_percent: Annotated[FiniteFloat, Field(gt=0, le=150)] = 75.0
    hours_per_year: Annotated[FiniteFloat, Field(ge=0, le=8784)]
    energy_price_per_kwh: NotNegative
    efficiency_now_percent: Efficiency | None = None
    efficiency_rewound_percent: Efficiency | None = None
    efficiency_new_percent: Efficiency | None = None
    rewind_price: NotNegative
    new_price: Positive
    fit_price: NotNegative = 0.0
    downtime_cost_per_hour: NotNegative = 0.0
    lead_time_rewind_h: NotNegative = 0.0
    lead_time_new_h: NotNegative = 0.0
    spare: bool = False
    years: Annotated[int, Field(ge=1, le=40)] = 10
    discount_rate_percent: Annotated[FiniteFloat, Field(ge=0, le=100)] = 6.0
    built_year: Year | None = None
    year: Year | None = None
    rewinds_before: Annotated[int, Field(ge=0, le=100)] = 0
    special: bool = False


def read_money(text: str | bytes) -> Case:
    """A case. Raises RecordRefusal with path, what was found and what is accepted."""
    try:
        given = MoneyCase.model_validate(load_json(text))
    except ValidationError as error:
        raise first_refusal(error, FORMAT) from None
    if given.built_year is not None and given.year is not None and given.built_year > given.year:
        raise RecordRefusal("built_year", str(given.built_year), f"a year up to {given.year}", str(given.year - 10))
    values = given.model_dump(exclude={"format", "power"})
    return Case(power_kw=parse_power(given.power, "power") / 1000, **values)


def money_document(made: Money) -> dict[str, Any]:
    """The answer as a document, every figure whole."""
    ways = {"rewind": made.rewind, "replace": made.replace}
    return {
        "format": RESULT,
        "kwh_per_year": {name: way.kwh_per_year for name, way in ways.items()},
        "present_cost": {name: way.present_cost for name, way in ways.items()},
        "by_year": [_year(i, ways) for i in range(len(made.rewind.by_year))],
        "payback_years": made.payback_years,
        "break_even_rewind_price": made.break_even_rewind_price,
        "flips": [{"input": flip.name, "now": flip.now, "at": flip.at} for flip in made.flips],
        "schools": [
            {"school": one.name, "says": one.says, "why": one.why, "source": one.source} for one in made.schools
        ],
        "says": made.says,
        "findings": [
            {"code": f.code, "text": f.text, "source": f.source, "severity": f.severity.value} for f in made.findings
        ],
    }


def _year(number: int, ways: dict[str, Way]) -> dict[str, Any]:
    return {"year": number} | {name: way.by_year[number] for name, way in ways.items()}


def answered(text: str | bytes) -> dict[str, Any]:
    """One case answered. Raises RecordRefusal."""
    return money_document(judge_money(read_money(text)))
