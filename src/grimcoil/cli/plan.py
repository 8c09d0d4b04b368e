"""`grimcoil plan JOB.json` and `grimcoil plan --lines FILE`: what is to do on a motor, from what is known."""

from __future__ import annotations

import argparse
from typing import Any

from grimcoil.cli.documents import each_line, fail, print_document, read_bytes
from grimcoil.core.errors import Refusal
from grimcoil.exchange.planned import planned


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("plan")
    command.add_argument("file", metavar="FILE", help="a job, or - for standard input")
    command.add_argument("--lines", action="store_true", help="one job per line in, one plan per line out")
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Plan and print; 2 with one line on standard error where the input can't be used."""
    try:
        if arguments.lines:
            return each_line(arguments.file, planned)
        print_document(planned(read_bytes(arguments.file)))
    except Refusal as refusal:
        return fail(arguments.file, refusal)
    return 0
