"""`grimcoil criteria`: list the criteria that ship, print one to copy and change, check a site's own."""

from __future__ import annotations

import argparse
from typing import Any

from grimcoil.cli.documents import fail, print_document, read_bytes
from grimcoil.core.criteria import CRITERIA
from grimcoil.core.errors import RecordRefusal, Refusal
from grimcoil.exchange.criteria import read_criteria, to_document


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("criteria")
    command.add_argument("name", nargs="?", help="print these criteria whole")
    command.add_argument("--check", metavar="FILE", help="read a site's own criteria and print them whole")
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """List, print or check; 2 with a line where the name or the file can't be used."""
    try:
        if arguments.check is not None:
            print_document(to_document(read_criteria(read_bytes(arguments.check))))
        elif arguments.name is None:
            for criteria in CRITERIA.values():
                print(f"{criteria.name:16} version {criteria.version}  {criteria.title}")
        elif arguments.name in CRITERIA:
            print_document(to_document(CRITERIA[arguments.name]))
        else:
            raise RecordRefusal("criteria", arguments.name, f"one of {', '.join(CRITERIA)}")
    except Refusal as refusal:
        return fail(arguments.check or "", refusal)
    return 0
