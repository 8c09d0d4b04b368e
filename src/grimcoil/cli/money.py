"""`grimcoil money CASE.json` and `grimcoil money --lines FILE`: rewind or replace, and what the answer hangs on."""

from __future__ import annotations

import argparse
from typing import Any

from grimcoil.cli.documents import each_line, fail, print_document, read_bytes
from grimcoil.core.errors import Refusal
from grimcoil.exchange.money import answered


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("money")
    command.add_argument("file", metavar="FILE", help="a case, or - for standard input")
    command.add_argument("--lines", action="store_true", help="one case per line in, one answer per line out")
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Answer and print; 2 with one line on standard error where the input can't be used."""
    try:
        if arguments.lines:
            return each_line(arguments.file, answered)
        print_document(answered(read_bytes(arguments.file)))
    except Refusal as refusal:
        return fail(arguments.file, refusal)
    return 0
