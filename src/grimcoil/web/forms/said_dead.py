"""Form body of what is said before a lead is touched outside a job."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from grimcoil.web.forms.base import Form


class SaidForm(Form):
    """Locked and proved dead, or at a desk; where; the page that asked."""

    answer: Annotated[str, Field(max_length=60)]
    where: Annotated[str, Field(max_length=100)] = ""
    back: Annotated[str, Field(max_length=4000)] = ""
