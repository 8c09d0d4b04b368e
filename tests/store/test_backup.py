"""Backup while it runs and restore into an empty database: every table the same, row for row."""

import gzip
import hashlib
import io
import json
import tarfile
from pathlib import Path

import pytest
from sqlalchemy import MetaData, func, select, text
from sqlalchemy.engine import make_url
from sqlalchemy.exc import OperationalError

from demo.scenario import seed
from demo.works import MOTORS
from grimcoil.cli.__main__ import main
from grimcoil.core.errors import RecordRefusal
from grimcoil.store.backup import back_up, restore, rows_by_table
from grimcoil.store.engine import make_engine
from grimcoil.store.schema import is_current
from grimcoil.store.tables import Position
from tests.conftest import fresh_database
from tests.support import NOW

TOLD = ("BW-121", "PP-122", "DD-207", "BW-114")


@pytest.fixture
def filled(store, engine):
    with store.begin() as session:
        seed(session, NOW, [made for made in MOTORS if made.tag in TOLD])
    return engine


@pytest.fixture
def empty():
    made = make_engine(fresh_database("grimcoil_restored"))
    yield made
    made.dispose()


def everything(engine):
    """Every row of every table, as the database gives it."""
    tables = MetaData()
    tables.reflect(engine)
    with engine.connect() as connection:
        return {
            name: sorted(map(repr, connection.execute(select(table)))) for name, table in sorted(tables.tables.items())
        }


def test_there_and_back_every_table_is_the_same(filled, empty, tmp_path):
    made = back_up(filled, tmp_path / "one.tar", NOW)
    assert rows_by_table(filled)["job"] > 10
    restored = restore(empty, tmp_path / "one.tar")
    assert restored == made
    assert everything(empty) == everything(filled)
    assert is_current(empty)


def test_an_earlier_backup_and_a_used_database_are_never_written_over(filled, tmp_path):
    file = tmp_path / "one.tar"
    back_up(filled, file, NOW)
    before = file.read_bytes()
    with pytest.raises(RecordRefusal, match="never overwritten"):
        back_up(filled, file, NOW)
    assert file.read_bytes() == before
    rows = everything(filled)
    with pytest.raises(RecordRefusal, match="an empty database"):
        restore(filled, file)
    assert everything(filled) == rows
    assert [path.name for path in tmp_path.iterdir()] == ["one.tar"]


def damaged(file: Path, member: str, change) -> Path:
    out = file.with_suffix(".bad")
    with tarfile.open(file) as tar, tarfile.open(out, "w") as new:
        for one in tar.getmembers():
            raw = tar.extractfile(one).read()
            content = change(raw) if one.name == member else raw
            if content is not None:
                info = tarfile.TarInfo(one.name)
                info.size = len(content)
                new.addfile(info, io.BytesIO(content))
    return out


@pytest.mark.parametrize(
    ("member", "change"),
    [
        ("dump.sql.gz", lambda raw: raw[:-20] + b"x" * 20),
        ("dump.sql.gz", lambda raw: None),
        ("manifest.json", lambda raw: b"{"),
        ("manifest.json", lambda raw: raw.replace(b"grimcoil-backup/1", b"grimcoil-backup/9")),
        ("manifest.json", lambda raw: raw.replace(b'"revision"', b'"extra"')),
    ],
)
def test_a_damaged_file_changes_nothing(filled, empty, tmp_path, member, change):
    back_up(filled, tmp_path / "one.tar", NOW)
    with pytest.raises(RecordRefusal):
        restore(empty, damaged(tmp_path / "one.tar", member, change))
    assert everything(empty) == {}


def test_no_file_and_no_archive_are_refused(empty, tmp_path):
    (tmp_path / "text").write_text("no archive")
    for name in ("text", "none"):
        with pytest.raises(RecordRefusal, match="backup"):
            restore(empty, tmp_path / name)


def test_the_commands_say_what_they_did_and_no_password(filled, empty, tmp_path, capsys, monkeypatch):
    monkeypatch.setenv("GRIMCOIL_DATABASE_URL", filled.url.render_as_string(hide_password=False))
    assert main(["backup", str(tmp_path / "two.tar")]) == 0
    monkeypatch.setenv("GRIMCOIL_DATABASE_URL", empty.url.render_as_string(hide_password=False))
    assert main(["restore", str(tmp_path / "two.tar")]) == 0
    assert main(["restore", str(tmp_path / "two.tar")]) == 2
    said = capsys.readouterr()
    assert "rows of" in said.out
    assert said.err.count("\n") == 1
    assert filled.url.password not in said.out + said.err
    monkeypatch.setenv("GRIMCOIL_DATABASE_URL", str(make_url("mysql+mysqldb://nobody@127.0.0.1:1/none")))
    assert main(["backup", str(tmp_path / "three.tar")]) == 2
    assert capsys.readouterr().err.count("\n") == 1


