"""The registration form: every field a text, so that whatever was typed can be shown back."""

from __future__ import annotations

import re
from typing import Annotated, Self

from pydantic import ConfigDict, Field, model_validator

from grimcoil.web.forms.base import Form

Typed = Annotated[str, Field(max_length=400)]


MOST_FIELDS = 150
NAMED = re.compile(r"(motor|position)(\.[a-z0-9_-]{1,40}){1,4}")


class ViewForm(Form):
    """A view of the list: its name, and the address that it is."""

    name: Typed = ""
    address: Annotated[str, Field(max_length=2000)] = ""


class PlateForm(Form):
    """A plate as typed, why it changes, and what it was when it was seen; the rest of a registration may come along."""

    model_config = ConfigDict(extra="allow")
    __pydantic_extra__: dict[str, Typed]
    why: Typed = ""
    seen: Annotated[str, Field(max_length=40)] = ""

    @model_validator(mode="after")
    def _ours(self) -> Self:
        strange = set(self.__pydantic_extra__ or {}) - set(MotorForm.model_fields)
        if not all(NAMED.fullmatch(name) for name in strange):
            raise ValueError("fields that no page of ours has")
        return self

    def texts(self) -> dict[str, str]:
        """Every field of the plate as typed."""
        return {name: text for name, text in (self.__pydantic_extra__ or {}).items() if not NAMED.fullmatch(name)}


class RecordForm(Form):
    """What the record holds beyond the plate, by the formats' names: each field a text, empty where not known."""

    model_config = ConfigDict(extra="allow")
    __pydantic_extra__: dict[str, Typed]

    @model_validator(mode="after")
    def _ours(self) -> Self:
        names = self.texts()
        if len(names) > MOST_FIELDS or not all(NAMED.fullmatch(name) for name in names):
            raise ValueError("fields that no page of ours has")
        return self

    def texts(self) -> dict[str, str]:
        """Every field as typed."""
        return dict(self.__pydantic_extra__ or {})


class MotorForm(RecordForm):
    """As typed; the service reads it. `texts` are its speeds and its brake, named as the record names them."""

    tag: Typed = ""
    serial: Typed = ""
    position: Typed = ""
    area: Typed = ""
    supply_system: Typed = ""
    system_voltage_v: Typed = ""
    criticality: Typed = "routine"
    rated_voltage_v: Typed = ""
    rated_voltage_2_v: Typed = ""
    connected_voltage_v: Typed = ""
    full_load_current_a: Typed = ""
    full_load_current_2_a: Typed = ""
    frequency_hz: Typed = ""
    power: Typed = ""
    speed_rpm: Typed = ""
    service_factor: Typed = ""
    insulation_class: Typed = ""
    built_year: Typed = ""
    frame_size: Typed = ""
    bearings: Typed = ""
    efficiency_percent: Typed = ""
    power_factor: Typed = ""
    winding: Typed = "random"
    insulation_system: Typed = "thermosetting"
    conductor: Typed = "copper"
    lead_scheme: Typed = "three-lead"
    insulation_test_forbidden: Typed = ""
    confirmed: Typed = ""

    def plate(self) -> dict[str, str]:
        """Every field but those of speeds and brake."""
        return {name: getattr(self, name) for name in type(self).model_fields if name != "csrf"}

    def plate_key(self) -> str:
        """Tag and plate figures as one text: a confirmation holds only for these."""
        names = (
            "tag", "rated_voltage_v", "rated_voltage_2_v", "connected_voltage_v", "full_load_current_a",
            "full_load_current_2_a", "frequency_hz", "power", "speed_rpm", "service_factor", "system_voltage_v",
            "efficiency_percent", "power_factor",
        )  # fmt: skip
        return "|".join(str(getattr(self, name)).strip() for name in names)[:400]
