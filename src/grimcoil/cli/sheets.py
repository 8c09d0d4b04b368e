"""`grimcoil map FILE` and `grimcoil import FILE --map MAP.json`: a sheet as it was kept so far."""

from __future__ import annotations

import argparse
import csv
from datetime import date
from pathlib import Path
from typing import Any

from grimcoil.cli.documents import fail, print_document, read_bytes
from grimcoil.core.errors import RecordRefusal, Refusal
from grimcoil.exchange.sheets.grid import read_book
from grimcoil.exchange.sheets.mapping import read_map
from grimcoil.exchange.sheets.propose import propose
from grimcoil.exchange.sheets.understand import Import, Register, understand
from grimcoil.exchange.trails import harmless


def add_to(commands: Any) -> None:
    """Declare both commands."""
    proposed = commands.add_parser("map")
    proposed.add_argument("file", metavar="FILE", help="a CSV or XLSX file")
    proposed.set_defaults(run=_map)
    taken = commands.add_parser("import")
    taken.add_argument("file", metavar="FILE", help="a CSV or XLSX file")
    taken.add_argument("--map", required=True, metavar="MAP", help="a grimcoil-map/1 that says what each column holds")
    taken.add_argument("--dry-run", action="store_true", help="say what would be taken; nothing is stored")
    taken.add_argument("--all-or-nothing", action="store_true", help="store nothing where a cell is asked or refused")
    taken.add_argument("--refused", metavar="FILE", help="write refused and asked rows, with a reason each, as CSV")
    taken.set_defaults(run=_import)


def _map(arguments: argparse.Namespace) -> int:
    try:
        print_document(propose(read_book(read_bytes(arguments.file), arguments.file), date.today()))
    except Refusal as refusal:
        return fail(arguments.file, refusal)
    return 0


def _import(arguments: argparse.Namespace) -> int:
    name = arguments.map
    try:
        given = read_map(read_bytes(arguments.map))
        name = arguments.file
        book = read_book(read_bytes(arguments.file), arguments.file, given.encoding, given.delimiter)
        done = understand(book, given, date.today(), Register())
        _all_or_nothing(done, arguments.all_or_nothing)
        if not arguments.dry_run:
            raise RecordRefusal("import", "", "--dry-run: storing is done from the works' own installation")
        if arguments.refused:
            _write_refused(Path(arguments.refused), done)
        print_document(done.document())
    except Refusal as refusal:
        return fail(name, refusal)
    return 0


def _all_or_nothing(done: Import, wanted: bool) -> None:
    if wanted and (done.asked or done.refused):
        first = (done.refused or done.asked)[0]
        counts = f"{len(done.asked)} asked, {len(done.refused)} refused"
        where = first["cell"] if first["sheet"] is None else f"{first['sheet']}!{first['cell']}"
        raise RecordRefusal(where, first["found"], f"every cell understood: {counts}, nothing is stored")


def _write_refused(path: Path, done: Import) -> None:
    with path.open("w", encoding="utf-8", newline="") as file:
        out = csv.writer(file)
        out.writerow(("sheet", "row", "column", "cell", "found", "reason"))
        for one in [*done.refused, *done.asked]:
            reason = one.get("accepted") or one.get("question")
            cells = (one["sheet"] or "", one["row"], one["column"], one["cell"], one["found"], reason)
            out.writerow([harmless(str(cell)) for cell in cells])
