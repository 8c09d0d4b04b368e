"""A motor moved, swapped, rewound, dried and put right again: once each, in the chain, nothing half done."""

from datetime import date
from threading import Barrier, Thread

import pytest
from sqlalchemy import select
from sqlalchemy.exc import IntegrityError

from grimcoil.core.errors import AlreadyKept, Forbidden, FormRefused, Unknown
from grimcoil.core.people import Role
from grimcoil.service import lives
from grimcoil.service.amendments import Amendment, amend
from grimcoil.service.closing import decide, sign
from grimcoil.service.earlier import keep_earlier
from grimcoil.service.jobs import Start, start_job
from grimcoil.service.lives import happened, life, move, position, take_back
from grimcoil.service.motor_states import OF_WINDING
from grimcoil.service.motors import check_registration, motor_view, register_motor
from grimcoil.service.verifying import verify
from grimcoil.store.list_tables import Listing
from grimcoil.store.tables import Job, MotorState, Position, Stay, WindingRow
from tests.service.conftest import PLATE
from tests.support import NOW, SECRET, WHOLE_JOB, add_person, walk


@pytest.fixture
def other(store, electrician, motor):
    texts = PLATE | {"tag": "BW-2", "position": "Beet crusher", "built_year": "2015"}
    return register_motor(store, electrician, check_registration(texts, NOW))


def _move(store, actor, clock, tag, to, on="2026-11-20", token="move-0001", **more):
    return move(store, actor, tag, {"to": to, "on": on, **more}, token, clock())


def _stays(store, tag):
    return [(stay.place, str(stay.since), str(stay.until or "now")) for stay in life(store, tag).stays]


def test_a_swap_moves_both_and_is_taken_back_whole(store, electrician, clock, motor, other):
    with pytest.raises(FormRefused, match="BW-1 stands there"):
        _move(store, electrician, clock, "BW-2", "Beet wash")
    assert _move(store, electrician, clock, "BW-2", "Beet wash", swap="yes", note="bearing howls")
    assert not _move(store, electrician, clock, "BW-2", "Beet wash", swap="yes")  # a double tap
    assert [row[0] for row in _stays(store, "BW-2")] == ["Beet wash", "Beet crusher"]
    assert _stays(store, "BW-1")[0] == (None, "2026-11-20", "now")
    assert life(store, "BW-1").place == "the store"
    assert position(store, _id(store, "Beet wash"), clock().date()).now == ["BW-2"]
    assert verify(store).breaks == ()
    event = life(store, "BW-2").events[0]
    assert (event.kind, event.note) == ("moved", "to Beet wash, BW-1 to the store; bearing howls")
    take_back(store, electrician, "BW-2", event.id, clock())
    take_back(store, electrician, "BW-2", event.id, clock())
    assert [row[0] for row in _stays(store, "BW-2")] == ["Beet crusher"]
    assert [row[::2] for row in _stays(store, "BW-1")] == [("Beet wash", "now")]
    assert all(e.taken_back_by for tag in ("BW-1", "BW-2") for e in life(store, tag).events if e.kind == "moved")
    assert not any(e.kind == "moved" for e in motor_view(store, "BW-1").events)
    assert verify(store).breaks == ()


def test_a_note_that_has_no_room_is_refused_not_cut(store, electrician, clock, motor, other):
    long = "x" * 200
    with pytest.raises(FormRefused) as refused:
        _move(store, electrician, clock, "BW-2", "Beet wash", swap="yes", note=long)
    assert "letters less" in refused.value.fields["note"]
    assert [row[0] for row in _stays(store, "BW-2")] == ["Beet crusher"]
    assert _happened(store, electrician, clock, "cleaned", note=long)
    assert life(store, "BW-1").events[0].note == long


def _id(store, name):
    with store() as session:
        return session.scalar(select(Position.id).where(Position.name == name))


def test_what_was_built_on_stays(store, electrician, clock, motor, other):
    _move(store, electrician, clock, "BW-1", "the store")
    event = life(store, "BW-1").events[0]
    job = start_job(store, electrician, Start("BW-1", "start-token-2"), clock())
    with pytest.raises(AlreadyKept, match="tested since"):
        take_back(store, electrician, "BW-1", event.id, clock())
    with store() as session:
        assert session.get(Job, job).position_id is None


