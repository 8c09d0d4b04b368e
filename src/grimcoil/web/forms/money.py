"""The case between rewinding and replacing, as typed: in an address, and in the form that keeps it."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from grimcoil.web.forms.base import Form, Token

Short = Annotated[str, Field(max_length=30)]
Number = Annotated[str, Field(max_length=10, pattern=r"^[0-9]*$")]


class _Case(BaseModel):
    """Every input as text; an empty one takes its default."""

    power: Short = ""
    rewind_price: Short = ""
    new_price: Short = ""
    fit_price: Short = ""
    energy_price_per_kwh: Short = ""
    hours_per_year: Short = ""
    load_percent: Short = ""
    efficiency_now_percent: Short = ""
    efficiency_rewound_percent: Short = ""
    efficiency_new_percent: Short = ""
    years: Short = ""
    discount_rate_percent: Short = ""
    downtime_cost_per_hour: Short = ""
    lead_time_rewind_h: Short = ""
    lead_time_new_h: Short = ""
    built_year: Short = ""
    rewinds_before: Short = ""
    spare: Short = ""
    special: Short = ""
    job: Number = ""

    def texts(self) -> dict[str, str]:
        """By name, without what isn't an input."""
        return {name: str(getattr(self, name)) for name in _Case.model_fields}


class MoneyQuery(_Case):
    """In the address; words of other pages are passed over."""

    model_config = ConfigDict(extra="ignore")


class KeepMoneyForm(Form, _Case):
    """The form that keeps a case."""

    token: Token
