"""A sheet on the record and off again: one transaction, filed, linked to its file, taken once."""

import json
from datetime import date

import pytest
from sqlalchemy import select, text

from grimcoil.core.errors import Forbidden, Unknown
from grimcoil.core.people import Role
from grimcoil.exchange.sheets.grid import read_book
from grimcoil.exchange.sheets.mapping import read_map
from grimcoil.exchange.sheets.understand import understand
from grimcoil.service.closing import decide, sign
from grimcoil.service.importing import Source, register_of, take_in
from grimcoil.service.motors import motor_view
from grimcoil.service.sheets import sheet
from grimcoil.service.signatures import add_link
from grimcoil.service.today import today
from grimcoil.service.undoing import undo
from grimcoil.service.verifying import verify
from grimcoil.store.list_tables import Listing
from grimcoil.store.people_tables import Signature
from grimcoil.store.sheet_tables import SheetReading
from grimcoil.store.tables import Job, Motor
from tests.support import SECRET, WHOLE_JOB, add_person, walk

SHEET = b"""Motor,Date,IR,1-2,2-3,3-1,Temp,Note
BW-1,2024-03-14,520,0.84,0.85,0.84,22,dry
bw 1,2025-03-14,>550,0.85,0.85,0.84,,
PP-9,2025-03-15,480,0.41,0.41,0.42,20,wet
PP-9,31.2.25,470,0.41,0.41,0.42,20,
"""
MAP = {
    "format": "grimcoil-map/1",
    "columns": {
        "Motor": {"as": "tag"},
        "Date": {"as": "date"},
        "IR": {"as": "insulation", "from": "1-2-3", "to": "frame"},
        **{pair: {"as": "winding_resistance", "pair": pair} for pair in ("1-2", "2-3", "3-1")},
        "Temp": {"as": "winding_temperature_c"},
        "Note": {"as": "note"},
    },
}
SOURCE = Source("yard.csv", SHEET)


def read(store, raw=SHEET):
    return understand(read_book(raw, "yard.csv"), read_map(json.dumps(MAP)), date(2026, 11, 24), register_of(store))


def test_it_goes_in_once_and_again_as_a_whole(store, electrician, clock, motor):
    done = read(store)
    number = take_in(store, electrician, SOURCE, done, clock())
    with store() as session:
        jobs = session.scalars(select(Job).order_by(Job.tested_on)).all()
        assert [(job.state, str(job.tested_on), job.signed_by) for job in jobs] == [
            *[("signed", day, "filed, not signed") for day in ("2024-03-14", "2025-03-14", "2025-03-15")]
        ]  # fmt: skip
        record = json.loads(jobs[0].record)
        assert record["tests"][0]["readings"] == {"1-2": "0.84", "2-3": "0.85", "3-1": "0.84"}
        assert record["as_found"] == {"note": "dry"}
        link = session.scalars(select(Signature).where(Signature.kind == "import")).one()
        told = json.loads(link.document)
        assert (told["source"], told["signed"]["with"]) == ({"file": "yard.csv", "sha256": SOURCE.sha256}, "filed")
        assert (told["import"]["readings"], told["import"]["tests"]) == (len(done.taken), 3)
        stood = select(SheetReading.row, SheetReading.cell).where(SheetReading.on_day == date(2025, 3, 15))
        assert session.execute(stood).first() == (4, "C4")
        page = sheet(store, jobs[2].id, clock())
        assert (page.origin.file_name, page.origin.sha256, page.origin.rows) == ("yard.csv", SOURCE.sha256, [4])
        assert page.as_filed[0] == ("insulation 1-2-3 to frame, 60 s", "480", "C4")
        assert page.as_filed[-1] == ("note", "wet", "H4")
        assert page.plate == "three leads, random-wound"
        assert page.bench.begun_on == date(2025, 3, 15)
        new = session.scalars(select(Motor).where(Motor.tag == "PP-9")).one()
        assert (new.rated_voltage_v, new.power_text) == (None, "")
    assert verify(store).breaks == ()
    again = read(store)
    assert (len(again.taken), {one["same_as"] for one in again.duplicates}) == (0, {"stored"})
    assert take_in(store, electrician, SOURCE, again, clock()) == 0
    assert undo(store, electrician, number, clock()).tests == 3
    assert undo(store, electrician, number, clock()).tests == 0
    assert motor_view(store, "BW-1").jobs == []
    assert motor_view(store, "BW-1").state is None
    assert verify(store).breaks == ()
    assert len(read(store).taken) == len(done.taken)


