"""A works in one open file: a ZIP with every table as lines of JSON, photos as they came, a checksum for each.

Another installation takes it in, and what it packs then is the same, member for member. Of a backup this isn't the
place: what belongs to an installation alone (who is signed in, its devices and tokens, secrets) stays where it is.
"""

from __future__ import annotations

import hashlib
import json
import os
import zipfile
import zlib
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import closing
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal, InvalidOperation
from pathlib import Path
from typing import IO, Any

from sqlalchemy import (
    Column,
    Connection,
    Double,
    Engine,
    Float,
    LargeBinary,
    MetaData,
    Table,
    func,
    inspect,
    select,
    text,
)
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.sql.sqltypes import _Binary

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.version import VERSION
from grimcoil.store.all_tables import METADATA
from grimcoil.store.restoring import emptied
from grimcoil.store.schema import known_revisions, upgrade

FORMAT = "grimcoil-archive/1"
MANIFEST = "manifest.json"
BATCH = 500
MOST_TIMES = 1000  # what deflate can reach; more is no archive
LONGEST_LINE, LONGEST_MANIFEST = 64 * 1024 * 1024, 64 * 1024 * 1024
_STILL = (1980, 1, 1, 0, 0, 0)  # no times in the ZIP: the same works is the same archive
# Of this installation, not of the works: table -> why it stays.
STAYS = {
    "sign_in": "who is signed in here",
    "device": "tablets enrolled here",
    "api_token": "tokens given out here",
    "wrong_try": "failed sign-ins here",
    "sent_form": "keys of forms sent here",
}
STAYING = {"person": ("password_hash", "pin_hash"), "site": ("backed_up_at",)}  # columns of this installation
TABLES = tuple(sorted(set(METADATA.tables) - set(STAYS)))
Told = Callable[[str], None]
PLAIN: dict[type, tuple[type, ...]] = {str: (str,), int: (int,), float: (int, float), bool: (bool, int)}


@dataclass(frozen=True, slots=True)
class Packed:
    """What an archive holds. tables: rows by table; members: sha256 by name."""

    made_at: str
    core_version: str
    revision: str
    tables: Mapping[str, int]
    members: Mapping[str, str]

    def text(self) -> str:
        """As it lies in the file."""
        return json.dumps({"format": FORMAT, **{name: getattr(self, name) for name in self.__slots__}}, indent=1)


