"""`grimcoil read ADDRESS FUNCTION`: one reading from an instrument on a wire, with its unit and who gave it."""

from __future__ import annotations

import argparse
import sys
from typing import Any

from grimcoil.core.errors import Refusal
from grimcoil.exchange.scpi import WORDS, take
from grimcoil.settings import Settings

UNUSABLE = 2


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("read")
    command.add_argument("address", metavar="ADDRESS", help="host and port, for example 127.0.0.1:5025")
    command.add_argument("function", metavar="FUNCTION", help=", ".join(WORDS))
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Text, unit and identity, tabs between; 2 with one line on standard error where nothing was taken."""
    try:
        taken = take(arguments.address, arguments.function, allowed=Settings().instrument_hosts)
    except Refusal as refusal:
        print(f"grimcoil: {refusal.whole()}", file=sys.stderr)
        return UNUSABLE
    print(taken.text, taken.unit, taken.identity, sep="\t")
    return 0
