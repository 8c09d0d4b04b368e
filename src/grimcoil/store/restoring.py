"""A backup's rows into an empty database. Tables and triggers are made by our own migrations; of the dump nothing is
taken but rows of known tables, each checked before the first one goes in, so that a crafted dump can run nothing.
"""

from __future__ import annotations

import gzip
import re
import zlib
from collections.abc import Iterator
from pathlib import Path

from sqlalchemy import Connection, Engine, MetaData, text

from grimcoil.core.errors import RecordRefusal
from grimcoil.store.all_tables import METADATA
from grimcoil.store.schema import known_revisions, upgrade

MOST_TIMES = 400  # a dump packs to a fifth, a dump of nothing but zeros to a thousandth
LONGEST_LINE = 64 * 1024 * 1024
BATCH = 1024 * 1024
MOST_ROWS = 500
VERSION_TABLE = "alembic_version"
TABLES = frozenset(METADATA.tables) | {VERSION_TABLE}
_VALUE = rb"(?:NULL|-?\d+(?:\.\d+)?(?:[eE][-+]?\d+)?|0x[0-9A-Fa-f]*|(?:_binary )?'(?:[^'\\]|\\.|'')*')"
_ROW = re.compile(rb"\(%s(?:,%s)*\)" % (_VALUE, _VALUE), re.DOTALL)
_INTO = re.compile(rb"INSERT INTO `(\w+)` (\((?:`\w+`(?:, ?)?)+\) )?VALUES\s*")
# What a dump holds beside its rows. None of it is run; anything else is no dump of ours.
_BESIDE = re.compile(
    rb"(?:|--.*|/\*M?!.*|\*/;;|DROP TABLE IF EXISTS `\w+`;|CREATE TABLE `\w+` \(|  .*|\) ENGINE=.*;"
    rb"|LOCK TABLES `\w+` WRITE;|UNLOCK TABLES;|DELIMITER ;;?)"
)
Insert = tuple[str, bytes, list[bytes]]


def check_dump(dump: Path, revision: str) -> None:
    """Every line of it, before anything is changed. Raises RecordRefusal."""
    if revision not in known_revisions():
        raise RecordRefusal(
            "backup", f"tables of version {revision[:20]}", "a backup of this version or an earlier one: update first"
        )
    for _ in _inserts(dump):
        pass


def load(engine: Engine, dump: Path, revision: str) -> None:
    """Make the tables and put the rows in. Whatever goes wrong, the database is empty afterwards as it was before."""
    try:
        upgrade(engine, revision)
        with engine.begin() as connection:
            connection.execute(text("SET FOREIGN_KEY_CHECKS = 0"))
            for insert in _inserts(dump):
                _put(connection, insert)
            connection.execute(text("SET FOREIGN_KEY_CHECKS = 1"))
    except BaseException:
        emptied(engine)
        raise


def _put(connection: Connection, insert: Insert) -> None:
    """Known table, names and rows that were checked."""
    table, columns, rows = insert
    if table == VERSION_TABLE:
        return
    head = " ".join(("INSERT INTO", f"`{table}`", columns.decode(), "VALUES "))
    connection.exec_driver_sql(head + b",".join(rows).decode("utf-8"), execution_options={"no_parameters": True})


def _inserts(dump: Path) -> Iterator[Insert]:
    """The rows, some at a time. Raises RecordRefusal for a line that is neither a row nor a dump's own."""
    table, columns = "", b""
    rows: list[bytes] = []
    for number, line in _lines(dump):
        at = 0
        if not table:
            into = _INTO.match(line)
            if into is None:
                if not _BESIDE.fullmatch(line):
                    raise _no_dump(number, line)
                continue
            table, columns, at = _known(into[1], number), into[2] or b"", into.end()
        more, ended = _rows(line, at, number)
        rows += more
        if rows and (ended or sum(map(len, more)) > BATCH or len(rows) >= MOST_ROWS):
            yield table, columns, rows
            rows = []
        table = "" if ended else table
    if table:
        raise RecordRefusal("dump", "its end is missing", "a whole backup made by this command")


def _rows(line: bytes, at: int, number: int) -> tuple[list[bytes], bool]:
    """The rows of a line, and whether the statement ends with it."""
    rows = []
    while at < len(line):
        row = _ROW.match(line, at)
        ends = line[row.end() : row.end() + 1] if row else b""
        if row is None or ends not in (b",", b";") or (ends == b";" and row.end() + 1 < len(line)):
            raise _no_dump(number, line[at:])
        rows.append(row[0])
        if ends == b";":
            return rows, True
        at = row.end() + 1
    return rows, False


def _known(name: bytes, number: int) -> str:
    table = name.decode()
    if table not in TABLES:
        raise RecordRefusal(f"dump, line {number}", table[:60], "rows of this application's own tables")
    return table


def _no_dump(number: int, line: bytes) -> RecordRefusal:
    shown = line[:40].decode("utf-8", "replace")
    return RecordRefusal(f"dump, line {number}", shown, "a dump as this command writes it; nothing of it was run")


def _lines(dump: Path) -> Iterator[tuple[int, bytes]]:
    most, seen, number = max(dump.stat().st_size * MOST_TIMES, BATCH), 0, 0
    try:
        with gzip.open(dump, "rb") as source:
            while line := source.readline(LONGEST_LINE):
                number, seen = number + 1, seen + len(line)
                if seen > most or (len(line) == LONGEST_LINE and not line.endswith(b"\n")):
                    raise RecordRefusal(
                        f"dump, line {number}", "", f"a dump that unpacks to {MOST_TIMES} times at most"
                    )
                yield number, line.rstrip(b"\r\n")
    except (OSError, EOFError, zlib.error) as error:
        raise RecordRefusal(f"dump, line {number + 1}", "", f"a whole backup made by this command ({error})") from None


def emptied(engine: Engine) -> None:
    """Every table gone again."""
    tables = MetaData()
    tables.reflect(engine)
    with engine.begin() as connection:
        connection.execute(text("SET FOREIGN_KEY_CHECKS = 0"))
        for name in tables.tables:
            connection.exec_driver_sql(f"DROP TABLE IF EXISTS `{name}`")
        connection.execute(text("SET FOREIGN_KEY_CHECKS = 1"))
