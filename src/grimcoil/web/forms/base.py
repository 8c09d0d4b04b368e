"""What every form has: the word of its sign-in, and nothing that no page of ours asks for."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

Token = Annotated[str, Field(min_length=8, max_length=40, pattern=r"^[A-Za-z0-9-]+$")]


class Form(BaseModel):
    """Refuses fields that no page of ours has. `csrf` was checked before (web/signed.py)."""

    model_config = ConfigDict(extra="forbid", populate_by_name=True)

    csrf: Annotated[str, Field(max_length=60)] = ""
