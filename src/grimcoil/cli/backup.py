"""`grimcoil backup FILE` while it runs, and `grimcoil restore FILE` into an empty database."""

from __future__ import annotations

import argparse
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from grimcoil.cli.database import with_engine


def add_to(commands: Any) -> None:
    """Declare both commands."""
    for name, work in (("backup", _back_up), ("restore", _restore)):
        command: argparse.ArgumentParser = commands.add_parser(name)
        command.add_argument("file", metavar="FILE", type=Path)
        command.set_defaults(run=_command(work))


def _command(work: Any) -> Any:
    def run(arguments: argparse.Namespace) -> int:
        return with_engine(lambda engine: work(engine, arguments.file))

    return run


def _back_up(engine: Any, file: Path) -> str:
    from grimcoil.service.backups import back_up

    made = back_up(engine, file, datetime.now(UTC))
    return f"{file}: as of {made.made_at}, schema {made.revision}, sha256 {made.sha256}"


def _restore(engine: Any, file: Path) -> str:
    from grimcoil.service.backups import restore, rows_by_table

    made = restore(engine, file)
    rows = rows_by_table(engine)
    return f"{sum(rows.values())} rows of {len(rows)} tables, as of {made.made_at}"
