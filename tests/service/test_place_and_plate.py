"""Whatever happens to a motor afterwards, a signed job keeps the place, winding and plate it was signed with."""

import json
from contextlib import suppress

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import select

from grimcoil.core.errors import AlreadyKept, FormRefused
from grimcoil.core.stays import Stay as Stood
from grimcoil.core.stays import overlapping
from grimcoil.service.closing import decide, sign
from grimcoil.service.lives import happened, life, move, take_back
from grimcoil.service.motors import check_registration, register_motor
from grimcoil.service.plates import change_plate, plate_view
from grimcoil.service.verifying import verify
from grimcoil.store.people_tables import Signature
from grimcoil.store.tables import Job, Motor, Stay
from tests.service.conftest import PLATE
from tests.support import NOW, SECRET, WHOLE_JOB, walk

PLACES = ("Beet wash", "Beet crusher", "the store")
DAYS = ("2026-11-20", "2026-11-22", "2026-11-24")
DEEDS = st.one_of(
    st.tuples(st.just("move"), st.sampled_from(PLACES), st.sampled_from(DAYS)),
    st.tuples(st.just("rewound"), st.sampled_from(DAYS), st.just("")),
    st.tuples(st.just("plate"), st.sampled_from(("S-1", "S-2")), st.sampled_from(("460", "480"))),
    st.tuples(st.just("back"), st.integers(0, 5), st.just("")),
)


@pytest.fixture
def signed(store, job, put, clock, electrician):
    register_motor(store, electrician, check_registration(PLATE | {"tag": "BW-2", "position": "Beet crusher"}, NOW))
    walk(put, clock, WHOLE_JOB)
    decide(store, job, "return", "", electrician, clock())
    sign(store, job, electrician, SECRET, clock())
    return job


def _as_signed(store, number):
    """Where the job says it was done, on what, and the plate its link holds."""
    with store() as session:
        row = session.get(Job, number)
        link = session.scalar(select(Signature).where(Signature.job_id == number).order_by(Signature.seq.desc()))
        told = json.loads(link.document)
        return row.position_id, row.winding_id, row.subject, told["plate"]


def _do(store, actor, clock, deed, token):
    what, one, other = deed
    if what == "move":
        move(store, actor, "BW-1", {"to": one, "on": other, "swap": "yes"}, token, clock())
    elif what == "rewound":
        happened(store, actor, "BW-1", {"kind": "rewound", "on": one}, token, clock())
    elif what == "plate":
        view = plate_view(store, "BW-1")
        texts = dict(view.texts) | {"serial": one, "rated_voltage_v": other}
        change_plate(store, actor, "BW-1", texts, "misread", view.seen, clock())
    else:
        events = [event for event in life(store, "BW-1").events if event.can_go and not event.taken_back_by]
        if one < len(events):
            take_back(store, actor, "BW-1", events[one].id, clock())


@given(deeds=st.lists(DEEDS, min_size=1, max_size=6))
@settings(max_examples=12, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
def test_a_signed_job_keeps_its_place_and_plate_and_stays_never_overlap(store, signed, electrician, clock, deeds):
    before = _as_signed(store, signed)
    for deed in deeds:
        with suppress(FormRefused, AlreadyKept):  # what can't be is refused, and changes nothing
            _do(store, electrician, clock, deed, f"deed-{clock().timestamp()}-{deed}"[:40])
        clock.pass_(1)
    assert _as_signed(store, signed) == before
    with store() as session:
        for motor in session.scalars(select(Motor)):
            rows = session.scalars(select(Stay).where(Stay.motor_id == motor.id)).all()
            assert overlapping([Stood(row.position_id, row.since, row.until) for row in rows]) is None
        standing = [motor.position_id for motor in session.scalars(select(Motor)) if motor.position_id]
        assert len(standing) == len(set(standing))
    assert verify(store).breaks == ()


def test_a_plate_is_taken_as_it_is_printed(store, electrician, clock):
    printed = {
        "tag": "PL-1", "rated_voltage_v": "400D/690Y", "full_load_current_a": "21/12,1", "frequency_hz": "50 c/s",
        "power": "15 PS", "speed_rpm": "1 455", "built_year": "1998", "lead_scheme": "six-lead",
    }  # fmt: skip
    motor = check_registration(printed, clock()).motor
    assert [str(value) for value in (motor.rated_voltage_v, motor.rated_voltage_2_v)] == ["400", "690"]
    assert [str(value) for value in (motor.full_load_current_a, motor.full_load_current_2_a)] == ["21", "12.1"]
    assert (motor.frequency_hz, motor.speed_rpm, motor.power_text, motor.built_year) == (50, 1455, "15 PS", 1998)


def test_two_digits_of_a_year_are_asked(store, electrician, clock):
    with pytest.raises(FormRefused) as asked:
        check_registration({"tag": "PL-1", "rated_voltage_v": "0,38 kV", "built_year": "58"}, clock())
    assert list(asked.value.fields) == ["built_year"]
    assert "1958, if that is meant" in asked.value.fields["built_year"]
