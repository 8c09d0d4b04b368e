"""A works archive: out, into another database, out again the same; nothing half-done, nothing from elsewhere."""

import hashlib
import json
import stat
import zipfile
from pathlib import Path

import pytest
from sqlalchemy import func, select

from demo.scenario import seed
from demo.works import MOTORS
from grimcoil.cli.__main__ import main
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.people import Actor, Role
from grimcoil.service.archiving import archive_pieces
from grimcoil.service.backups import take_in
from grimcoil.service.verifying import verify
from grimcoil.store.all_tables import METADATA
from grimcoil.store.archive import MANIFEST, STAYING, STAYS, TABLES, pack, unpack
from grimcoil.store.backup import rows_by_table
from grimcoil.store.engine import make_engine, make_store
from grimcoil.store.people_tables import Person, PhotoRow, Signature
from grimcoil.store.tables import Job
from tests.conftest import fresh_database
from tests.support import NOW

TOLD = ("BW-121", "PP-122", "DD-207", "BW-114")


@pytest.fixture
def filled(store, engine):
    with store.begin() as session:
        seed(session, NOW, [made for made in MOTORS if made.tag in TOLD])
        job = session.scalars(select(Job.id).where(Job.signed_at.is_(None))).first()
        data = bytes(range(256)) * 4
        photo = {"width": 16, "height": 16, "sha256": hashlib.sha256(data).hexdigest(), "at": NOW, "who": "A. Tester"}
        session.add(PhotoRow(job_id=job, token="photo-one", data=data, **photo))
    return engine


@pytest.fixture
def empty():
    made = make_engine(fresh_database("grimcoil_taken_in"))
    yield made
    made.dispose()


def members(path):
    with zipfile.ZipFile(path) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def rewritten(path, change):
    """The same archive with its members changed."""
    held = change(members(path))
    target = path.with_name("changed.zip")
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as out:
        for name, raw in held.items():
            out.writestr(name, raw)
    return target


def test_every_table_of_the_store_is_packed_or_says_why_it_stays():
    assert set(TABLES) | set(STAYS) == set(METADATA.tables)
    assert not set(TABLES) & set(STAYS)
    assert all(STAYS.values())
    assert set(STAYING) <= set(TABLES)


def test_out_in_and_out_again_is_the_same(filled, empty, tmp_path):
    made = pack(filled, tmp_path / "one.zip", NOW)
    assert stat.S_IMODE(Path(tmp_path / "one.zip").stat().st_mode) == 0o600
    assert made.tables["job"] > 10
    assert any(name.startswith("files/photo/data/") for name in made.members)
    assert b"argon2" not in b"".join(members(tmp_path / "one.zip").values())
    assert unpack(empty, tmp_path / "one.zip") == made
    pack(empty, tmp_path / "two.zip", NOW)
    assert members(tmp_path / "two.zip") == members(tmp_path / "one.zip")
    assert (tmp_path / "two.zip").read_bytes() == (tmp_path / "one.zip").read_bytes()


def test_a_signed_record_is_whole_where_it_was_taken_in_and_nobody_signs_in_with_an_old_password(
    filled, empty, tmp_path
):
    pack(filled, tmp_path / "one.zip", NOW)
    unpack(empty, tmp_path / "one.zip")
    assert verify(make_store(empty)).breaks == ()
    with make_store(empty)() as session:
        assert {person.password_hash for person in session.scalars(select(Person))} == {""}
        assert all(len(photo.data) > 100 for photo in session.scalars(select(PhotoRow)))


def _drop(held, name):
    return {key: raw for key, raw in held.items() if key != name}


def _manifested(held, **changes):
    return held | {MANIFEST: json.dumps(json.loads(held[MANIFEST]) | changes).encode()}


CHANGES = {
    "a byte": lambda held: held | {"tables/motor.jsonl": held["tables/motor.jsonl"].replace(b"BW-121", b"BW-122")},
    "a member missing": lambda held: _drop(held, "tables/motor.jsonl"),
    "a member more": lambda held: held | {"../../etc/passwd": b"x"},
    "no manifest": lambda held: _drop(held, MANIFEST),
    "no list": lambda held: _manifested(held, members=[]),
    "another format": lambda held: _manifested(held, format="zip/1"),
    "a newer one": lambda held: _manifested(held, revision="9999"),
    "a strange table": lambda held: _manifested(held, tables={"mysql.user": 1}),
    "fewer rows": lambda held: _manifested(held, tables=json.loads(held[MANIFEST])["tables"] | {"motor": 1}),
    "a bomb": lambda held: held | {"tables/motor.jsonl": b"0" * 40_000_000},
}