def test_another_value_than_the_stored_one_is_asked(store, electrician, clock, motor):
    take_in(store, electrician, SOURCE, read(store), clock())
    other = read(store, SHEET.replace(b"520", b"410"))
    assert [(one["cell"], one["found"]) for one in other.asked] == [("C2", "410")]


def test_a_failure_half_way_stores_nothing(store, electrician, clock, motor, monkeypatch):
    done = read(store)
    monkeypatch.setattr("grimcoil.service.importing.link_import", lambda *_, **__: 1 / 0)
    with pytest.raises(ZeroDivisionError):
        take_in(store, electrician, SOURCE, done, clock())
    with store() as session:
        assert session.scalars(select(Job)).all() == []
        assert session.scalars(select(Motor.tag)).all() == ["BW-1"]


def test_who_may_and_what_can_be_undone(store, electrician, clock, motor):
    reader = add_person(store, Role.READER, "R. Reader")
    with pytest.raises(Forbidden):
        take_in(store, reader, SOURCE, read(store), clock())
    with pytest.raises(Unknown):
        undo(store, electrician, 77, clock())


FALLING = [b"Motor,Date,IR,1-2,2-3,3-1,Temp,Note\n"] + [
    b"BW-1,%d-03-14,%d,0.84,0.85,0.84,22,\n" % (year, 900 // 3**i) for i, year in enumerate(range(2018, 2026))
]


@pytest.mark.parametrize("days", [[1, 2, 3, 4, 5, 6, 7, 8], [8, 3, 1, 6, 2, 7, 4, 5]])
def test_a_whole_sheet_leaves_the_register_as_its_days_one_by_one_do(store, electrician, clock, motor, days):
    def state():
        found = motor_view(store, "BW-1").state
        return {name: getattr(found, name) for name in found.__slots__ if name != "last_job_id"}

    number = take_in(store, electrician, SOURCE, read(store, b"".join(FALLING)), clock())
    whole = state()
    assert whole["trend"]["n"] > 5
    undo(store, electrician, number, clock())
    for day in days:
        take_in(store, electrician, SOURCE, read(store, FALLING[0] + FALLING[day]), clock())
    assert state() == whole


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ("UPDATE sheet_reading SET low = 9, high = 9 WHERE cell = 'C2'", "import 1: its values were changed"),
        ("UPDATE sheet_reading SET row = 9 WHERE cell = 'C2'", "import 1: its values were changed"),
        ("DELETE FROM sheet_reading WHERE cell = 'C2'", "import 1: its values were changed"),
        ("UPDATE job SET verdict = 'sound' WHERE tested_on = '2024-03-14'", "it was changed after it was filed"),
        ("UPDATE job SET r40_low_mohm = 1 WHERE tested_on = '2024-03-14'", "it was changed after it was filed"),
        ("UPDATE job SET record = REPLACE(record, '0.84', '0.48')", "it was changed after it was filed"),
        ("UPDATE job SET state = 'withdrawn' WHERE tested_on = '2024-03-14'", "state was changed"),
        ("UPDATE job SET filed_hash = REPEAT('a', 64) WHERE tested_on = '2024-03-14'", "a test was put in, taken out"),
        ("UPDATE job SET import_id = NULL WHERE tested_on = '2024-03-14'", "signed, but no link stands for it"),
        ("UPDATE motor SET tag = 'BW-2' WHERE tag = 'BW-1'", "it was changed after it was filed"),
        ("UPDATE sheet_import SET file_name = 'other.csv'", "import 1: its file, person or time was changed"),
        ("UPDATE sheet_import SET sha256 = REPEAT('a', 64)", "import 1: its file, person or time was changed"),
        ("UPDATE sheet_import SET who = 'S. Schwaden'", "import 1: its file, person or time was changed"),
        ("UPDATE sheet_import SET at = at - INTERVAL 1 DAY", "import 1: its file, person or time was changed"),
        ("UPDATE sheet_import SET undone_at = at, undone_by = who", "import 1: whether it is withdrawn"),
    ],
)
def test_whatever_of_an_import_is_changed_is_said(store, electrician, clock, motor, change, said):
    number = take_in(store, electrician, SOURCE, read(store), clock())
    assert verify(store).breaks == ()
    with store.begin() as session:
        assert session.execute(text(change)).rowcount
    assert said.replace("import 1", f"import {number}") in "; ".join(verify(store).breaks)


