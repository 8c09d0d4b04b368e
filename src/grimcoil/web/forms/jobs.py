"""Form bodies of the Job pages."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, field_validator

from grimcoil.core.wishes import AtHand, FirstTest, InsulationBy, TestVolts, Wishes
from grimcoil.web.forms.base import Form, Token


class KeepForm(Form):
    """An entry; `quick` is a key that stands for a text (over-range, a choice)."""

    place: Annotated[str, Field(max_length=60)]
    text: Annotated[str, Field(max_length=2000)] = ""
    quick: Annotated[str, Field(max_length=60)] = ""
    anyway: Annotated[str, Field(max_length=5)] = ""
    held_s: Annotated[str, Field(max_length=20)] = ""
    read_at: Annotated[str, Field(max_length=4, pattern="^(mark|now)?$")] = ""
    replaces: Annotated[int | None, Field(ge=1)] = None
    token: Token
    view: str = ""


class NowForm(Form):
    """The second of a mark, or a hold wanted once more: which place or step."""

    place: Annotated[str, Field(max_length=60)]
    held_s: Annotated[str, Field(max_length=20)] = ""
    token: Token


class HandForm(Form):
    """Whom a job is handed to, by login."""

    login: Annotated[str, Field(max_length=60)]


class OffForm(Form):
    """Voltage off, from whatever page shows the job."""

    token: Token


class TakeBackForm(Form):
    """Which entry."""

    seq: int
    at: Annotated[str, Field(max_length=60)] = ""


class OverruleForm(Form):
    """Which step or place, and why."""

    key: Annotated[str, Field(max_length=60)]
    reason: Annotated[str, Field(max_length=2000)] = ""
    token: Token


class DecideForm(Form):
    """The action, `other` for one picked with a reason; the cause, and what is changed where the verdict is to act."""

    action: Annotated[str, Field(max_length=30)]
    other: Annotated[str, Field(max_length=30)] = ""
    reason: Annotated[str, Field(max_length=2000)] = ""
    cause: list[str] = Field(default_factory=list, max_length=20)
    changed: Annotated[str, Field(max_length=2000)] = ""


class SignForm(Form):
    """The password or PIN of the one who signs."""

    secret: Annotated[str, Field(max_length=200)] = ""


class StartForm(Form):
    """A new job."""

    tag: Annotated[str, Field(max_length=60)] = ""
    token: Token
    ohm_range_id: str = ""
    insulation_range_id: str = ""
    criteria: Annotated[str, Field(max_length=40)] = "field-general"
    occasion: Annotated[str, Field(max_length=20)] = "routine"
    school: Annotated[str, Field(max_length=20)] = ""
    also: list[str] = Field(default_factory=list, max_length=8)
    at_hand: list[AtHand] = Field(default_factory=list, max_length=len(AtHand))
    first_test: FirstTest | None = None
    insulation_by: InsulationBy | None = None
    test_volts: TestVolts | None = None

    @field_validator("first_test", "insulation_by", "test_volts", mode="before")
    @classmethod
    def _as_usual(cls, given: object) -> object:
        return given or None

    def wishes(self) -> Wishes:
        """What was chosen of how it is done."""
        return Wishes(self.first_test, self.insulation_by, tuple(self.at_hand), self.test_volts)


def seconds(text: str) -> float | None:
    """The page's own count of seconds; None for anything that isn't one."""
    try:
        value = float(text)
    except ValueError:
        return None
    return value if 0 <= value < 86400 else None
