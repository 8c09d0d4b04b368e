"""Tasks as `grimcoil-tasks/1`: what a finding, a decision, a round or a person asks to be done at a motor."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from typing import Any, Literal, Protocol

from pydantic import Field

from grimcoil.core.follow_up import TaskState
from grimcoil.exchange.strict import Strict


class Told(Protocol):
    """A task as the store lists it. by_day: the day it is to be done by; whom: a sign-in name, empty for anyone."""

    @property
    def id(self) -> int:
        """Its number."""

    @property
    def tag(self) -> str:
        """Its motor's."""

    @property
    def what(self) -> str:
        """What is to be done."""

    @property
    def because(self) -> str:
        """Why."""

    @property
    def by_day(self) -> date:
        """When at the latest."""

    @property
    def whom(self) -> str:
        """For whom."""

    @property
    def state(self) -> str:
        """Where it stands."""

    @property
    def word(self) -> str:
        """What was said at its end."""


class TaskRow(Strict):
    """One task. by: the day; for: a sign-in name, empty for anyone; word: what was said when it was closed."""

    id: int
    tag: str
    what: str
    because: str
    by: date
    for_: str = Field(alias="for")
    state: TaskState
    word: str


class TaskList(Strict):
    """`grimcoil-tasks/1`."""

    format: Literal["grimcoil-tasks/1"] = "grimcoil-tasks/1"
    tasks: list[TaskRow] = []


def tasks_document(tasks: Iterable[Told]) -> dict[str, Any]:
    """All of them by the format's names, in their order."""
    rows = [
        {
            "id": one.id, "tag": one.tag, "what": one.what, "because": one.because, "by": one.by_day,
            "for": one.whom, "state": one.state, "word": one.word,
        }
        for one in tasks
    ]  # fmt: skip
    return TaskList.model_validate({"tasks": rows}).model_dump(mode="json", by_alias=True)