def test_what_others_write_meanwhile_does_not_tear_it(filled, empty, tmp_path, store):
    """A transaction that is open while the dump runs is either wholly in it or not at all."""
    with store() as session:
        session.add(Position(name="Half written", area="Yard"))
        session.flush()
        back_up(filled, tmp_path / "one.tar", NOW)
        session.rollback()
    restore(empty, tmp_path / "one.tar")
    with empty.connect() as connection:
        assert connection.scalar(select(func.count()).where(Position.name == "Half written")) == 0


def test_it_names_no_user_so_another_one_can_restore_it_and_what_only_grows_still_only_grows(filled, empty, tmp_path):
    back_up(filled, tmp_path / "one.tar", NOW)
    with tarfile.open(tmp_path / "one.tar") as tar:
        dump = gzip.decompress(tar.extractfile("dump.sql.gz").read())
    assert b"CREATE" in dump
    assert b"TRIGGER" in dump
    assert b"DEFINER" not in dump
    restore(empty, tmp_path / "one.tar")
    with pytest.raises(OperationalError, match="append-only"), empty.begin() as connection:
        connection.execute(text("DELETE FROM signature"))


def crafted(file, change, **told):
    """A backup whose dump was changed by somebody who knows how: the checksum fits."""
    out = file.with_name("crafted.tar")
    with tarfile.open(file) as tar:
        dump = gzip.decompress(tar.extractfile("dump.sql.gz").read())
        manifest = json.loads(tar.extractfile("manifest.json").read())
    packed = gzip.compress(change(dump))
    manifest |= {"sha256": hashlib.sha256(packed).hexdigest()} | told
    with tarfile.open(out, "w") as new:
        for name, content in (("manifest.json", json.dumps(manifest).encode()), ("dump.sql.gz", packed)):
            info = tarfile.TarInfo(name)
            info.size = len(content)
            new.addfile(info, io.BytesIO(content))
    return out


SITE = b"INSERT INTO `site`"


@pytest.mark.parametrize(
    "line",
    [
        b"\\! touch {trap}",
        b"system touch {trap}",
        b"source /etc/hostname",
        b"\\. /etc/hostname",
        b"tee {trap}",
        b"pager cat > {trap}",
        b"CREATE TABLE `x` (`a` int);DROP TABLE `job`;",
        b"DROP DATABASE mysql;",
        b"GRANT ALL ON *.* TO x@y;",
        b"INSERT INTO `user` VALUES (1);",
        b"INSERT INTO `site` VALUES (1,LOAD_FILE('/etc/passwd'),'UTC','x');",
        b"INSERT INTO `site` VALUES (1,'a','UTC','x'); \\! touch {trap}",
        b"INSERT INTO `site` SELECT * FROM `person`;",
        b"INSERT INTO `site` VALUES (1,'a",
        b"  \\! touch {trap}\nUPDATE job SET id = 1;",
    ],
)
def test_a_crafted_dump_runs_nothing_and_changes_nothing(filled, empty, tmp_path, line):
    trap = tmp_path / "trap"
    back_up(filled, tmp_path / "one.tar", NOW)
    bad = line.replace(b"{trap}", str(trap).encode())
    file = crafted(tmp_path / "one.tar", lambda dump: dump.replace(SITE, bad + b"\n" + SITE, 1))
    with pytest.raises(RecordRefusal, match="dump"):
        restore(empty, file)
    assert everything(empty) == {}
    assert not trap.exists()


def test_a_line_that_no_client_runs_is_skipped_and_never_run(filled, empty, tmp_path):
    back_up(filled, tmp_path / "one.tar", NOW)
    file = crafted(tmp_path / "one.tar", lambda dump: dump + b"/*!50003 CREATE TRIGGER x BEFORE INSERT ON job */;;\n")
    restore(empty, file)
    assert everything(empty) == everything(filled)


def test_a_newer_backup_is_refused_with_words(filled, empty, tmp_path):
    back_up(filled, tmp_path / "one.tar", NOW)
    file = crafted(tmp_path / "one.tar", lambda dump: dump, revision="9999")
    with pytest.raises(RecordRefusal, match="update first"):
        restore(empty, file)
    assert everything(empty) == {}


def test_a_dump_that_unpacks_without_end_is_refused(filled, empty, tmp_path):
    back_up(filled, tmp_path / "one.tar", NOW)
    file = crafted(tmp_path / "one.tar", lambda dump: b"-- \n" * 30_000_000)
    with pytest.raises(RecordRefusal, match="times at most"):
        restore(empty, file)
    assert everything(empty) == {}


def test_a_restore_that_breaks_half_way_leaves_the_database_empty(filled, empty, tmp_path):
    back_up(filled, tmp_path / "one.tar", NOW)
    twice = b"INSERT INTO `site` VALUES (1,'again','UTC','field-general');\n"
    file = crafted(tmp_path / "one.tar", lambda dump: dump + twice * 2)
    with pytest.raises(RecordRefusal, match="empty as before"):
        restore(empty, file)
    assert everything(empty) == {}
