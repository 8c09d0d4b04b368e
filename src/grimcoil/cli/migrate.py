"""`grimcoil migrate`: bring the tables up to date, as the database user that owns them."""

from __future__ import annotations

import argparse
from typing import Any

from grimcoil.cli.database import with_engine


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("migrate")
    command.add_argument(
        "--check", action="store_true", help="change nothing, say whether the tables are as they must be"
    )
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """0 when current; 2 with a line where the database can't be used, or a table isn't as it must be."""
    from grimcoil.service.health import bring_up_to_date, check_tables, readiness

    def work(engine: Any) -> str:
        if arguments.check:
            check_tables(engine)
        else:
            bring_up_to_date(engine)
        return "the tables are current" if readiness(engine) else "the tables are not current"

    return with_engine(work)
