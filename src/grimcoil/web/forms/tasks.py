"""Form bodies of tasks."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from grimcoil.web.forms.base import Form, Token

Words = Annotated[str, Field(max_length=600)]


class TaskForm(Form):
    """A task that a person opens."""

    token: Token
    tag: Annotated[str, Field(max_length=60)] = ""
    what: Words = ""
    because: Words = ""
    by: Annotated[str, Field(max_length=20)] = ""
    whom: Annotated[str, Field(max_length=60)] = ""


class ShutForm(Form):
    """Done or dropped, with a word; back: the page of its motor that it was said on."""

    state: Annotated[str, Field(max_length=20)] = ""
    word: Words = ""
    back: Literal["", "motor", "round"] = ""
