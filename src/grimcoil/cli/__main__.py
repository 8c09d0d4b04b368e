"""`python -m grimcoil.cli`: picks the command."""

from __future__ import annotations

import argparse
import os
import sys

from grimcoil.cli import assess, backup, connect, criteria, identify, migrate, people, schemas, serve, trend, verify
from grimcoil.core.version import VERSION

COMMANDS = (assess, trend, identify, connect, criteria, schemas, serve, migrate, backup, people, verify)


def parser() -> argparse.ArgumentParser:
    """All commands with their arguments."""
    top = argparse.ArgumentParser(prog="grimcoil", description="Motor tests: the same arithmetic as the pages.")
    top.add_argument("--version", action="version", version=VERSION)
    commands = top.add_subparsers(dest="command", required=True)
    for command in COMMANDS:
        command.add_to(commands)
    return top


def main(argv: list[str] | None = None) -> int:
    """Run one command; the exit status is 0 when done, 2 when the input can't be used."""
    arguments = parser().parse_args(argv)
    try:
        status: int = arguments.run(arguments)
        sys.stdout.flush()
    except BrokenPipeError:  # the reader has had enough, as `head` does
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0
    return status


if __name__ == "__main__":
    sys.exit(main())
