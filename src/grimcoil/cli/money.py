"""`grimcoil money CASE.json` and `grimcoil money --lines FILE`: rewind or replace, and what the answer hangs on."""

from __future__ import annotations

from typing import Any

from grimcoil.cli.documents import add_answering
from grimcoil.exchange.money import answered


def add_to(commands: Any) -> None:
    """Declare the command."""
    add_answering(commands, "money", "a case", answered)
