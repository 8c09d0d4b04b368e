"""Form body of an isolation card: one row a source, its fields beside each other."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from grimcoil.exchange.motors import MOST_SOURCES
from grimcoil.service.isolation import Row
from grimcoil.web.forms.base import Form

Words = Annotated[str, Field(max_length=200)]
Column = Annotated[list[Words], Field(max_length=MOST_SOURCES + 1, default_factory=list)]


class CardForm(Form):
    """The card as typed: the n-th of each field is the n-th row's."""

    kind: Column
    name: Column
    from_: Annotated[list[Words], Field(max_length=MOST_SOURCES + 1, default_factory=list, alias="from")]
    lock_at: Column

    @model_validator(mode="after")
    def _even(self) -> CardForm:
        if not len(self.kind) == len(self.name) == len(self.from_) == len(self.lock_at):
            raise ValueError("each row has a source, a name, where it comes from and where it is locked")
        return self

    def rows(self) -> list[Row]:
        """Row by row."""
        columns = zip(self.kind, self.name, self.from_, self.lock_at, strict=True)
        return [Row(*(text.strip() for text in row)) for row in columns]
