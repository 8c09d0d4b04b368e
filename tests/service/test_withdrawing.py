"""A motor registered by mistake goes off every list, its tag is free again; an import's undo takes its motors along."""

import json
from datetime import date

import pytest
from sqlalchemy import select

from grimcoil.core.errors import AlreadyKept, Forbidden, FormRefused, Unknown
from grimcoil.core.people import Role
from grimcoil.exchange.sheets.grid import read_book
from grimcoil.exchange.sheets.mapping import read_map
from grimcoil.exchange.sheets.understand import understand
from grimcoil.service.importing import Source, register_of, take_in
from grimcoil.service.lives import happened
from grimcoil.service.motors import check_registration, motor_view, register_motor
from grimcoil.service.undoing import undo
from grimcoil.service.verifying import verify
from grimcoil.service.withdrawing import withdraw
from grimcoil.store.list_tables import Listing, ListingTally, SearchKey, SearchTally
from grimcoil.store.listing import relist
from grimcoil.store.round_tables import RoundTally
from grimcoil.store.tables import Motor
from tests.support import add_person
from tests.walker import PLATE

RAW = b"""Motor,Date,1-2,2-3,3-1
BW-1,2024-03-14,0.84,0.85,0.84
PP-8,2025-03-15,0.41,0.41,0.42
PP-9,2025-03-15,0.41,0.41,0.42
"""
COLUMNS = {
    "Motor": {"as": "tag"},
    "Date": {"as": "date"},
    **{pair: {"as": "winding_resistance", "pair": pair} for pair in ("1-2", "2-3", "3-1")},
}


@pytest.fixture
def other(store, electrician, clock, motor):
    register_motor(
        store, electrician, check_registration(PLATE | {"tag": "OT-1", "lead_scheme": "three-lead"}, clock())
    )
    return "OT-1"


def counted(store):
    """Lists as they are kept, with what they count."""
    with store() as session:
        tallies = {
            table.__name__: sorted(tuple(row) for row in session.execute(select(table.__table__)) if row.n)
            for table in (ListingTally, SearchTally, RoundTally)
        }
        return tallies | {
            table.__name__: sorted(tuple(row)[:2] for row in session.execute(select(table.__table__)))
            for table in (SearchKey, Listing)
        }


def test_it_is_off_every_list_and_its_tag_is_free(store, electrician, clock, motor):
    before = counted(store)
    given = PLATE | {"tag": "OT-1", "lead_scheme": "three-lead"}
    register_motor(store, electrician, check_registration(given, clock()))
    withdraw(store, electrician, "OT-1", "typed twice", clock())
    after = counted(store)
    assert {name: rows for name, rows in after.items() if name != "ListingTally"} == {
        name: rows for name, rows in before.items() if name != "ListingTally"
    }
    assert [row for row in after["ListingTally"] if row not in before["ListingTally"]] == []
    with pytest.raises(Unknown):
        motor_view(store, "OT-1")
    assert verify(store).breaks == ()
    with store.begin() as session:
        relist(session)
    assert counted(store) == after
    register_motor(store, electrician, check_registration(given, clock()))
    assert motor_view(store, "OT-1").motor.tag == "OT-1"
    assert verify(store).breaks == ()
    with store() as session:
        kept = session.scalars(select(Motor).where(Motor.withdrawn_at.is_not(None))).one()
        assert (kept.withdrawn_tag, kept.withdrawn_by, kept.withdrawn_why) == ("OT-1", "A. Tester", "typed twice")


def test_why_has_to_be_said_and_what_hangs_on_it_is_named(store, electrician, clock, other):
    with pytest.raises(FormRefused):
        withdraw(store, electrician, other, " no ", clock())
    with pytest.raises(Forbidden):
        withdraw(store, add_person(store, Role.READER, "R. Reader"), other, "typed twice", clock())
    planner = add_person(store, Role.PLANNER, "P. Planner")
    told = {"kind": "cleaned", "on": clock().date().isoformat(), "note": "dust"}
    happened(store, planner, other, told, "life-token-1", clock())
    with pytest.raises(AlreadyKept, match="its life: cleaned"):
        withdraw(store, electrician, other, "typed twice", clock())
    assert motor_view(store, other).motor.tag == other


def test_undoing_an_import_takes_along_the_motors_that_nothing_else_hangs_on(store, electrician, clock, motor):
    given = read_map(json.dumps({"format": "grimcoil-map/1", "columns": COLUMNS}))
    done = understand(read_book(RAW, "yard.csv"), given, date(2026, 11, 24), register_of(store))
    number = take_in(store, electrician, Source("yard.csv", RAW), done, clock())
    told = {"kind": "cleaned", "on": clock().date().isoformat(), "note": "dust"}
    happened(store, add_person(store, Role.PLANNER, "P. Planner"), "PP-9", told, "life-token-1", clock())
    gone = undo(store, electrician, number, clock())
    assert gone.document() == {"withdrawn": ["PP-8"], "stays": [{"tag": "PP-9", "why": "its life: cleaned"}]}
    assert undo(store, electrician, number, clock()).document() == {"withdrawn": [], "stays": []}
    assert motor_view(store, "PP-9").motor.tag == "PP-9"
    assert motor_view(store, motor).motor.tag == motor
    with pytest.raises(Unknown):
        motor_view(store, "PP-8")
    assert verify(store).breaks == ()
    again = understand(read_book(RAW, "yard.csv"), given, date(2026, 11, 24), register_of(store))
    assert (len(again.taken), again.new_motors) == (9, ["PP-8"])
    take_in(store, electrician, Source("yard.csv", RAW), again, clock())
    assert verify(store).breaks == ()
