"""`python -m grimcoil.cli`: picks the command."""

from __future__ import annotations

import argparse
import os
import sys
from importlib import import_module

from grimcoil.core.version import VERSION

# Which module declares a command. Only the one that is asked for is loaded, so that each answers at once.
COMMANDS = {
    "assess": "assess",
    "trend": "trend",
    "identify": "identify",
    "connect": "connect",
    "criteria": "criteria",
    "schemas": "schemas",
    "serve": "serve",
    "migrate": "migrate",
    "backup": "backup",
    "restore": "backup",
    "people": "people",
    "verify": "verify",
    "job": "job",
}


def parser(command: str = "") -> argparse.ArgumentParser:
    """The command with its arguments; all of them where none, or an unknown one, is named."""
    top = argparse.ArgumentParser(prog="grimcoil", description="Motor tests: the same arithmetic as the pages.")
    top.add_argument("--version", action="version", version=VERSION)
    commands = top.add_subparsers(dest="command", required=True)
    for module in [COMMANDS[command]] if command in COMMANDS else dict.fromkeys(COMMANDS.values()):
        import_module(f"grimcoil.cli.{module}").add_to(commands)
    return top


def main(argv: list[str] | None = None) -> int:
    """Run one command; the exit status is 0 when done, 2 when the input can't be used."""
    given = sys.argv[1:] if argv is None else argv
    arguments = parser(given[0] if given else "").parse_args(given)
    try:
        status: int = arguments.run(arguments)
        sys.stdout.flush()
    except BrokenPipeError:  # the reader has had enough, as `head` does
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0
    return status


if __name__ == "__main__":
    sys.exit(main())