def test_what_was_undone_stays_and_cannot_stand_again_unseen(store, electrician, clock, motor):
    done = read(store)
    number = take_in(store, electrician, SOURCE, done, clock())
    links = verify(store).links
    undo(store, electrician, number, clock())
    assert verify(store).links == links + 2  # the import, and the motor that it made
    with store.begin() as session:
        assert session.execute(text("SELECT COUNT(*) FROM sheet_reading")).scalar() == len(done.taken)
        session.execute(text("UPDATE job SET state = 'signed' WHERE tested_on = '2024-03-14'"))
    broken, shown = verify(store).breaks
    assert "state was changed" in "; ".join((broken, shown))
    assert "nothing of them is shown" in "; ".join((broken, shown))
    with store.begin() as session:
        session.execute(text("UPDATE job SET state = 'withdrawn' WHERE tested_on = '2024-03-14'"))
        session.execute(text("UPDATE sheet_import SET undone_at = NULL, undone_by = NULL"))
    (broken,) = verify(store).breaks
    assert "whether it is withdrawn" in broken


def test_an_import_from_before_imports_had_links_is_still_held_and_undone(
    store, electrician, clock, motor, monkeypatch
):  # fmt: skip
    for name in ("link_import", "hash_tests", "keep_readings"):
        monkeypatch.setattr(f"grimcoil.service.importing.{name}", lambda *_: None)
    number = take_in(store, electrician, SOURCE, read(store), clock())
    with store.begin() as session:  # as it was: a link for each of its tests, none for the file
        for job in session.scalars(select(Job.id)).all():
            add_link(session, job, electrician, "filed", clock())
    kept = verify(store)
    assert kept.breaks == ()
    assert undo(store, electrician, number, clock()).tests == 3
    after = verify(store)
    assert (after.links, after.breaks) == (kept.links + 3, ())


def test_values_are_kept_as_they_were_understood(store, electrician, clock, motor):
    done = read(
        store, SHEET + "BW-1,2023-03-14,OL,\u00b5,0.85 \u03a9,84e-2,22,\"a 'quoted' \\\\ \u03a9 note\"\n".encode()
    )
    take_in(store, electrician, SOURCE, done, clock())
    with store() as session:
        kept = session.execute(select(SheetReading).order_by(SheetReading.number)).scalars().all()
        assert [one.text for one in kept] == [one.text for one in done.taken]
        assert [(one.low, one.high) for one in kept] == [
            (None, None) if one.read is None else (
                one.read.amount.low, None if one.read.amount.high == float("inf") else one.read.amount.high
            ) for one in done.taken
        ]  # fmt: skip


