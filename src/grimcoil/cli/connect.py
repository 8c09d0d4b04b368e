"""`grimcoil connect`: is this joining of the leads right for the supply?"""

from __future__ import annotations

import argparse
from typing import Any

from pydantic import ValidationError

from grimcoil.cli.documents import each_line, fail, print_document
from grimcoil.core.errors import RecordRefusal, Refusal
from grimcoil.exchange.connections import Asked, answer, read_asked
from grimcoil.exchange.strict import first_refusal


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("connect")
    command.add_argument("--scheme", metavar="NAME", help="lead scheme, for example nine-lead-wye")
    command.add_argument("--documents", metavar="FILE", help="grimcoil-connect/1 per line in, one answer per line out")
    command.add_argument("--rated", default="", metavar="VOLTS", help="plate voltages, for example 230Y/460Y")
    command.add_argument("--supply", default="", metavar="VOLTS", help="line volts: 460, or 478,471,482")
    command.add_argument("--lines", metavar="GROUPS", help='leads on L1, L2, L3: "1 2 3" or "1-7 2-8 3-9"')
    command.add_argument("--joined", default="", metavar="GROUPS", help='leads joined: "4-7 5-8 6-9"')
    command.add_argument("--frequency", type=float, metavar="HZ", help="of the supply")
    command.add_argument("--rated-frequency", type=float, metavar="HZ", help="of the plate")
    command.add_argument("--speed", choices=("low", "high"))
    command.add_argument("--mode", choices=("start", "run"), default="run")
    command.add_argument("--duty", choices=("constant-torque", "constant-power", "variable-torque"))
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Solve and print; 2 with one line on standard error where the words can't be used."""
    if arguments.documents is not None:
        try:
            return each_line(arguments.documents, lambda line: answer(read_asked(line)))
        except Refusal as refusal:
            return fail(arguments.documents, refusal)
    given = {name: getattr(arguments, name) for name in Asked.model_fields if name != "format"}
    try:
        print_document(answer(_asked({name: value for name, value in given.items() if value is not None})))
    except Refusal as refusal:
        return fail("", _by_option(refusal))
    return 0


def _asked(given: dict[str, Any]) -> Asked:
    try:
        return Asked.model_validate(given)
    except ValidationError as error:
        raise first_refusal(error, "the options") from None


def _by_option(refusal: Refusal) -> Refusal:
    """The same about an option instead of a key."""
    if refusal.where not in Asked.model_fields:
        return refusal
    option = f"--{refusal.where.replace('_', '-')}"
    return RecordRefusal(option, refusal.found, refusal.accepted, refusal.example)
