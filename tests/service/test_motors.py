"""Registering a motor, and its page's view."""

import pytest

from grimcoil.core.errors import Unknown
from grimcoil.service.motors import FormRefused, check_registration, motor_view, register_motor
from tests.service.conftest import PLATE
from tests.support import NOW


def test_a_registered_motor_has_plate_winding_position_and_life(store, motor):
    view = motor_view(store, motor)
    assert view.motor.position.name == "Beet wash"
    assert view.winding.lead_scheme == "three-lead-wye"
    assert [e.kind for e in view.events] == ["built"]
    assert view.plate_findings == ()


def test_every_bad_field_gets_its_own_sentence():
    bad = PLATE | {"tag": "a~b", "rated_voltage_v": "many", "speed_rpm": "1", "power": "strong", "built_year": "2999"}
    with pytest.raises(FormRefused) as refused:
        check_registration(bad, NOW)
    assert set(refused.value.fields) == {"tag", "rated_voltage_v", "speed_rpm", "power", "built_year"}


def test_needed_fields():
    with pytest.raises(FormRefused) as refused:
        check_registration({}, NOW)
    assert set(refused.value.fields) == {"tag", "rated_voltage_v"}


def test_the_same_tag_twice_is_refused_at_its_field(store, motor, electrician):
    with pytest.raises(FormRefused) as refused:
        register_motor(store, electrician, check_registration(PLATE, NOW))
    assert "already" in refused.value.fields["tag"]


def test_a_position_is_shared_by_name(store, motor, electrician):
    register_motor(store, electrician, check_registration(PLATE | {"tag": "BW-2"}, NOW))
    assert motor_view(store, "BW-2").motor.position == motor_view(store, motor).motor.position


def test_a_plate_that_contradicts_itself_warns():
    checked = check_registration(PLATE | {"speed_rpm": "1650"}, NOW)
    assert [f.code for f in checked.findings] == ["plate-speed"]


def test_unknown_motor(store):
    with pytest.raises(Unknown):
        motor_view(store, "NO-1")
