"""Form bodies of a sheet on its way in."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from grimcoil.web.forms.base import Form

Short = Annotated[str, Field(max_length=80)]
Name = Annotated[str, Field(max_length=400)]


class ColumnForm(Form):
    """What a column holds, or several at once, as chosen and typed."""

    name: Annotated[list[Name], Field(min_length=1, max_length=400)]
    holds: Short = ""
    points: Short = ""
    hold_s: Short = ""
    unit: Short = ""
    order: Short = ""


class SheetForm(Form):
    """What the whole sheet is read by."""

    decimal: Short = ""
    incomplete_dates: Short = ""
    motor: Short = ""


class HeadForm(Form):
    """Which rows are headings; none where all are let go."""

    rows: Annotated[list[Annotated[int, Field(ge=1, le=1_048_576)]], Field(max_length=20)] = []  # noqa: RUF012


class CellForm(Form):
    """The answer to one cell."""

    key: Name
    text: Annotated[str, Field(max_length=200)] = ""


class RowForm(Form):
    """A row left out by choice, or taken in again."""

    key: Name
    leave: Annotated[str, Field(max_length=3)] = ""


class TakeForm(Form):
    """How many values the page said."""

    expected: int
