"""The motor beside its position, and two plates beside one another."""

import pytest

from grimcoil.core.plate import Plate
from grimcoil.core.position import check_position, check_rewound
from grimcoil.core.subject import Calling, Fittings, Position, Subject

PLATE = Plate((230, 460), (42, 21), power_w=11000, speed_rpm=1755)


def codes(calls, fittings=None, plate=PLATE):
    subject = Subject(plate, position=Position(calls_for=calls), fittings=fittings or Fittings())
    return [(f.code, f.text) for f in check_position(subject)]


@pytest.mark.parametrize(
    ("calls", "fittings", "words"),
    [
        (Calling(power_w=15000), Fittings(), "15 kW"),
        (Calling(speed_rpm=1170), Fittings(), "1170"),
        (Calling(voltage_v=575), Fittings(), "575"),
        (Calling(mounting="foot"), Fittings(mounting="flange"), "flange"),
        (Calling(enclosure="closed"), Fittings(enclosure="open"), "closed"),
        (Calling(brake=True), Fittings(), "brake is missing"),
        (Calling(brake=False), Fittings(brake=True), "isn't called for"),
        (Calling(protectors=("thermostat",)), Fittings(), "thermostat"),
    ],
)
def test_a_wrong_motor_is_a_finding_before_any_test(calls, fittings, words):
    ((code, text),) = codes(calls, fittings)
    assert code == "position-wrong-motor"
    assert words in text


def test_the_right_motor_fits_and_silence_says_nothing():
    assert codes(Calling(power_w=11000, speed_rpm=1760, voltage_v=460))[0][0] == "position-fits"
    assert codes(Calling()) == []


def test_the_rewinders_plate_governs_and_the_difference_is_said():
    (finding,) = check_rewound(Plate((460,), (21.0,)), PLATE)
    assert finding.code == "plate-rewound-differs"
    assert "230/460, now 460" in finding.text
    assert check_rewound(PLATE, PLATE) == check_rewound(PLATE, None) == []
