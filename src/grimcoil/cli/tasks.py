"""`grimcoil tasks [--tag TAG] [--open]`: what is to be done at motors, as `grimcoil-tasks/1`."""

from __future__ import annotations

import argparse
import json
from typing import Any

from grimcoil.cli.database import with_store
from grimcoil.exchange.tasks import tasks_document


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("tasks")
    command.add_argument("--tag", default="", help="of one motor")
    command.add_argument("--open", action="store_true", help="only those that are open")
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Print them in the order they were opened; one motor's open ones first."""

    def work(store: Any) -> str:
        from grimcoil.service.tasks import every_task, tasks_of

        found = tasks_of(store, arguments.tag) if arguments.tag else every_task(store)
        shown = [one for one in found if one.state == "open" or not arguments.open]
        return json.dumps(tasks_document(shown), indent=1, ensure_ascii=False)

    return with_store(work)
