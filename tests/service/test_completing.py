"""A motor known by its tag alone asks for its plate wherever it is shown, and takes it once it is read."""

from datetime import date

import pytest
from sqlalchemy import select

from grimcoil.core.errors import FormRefused
from grimcoil.service.importing import take_in
from grimcoil.service.lives import life, move
from grimcoil.service.motors import check_registration, motor_view, register_motor
from grimcoil.service.verifying import verify
from grimcoil.store.tables import LifeEvent, Stay, WindingRow
from tests.service.conftest import PLATE
from tests.service.test_importing import SOURCE, read


@pytest.fixture
def unread(store, electrician, clock, motor):
    """PP-9 came in with a sheet, its first readings of 15 March 2025."""
    take_in(store, electrician, SOURCE, read(store), clock())
    return "PP-9"


def plate(clock, **changed):
    return check_registration(PLATE | {"tag": "PP-9"} | changed, clock())


def test_its_plate_is_put_to_what_is_on_record(store, electrician, clock, unread):
    register_motor(store, electrician, plate(clock, built_year="2016"))
    view = motor_view(store, unread)
    assert (view.motor.rated_voltage_v, view.motor.position.name) == (460, PLATE["position"])
    assert [(job.signed_by, str(job.tested_on)) for job in view.jobs] == [("filed, not signed", "2025-03-15")]
    with store() as session:
        mine = view.motor.id
        winding = session.scalars(select(WindingRow).where(WindingRow.motor_id == mine)).one()
        built = session.scalars(select(LifeEvent).where(LifeEvent.motor_id == mine)).one()
        stay = session.scalars(select(Stay).where(Stay.motor_id == mine)).one()
        assert {winding.since, built.on_day, stay.since} == {date(2016, 1, 1)}
        assert winding.lead_scheme == PLATE["lead_scheme"]
    assert verify(store).breaks == ()
    with pytest.raises(FormRefused, match="on the register already"):
        register_motor(store, electrician, plate(clock))


def test_it_is_no_younger_than_its_first_reading(store, electrician, clock, unread):
    with pytest.raises(FormRefused) as refused:
        register_motor(store, electrician, plate(clock, built_year="2026"))
    assert "2025-03-15" in refused.value.fields["built_year"]
    assert motor_view(store, unread).motor.rated_voltage_v is None


def test_where_it_was_moved_to_is_not_overruled_by_the_plate(store, electrician, clock, unread):
    move(store, electrician, unread, {"to": "the store", "on": "2026-11-20"}, "move-0001", clock())
    with pytest.raises(FormRefused) as refused:
        register_motor(store, electrician, plate(clock))
    assert "on its life" in refused.value.fields["position"]
    register_motor(store, electrician, plate(clock, position=""))
    view = motor_view(store, unread)
    assert (view.motor.rated_voltage_v, view.motor.position) == (460, None)
    assert len(life(store, unread).stays) == 1
