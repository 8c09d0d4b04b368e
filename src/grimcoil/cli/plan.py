"""`grimcoil plan JOB.json` and `grimcoil plan --lines FILE`: what is to do on a motor, from what is known."""

from __future__ import annotations

from typing import Any

from grimcoil.cli.documents import add_answering
from grimcoil.exchange.planned import planned


def add_to(commands: Any) -> None:
    """Declare the command."""
    add_answering(commands, "plan", "a job", planned)
