"""Form body of a starter's sheet."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from grimcoil.web.forms.base import Form

Figure = Annotated[str, Field(max_length=40)]


class StarterForm(Form):
    """A starter's figures as typed."""

    starter: Figure = ""
    coil_v: Figure = ""
    control_primary_v: Figure = ""
    control_va: Figure = ""
    control_fuse_a: Figure = ""
    fuse_a: Figure = ""
    timer_s: Figure = ""
    run_up_s: Figure = ""
    tap_percent: Figure = ""
    line_a_star: Figure = ""
    line_a_delta: Figure = ""
    start_a: Figure = ""
    starts_per_hour: Figure = ""
    undervoltage_release: Figure = ""
