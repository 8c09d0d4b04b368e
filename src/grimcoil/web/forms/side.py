"""Form body of a side sheet: its fields are those of its kind in the open format."""

from __future__ import annotations

import re
from typing import Annotated, Self

from pydantic import ConfigDict, Field, model_validator

from grimcoil.web.forms.base import Form, Token

MOST_FIELDS = 40
Typed = Annotated[str, Field(max_length=200)]


class SideForm(Form):
    """A sheet as typed; words: chosen from a list; keep: onto the record, else it is only judged."""

    model_config = ConfigDict(extra="allow")
    __pydantic_extra__: dict[str, Typed]

    token: Token
    words: Annotated[list[Typed], Field(max_length=20, default_factory=list)]
    keep: Annotated[str, Field(pattern="^(|yes)$")] = ""

    @model_validator(mode="after")
    def _ours(self) -> Self:
        names = self.texts()
        if len(names) > MOST_FIELDS or not all(re.fullmatch(r"[a-z_]{1,30}(\.[A-Za-z0-9-]{1,12})?", n) for n in names):
            raise ValueError("fields that no page of ours has")
        return self

    def texts(self) -> dict[str, str]:
        """Every field as typed."""
        return dict(self.__pydantic_extra__ or {})
