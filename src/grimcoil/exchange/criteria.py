"""`grimcoil-criteria/1`: named limits out, and a site's own in, each with value, unit, source and standing."""

from __future__ import annotations

from dataclasses import fields, replace
from typing import Annotated, Any, Literal

from pydantic import Field, FiniteFloat, StringConstraints, ValidationError

from grimcoil.core.catalogue import Standing
from grimcoil.core.criteria import CRITERIA, Criteria, Limit
from grimcoil.core.errors import RecordRefusal
from grimcoil.exchange.strict import Strict, Text, first_refusal, load_json

FORMAT = "grimcoil-criteria/1"
Name = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,59}$")]
CHOICES = (
    "balance_measure", "voltage_measure", "current_measure", "insulation_measure", "test_voltage_school",
    "spot_measure", "low_measure",
)  # fmt: skip
LIMIT_NAMES = tuple(f.name for f in fields(Criteria) if f.type == "Limit")


class LimitModel(Strict):
    """One limit. Where the site sets it, the source says who and why."""

    value: FiniteFloat
    unit: Text | None = None
    source: Text = "set by the site"
    standing: Standing = Standing.SITE


class CriteriaFile(Strict):
    """`grimcoil-criteria/1`. `based_on` names the criteria whose limits hold where none is given here."""

    format: Literal["grimcoil-criteria/1"]
    name: Name
    title: Text
    version: Annotated[int, Field(ge=1)]
    based_on: Name = "field-general"
    balance_measure: Literal["unbalance", "spread", "difference"] | None = None
    voltage_measure: Literal["unbalance", "spread"] | None = None
    current_measure: Literal["unbalance", "spread"] | None = None
    insulation_measure: Literal["at-40", "as-read"] | None = None
    test_voltage_school: Literal["ieee-43", "nearest-rated", "twice-rated", "under-water"] | None = None
    spot_measure: Literal["unproven", "at-least"] | None = None
    low_measure: Literal["act", "watch"] | None = None
    limits: dict[str, LimitModel] = {}


def to_document(criteria: Criteria) -> dict[str, Any]:
    """Criteria as a JSON-ready dictionary, every limit written out."""
    return {
        "format": FORMAT,
        "name": criteria.name,
        "title": criteria.title,
        "version": criteria.version,
        **{name: getattr(criteria, name) for name in CHOICES},
        "limits": {
            name: {
                "value": limit.value,
                "unit": limit.unit,
                "source": limit.source,
                "standing": limit.standing.value,
            }
            for name in LIMIT_NAMES
            for limit in [getattr(criteria, name)]
        },
    }


def read_criteria(text: str | bytes) -> Criteria:
    """A site's own criteria. Raises RecordRefusal with path, what was found and what is accepted."""
    try:
        given = CriteriaFile.model_validate(load_json(text))
    except ValidationError as error:
        raise first_refusal(error, FORMAT) from None
    base = CRITERIA.get(given.based_on)
    if base is None:
        raise RecordRefusal("based_on", given.based_on, f"one of {', '.join(CRITERIA)}", "field-general")
    if given.name in CRITERIA:
        says = f"a name of your own: {', '.join(CRITERIA)} ship with the rules and don't change"
        raise RecordRefusal("name", given.name, says, f"{given.name}-site")
    choices: dict[str, Any] = {name: chosen for name in CHOICES if (chosen := getattr(given, name)) is not None}
    limits: dict[str, Any] = {name: _limit(name, limit, base) for name, limit in given.limits.items()}
    made = replace(base, name=given.name, title=given.title, version=given.version, **choices, **limits)
    _check_ladders(made)
    return made


def _limit(name: str, given: LimitModel, base: Criteria) -> Limit:
    if name not in LIMIT_NAMES:
        raise RecordRefusal(f"limits.{name}", "", f"one of {', '.join(LIMIT_NAMES)}", LIMIT_NAMES[0])
    before: Limit = getattr(base, name)
    balance = name in ("balance_sound", "balance_act")
    unit = given.unit or before.unit
    if not (unit == before.unit or (balance and unit in ("%", "Ω"))):
        raise RecordRefusal(f"limits.{name}.unit", unit, f"the unit of this limit is {before.unit}", before.unit)
    if given.value <= 0 and name != "reference_temperature_c":
        raise RecordRefusal(f"limits.{name}.value", f"{given.value:g}", "a limit above 0", f"{before.value:g}")
    return Limit(given.value, unit, given.source, given.standing)


_LADDERS = (
    ("balance_sound", "balance_act"),
    ("voltage_unbalance_sound", "voltage_unbalance_act"),
    ("voltage_level_sound", "voltage_level_act"),
    ("current_unbalance_sound", "current_unbalance_act"),
    ("dar_bad", "dar_doubtful"),
    ("insulation_may_run_mohm", "insulation_random_mohm"),
    ("near_zero_mohm", "insulation_may_run_mohm"),
)


def _check_ladders(made: Criteria) -> None:
    for low, high in _LADDERS:
        first, second = getattr(made, low), getattr(made, high)
        if first.value > second.value:
            says = f"no more than {high}, which is {second.value:g} {second.unit}"
            raise RecordRefusal(f"limits.{low}.value", f"{first.value:g}", says, f"{second.value:g}")
