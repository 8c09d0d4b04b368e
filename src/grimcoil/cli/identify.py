"""`grimcoil identify LEADS.json`: which unmarked lead is which."""

from __future__ import annotations

import argparse
from typing import Any

from grimcoil.cli.documents import each_line, fail, print_document, read_bytes
from grimcoil.core.errors import Refusal
from grimcoil.core.leads.identify import identify
from grimcoil.exchange.leads import read_leads, to_document


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("identify")
    command.add_argument("file", metavar="FILE", help="a grimcoil-leads/1 document, or - for standard input")
    command.add_argument("--lines", action="store_true", help="one document a line in, one result a line out")
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Solve and print; 2 with one line on standard error where the input can't be used."""
    name: str = arguments.file
    try:
        if arguments.lines:
            return each_line(name, identified)
        print_document(identified(read_bytes(name)))
    except Refusal as refusal:
        return fail(name, refusal)
    return 0


def identified(text: bytes) -> dict[str, Any]:
    """One puzzle as `grimcoil-identification/1`."""
    puzzle, told = read_leads(text)
    return to_document(identify(puzzle), puzzle.leads, told)
