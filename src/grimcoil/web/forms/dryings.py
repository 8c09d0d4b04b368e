"""Form bodies of a drying."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from grimcoil.core.drying.cycle import Act
from grimcoil.web.forms.base import Form, Token

Short = Annotated[str, Field(max_length=40)]


class BeginForm(Form):
    """Hookup and cold value, as typed."""

    token: Token
    hookup: Short = ""
    cold_ohm: Short = ""
    cold_c: Short = ""
    current_limit_a: Short = ""
    other_meter: Short = ""
    job: Annotated[str, Field(max_length=10)] = ""


class KeepForm(Form):
    """One act or reading. when: `14:05`, where it isn't now."""

    token: Token
    act: Act
    amps: Short = ""
    volts: Short = ""
    insulation: Short = ""
    t_s: Short = ""
    ends: Annotated[str, Field(max_length=60)] = ""
    rotated_to: Annotated[str, Field(max_length=10)] = ""
    when: Annotated[str, Field(max_length=10)] = ""


class EndForm(Form):
    """Why it is ended where it isn't dry."""

    why: Annotated[str, Field(max_length=300)] = ""
