"""Keeping instruments: ranges as typed, refusals by field, changes in the chain."""

import pytest

from grimcoil.core.errors import FormRefused, RecordRefusal, Unknown
from grimcoil.service.instruments import add_range, calibrated, instruments
from grimcoil.service.verifying import verify
from tests.support import NOW

RANGE = {
    "name": "M7 four-wire",
    "function": "low-ohm",
    "top": "20",
    "resolution": "0.01 m",
    "accuracy_percent": "0,2",
    "counts": "2",
    "calibration_due": "2027-03-14",
}


def test_a_range_is_kept_as_its_display_shows_it(store, electrician):
    add_range(store, electrician, RANGE, NOW)
    add_range(store, electrician, RANGE | {"resolution": "0.1 m", "top": "200"}, NOW)
    (kept,) = instruments(store)
    assert (kept.name, kept.due.isoformat()) == ("M7 four-wire", "2027-03-14")
    assert [(r.top, r.resolution) for r in kept.ranges] == [(20.0, pytest.approx(1e-5)), (200.0, pytest.approx(1e-4))]
    assert verify(store).breaks == ()


def test_an_insulation_tester_is_typed_in_megohms(store, electrician):
    tester = {"name": "T7", "function": "insulation", "top": "550", "test_voltage_v": "500"}
    add_range(store, electrician, tester, NOW)
    (kept,) = instruments(store)
    assert (kept.ranges[0].top, kept.ranges[0].test_voltage_v) == (550e6, 500.0)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"name": ""}, "name"),
        ({"name": "x" * 61}, "name"),
        ({"function": "telepathy"}, "function"),
        ({"top": "4..2"}, "top"),
        ({"top": "OL"}, "top"),
        ({"resolution": "20"}, "resolution"),
        ({"accuracy_percent": "140"}, "accuracy_percent"),
        ({"counts": "-1"}, "counts"),
        ({"counts": "many"}, "counts"),
        ({"calibration_due": "14.3.27"}, "calibration_due"),
    ],
)
def test_what_cannot_be_is_refused_at_its_field_and_keeps_nothing(store, electrician, change, field):
    with pytest.raises(FormRefused) as refused:
        add_range(store, electrician, RANGE | change, NOW)
    assert set(refused.value.fields) == {field}
    assert instruments(store) == []


def test_the_same_range_twice_is_refused(store, electrician):
    add_range(store, electrician, RANGE, NOW)
    with pytest.raises(FormRefused, match="already"):
        add_range(store, electrician, RANGE, NOW)
    assert len(instruments(store)[0].ranges) == 1


def test_lamps_of_an_insulation_tester_are_kept_where_they_light(store, electrician):
    tester = {"name": "T9 lamps", "function": "insulation", "lamps": "0.5, 2  10 1G"}
    add_range(store, electrician, tester, NOW)
    assert instruments(store)[0].ranges[0].lamps == "500000 2e+06 1e+07 1e+09"
    for wrong in ("5", "10 5", "1 1", "0 1", "one two", "1 2 3 4 5 6 7 8 9"):
        with pytest.raises(FormRefused) as refused:
            add_range(store, electrician, tester | {"lamps": wrong}, NOW)
        assert set(refused.value.fields) == {"lamps"}
    with pytest.raises(FormRefused, match="insulation tester"):
        add_range(store, electrician, RANGE | {"lamps": "0.5 2"}, NOW)
    assert verify(store).breaks == ()


def test_the_next_calibration_is_changed_once_and_told(store, electrician):
    add_range(store, electrician, RANGE, NOW)
    number = instruments(store)[0].id
    links = verify(store).links
    for _ in range(2):
        calibrated(store, electrician, number, "2028-03-14", NOW)
    assert instruments(store)[0].due.isoformat() == "2028-03-14"
    assert verify(store).links == links + 1
    calibrated(store, electrician, number, "", NOW)
    assert instruments(store)[0].due is None
    with pytest.raises(RecordRefusal):
        calibrated(store, electrician, number, "soon", NOW)
    with pytest.raises(Unknown):
        calibrated(store, electrician, 999, "2028-03-14", NOW)


def test_what_a_tester_shows_corrects_and_beeps_below_is_on_its_record(store, electrician):
    tester = {"name": "T9", "function": "insulation", "test_voltage_v": "500"}
    add_range(store, electrician, tester | {"corrects_to_40c": "yes", "shows": "microamps"}, NOW)
    add_range(store, electrician, {"name": "O9", "function": "ohm", "beep_below_ohm": "30"}, NOW)
    ohm, insulation = (one.ranges[0] for one in instruments(store))
    assert (insulation.corrects_to_40c, insulation.shows, insulation.beep_below_ohm) == (True, "microamps", None)
    assert (ohm.corrects_to_40c, ohm.shows, ohm.beep_below_ohm) == (False, "megohms", 30.0)
    for change, field in (
        ({"corrects_to_40c": "yes"}, "corrects_to_40c"), ({"shows": "microamps"}, "shows"),
        ({"shows": "bars"}, "shows"),
    ):  # fmt: skip
        with pytest.raises(FormRefused) as refused:
            add_range(store, electrician, RANGE | change, NOW)
        assert set(refused.value.fields) == {field}
    with pytest.raises(FormRefused) as refused:
        add_range(store, electrician, tester | {"name": "T10", "beep_below_ohm": "30"}, NOW)
    assert set(refused.value.fields) == {"beep_below_ohm"}