def pack(engine: Engine, target: Path, now: datetime, told: Told = lambda _: None) -> Packed:
    """Everything as of one moment, a row at a time. The file appears whole or not at all; only its owner reads it.

    Raises RecordRefusal where the file is there already.
    """
    if target.exists():
        raise RecordRefusal("file", str(target), "a name that isn't taken: an earlier archive is never overwritten")
    begun = target.with_name(f".{target.name}.part")
    try:
        with os.fdopen(os.open(begun, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as out:
            packed = pack_into(engine, out, now, told)
        begun.replace(target)
    finally:
        begun.unlink(missing_ok=True)
    return packed


def pack_into(engine: Engine, out: IO[bytes], now: datetime, told: Told = lambda _: None) -> Packed:
    """The same onto a stream. One that breaks off has no manifest, and nobody takes it in."""
    rows: dict[str, int] = {}
    members: dict[str, str] = {}
    with (
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made,
        engine.connect().execution_options(isolation_level="REPEATABLE READ") as connection,
    ):
        there = _there(connection)
        revision = str(connection.execute(text("SELECT version_num FROM alembic_version")).scalar_one())
        for name in TABLES:
            rows[name] = _pack_table(connection, there[name], made, members)
            told(f"{name}: {rows[name]} rows")
        packed = Packed(now.isoformat(), VERSION, revision, rows, members)
        made.writestr(zipfile.ZipInfo(MANIFEST, _STILL), packed.text(), zipfile.ZIP_DEFLATED)
    return packed


def unpack(engine: Engine, source: Path, told: Told = lambda _: None) -> Packed:
    """Put an archive into an empty database. Every member is checked before the first row goes in; whatever goes wrong,
    the database is empty afterwards. Raises RecordRefusal.
    """
    with engine.connect() as connection:
        if there := inspect(connection).get_table_names():
            raise RecordRefusal("database", f"{len(there)} tables", "an empty database: nothing is ever written over")
    try:
        with zipfile.ZipFile(source) as archive:
            packed = _checked(archive)
            _load(engine, archive, packed, told)
    except (OSError, zipfile.BadZipFile, zlib.error, RuntimeError, EOFError) as error:  # encrypted, packed otherwise
        raise RecordRefusal("file", source.name, f"a whole archive made by this command ({error})") from None
    return packed


def _there(connection: Connection) -> dict[str, Table]:
    """The tables as they are in the database, with its own types: nothing is turned about on the way."""
    found = MetaData()
    found.reflect(connection)
    for table in found.tables.values():
        for column in table.columns:
            if isinstance(column.type, Float):
                column.type = Double(asdecimal=False)  # as a decimal it would lose its last digits
    return dict(found.tables)


def _is_file(column: Column[Any]) -> bool:
    return isinstance(column.type, LargeBinary | _Binary)


def _columns(table: Table) -> list[Column[Any]]:
    return [column for column in table.columns if column.name not in STAYING.get(table.name, ())]


def _pack_table(connection: Connection, table: Table, made: zipfile.ZipFile, members: dict[str, str]) -> int:
    """One member of lines, then one for each file of its rows."""
    plain = [column for column in _columns(table) if not _is_file(column)]
    count, name = 0, f"tables/{table.name}.jsonl"
    digest = hashlib.sha256()
    with _opened(made, name) as out:
        for row in _rows(connection, table, plain):
            line = json.dumps(dict(zip((c.name for c in plain), map(_plain, row), strict=True)), ensure_ascii=False)
            raw = line.encode() + b"\n"
            digest.update(raw)
            out.write(raw)
            count += 1
    members[name] = digest.hexdigest()
    for column in filter(_is_file, table.columns):
        for *key, data in _rows(connection, table, [*table.primary_key.columns, column]):
            if data is None:
                continue
            name = f"files/{table.name}/{column.name}/{'-'.join(map(str, key))}"
            with _opened(made, name) as out:
                out.write(data)
            members[name] = hashlib.sha256(data).hexdigest()
    return count


def _opened(made: zipfile.ZipFile, name: str) -> IO[bytes]:
    member = zipfile.ZipInfo(name, _STILL)
    member.compress_type = zipfile.ZIP_DEFLATED
    return made.open(member, "w", force_zip64=True)


def _rows(connection: Connection, table: Table, columns: list[Column[Any]]) -> Iterator[Any]:
    asked = select(*columns).order_by(*table.primary_key.columns)
    with closing(connection.execution_options(stream_results=True, yield_per=BATCH).execute(asked)) as found:
        yield from found


def _plain(value: Any) -> Any:
    if isinstance(value, datetime | date):
        return value.isoformat()
    return str(value) if isinstance(value, Decimal) else value


def _checked(archive: zipfile.ZipFile) -> Packed:
    """The manifest, and that each member is there, known, no bomb, and what it was."""
    packed = _manifest(archive)
    if packed.revision not in known_revisions():
        found = f"tables of version {packed.revision[:20]}"
        raise RecordRefusal("archive", found, "an archive of this version or an earlier one: update first")
    there = [info.filename for info in archive.infolist() if info.filename != MANIFEST]
    if sorted(there) != sorted(packed.members):
        odd = sorted(set(there) ^ set(packed.members))
        raise RecordRefusal("archive", (odd or ["a member twice"])[0][:80], "exactly the members its manifest names")
    strange = [name for name in packed.tables if name not in TABLES]
    if strange or any(not _ours(name) for name in packed.members):
        raise RecordRefusal("archive", (strange or ["a strange member"])[0][:60], "this application's own tables")
    for info in archive.infolist():
        if info.file_size > MOST_TIMES * max(info.compress_size, 1024):
            raise RecordRefusal("archive", info.filename[:80], f"members that unpack to {MOST_TIMES} times at most")
        if info.filename != MANIFEST and _sha256(archive, info.filename) != packed.members[info.filename]:
            raise RecordRefusal("archive", info.filename[:80], "members as they were packed: its checksum differs")
    return packed


def _ours(name: str) -> bool:
    kind, _, rest = name.partition("/")
    table = rest.partition("/")[0].removesuffix(".jsonl" if kind == "tables" else "")
    return kind in ("tables", "files") and table in TABLES


def _manifest(archive: zipfile.ZipFile) -> Packed:
    try:
        info = archive.getinfo(MANIFEST)
        if info.file_size > LONGEST_MANIFEST:
            raise ValueError("too long")
        given = json.loads(archive.read(info))
        if given.pop("format") != FORMAT:
            raise ValueError(f"not {FORMAT}")
        packed = Packed(**given)
        if not all(isinstance(part, dict) for part in (packed.tables, packed.members)):
            raise ValueError("no list of members")
        if not all(isinstance(one, str) for one in (packed.revision, *packed.members.values())):
            raise ValueError("a version or a checksum that is none")
        if lacking := [name for name in packed.tables if f"tables/{name}.jsonl" not in packed.members]:
            raise ValueError(f"{lacking[0]} is counted and not packed")
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        raise RecordRefusal("archive", MANIFEST, f"an archive made by this command ({error})") from None
    return packed


def _sha256(archive: zipfile.ZipFile, name: str) -> str:
    with archive.open(name) as member:
        return hashlib.file_digest(member, "sha256").hexdigest()  # type: ignore[arg-type]


def _load(engine: Engine, archive: zipfile.ZipFile, packed: Packed, told: Told) -> None:
    try:
        upgrade(engine, packed.revision)
        with engine.begin() as connection:
            connection.execute(text("SET FOREIGN_KEY_CHECKS = 0"))
            there = _there(connection)
            if lacking := sorted(set(there) & set(TABLES) - set(packed.tables)):
                raise RecordRefusal("archive", f"no {lacking[0]}", f"every table of version {packed.revision}")
            for name in packed.tables:
                if name not in there:
                    raise RecordRefusal("archive", name, f"tables that version {packed.revision} has")
                count = _load_table(connection, there[name], archive)
                if count != packed.tables[name]:
                    raise RecordRefusal("archive", f"{name}: {count} rows", f"{packed.tables[name]} rows")
                told(f"{name}: {count} rows")
            _bound(connection, [there[name] for name in packed.tables])
            connection.execute(text("SET FOREIGN_KEY_CHECKS = 1"))
    except SQLAlchemyError as error:
        emptied(engine)
        said = str(getattr(error, "orig", error))[:200]
        raise RecordRefusal("database", said, "a database that takes the archive; it is empty as before") from None
    except BaseException:
        emptied(engine)
        raise


def _bound(connection: Connection, tables: Sequence[Table]) -> None:
    """Raise RecordRefusal for a row that points to none: the database looks no more once they are in."""
    for table in tables:
        for key in table.foreign_key_constraints:
            if key.referred_table.name in STAYS:
                continue
            pairs = [(one.parent, one.column) for one in key.elements]
            other = key.referred_table.alias()
            there = select(other.c[pairs[0][1].name]).where(*(mine == other.c[its.name] for mine, its in pairs))
            lost = select(func.count()).select_from(table)
            lost = lost.where(*(mine.is_not(None) for mine, _ in pairs), ~there.exists())
            if count := connection.execute(lost).scalar():
                names = ", ".join(mine.name for mine, _ in pairs)
                found = f"{table.name}.{names}: {count} rows point to nothing"
                raise RecordRefusal("archive", found, f"rows of {key.referred_table.name} for each")


def _load_table(connection: Connection, table: Table, archive: zipfile.ZipFile) -> int:
    count, waiting = 0, []
    connection.execute(table.delete())  # what the migrations put in is in the archive too
    for number, row in _lines(archive, table):
        waiting.append(row)
        count = number
        if len(waiting) == BATCH:
            connection.execute(table.insert(), waiting)
            waiting = []
    if waiting:
        connection.execute(table.insert(), waiting)
    return count


def _lines(archive: zipfile.ZipFile, table: Table) -> Iterator[tuple[int, dict[str, Any]]]:
    name = f"tables/{table.name}.jsonl"
    columns = {column.name: column for column in _columns(table)}
    files = [column.name for column in columns.values() if _is_file(column)]
    there = set(archive.namelist()) if files else set()
    with archive.open(name) as member:
        number = 0
        while line := member.readline(LONGEST_LINE):
            number += 1
            try:
                given = json.loads(line)
                row = {key: _typed(columns[key], value) for key, value in given.items()}
            except (ValueError, KeyError, TypeError, AttributeError) as error:
                shown = line[:60].decode("utf-8", "replace")
                raise RecordRefusal(f"{name}, line {number}", shown, f"a row of this table ({error})") from None
            for column in STAYING.get(table.name, ()):
                if column in table.columns:  # one of an earlier version may lack it
                    row[column] = None if table.columns[column].nullable else ""  # fits no password
            for column in files:
                key = "-".join(str(given[one.name]) for one in table.primary_key.columns)
                at = f"files/{table.name}/{column}/{key}"
                row[column] = archive.read(at) if at in there else None
            yield number, row


def _typed(column: Column[Any], value: Any) -> Any:
    """A value of a line as the column takes it."""
    if value is None:
        return None
    kind = column.type.python_type
    if kind in (datetime, date, Decimal):
        if not isinstance(value, str):
            raise TypeError(f"{column.name}: {kind.__name__} as text")
        if kind is not Decimal:
            return kind.fromisoformat(value)
        try:
            made = Decimal(value)
        except InvalidOperation:
            made = Decimal("nan")
        if not made.is_finite():
            raise ValueError(f"{column.name}: a decimal")
        return made
    if kind in PLAIN and not isinstance(value, PLAIN[kind]):
        raise TypeError(f"{column.name}: {kind.__name__}")
    return value
