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
    "plan": ("plan", "print the test plan of a job"),
    "walk": ("walk", "troubleshoot: next test and possible causes"),
    "money": ("money", "rewind or replace: costs and deciding inputs"),
    "drying": ("drying", "winding temperature, dryness and time left"),
    "trend": ("trend", "judge the trend of an insulation history"),
    "identify": ("identify", "identify unmarked leads"),
    "connect": ("connect", "check a connection of the leads; without --lines, print the right ones"),
    "map": ("sheets", "propose what each column of a spreadsheet holds"),
    "import": ("sheets", "import a spreadsheet by its map"),
    "criteria": ("criteria", "print the acceptance criteria, check a site's own"),
    "schemas": ("schemas", "write the JSON Schemas of the formats"),
    "serve": ("serve", "serve the pages; settings from GRIMCOIL_…"),
    "migrate": ("migrate", "update the tables of the database"),
    "backup": ("backup", "copy the whole database to a file, while it is in use"),
    "restore": ("backup", "put a backup into an empty database"),
    "archive": ("backup", "pack the plant, photos too, into one open file"),
    "take-in": ("backup", "restore an archive into an empty database"),
    "people": ("people", "add, change and remove users"),
    "verify": ("verify", "check signed records against the signature chain"),
    "tasks": ("tasks", "print the open tasks as grimcoil-tasks/1"),
    "read": ("read", "take one reading from an instrument on a wire"),
    "instruments": ("instruments", "serve simulated instruments on loopback ports"),
    "sentences": ("sentences", "print every sentence a person can be shown"),
    "job": ("job", "export and import jobs as grimcoil-job/1"),
    "paper": ("paper", "print a report, a history, rewind or replace, or what is due as PDF"),
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
