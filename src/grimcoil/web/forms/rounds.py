"""Form bodies of a round."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from grimcoil.web.forms.base import Form, Token

Short = Annotated[str, Field(max_length=40)]


class RoundKeepForm(Form):
    """What was done at a stop. when: `2026-11-26T14:05`, where it isn't now; area: the round it belongs to;
    end_drive, end_other: what was heard at a bearing, or the grams it got; grease: which.
    """

    token: Token
    task: Short = ""
    outcome: Short
    text: Short = ""
    loaded: Short = ""
    words: Annotated[str, Field(max_length=300)] = ""
    when: Short = ""
    end_drive: Short = ""
    end_other: Short = ""
    grease: Short = ""
    area: Annotated[str, Field(max_length=100)] = ""


class RoundTaskForm(Form):
    """How often a task is due, or not at all; of grease the bearings."""

    task: Short
    months: Short = ""
    every_h: Short = ""
    hours_a_month: Short = ""
    season: Short = ""
    off: Short = ""
    bearing_drive: Short = ""
    bearing_other: Short = ""
