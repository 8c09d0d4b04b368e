"""Positions put on the register, changed, used no more and again; what stands there is due by what its place is."""

import pytest
from sqlalchemy import select

from grimcoil.core.days import day_told
from grimcoil.core.errors import AlreadyKept, Forbidden, FormRefused, RecordRefusal, Unknown
from grimcoil.core.people import Role
from grimcoil.exchange.motors import Motor as FileMotor
from grimcoil.exchange.motors import Position as FilePlace
from grimcoil.service.closing import decide, sign
from grimcoil.service.details import keep_details
from grimcoil.service.lives import life, move, position, take_back
from grimcoil.service.motor_files import register_file
from grimcoil.service.motors import check_registration, motor_view, register_motor
from grimcoil.service.places import keep_place, listed, place_form, retire, use_again
from grimcoil.service.starting import coming
from grimcoil.service.verifying import verify
from grimcoil.store.tables import MotorState, Position
from tests.service.conftest import PLATE
from tests.service.test_plate_lists import take
from tests.support import NOW, SECRET, WHOLE_JOB, add_person, walk

MILL = {
    "position.name": "Slice conveyor", "position.area": "Extraction", "position.criticality": "critical",
    "position.starter": "drive", "position.system_voltage_v": "400", "position.cable.length_m": "42",
    "position.calls_for.power": "15 kW", "position.calls_for.speed_rpm": "1460",
}  # fmt: skip


@pytest.fixture
def signed(store, job, put, clock, electrician):
    walk(put, clock, WHOLE_JOB)
    decide(store, job, "return", "", electrician, clock())
    sign(store, job, electrician, SECRET, clock())
    return job


def _number(store, name):
    with store() as session:
        return session.scalar(select(Position.id).where(Position.name == name))


def _next_on(store):
    with store() as session:
        return session.scalar(select(MotorState.next_on))


def test_a_new_one_has_all_that_was_said_of_it_and_stands_in_the_list(store, electrician, clock):
    number = keep_place(store, electrician, None, MILL, clock())
    kept = place_form(store, number)
    assert {name: kept.texts[name] for name in MILL} == MILL
    rows = listed(store, area="Extraction").rows
    assert [(one.name, one.criticality, one.motors) for one in rows] == [("Slice conveyor", "critical", ())]
    assert listed(store, words="conv").rows == rows
    assert listed(store, words="%").rows == []
    assert verify(store).breaks == ()


def test_what_cant_be_read_is_said_at_its_field(store, electrician, clock):
    texts = MILL | {"position.name": " ", "position.cable.length_m": "far", "position.criticality": "very"}
    with pytest.raises(FormRefused) as refused:
        keep_place(store, electrician, None, texts, clock())
    assert set(refused.value.fields) == {"position.name", "position.cable.length_m", "position.criticality"}
    assert listed(store).rows == []


def test_a_name_stands_once(store, electrician, clock, motor):
    with pytest.raises(FormRefused, match="“Beet wash” is on the register already"):
        keep_place(store, electrician, None, MILL | {"position.name": "beet-wash"}, clock())
    number = keep_place(store, electrician, None, MILL, clock())
    assert keep_place(store, electrician, number, MILL, clock()) == number
    with pytest.raises(FormRefused):
        keep_place(store, electrician, number, MILL | {"position.name": "Beet wash"}, clock())
    with pytest.raises(Unknown):
        keep_place(store, electrician, 9999, {"position.name": "Nowhere"}, clock())


def test_what_stands_there_is_due_by_its_criticality(store, electrician, clock, signed):
    before = _next_on(store)
    number = _number(store, "Beet wash")
    keep_place(
        store, electrician, number, place_form(store, number).texts | {"position.criticality": "critical"}, clock()
    )
    assert _next_on(store) < before
    assert verify(store).breaks == ()


def test_a_list_that_makes_it_critical_counts_the_next_test_anew(store, electrician, clock, signed):
    before = _next_on(store)
    take(store, electrician, "Tag;Volts;Criticality\nBW-1;460;critical\n", clock())
    assert _next_on(store) < before
    assert verify(store).breaks == ()


def test_a_move_and_its_take_back_count_the_next_test_anew(store, electrician, clock, signed):
    before = _next_on(store)
    keep_place(store, electrician, None, MILL, clock())
    move(store, electrician, "BW-1", {"to": "slice  Conveyor", "on": "2026-11-22"}, "move-0001", clock())
    assert life(store, "BW-1").place == "Slice conveyor"
    assert _next_on(store) < before
    take_back(store, electrician, "BW-1", life(store, "BW-1").events[0].id, clock())
    assert _next_on(store) == before


