"""`grimcoil archive FILE` packs the works into one open file, `take-in FILE` puts it into an empty database."""

from __future__ import annotations

import argparse
import sys
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from grimcoil.cli.database import with_engine


def add_to(commands: Any) -> None:
    """Declare both commands."""
    for name, work in (("archive", _pack), ("take-in", _take_in)):
        command: argparse.ArgumentParser = commands.add_parser(name)
        command.add_argument("file", metavar="FILE", type=Path)
        command.set_defaults(run=_command(work))


def _command(work: Any) -> Any:
    def run(arguments: argparse.Namespace) -> int:
        return with_engine(lambda engine: work(engine, arguments.file), arguments.file.name)

    return run


def _told(words: str) -> None:
    print(words, file=sys.stderr)


def _pack(engine: Any, file: Path) -> str:
    from grimcoil.service.backups import pack

    made = pack(engine, file, datetime.now(UTC), _told)
    return f"{file}: {sum(made.tables.values())} rows, {len(made.members)} members, as of {made.made_at}"


def _take_in(engine: Any, file: Path) -> str:
    from grimcoil.service.backups import unpack

    made = unpack(engine, file, _told)
    return f"{sum(made.tables.values())} rows of {len(made.tables)} tables, as of {made.made_at}; set passwords anew"