@pytest.mark.parametrize("name", CHANGES)
def test_what_was_changed_is_refused_and_the_database_stays_empty(name, filled, empty, tmp_path):
    pack(filled, tmp_path / "one.zip", NOW)
    with pytest.raises(RecordRefusal):
        unpack(empty, rewritten(tmp_path / "one.zip", CHANGES[name]))
    assert rows_by_table(empty) == {}


def test_an_encrypted_archive_is_refused_in_a_line(filled, empty, tmp_path):
    target = tmp_path / "one.zip"
    pack(filled, target, NOW)
    raw = bytearray(target.read_bytes())
    raw[raw.index(b"PK\x01\x02") + 8] |= 1  # the first member's flag in the list of members
    target.write_bytes(raw)
    with pytest.raises(RecordRefusal, match="a whole archive"):
        unpack(empty, target)
    assert rows_by_table(empty) == {}


@pytest.mark.parametrize(
    ("line", "said"), [(b"{}", "database"), (b"[1]", "line 1"), (b'{"id": 1, "nobody": 2}', "line 1"), (b"{", "line 1")]
)
def test_a_row_that_is_none_ends_it_whole(line, said, filled, empty, tmp_path):
    """Also where its checksum was made to fit."""
    pack(filled, tmp_path / "one.zip", NOW)

    def change(held):
        packed = json.loads(held[MANIFEST])
        packed["members"]["tables/motor.jsonl"] = hashlib.sha256(line + b"\n").hexdigest()
        return held | {"tables/motor.jsonl": line + b"\n", MANIFEST: json.dumps(packed).encode()}

    with pytest.raises(RecordRefusal) as refused:
        unpack(empty, rewritten(tmp_path / "one.zip", change))
    assert said in refused.value.where
    assert rows_by_table(empty) == {}


def test_neither_a_file_nor_a_works_is_written_over(filled, tmp_path):
    target = tmp_path / "one.zip"
    pack(filled, target, NOW)
    before = rows_by_table(filled)
    for refused in (lambda: pack(filled, target, NOW), lambda: unpack(filled, target)):
        with pytest.raises(RecordRefusal):
            refused()
    assert rows_by_table(filled) == before
    assert list(tmp_path.iterdir()) == [target]


def test_from_the_command_line(filled, empty, tmp_path, monkeypatch, capsys):
    target = str(tmp_path / "works.zip")
    monkeypatch.setenv("GRIMCOIL_DATABASE_URL", filled.url.render_as_string(hide_password=False))
    assert main(["archive", target]) == 0
    monkeypatch.setenv("GRIMCOIL_DATABASE_URL", empty.url.render_as_string(hide_password=False))
    assert main(["take-in", target]) == 0
    assert main(["take-in", target]) == 2
    out = capsys.readouterr()
    assert "motor: 4 rows" in out.err
    assert "an empty database" in out.err


def test_what_is_sent_from_a_page_is_what_the_command_packs(filled, empty, tmp_path):
    keeper = Actor(None, "K. Eeper", Role.ADMINISTRATOR)
    target = tmp_path / "sent.zip"
    target.write_bytes(b"".join(archive_pieces(make_store(filled), filled, keeper, NOW)))
    pack(filled, tmp_path / "packed.zip", NOW)
    assert members(target) == members(tmp_path / "packed.zip")
    unpack(empty, target)
    assert rows_by_table(empty)["motor"] == rows_by_table(filled)["motor"]


def test_one_that_nobody_waits_for_ends_and_one_that_breaks_off_is_no_archive(filled, empty, tmp_path, monkeypatch):
    keeper = Actor(None, "K. Eeper", Role.ADMINISTRATOR)
    pieces = archive_pieces(make_store(filled), filled, keeper, NOW)
    monkeypatch.setattr("grimcoil.service.archiving.PIECE", 10)
    assert len(next(pieces)) == 10
    pieces.close()

    def fails(*_):
        raise RuntimeError("the database went away")

    monkeypatch.setattr("grimcoil.store.archive._pack_table", fails)
    broken = tmp_path / "broken.zip"
    broken.write_bytes(b"".join(archive_pieces(make_store(filled), filled, keeper, NOW)))
    with pytest.raises(RecordRefusal):
        unpack(empty, broken)


