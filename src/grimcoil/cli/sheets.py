"""`grimcoil map FILE` and `grimcoil import FILE --map MAP.json`: a sheet as it was kept so far."""

from __future__ import annotations

import argparse
import json
import os
import sys
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any

from grimcoil.cli.database import with_store
from grimcoil.cli.documents import fail, print_document, read_bytes
from grimcoil.cli.progress import Counting
from grimcoil.core.errors import RecordRefusal, Refusal
from grimcoil.core.people import Actor, Role
from grimcoil.exchange.sheets.grid import Book, read_book
from grimcoil.exchange.sheets.mapping import SheetMap, read_map
from grimcoil.exchange.sheets.propose import propose
from grimcoil.exchange.sheets.returned import returned_lines
from grimcoil.exchange.sheets.taken import Import, Register
from grimcoil.exchange.sheets.understand import understand


def add_to(commands: Any) -> None:
    """Declare both commands."""
    proposed = commands.add_parser("map")
    proposed.add_argument("file", metavar="FILE", help="a CSV or XLSX file")
    proposed.set_defaults(run=_map)
    taken = commands.add_parser("import")
    taken.add_argument("file", metavar="FILE", nargs="?", default="", help="a CSV or XLSX file")
    taken.add_argument("--map", metavar="MAP", help="a grimcoil-map/1 that says what each column holds")
    taken.add_argument("--by", default="", metavar="LOGIN", help="the person it is done for")
    taken.add_argument("--undo", type=int, metavar="ID", help="take a whole import back where nothing was built on it")
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
    if arguments.undo is not None:
        return with_store(lambda store: _undo(store, arguments))
    name = arguments.map or ""
    try:
        if not arguments.map or not arguments.file:
            raise RecordRefusal("import", "", "FILE --map MAP.json, or --undo ID")
        given = read_map(read_bytes(arguments.map))
        name = arguments.file
        raw = read_bytes(arguments.file)
        book = read_book(raw, arguments.file, given.encoding, given.delimiter)
        if arguments.dry_run:
            return _tried(arguments, book, given)
    except Refusal as refusal:
        return fail(name, refusal)
    return with_store(lambda store: _stored(store, arguments, book, given, raw), name)


def _tried(arguments: argparse.Namespace, book: Book, given: SheetMap) -> int:
    """By the register where a database is named; else every motor is new."""

    def say(register: Register) -> str:
        done = understand(book, given, _today(), register)
        _kept_aside(done, arguments)
        _say(done)
        return ""

    if "GRIMCOIL_DATABASE_URL" not in os.environ:
        say(Register())
        return 0

    def work(store: Any) -> str:
        from grimcoil.service.importing import register_of

        return say(register_of(store))

    return with_store(work, arguments.file)


def _today() -> date:
    return date.today()


def _say(done: Import) -> None:
    sys.stdout.writelines(done.text())
    print()


def _kept_aside(done: Import, arguments: argparse.Namespace) -> None:
    _all_or_nothing(done, arguments.all_or_nothing)
    if arguments.refused:
        _write_refused(Path(arguments.refused), done)


def _stored(store: Any, arguments: argparse.Namespace, book: Book, given: SheetMap, raw: bytes) -> str:
    from grimcoil.service.importing import Source, register_of, take_in

    done = understand(book, given, _today(), register_of(store))
    _kept_aside(done, arguments)
    source = Source(Path(arguments.file).name, raw)
    number = take_in(store, _actor(store, arguments.by), source, done, datetime.now(UTC), Counting("tests"))
    if number:
        back = f"grimcoil import --undo {number} takes it back"
        print(f"import {number}: {done.count} values; {back}", file=sys.stderr)
    _say(done)
    return ""


def _undo(store: Any, arguments: argparse.Namespace) -> str:
    from grimcoil.service.undoing import undo

    gone = undo(store, _actor(store, arguments.by), arguments.undo, datetime.now(UTC))
    print(f"import {arguments.undo}: {gone.tests} jobs taken back", file=sys.stderr)
    return json.dumps(gone.document(), ensure_ascii=False)


def _actor(store: Any, login: str) -> Actor:
    """The person it is done for; else the command line."""
    if not login:
        return Actor(None, "command line", Role.PLANNER, origin="command line")
    from grimcoil.service.people import actor_named

    found: Actor = actor_named(store, login)
    return found


def _all_or_nothing(done: Import, wanted: bool) -> None:
    if wanted and (done.asked or done.refused):
        first = (done.refused or done.asked)[0]
        counts = f"{len(done.asked)} asked, {len(done.refused)} refused"
        where = first["cell"] if first["sheet"] is None else f"{first['sheet']}!{first['cell']}"
        raise RecordRefusal(where, first["found"], f"every cell understood: {counts}, nothing is stored")


def _write_refused(path: Path, done: Import) -> None:
    with path.open("w", encoding="utf-8", newline="") as file:
        file.writelines(returned_lines(done))
