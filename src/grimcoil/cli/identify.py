"""`grimcoil identify LEADS.json`: which unmarked lead is which."""

from __future__ import annotations

from typing import Any

from grimcoil.cli.documents import add_answering
from grimcoil.core.leads.identify import identify
from grimcoil.exchange.leads import read_leads, to_document


def add_to(commands: Any) -> None:
    """Declare the command."""
    add_answering(commands, "identify", "a grimcoil-leads/1 document", identified)


def identified(text: bytes) -> dict[str, Any]:
    """One puzzle as `grimcoil-identification/1`."""
    puzzle, told = read_leads(text)
    return to_document(identify(puzzle), puzzle.leads, told)