def _patched(table, change):
    """The archive with rows of a table changed, its sums made to fit."""

    def done(held):
        name = f"tables/{table}.jsonl"
        rows = [json.loads(line) for line in held[name].splitlines()]
        change(rows)
        raw = b"".join(json.dumps(row).encode() + b"\n" for row in rows)
        packed = json.loads(held[MANIFEST])
        packed["members"][name], packed["tables"][table] = hashlib.sha256(raw).hexdigest(), len(rows)
        return held | {name: raw, MANIFEST: json.dumps(packed).encode()}

    return done


def _lacking(table):
    def done(held):
        packed = json.loads(held[MANIFEST])
        del packed["tables"][table], packed["members"][f"tables/{table}.jsonl"]
        return _drop(held, f"tables/{table}.jsonl") | {MANIFEST: json.dumps(packed).encode()}

    return done


def _counted_alone(held):
    return _manifested(
        _drop(held, "tables/stay.jsonl"), members=_drop(json.loads(held[MANIFEST])["members"], "tables/stay.jsonl")
    )


HURT = {
    "a text for a number": _patched("motor", lambda rows: rows[0].update(id="one")),
    "a list for a text": _patched("motor", lambda rows: rows[0].update(tag=["BW", 1])),
    "a number for a day": _patched("stay", lambda rows: rows[0].update(since=20260101)),
    "a day that is none": _patched("stay", lambda rows: rows[0].update(since="yesterday")),
    "a decimal that is none": _patched("motor", lambda rows: rows[0].update(rated_voltage_v="four hundred")),
    "a decimal without end": _patched("motor", lambda rows: rows[0].update(rated_voltage_v="Infinity")),
    "a table missing": _lacking("stay"),
    "a table counted and not packed": _counted_alone,
    "a row that points to nothing": _patched("stay", lambda rows: rows[0].update(motor_id=987654)),
    "a signed job changed": _patched("job", lambda rows: _signed(rows).update(decided_action="replace")),
    "an entry that is nonsense": _patched("entry", lambda rows: [row.update(place="moon.walk") for row in rows]),
    "a link out of the chain": _patched("signature", lambda rows: rows.pop(0)),
}


def _signed(rows):
    return next(row for row in rows if row["signed_at"])


@pytest.mark.parametrize("name", HURT)
def test_an_archive_whose_sums_are_right_and_content_is_not_is_refused_whole(name, filled, empty, tmp_path):
    pack(filled, tmp_path / "one.zip", NOW)
    with pytest.raises(RecordRefusal):
        take_in(empty, rewritten(tmp_path / "one.zip", HURT[name]))
    assert rows_by_table(empty) == {}


def test_a_whole_archive_is_taken_in_and_looked_at(filled, empty, tmp_path):
    pack(filled, tmp_path / "one.zip", NOW)
    take_in(empty, tmp_path / "one.zip")
    assert rows_by_table(empty)["motor"] == rows_by_table(filled)["motor"]


def test_an_archive_of_an_earlier_version_gets_what_it_had_not_yet(filled, empty, tmp_path):
    pack(filled, tmp_path / "one.zip", NOW)
    no_chain = _patched("signature", lambda rows: rows.clear())
    no_reasons = _patched("round_entry", lambda rows: [row.pop("taken_back_why") for row in rows])
    no_lanes = _patched("trail", lambda rows: [row.pop(name) for row in rows for name in ("lane", "n", "digest")])

    gone = [f"withdrawn_{what}" for what in ("tag", "at", "by", "why")]
    gone += ["frame_size", "bearings", "efficiency_percent", "power_factor"]
    no_gone = _patched("motor", lambda rows: [row.pop(name) for row in rows for name in gone])
    retired = [f"retired_{what}" for what in ("on", "by", "why")]
    no_retired = _patched("position", lambda rows: [row.pop(name) for row in rows for name in retired])

    no_open = _patched("drying", lambda rows: [row.pop("open_of") for row in rows])
    no_own = _patched("winding", lambda rows: [row.pop("own") for row in rows])
    ranges = ("corrects_to_40c", "shows", "beep_below_ohm")
    no_shown = _patched("instrument_range", lambda rows: [row.pop(name) for row in rows for name in ranges])

    def older(held):
        earlier = no_shown(no_own(no_open(no_gone(no_retired(no_lanes(no_reasons(no_chain(held))))))))
        return _manifested(_lacking("follow_up_task")(_lacking("trail_head")(earlier)), revision="0033")

    take_in(empty, rewritten(tmp_path / "one.zip", older))
    with make_store(empty)() as session:
        assert session.scalar(select(func.count()).select_from(Signature))
