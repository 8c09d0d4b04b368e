"""The registration form: every field a text, so that whatever was typed can be shown back."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from grimcoil.web.forms.base import Form

Typed = Annotated[str, Field(max_length=400)]


class MotorForm(Form):
    """As typed; the service reads it."""

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
    winding: Typed = "random"
    insulation_system: Typed = "thermosetting"
    conductor: Typed = "copper"
    lead_scheme: Typed = "three-lead"
    insulation_test_forbidden: Typed = ""
    confirmed: Typed = ""

    def plate_key(self) -> str:
        """The plate figures as one text: a confirmation holds only for these."""
        names = (
            "rated_voltage_v", "rated_voltage_2_v", "connected_voltage_v", "full_load_current_a",
            "full_load_current_2_a", "frequency_hz", "power", "speed_rpm", "service_factor", "system_voltage_v",
        )  # fmt: skip
        return "|".join(str(getattr(self, name)).strip() for name in names)[:400]
