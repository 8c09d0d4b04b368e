"""A consistent copy of the whole database in one file with checksums, and its way back into an empty one."""

from __future__ import annotations

import gzip
import hashlib
import json
import os
import re
import shutil
import subprocess
import tarfile
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime
from io import BytesIO
from pathlib import Path
from typing import Any

from sqlalchemy import Engine, func, inspect, select, table, text
from sqlalchemy.engine import URL
from sqlalchemy.exc import SQLAlchemyError

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.version import VERSION
from grimcoil.store.restoring import check_dump, load

FORMAT = "grimcoil-backup/1"
DUMP, MANIFEST = "dump.sql.gz", "manifest.json"
_CHUNK = 1 << 20
LONGEST_MANIFEST = 10_000
# Triggers are restored as whoever restores: another user than the one who dumped need not exist there.
_DEFINER = re.compile(rb"/\*!\d+ DEFINER=`[^`]*`@`[^`]*`\*/ ?")


@dataclass(frozen=True, slots=True)
class Manifest:
    """What a backup holds: when, by which version, at which migration, and the dump's checksum."""

    made_at: str
    core_version: str
    revision: str
    sha256: str

    def text(self) -> str:
        """As it lies in the file."""
        return json.dumps({"format": FORMAT, **{name: getattr(self, name) for name in self.__slots__}}, indent=1)


def back_up(engine: Engine, target: Path, now: datetime) -> Manifest:
    """Copy everything as of one moment while others go on writing. The file appears whole or not at all.

    Raises RecordRefusal where the dump fails or the file is there already.
    """
    if target.exists():
        raise RecordRefusal("file", str(target), "a name that isn't taken: an earlier backup is never overwritten")
    with tempfile.TemporaryDirectory(dir=target.parent) as folder:
        dump = Path(folder) / DUMP
        _dump(engine.url, dump)
        manifest = Manifest(now.isoformat(), VERSION, _revision(engine), _checksum(dump))
        whole = Path(folder) / "backup.tar"
        with tarfile.open(whole, "w") as tar:
            _add(tar, MANIFEST, manifest.text().encode())
            tar.add(dump, DUMP)
        whole.replace(target)
    return manifest


def restore(engine: Engine, source: Path) -> Manifest:
    """Put a backup into an empty database. Raises RecordRefusal for a file that is damaged, newer or not ours, or a
    database that isn't empty; nothing is changed then.
    """
    with _opened(source) as (manifest, dump):
        with engine.connect() as connection:
            there = inspect(connection).get_table_names()
        if there:
            raise RecordRefusal("database", f"{len(there)} tables", "an empty database: nothing is ever written over")
        if _checksum(dump) != manifest.sha256:
            raise RecordRefusal("file", source.name, "a whole backup: its checksum doesn't match, it is damaged")
        check_dump(dump, manifest.revision)
        try:
            load(engine, dump, manifest.revision)
        except SQLAlchemyError as error:
            told = str(getattr(error, "orig", error))[:200]
            raise RecordRefusal("database", told, "a database that takes the backup; it is empty as before") from None
    return manifest


@contextmanager
def _opened(source: Path) -> Iterator[tuple[Manifest, Path]]:
    """The two members by their known names only; nothing else of the archive is read."""
    try:
        tar = tarfile.open(source)  # noqa: SIM115
    except (OSError, tarfile.TarError) as error:
        raise RecordRefusal("file", source.name, f"a backup made by this command ({error})") from None
    with tar, tempfile.TemporaryDirectory() as folder:
        try:
            manifest = _manifest(_member(tar, MANIFEST, LONGEST_MANIFEST).read())
            dump = Path(folder) / DUMP
            with dump.open("wb") as out:
                shutil.copyfileobj(_member(tar, DUMP, source.stat().st_size), out, _CHUNK)
        except (tarfile.TarError, EOFError, OSError, ValueError, KeyError, TypeError) as error:
            raise RecordRefusal("file", source.name, f"a whole backup made by this command ({error})") from None
        yield manifest, dump


def _member(tar: tarfile.TarFile, name: str, most: int) -> Any:
    found = tar.getmember(name)
    member = tar.extractfile(found)
    if member is None:
        raise ValueError(f"{name} is no file")
    if found.size > most:
        raise ValueError(f"{name} is larger than its archive")
    return member


def _manifest(raw: bytes) -> Manifest:
    given = json.loads(raw)
    if given.pop("format") != FORMAT:
        raise ValueError(f"not {FORMAT}")
    return Manifest(**given)


def _add(tar: tarfile.TarFile, name: str, content: bytes) -> None:
    info = tarfile.TarInfo(name)
    info.size = len(content)
    tar.addfile(info, BytesIO(content))


def _revision(engine: Engine) -> str:
    with engine.connect() as connection:
        return str(connection.execute(text("SELECT version_num FROM alembic_version")).scalar_one())


def rows_by_table(engine: Engine) -> dict[str, int]:
    """Rows of each table, counted."""
    with engine.connect() as connection:
        names = sorted(inspect(connection).get_table_names())
        return {
            name: int(connection.execute(select(func.count()).select_from(table(name))).scalar_one()) for name in names
        }


def _checksum(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _dump(url: URL, target: Path) -> None:
    """One transaction's view of every table, compressed; whole only if its last line is there."""
    words = [
        "--complete-insert",
        "--single-transaction",
        "--quick",
        "--skip-lock-tables",
        "--hex-blob",
        "--no-tablespaces",
    ]
    plain = target.with_suffix("")
    with _client("mariadb-dump", url, [*words, "--skip-dump-date", f"--result-file={plain}"]) as command:
        done = subprocess.run(command, capture_output=True, check=False)  # noqa: S603
    if done.returncode or not _ends_well(plain):
        raise RecordRefusal("database", done.stderr.decode().strip()[:200], "a database that can be dumped")
    with plain.open("rb") as source, gzip.open(target, "wb") as out:
        for line in source:
            out.write(_DEFINER.sub(b"", line) if line.startswith(b"/*!50003 CREATE") else line)
    plain.unlink()


def _ends_well(dump: Path) -> bool:
    with dump.open("rb") as file:
        file.seek(max(0, dump.stat().st_size - 200))
        return b"Dump completed" in file.read()


@contextmanager
def _client(program: str, url: URL, words: list[str]) -> Iterator[list[str]]:
    """A command of MariaDB's client. The password goes by a file only this user can read, never by the command line."""
    found = shutil.which(program)
    if found is None:
        raise RecordRefusal("", program, "MariaDB's client programs installed (Debian package: mariadb-client)")
    with tempfile.TemporaryDirectory() as folder:
        secrets = Path(folder) / "client.cnf"
        handle = os.open(secrets, os.O_WRONLY | os.O_CREAT, 0o600)
        with os.fdopen(handle, "w") as out:
            out.write(f'[client]\nhost="{url.host}"\nport={url.port or 3306}\n')
            out.write(f'user="{url.username}"\npassword="{url.password or ""}"\n')
        yield [found, f"--defaults-extra-file={secrets}", "--default-character-set=utf8mb4", *words, str(url.database)]
