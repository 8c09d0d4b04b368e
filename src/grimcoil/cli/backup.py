"""`backup FILE` while it runs and `restore FILE` into an empty database; `archive` and `take-in` as an open file."""

from __future__ import annotations

import argparse
import sys
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from grimcoil.cli.database import with_engine


def add_to(commands: Any) -> None:
    """Declare the four commands."""
    for name, work in (("backup", _back_up), ("restore", _restore), ("archive", _pack), ("take-in", _take_in)):
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


def _told(words: str) -> None:
    print(words, file=sys.stderr)


def _pack(engine: Any, file: Path) -> str:
    from grimcoil.service.backups import pack

    made = pack(engine, file, datetime.now(UTC), _told)
    return f"{file}: {sum(made.tables.values())} rows, {len(made.members)} members, as of {made.made_at}"


def _take_in(engine: Any, file: Path) -> str:
    from grimcoil.service.backups import take_in

    made = take_in(engine, file, _told)
    return f"{sum(made.tables.values())} rows of {len(made.tables)} tables, as of {made.made_at}; set passwords anew"
