"""Form bodies of a motor's life."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from grimcoil.web.forms.base import Form, Token

Short = Annotated[str, Field(max_length=200)]


class MoveForm(Form):
    """Where to, from which day; swap: where what stands there goes."""

    token: Token
    to: Short = ""
    on: Short = ""
    note: Short = ""
    swap: Annotated[str, Field(pattern="^(|yes|here)$")] = ""


class HappenedForm(Form):
    """What was done to the motor, when, for how much."""

    token: Token
    kind: Short = ""
    on: Short = ""
    note: Short = ""
    cost: Short = ""


class RepairForm(Form):
    """A stage of a repair; what, whom, back, ohm and mohm are an order's."""

    token: Token
    stage: Short = ""
    on: Short = ""
    what: Short = "rewind"
    whom: Short = ""
    back: Short = ""
    ohm: Short = ""
    mohm: Short = ""
    note: Short = ""


class TakeBackForm(Form):
    """One event."""

    id: Annotated[int, Field(ge=1, le=2**31 - 1)]


class WithdrawForm(Form):
    """Why a motor goes off the register."""

    why: Annotated[str, Field(max_length=400)] = ""
