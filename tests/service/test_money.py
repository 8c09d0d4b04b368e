"""Rewind or replace for a motor on the register: what is known of it, and cases kept once."""

import json

import pytest

from grimcoil.core.errors import Forbidden, RecordRefusal, Unknown
from grimcoil.core.people import Role
from grimcoil.service.money import facts, keep_case
from grimcoil.store.tables import Motor
from tests.support import add_person

GIVEN = {
    "format": "grimcoil-money/1", "power": "15 hp", "hours_per_year": 6000, "energy_price_per_kwh": 0.12,
    "rewind_price": 900, "new_price": 1400,
}  # fmt: skip


def test_a_case_is_kept_once_with_its_job(store, electrician, clock, motor, job):
    for _ in range(2):
        keep_case(store, electrician, "BW-1", GIVEN, job, "money-0001", clock())
    keep_case(store, electrician, "BW-1", GIVEN | {"rewind_price": 3000}, None, "money-0002", clock())
    kept = facts(store, "BW-1").kept
    assert [(one.job_id, one.says) for one in kept] == [(None, "replace"), (job, "rewind")]
    assert json.loads(kept[1].given) == GIVEN


def test_what_can_not_be_kept(store, electrician, clock, motor, job):
    for given, number, kind in (
        (GIVEN | {"new_price": -1}, None, RecordRefusal),
        (GIVEN | {"efficiency_new_percent": 140}, None, RecordRefusal),
        (GIVEN, job + 1, Unknown),
    ):
        with pytest.raises(kind):
            keep_case(store, electrician, "BW-1", given, number, "money-0003", clock())
    with pytest.raises(Forbidden):
        keep_case(store, add_person(store, Role.READER, "schwaden"), "BW-1", GIVEN, None, "money-0004", clock())
    with pytest.raises(Unknown):
        facts(store, "XX-1")
    assert facts(store, "BW-1").kept == []


def test_a_spare_is_what_stands_in_the_store_with_its_power_and_voltage(store, clock, motor):
    with store.begin() as session:
        for tag, power, volts in (("SP-1", "15 hp", 460), ("SP-2", "15 hp", 400), ("SP-3", "20 hp", 460)):
            session.add(Motor(tag=tag, power_text=power, rated_voltage_v=volts, created_at=clock()))
        session.flush()
        own = session.query(Motor).filter_by(tag="BW-1").one()
        own.power_text = "15 hp"
    assert facts(store, "BW-1").spares == ["SP-1"]