def test_a_place_taken_meanwhile_is_not_given_back(store, electrician, clock, motor, other):
    _move(store, electrician, clock, "BW-1", "the store")
    event = life(store, "BW-1").events[0]
    _move(store, electrician, clock, "BW-2", "Beet wash", token="move-0002")
    with pytest.raises(AlreadyKept, match="BW-2 stands there now"):
        take_back(store, electrician, "BW-1", event.id, clock())


@pytest.mark.parametrize(
    ("to", "on", "field"),
    [
        ("Nowhere", "2026-11-20", "to"),
        ("", "2026-11-20", "to"),
        ("Beet wash", "2026-11-20", "to"),
        ("the store", "2026-11-25", "on"),
        ("the store", "24.11.2026", "on"),
        ("the store", "", "on"),
    ],
)
def test_a_move_that_cannot_be_is_refused_at_its_field(store, electrician, clock, motor, to, on, field):
    before = _stays(store, "BW-1")
    with pytest.raises(FormRefused) as refused:
        _move(store, electrician, clock, "BW-1", to, on)
    assert list(refused.value.fields) == [field]
    assert _stays(store, "BW-1") == before


def _happened(store, actor, clock, kind, on="2026-11-20", token="event-0001", **more):
    return happened(store, actor, "BW-1", {"kind": kind, "on": on, **more}, token, clock())


def test_a_rewind_starts_a_winding_and_goes_again(store, electrician, clock, motor):
    assert _happened(store, electrician, clock, "rewound", cost="1850,50", note="by the repairer in town")
    assert not _happened(store, electrician, clock, "rewound", cost="1850,50")
    assert [w.reason for w in motor_view(store, "BW-1").windings] == ["built", "rewound"]
    event = life(store, "BW-1").events[0]
    assert (event.kind, str(event.cost), event.on_day) == ("rewound", "1850.50", date(2026, 11, 20))
    take_back(store, electrician, "BW-1", event.id, clock())
    assert [w.reason for w in motor_view(store, "BW-1").windings] == ["built"]
    assert verify(store).breaks == ()


@pytest.fixture
def tested(store, job, put, clock, electrician):
    """Signed on 2026-11-24, sound."""
    walk(put, clock, WHOLE_JOB)
    decide(store, job, "return", "", electrician, clock())
    sign(store, job, electrician, SECRET, clock())
    return job


def _state(store):
    with store() as session:
        row = session.scalar(select(MotorState))
        return {name: getattr(row, name) for name in MotorState.__table__.columns.keys()}  # noqa: SIM118


def _listed(store):
    with store() as session:
        return session.execute(select(Listing.verdict, Listing.due)).one()


def test_what_the_old_winding_showed_says_nothing_of_the_new_one(store, electrician, clock, tested):
    before = _state(store)
    assert (before["verdict"], before["r40_low_mohm"] > 0, _listed(store)[0]) == ("sound", True, "sound")
    _happened(store, electrician, clock, "rewound", "2026-11-24")
    now = _state(store)
    assert (now["verdict"], now["why"]) == ("unproven", "Rewound 24 Nov 2026, nothing tested since")
    assert [now[name] for name in OF_WINDING] == [None] * len(OF_WINDING)
    assert _listed(store) == ("unproven", date(2026, 11, 24))
    other = Amendment("misread", "winding_resistance.1-2", "0.5345", "amend-token-1")
    amend(store, tested, electrician, other, SECRET, clock())  # an old job put right doesn't bring the old winding back
    assert _state(store)["verdict"] == "unproven"
    take_back(store, electrician, "BW-1", life(store, "BW-1").events[0].id, clock())
    after = _state(store)
    assert (after["verdict"], after["winding_id"], after["next_on"]) == (
        "sound",
        before["winding_id"],
        before["next_on"],
    )
    assert after["r40_low_mohm"] == before["r40_low_mohm"]
    assert _listed(store)[0] == "sound"
    assert verify(store).breaks == ()


def test_one_rewound_before_that_was_known_is_unproven_from_the_next_start_on(
    store, electrician, clock, tested, monkeypatch
):  # fmt: skip
    monkeypatch.setattr(lives, "await_tests", lambda _session, _state: None)
    _happened(store, electrician, clock, "rewound", "2026-11-24")
    assert _state(store)["verdict"] == "sound"
    keep_earlier(store, clock())
    now = _state(store)
    assert (now["verdict"], _listed(store)[0]) == ("unproven", "unproven")
    keep_earlier(store, clock())
    assert _state(store) == now


