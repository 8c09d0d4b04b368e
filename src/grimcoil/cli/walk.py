"""`grimcoil walk FILE` and `grimcoil walk --lines FILE`: from a symptom to the part."""

from __future__ import annotations

from typing import Any

from grimcoil.cli.documents import add_answering
from grimcoil.exchange.walks import walked


def add_to(commands: Any) -> None:
    """Declare the command."""
    add_answering(commands, "walk", "a walk", walked)