def test_two_change_places_and_back(store, electrician, clock, motor):
    texts = PLATE | {"tag": "BW-2", "position": "Beet crusher", "built_year": "2015"}
    register_motor(store, electrician, check_registration(texts, NOW))
    move(store, electrician, "BW-2", {"to": "Beet wash", "on": "2026-11-20", "swap": "here"}, "move-0001", clock())
    assert [life(store, tag).place for tag in ("BW-1", "BW-2")] == ["Beet crusher", "Beet wash"]
    assert life(store, "BW-2").events[0].note == "to Beet wash, BW-1 to Beet crusher"
    take_back(store, electrician, "BW-2", life(store, "BW-2").events[0].id, clock())
    assert [life(store, tag).place for tag in ("BW-1", "BW-2")] == ["Beet wash", "Beet crusher"]
    assert verify(store).breaks == ()


def test_one_used_no_more_is_off_the_lists_to_pick_from(store, electrician, clock, motor):
    number = _number(store, "Beet wash")
    with pytest.raises(AlreadyKept, match="BW-1 stands there"):
        retire(store, electrician, number, "torn down", clock())
    move(store, electrician, "BW-1", {"to": "the store", "on": "2026-11-20"}, "move-0001", clock())
    with pytest.raises(FormRefused):
        retire(store, electrician, number, " ", clock())
    retire(store, electrician, number, "torn down", clock())
    retire(store, electrician, number, "torn down twice", clock())
    assert "Beet wash" not in life(store, "BW-1").places
    shown = position(store, number, clock().date())
    assert (shown.retired_on, shown.retired_why) == (clock().date(), "torn down")
    with pytest.raises(FormRefused, match="is used no more"):
        move(store, electrician, "BW-1", {"to": "Beet wash", "on": "2026-11-21"}, "move-0002", clock())
    with pytest.raises(AlreadyKept, match="Beet wash is used no more"):
        take_back(store, electrician, "BW-1", life(store, "BW-1").events[0].id, clock())
    with pytest.raises(FormRefused, match="is used no more"):
        register_motor(store, electrician, check_registration(PLATE | {"tag": "BW-2"}, NOW))
    with pytest.raises(RecordRefusal, match="is used no more") as refused:
        register_file(store, electrician, FileMotor(tag="BW-3", rated_voltage_v=460), FilePlace(name="Beet wash"), NOW)
    told = f"“Beet wash” is used no more since {day_told(clock().date())}: use it again first, or name another."
    assert refused.value.sentence() == f"position.name: found “Beet wash”; {told}"
    with pytest.raises(FormRefused, match="is used no more"):
        keep_details(store, electrician, "BW-1", {"position.name": "Beet wash"}, clock())
    for text in ("Position,Criticality\nBeet wash,critical\n", "Motor,Position,Serial\nBW-1,Beet wash,7\n"):
        with pytest.raises(RecordRefusal, match="is used no more"):
            take(store, electrician, text, clock())
    use_again(store, electrician, number, clock())
    use_again(store, electrician, number, clock())
    assert move(store, electrician, "BW-1", {"to": "Beet wash", "on": "2026-11-21"}, "move-0002", clock())
    assert verify(store).breaks == ()


def test_a_motor_put_at_a_critical_position_by_its_record_is_due_by_it(store, electrician, clock, signed):
    keep_place(store, electrician, None, MILL, clock())
    move(store, electrician, "BW-1", {"to": "the store", "on": "2026-11-20"}, "move-0001", clock())
    before = _next_on(store)
    keep_details(store, electrician, "BW-1", {"position.name": "Slice conveyor"}, clock())
    assert _next_on(store) < before


def test_who_may_not_is_told(store, clock, motor):
    reader, number = add_person(store, Role.READER, "C. Reader"), _number(store, "Beet wash")
    for deed in (
        lambda: keep_place(store, reader, None, MILL, clock()),
        lambda: retire(store, reader, number, "torn down", clock()),
        lambda: use_again(store, reader, number, clock()),
    ):
        with pytest.raises(Forbidden):
            deed()


def test_the_wrong_motor_is_said_at_motor_position_and_start(store, electrician, clock, motor):
    number = _number(store, "Beet wash")
    texts = place_form(store, number).texts | {"position.calls_for.speed_rpm": "2950"}
    keep_place(store, electrician, number, texts, clock())
    told = [
        motor_view(store, "BW-1").place_findings,
        [finding for _, finding in position(store, number, clock().date()).findings],
        coming(store, "BW-1", "routine", "", "field-general", clock().date()).findings,
    ]
    assert [[one.code for one in findings] for findings in told] == [["position-wrong-motor"]] * 3
