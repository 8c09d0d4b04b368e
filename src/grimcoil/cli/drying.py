"""`grimcoil drying FILE` and `grimcoil drying --lines FILE`: how warm, how dry, how long still."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from grimcoil.cli.documents import add_answering
from grimcoil.exchange.drying import dried


def add_to(commands: Any) -> None:
    """Declare the command."""
    add_answering(commands, "drying", "a drying", lambda text: dried(text, datetime.now().astimezone()))
