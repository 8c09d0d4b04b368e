"""Form bodies of the works' page."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from grimcoil.web.forms.base import Form

Short = Annotated[str, Field(max_length=80)]


class RangeForm(Form):
    """A range of an instrument, as typed."""

    name: Short = ""
    calibration_due: Short = ""
    function: Short = "low-ohm"
    top: Short = ""
    resolution: Short = ""
    accuracy_percent: Short = ""
    counts: Short = ""
    test_voltage_v: Short = ""
    lamps: Short = ""
    corrects_to_40c: Short = ""
    shows: Short = ""
    beep_below_ohm: Short = ""


class SiteForm(Form):
    """The works' settings, as typed."""

    works_name: Annotated[str, Field(max_length=200)] = ""
    zone: Short = ""
    criteria: Short = ""
    phase_colours: Short = ""
    supply_system: Short = ""
    system_voltage_v: Short = ""
    units: Short = ""
    areas: Annotated[str, Field(max_length=40_000)] = ""


class CriteriaForm(Form):
    """A copy of criteria with one limit changed. version: what it would be, where it was looked at; keep: keep it."""

    name: Short = ""
    title: Annotated[str, Field(max_length=200)] = ""
    limit: Short = ""
    value: Short = ""
    source: Annotated[str, Field(max_length=400)] = ""
    standing: Short = "set by the site"
    version: Short = ""
    keep: Short = ""


class CalibratedForm(Form):
    """Which instrument, and its next day of calibration."""

    id: int
    due: Short = ""
