"""Lists of many motors: every page once, filters that combine, words misspelt, and what is read stays the same."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st
from sqlalchemy import select, text

from demo.big import Size, fill
from grimcoil.store import searching
from grimcoil.store.engine import make_store
from grimcoil.store.list_tables import FILTERS, SORTS, Listing
from grimcoil.store.motors import register
from grimcoil.store.searching import Wanted, foremost, page, search, tallies
from grimcoil.store.tables import Motor
from tests.conftest import empty

DAY = date(2026, 11, 24)


@pytest.fixture(scope="module")
def works(engine):
    """800 motors; emptied by the fixture that every other test has."""
    store = make_store(engine)
    with store.begin() as session:
        fill(session, Size(800, 2, 0))
    yield store
    empty(engine)


def every_page(session, wanted):
    """All motors of a list, page after page."""
    counted, out, after = tallies(session), [], ""
    while True:
        found = page(session, Wanted(wanted.sort, wanted.filters, wanted.overdue_on, after, wanted.most), counted)
        out += found.motor_ids
        if found.after is None:
            return out
        assert found.after > after
        after = found.after


def listed(session):
    return {row.motor_id: row for row in session.scalars(select(Listing))}


@pytest.mark.parametrize("sort", SORTS)
def test_pages_hold_every_motor_once_in_order(works, sort):
    with works() as session:
        rows = listed(session)
        assert every_page(session, Wanted(sort)) == sorted(rows, key=lambda n: getattr(rows[n], sort).encode())


@given(st.data())
def test_filters_combine(works, data):
    with works() as session:
        rows = listed(session)
        values = {name: sorted({getattr(row, name) for row in rows.values()}) for name in FILTERS}
        names = data.draw(st.sets(st.sampled_from(FILTERS), max_size=3))
        filters = {name: data.draw(st.sampled_from(values[name])) for name in names}
        overdue = data.draw(st.sampled_from([None, DAY]))
        sort = data.draw(st.sampled_from(SORTS))
        found = every_page(session, Wanted(sort, filters, overdue, most=20))
        assert sorted(found) == sorted(
            number
            for number, row in rows.items()
            if all(getattr(row, name) == value for name, value in filters.items())
            and (overdue is None or (row.due is not None and row.due < overdue))
        )
        assert found == sorted(found, key=lambda n: getattr(rows[n], sort).encode())


def test_tallies_count_what_stands_there(works):
    with works() as session:
        rows = listed(session)
        for name, counted in tallies(session).items():
            values = [getattr(row, name) for row in rows.values()]
            assert counted == {value: values.count(value) for value in values}


@pytest.mark.parametrize(
    ("asked", "tag"),
    [("bw 10020", "BW-10020"), ("BW10021", "BW-10021"), ("  bw-10020 ", "BW-10020"), ("s700060", "BW-10020")],
)
def test_a_tag_or_serial_comes_alone_however_it_is_written(works, asked, tag):
    with works() as session:
        found = search(session, asked, Wanted())
        first = session.get(Motor, found.motor_ids[0])
        assert first.tag == tag
        if asked[0] != "s":
            assert len(found.motor_ids) == 1


@pytest.mark.parametrize("typed", ["conveyer 1000", "convyor 1000", "covneyor north 1000"])
def test_a_word_misspelt_is_found(works, typed):
    with works() as session:
        found = search(session, typed, Wanted())
        names = [row.place for row in register(session, found.motor_ids)]
        assert "conveyor north 1000" in names[:3]


def test_words_without_anything_near_find_nothing(works):
    with works() as session:
        assert search(session, "zzqx", Wanted()).motor_ids == ()
        assert search(session, "···", Wanted()).motor_ids == ()
        assert search(session, "conveyor zzqxv", Wanted()).motor_ids == ()


def test_more_than_a_page_says_narrow_it_and_filters_hold(works):
    with works() as session:
        found = search(session, "pump", Wanted())
        assert found.narrow
        assert len(found.motor_ids) == searching.PAGE
        inside = search(session, "pump", Wanted(filters={"area": "Yard", "verdict": "act"}))
        assert {(row.area, row.verdict) for row in register(session, inside.motor_ids)} <= {("Yard", "act")}


def test_a_motor_stands_once_among_the_foremost(works):
    with works() as session:
        act, due = foremost(session, DAY, 20)
        rows = {row.tag: row for row in register(session, act.motor_ids)}
        assert {row.verdict for row in rows.values()} == {"act"}
        assert act.narrow == (tallies(session)["verdict"]["act"] > 20)
        later = register(session, due.motor_ids)
        assert [row.next_on for row in later] == sorted(row.next_on for row in later)
        assert not rows.keys() & {row.tag for row in later}
        assert all(row.next_on <= DAY and row.verdict != "act" for row in later)


def _read(session, what):
    """Rows the server looked at for something."""
    counted = text("SHOW SESSION STATUS LIKE 'Handler_read%'")
    before = dict(session.execute(counted).all())
    what(session)
    return sum(int(n) - int(before[name]) for name, n in session.execute(counted))


WAYS = {
    "first page": lambda s: page(s, Wanted(), tallies(s)),
    "far page": lambda s: page(s, Wanted("by_due", after="2027-01"), tallies(s)),
    "filtered": lambda s: page(s, Wanted("by_worst", {"verdict": "act"}), tallies(s)),
    "combined": lambda s: page(s, Wanted("by_insulation", {"verdict": "act", "area": "Yard"}), tallies(s)),
    "overdue": lambda s: page(s, Wanted("by_worst", overdue_on=DAY), tallies(s)),
    "search": lambda s: search(s, "conveyer 1000", Wanted()),
    "common word": lambda s: search(s, "pump", Wanted()),
    "foremost": lambda s: foremost(s, DAY, 20),
}


@pytest.mark.parametrize("way", WAYS)
def test_what_is_read_is_bounded(works, way):
    with works() as session:
        assert _read(session, WAYS[way]) <= 4 * searching.MOST_READ
