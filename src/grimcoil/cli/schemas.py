"""`grimcoil schemas FOLDER`: write the JSON Schemas of the open formats."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from grimcoil.exchange.schemas import schema_texts


def add_to(commands: Any) -> None:
    """Declare the command."""
    command: argparse.ArgumentParser = commands.add_parser("schemas")
    command.add_argument("folder", metavar="FOLDER", type=Path)
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Write each schema as a file."""
    folder: Path = arguments.folder
    folder.mkdir(parents=True, exist_ok=True)
    for name, text in schema_texts().items():
        (folder / name).write_text(text, encoding="utf-8")
    return 0