def test_a_motor_without_its_imported_tests_is_listed_as_it_stands(store, electrician, clock, motor):
    def listed():
        with store() as session:
            rows = session.scalars(select(Listing).order_by(Listing.motor_id)).all()
            return [(one.standing, one.due, one.r40_before_mohm, one.verdict) for one in rows]

    before = listed()
    first = take_in(store, electrician, SOURCE, read(store, b"".join(FALLING[:3])), clock())
    tested = listed()
    second = take_in(store, electrician, SOURCE, read(store, b"".join(FALLING)), clock())
    assert before != tested != listed()
    undo(store, electrician, second, clock())
    assert listed() == tested
    undo(store, electrician, first, clock())
    assert listed() == before
    assert today(store, date(2026, 11, 24)).due == []


def test_a_note_and_a_tab_that_are_too_long_are_cut_and_not_lost(store, electrician, clock, motor):
    done = read(store, SHEET.replace(b",dry", b"," + b"d" * 400))
    for one in done.taken:
        object.__setattr__(one.place, "sheet", "tab" * 60)
    take_in(store, electrician, SOURCE, done, clock())
    with store() as session:
        kept = session.scalars(select(SheetReading).order_by(SheetReading.number)).all()
        assert {one.sheet for one in kept} == {("tab" * 60)[:100]}
        assert max(len(one.text) for one in kept) == 300
    assert verify(store).breaks == ()


OTHER = b"""Motor,Date,IR,1-2,2-3,3-1
BW-1,2024-03-14,300,0.84,0.85,0.84
"""


def answered(store, raw, **answers):
    given = read_map(json.dumps({**MAP, "columns": _but("Temp", "Note"), "answers": answers}))
    return understand(read_book(raw, "later.csv"), given, date(2026, 11, 24), register_of(store))


def _but(*names):
    return {name: one for name, one in MAP["columns"].items() if name not in names}


def r40(store):
    with store() as session:
        query = select(Job.r40_low_mohm).where(Job.tested_on == date(2024, 3, 14)).order_by(Job.id)
        return [value and round(value) for value in session.scalars(query)]


def test_another_value_than_the_stored_one_is_asked_and_the_answer_holds(store, electrician, clock, motor):
    take_in(store, electrician, SOURCE, read(store), clock())
    later = Source("later.csv", OTHER)
    (asked,) = answered(store, OTHER).asked
    assert (asked["cell"], asked["choices"]) == ("C2", ["stored", "file", "both"])
    before = r40(store)
    kept = answered(store, OTHER, C2="stored")
    assert (kept.asked, kept.taken, len(kept.duplicates)) == ([], [], 4)
    done = answered(store, OTHER, C2="file")
    assert [(one.place.cell, one.text) for one in done.taken] == [("C2", "300")]
    take_in(store, electrician, later, done, clock())
    (after,) = r40(store)
    assert after == pytest.approx(before[0] * 300 / 520, rel=0.01)
    assert answered(store, OTHER).asked == []
    assert verify(store).breaks == ()
    with store() as session:
        links = session.scalars(select(Signature).where(Signature.kind == "amendment")).all()
    assert [(link.reason, link.changed) for link in links] == [("another value in later.csv", "520 MΩ to 300")]


def test_both_stand_beside_one_another_and_are_known_again(store, electrician, clock, motor):
    take_in(store, electrician, SOURCE, read(store), clock())
    number = take_in(store, electrician, Source("later.csv", OTHER), answered(store, OTHER, C2="both"), clock())
    assert len(r40(store)) == 2
    assert answered(store, OTHER).taken == []
    assert read(store).taken == []
    undo(store, electrician, number, clock())
    assert verify(store).breaks == ()


def test_what_a_person_signed_gives_way_to_no_sheet(store, electrician, clock, job, put):
    walk(put, clock, WHOLE_JOB)
    decide(store, job, "return", "", electrician, clock())
    sign(store, job, electrician, SECRET, clock())
    day = clock().date().isoformat()
    raw = f"Motor,Date,IR,1-2,2-3,3-1\nBW-1,{day},300,0.5344,,\n".encode()
    done = answered(store, raw)
    (asked,) = done.asked
    assert asked["choices"] == ["stored", "both"]
    assert [one["same_as"] for one in done.duplicates] == ["stored"]
    assert answered(store, raw, C2="file").asked == [asked]
