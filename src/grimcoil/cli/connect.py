"""`grimcoil connect`: is this joining of the leads right for the supply?"""

from __future__ import annotations

import argparse
from typing import Any

from grimcoil.cli.documents import fail, print_document
from grimcoil.core.errors import RecordRefusal, Refusal
from grimcoil.core.stator.connect import Duty, Supply, judge_connection, right_connections
from grimcoil.core.stator.rating import parse_rated
from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.exchange.connections import connection_document, read_supply, read_wiring, to_document


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("connect")
    command.add_argument("--scheme", required=True, metavar="NAME", help="lead scheme, for example nine-lead-wye")
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
    try:
        print_document(judged(arguments))
    except Refusal as refusal:
        return fail("", refusal)
    return 0


def judged(arguments: argparse.Namespace) -> dict[str, Any]:
    """The connection as `grimcoil-connection/1`; without lines, the table's right ones."""
    scheme: str = arguments.scheme
    if scheme not in SCHEMES:
        raise RecordRefusal("--scheme", scheme, f"one of {', '.join(SCHEMES)}", "nine-lead-wye")
    for name in ("frequency", "rated_frequency"):
        value = getattr(arguments, name)
        if value is not None and not 0 < value < 1000:
            raise RecordRefusal(f"--{name.replace('_', '-')}", f"{value:g}", "a frequency in Hz", "60")
    duty = Duty(arguments.speed, arguments.mode, arguments.duty)
    rated = parse_rated(arguments.rated) if arguments.rated else ()
    if arguments.lines is None and not arguments.supply:
        right = right_connections(scheme, (), Supply((1.0, 1.0, 1.0)), duty)
        return {"format": "grimcoil-connection/1", "scheme": scheme, "right": [connection_document(r) for r in right]}
    supply = Supply(read_supply(arguments.supply), arguments.frequency, arguments.rated_frequency)
    if arguments.lines is None:
        right = right_connections(scheme, rated, supply, duty)
        return {"format": "grimcoil-connection/1", "scheme": scheme, "right": [connection_document(r) for r in right]}
    if not rated:
        raise RecordRefusal("--rated", "", "the plate's voltages with Y or D", "230Y/460Y")
    wiring = read_wiring(arguments.lines, arguments.joined, scheme)
    return to_document(judge_connection(scheme, rated, supply, wiring, duty), scheme)