def test_a_rewind_entered_late_leaves_the_tests_that_came_after_it(store, electrician, clock, tested):
    before = _state(store)
    _happened(store, electrician, clock, "rewound", "2026-11-20")
    assert _state(store) == before


def test_a_rewind_that_was_tested_on_stays(store, electrician, clock, motor):
    _happened(store, electrician, clock, "rewound")
    start_job(store, electrician, Start("BW-1", "start-token-2"), clock())
    with pytest.raises(AlreadyKept, match="job stands on the new winding"):
        take_back(store, electrician, "BW-1", life(store, "BW-1").events[0].id, clock())


@pytest.mark.parametrize(
    ("kind", "on", "cost", "field"),
    [
        ("polished", "2026-11-20", "", "kind"),
        ("dried", "2027-01-01", "", "on"),
        ("rewound", "2020-01-01", "", "on"),
        ("repaired", "2026-11-20", "-5", "cost"),
        ("repaired", "2026-11-20", "cheap", "cost"),
    ],
)
def test_what_cannot_have_been_is_refused_at_its_field(store, electrician, clock, motor, kind, on, cost, field):
    with pytest.raises(FormRefused) as refused:
        _happened(store, electrician, clock, kind, on, cost=cost)
    assert list(refused.value.fields) == [field]
    assert len(life(store, "BW-1").events) == 1


def test_only_those_who_keep_the_register_change_lives(store, clock, motor):
    reader = add_person(store, Role.READER, "R. Reader")
    for act in (
        lambda: _move(store, reader, clock, "BW-1", "the store"),
        lambda: _happened(store, reader, clock, "dried"),
        lambda: take_back(store, reader, "BW-1", 1, clock()),
    ):
        with pytest.raises(Forbidden):
            act()


def test_what_came_with_the_motor_is_no_event_to_take_back(store, electrician, clock, motor):
    with pytest.raises(Unknown):
        take_back(store, electrician, "BW-1", life(store, "BW-1").events[0].id, clock())
    with store() as session:
        assert len(session.scalars(select(Stay)).all()) == 1
        assert len(session.scalars(select(WindingRow)).all()) == 1


def test_failures_are_counted_by_the_position_of_the_job(store, electrician, clock, motor, other):
    with store.begin() as session:
        place = _id(store, "Beet wash")
        for n, day in enumerate((date(2025, 6, 1), date(2026, 3, 1), date(2026, 10, 1))):
            job = Job(token=f"old-{n}", motor_id=1, winding_id=1, position_id=place, started_at=NOW, started_by="x")
            row = session.scalars(select(WindingRow)).first()
            job.motor_id, job.winding_id = row.motor_id, row.id
            job.state, job.tested_on, job.decided_action, job.root_causes = "signed", day, "rewind", ["damp"]
            session.add(job)
    view = position(store, place, clock().date())
    assert view.repeats.severity == "act"
    assert "damp more than once" in view.repeats.text
    assert position(store, _id(store, "Beet crusher"), clock().date()).repeats is None


def test_of_two_motors_moved_to_one_position_at_one_moment_one_is_told_so(store, electrician, clock):
    for tag, place in (("MV-1", "Here"), ("MV-2", "There"), ("MV-3", "Beyond")):
        register_motor(store, electrician, check_registration(PLATE | {"tag": tag, "position": place}, clock()))
    clock.pass_(86400)
    move(store, electrician, "MV-3", {"to": "store", "on": f"{clock().date()}"}, "move-token-0", clock())
    barrier, told = Barrier(2), []

    def go(tag):
        barrier.wait(10)
        try:
            move(store, electrician, tag, {"to": "Beyond", "on": f"{clock().date()}"}, f"move-{tag}-token", clock())
            told.append("moved")
        except FormRefused as refused:
            told.append(refused.fields["swap"])

    threads = [Thread(target=go, args=(tag,)) for tag in ("MV-1", "MV-2")]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(20)
    assert len(told) == 2
    assert told.count("moved") == 1
    assert any("stands there" in words for words in told)


def test_a_second_open_job_of_a_motor_is_refused_by_the_database_itself(store, job, electrician, clock):
    with store() as session:
        first = session.get(Job, job)
        values = {name: getattr(first, name) for name in ("motor_id", "winding_id", "open_of", "criteria", "plan")}
    with pytest.raises(IntegrityError), store.begin() as session:
        session.add(Job(token="another-job-1", started_at=clock(), started_by="host two", **values))
