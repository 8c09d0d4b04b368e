"""What every answer of the API shares: refusals, and the parts of its addresses."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import Path
from pydantic import BaseModel

JobId = Annotated[int, Path(ge=1, le=2**31 - 1)]
Tag = Annotated[str, Path(max_length=60)]


class ErrorBody(BaseModel):
    """Where, what was found, what is accepted, and an example."""

    path: str
    found: str
    accepted: str
    example: str


class Problem(BaseModel):
    """What every refusal looks like."""

    error: ErrorBody


def may_answer(*statuses: int) -> dict[int | str, dict[str, Any]]:
    """The statuses of every answer, and some more."""
    return {status: {"model": Problem} for status in (400, 401, 403, 413, 503, *statuses)}
