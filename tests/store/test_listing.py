"""What a session changes of motors stands in the lists when it commits, as if the lists were made anew."""

from datetime import date

from sqlalchemy import select

from demo.big import Size, fill
from grimcoil.store.list_tables import Listing, ListingTally, SearchKey, SearchTally
from grimcoil.store.listing import Facts, relist, row_of
from grimcoil.store.searching import Wanted, search, tallies
from grimcoil.store.tables import Motor, Position


def listed(session):
    return {row.motor_id: row for row in session.scalars(select(Listing))}


def test_changes_through_the_mapper_stand_in_the_lists_at_once(store):
    with store.begin() as session:
        fill(session, Size(30, 0, 0))
    with store.begin() as session:
        place = session.scalars(select(Position).limit(1)).one()
        place.area, place.name = "New hall", "Zentrifuge"
        motor = session.scalars(select(Motor).where(Motor.position_id == place.id)).one()
        other = session.scalars(select(Motor).where(Motor.id != motor.id).limit(1)).one()
        other.position_id = None
    with store() as session:
        assert [n for n, row in listed(session).items() if row.area == "New hall"] == [motor.id]
        assert search(session, "zentrifuge", Wanted()).motor_ids[0] == motor.id
        assert tallies(session)["area"]["New hall"] == 1
        assert listed(session)[other.id].area == ""
        before = _everything(session)
    with store.begin() as session:
        for table in (Listing, ListingTally, SearchKey, SearchTally):
            session.execute(table.__table__.delete())
        relist(session)
    with store() as session:
        assert _everything(session) == before


def _everything(session):
    kept = {}
    for table in (Listing, ListingTally, SearchKey, SearchTally):
        rows = (tuple(map(str, row)) for row in session.execute(select(*table.__table__.c)))
        kept[table.__tablename__] = sorted(row for row in rows if "n" not in table.__table__.c or row[-1] != "0")
    return kept


def test_what_asks_for_action_now_stands_before_what_asks_for_it_soon():
    made = Facts(
        1, "M-1", "", None, None, "", None, None, None, "act", date(2026, 5, 1), 2.0, None, None, None, 1, 2.0, None
    )
    now, soon, on_watch = (
        row_of(made._replace(**changed), {})
        for changed in ({"due": date(2026, 9, 1)}, {"soon": True}, {"verdict": "watch"})
    )
    for key in ("by_worst", "by_matter"):
        assert now[key] < soon[key] < on_watch[key]
    assert row_of(made._replace(soon=False), {})["by_worst"] < now["by_worst"]  # the earlier day first
