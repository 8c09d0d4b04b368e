"""The fleet's four lists: each says only what is on record, the worst first."""

from datetime import UTC, date, datetime

import pytest

from grimcoil.service.fleet import fleet
from grimcoil.service.motors import check_registration, motor_view, register_motor
from grimcoil.store.tables import Job, Motor, MotorState, Position, WindingRow
from tests.service.conftest import PLATE
from tests.support import NOW


def made(store, actor, tag, **more):
    register_motor(store, actor, check_registration(PLATE | {"tag": tag, "position": f"Place {tag}"} | more, NOW))


def with_tests(store, tag, *levels, verdict="sound", rewound=False, criticality="routine", high="same"):
    """Signed tests of a motor in their order, MΩ at 40 °C; the last one's verdict stands in the register."""
    with store.begin() as session:
        motor = session.query(Motor).filter_by(tag=tag).one()
        session.get_one(Position, motor.position_id).criticality = criticality
        winding = session.query(WindingRow).filter_by(motor_id=motor.id).one()
        for i, level in enumerate(levels):
            session.add(
                Job(
                    token=f"{tag}-{i}", motor_id=motor.id, winding_id=winding.id, state="signed", started_by="x",
                    started_at=datetime(2024, 1, 1 + i, tzinfo=UTC), tested_on=date(2024, 1, 1 + i), r40_low_mohm=level,
                )
            )  # fmt: skip
        if rewound:
            session.add(WindingRow(motor_id=motor.id, since=date(2025, 1, 1), reason="rewound", lead_scheme="six-lead"))
        session.flush()
        last = session.query(Job).filter_by(motor_id=motor.id).order_by(Job.id.desc()).first()
        session.add(
            MotorState(
                motor_id=motor.id, winding_id=winding.id, verdict=verdict, why="", spark="", core_version="",
                last_on=date(2024, 2, 1), last_job_id=last.id, next_on=date(2026, 1, 1),
                next_why="", r40_low_mohm=levels[-1], r40_high_mohm=levels[-1] if high == "same" else high,
            )
        )  # fmt: skip


@pytest.fixture
def works(store, electrician):
    for tag, year in (("A-1", "1968"), ("A-2", "2001"), ("A-3", ""), ("A-4", "1990"), ("A-5", "1999")):
        made(store, electrician, tag, built_year=year)
    with_tests(store, "A-1", 400.0, 300.0, verdict="watch")
    with_tests(store, "A-2", 900.0, 600.0, 12.0, verdict="act", criticality="critical")
    with_tests(store, "A-3", 500.0, 100.0, verdict="act", criticality="easy-spare")
    with_tests(store, "A-4", 800.0, 2.0, rewound=True)
    with_tests(store, "A-5", 900.0, 100.0, high=None)  # over the range of a smaller tester: no fall is shown by it
    return store


def test_each_list_has_what_it_says_and_nothing_else(works):
    found = fleet(works)
    assert [line.tag for line in found.matter] == ["A-2", "A-1", "A-3"]
    assert [line.tag for line in found.fell] == ["A-2", "A-3"]  # of another winding there is nothing to fall from
    assert (found.fell[0].r40_before_mohm, found.fell[0].r40_mohm) == (600.0, 12.0)
    assert [(line.tag, line.built_year) for line in found.oldest] == [
        ("A-1", 1968), ("A-4", 1990), ("A-5", 1999), ("A-2", 2001),
    ]  # fmt: skip
    assert [(line.tag, line.rewinds) for line in found.rewound] == [("A-4", 1)]


def test_a_bound_is_held_against_a_bound(store, electrician):
    made(store, electrician, "B-1", built_year="1999")
    with_tests(store, "B-1", 600.0, 0.0, high=2.0)
    (line,) = fleet(store).fell
    assert line.r40_before_mohm / line.r40_high_mohm == 300


def test_nothing_on_record_says_nothing(store):
    found = fleet(store)
    assert not [*found.matter, *found.fell, *found.oldest, *found.rewound]


def test_sisters_have_the_same_power_volts_and_speed(works, electrician):
    made(works, electrician, "C-1", built_year="", rated_voltage_v="230")
    made(works, electrician, "C-2", built_year="", speed_rpm="")
    view = motor_view(works, "A-1")
    assert [one.tag for one in view.sisters] == ["A-2", "A-3", "A-4", "A-5"]
    assert (view.sisters[0].verdict, view.sisters[0].r40_low_mohm) == ("act", 12.0)
    assert not [*motor_view(works, "C-1").sisters, *motor_view(works, "C-2").sisters]
