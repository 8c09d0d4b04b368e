"""`python -m grimcoil.cli`: picks the command."""

from __future__ import annotations

import argparse
import os
import sys
from importlib import import_module

from grimcoil.cli.broken import broken_at
from grimcoil.core.version import VERSION

# Which module declares a command, and what it does. Only the one that is asked for is loaded: each answers at once.
COMMANDS = {
    "assess": ("assess", "judge a grimcoil-job/1 record"),
    "plan": ("plan", "what is to do on a motor, from what its job knows"),
    "walk": ("walk", "from a symptom to the part: what is cleared, where to measure next"),
    "money": ("money", "rewind or replace, and what the answer hangs on"),
    "drying": ("drying", "how warm, how dry, how long still"),
    "trend": ("trend", "the trend of an insulation history"),
    "identify": ("identify", "which unmarked lead is which"),
    "connect": ("connect", "coil volts of a joining of the leads; without --lines, the right joinings"),
    "map": ("sheets", "what the columns of a sheet kept so far seem to hold"),
    "import": ("sheets", "a sheet kept so far, read by its map"),
    "criteria": ("criteria", "the limits that judge, and a site's own"),
    "schemas": ("schemas", "write the JSON Schemas of the formats"),
    "serve": ("serve", "serve the pages; settings from GRIMCOIL_…"),
    "migrate": ("migrate", "bring the tables up to date"),
    "backup": ("backup", "copy the whole database to a file, while it is in use"),
    "restore": ("backup", "put a backup into an empty database"),
    "archive": ("backup", "pack the works, photos too, into one open file"),
    "take-in": ("backup", "put a works archive into an empty database"),
    "people": ("people", "those who may sign in"),
    "verify": ("verify", "is every signed record as it was signed"),
    "tasks": ("tasks", "what is to be done at motors, as grimcoil-tasks/1"),
    "job": ("job", "jobs out and in as grimcoil-job/1"),
    "paper": ("paper", "what the pages print, as PDF: a job, a history, the money, what falls due"),
}


UNUSABLE, INTERRUPTED = 2, 130


def parser(command: str = "") -> argparse.ArgumentParser:
    """The command with its arguments; all of them by name where none, or an unknown one, is named."""
    top = argparse.ArgumentParser(prog="grimcoil", description="Motor tests: the same arithmetic as the pages.")
    top.add_argument("--version", action="version", version=VERSION)
    commands = top.add_subparsers(dest="command", required=True)
    if command in COMMANDS:
        import_module(f"grimcoil.cli.{COMMANDS[command][0]}").add_to(commands)
        return top
    for name, (_, words) in COMMANDS.items():
        commands.add_parser(name, help=words)
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
    except KeyboardInterrupt:
        return INTERRUPTED
    except Exception as error:  # noqa: BLE001  whatever nobody foresaw is one line too
        print(f"grimcoil: {broken_at(error)}", file=sys.stderr)
        return UNUSABLE
    return status


if __name__ == "__main__":
    sys.exit(main())
