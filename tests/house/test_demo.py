"""The demo's scenario: seeded, believable, and every story tells what it should."""

import pytest
from sqlalchemy import select

from demo.scenario import seed
from demo.works import MOTORS, PASSWORD, SIGN_INS
from grimcoil.core.people import Role
from grimcoil.service.signing_in import sign_in
from grimcoil.service.verifying import verify
from grimcoil.store.tables import Job, Motor, MotorState, Position, Stay
from tests.conftest import empty
from tests.support import NOW

TOLD = ("BW-121", "PP-122", "PP-140", "DD-207", "LK-331", "PP-118", "BW-114", "ST-019")


@pytest.fixture
def states(store):
    with store.begin() as session:
        seed(session, NOW, [made for made in MOTORS if made.tag in TOLD])
    with store() as session:
        rows = session.execute(select(Motor.tag, MotorState).outerjoin(MotorState))
        return {row[0]: row[1] for row in rows}


def test_the_works_are_large_enough():
    assert len(MOTORS) >= 30
    tested = [m for m in MOTORS if m.years]
    assert all(3 <= m.years <= 8 for m in tested)
    assert len({m.tag for m in MOTORS}) == len({m.place for m in MOTORS}) == len(MOTORS)


def test_each_story_shows(states, store):
    assert states["BW-121"].r40_high_mohm is None  # over-range only
    assert states["PP-122"].verdict == "act"  # shorted phase
    assert states["PP-140"].verdict == "unproven"  # coarse meter
    assert "reaches the 5 MΩ minimum" in states["DD-207"].why  # falling
    assert states["LK-331"].verdict == "act"  # wet
    assert states["ST-019"] is None  # never tested
    with store() as session:
        windings = set(session.scalars(select(Job.winding_id).join(Motor).where(Motor.tag == "PP-118")))
        open_jobs = session.scalars(select(Motor.tag).join(Job).where(Job.state == "open")).all()
    assert len(windings) == 2  # rewound
    assert open_jobs == ["BW-114"]


def test_the_spare_stood_in_while_the_presss_motor_was_rewound(states, store):
    with store() as session:
        at = (
            select(Motor.tag, Stay)
            .join(Stay, Stay.motor_id == Motor.id)
            .join(Position, Stay.position_id == Position.id)
        )
        stood = session.execute(at.where(Position.name == "Pulp press 1").order_by(Stay.since)).all()
    assert [tag for tag, _ in stood] == ["PP-118", "ST-019", "PP-118"]
    assert [stay.until for _, stay in stood] == [stood[1][1].since, stood[2][1].since, None]


def test_the_demos_chain_is_whole_and_everyone_can_sign_in(states, store):
    found = verify(store)
    assert found.breaks == ()
    assert found.links > 20
    for login, name, role, _ in SIGN_INS:
        actor = sign_in(store, login, PASSWORD, f"place {login}", NOW).actor
        assert (actor.name, actor.role) == (name, role)
    assert {role for _, _, role, _ in SIGN_INS} == set(Role)


def test_seeded_twice_it_is_the_same(states, store, engine):
    first = {tag: s.r40_low_mohm for tag, s in states.items() if s}
    empty(engine)
    with store.begin() as session:
        seed(session, NOW, [made for made in MOTORS if made.tag in TOLD])
    with store() as session:
        again = dict(session.execute(select(Motor.tag, MotorState.r40_low_mohm).join(MotorState)).all())
    assert again == first
