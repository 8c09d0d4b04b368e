"""Plausibility of nameplates."""

import pytest

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.plate import (
    FULL_LOAD_460_A,
    HP_W,
    Plate,
    check_leads,
    check_plate,
    check_spelling,
    check_system,
    expected_current_a,
    parse_power,
    pole_number,
)

GOOD = Plate((230, 460), (42, 21), 460, 60, 15 * HP_W, 1755, 1.15)


def codes(plate):
    return [finding.code for finding in check_plate(plate)]


def test_a_plate_that_agrees_with_itself_has_no_findings():
    assert codes(GOOD) == []


@pytest.mark.parametrize(
    ("changes", "code"),
    [
        ({"full_load_current_a": (42, 24)}, "plate-currents-ratio"),
        ({"speed_rpm": 1650}, "plate-speed"),
        ({"speed_rpm": 3700}, "plate-speed"),
        ({"speed_rpm": 1800}, "plate-speed"),
        ({"full_load_current_a": (12, 6)}, "plate-current-power"),
        ({"connected_voltage_v": 400}, "plate-connected-voltage"),
    ],
)
def test_each_rule_finds_its_misreading_and_says_the_figures(changes, code):
    plate = Plate(**{**{n: getattr(GOOD, n) for n in GOOD.__slots__}, **changes})
    found = check_plate(plate)
    assert code in [f.code for f in found]
    assert all(any(c.isdigit() for c in f.text) for f in found)


@pytest.mark.parametrize(("share", "said"), [(1, []), (1.099, []), (0.901, []), (1.101, 1), (0.899, 1)])
def test_amps_are_computed_where_efficiency_and_power_factor_are_known(share, said):
    """P = √3 U I cos φ η, by definition: 11 kW at 400 V with 91.4 % and 0.85 draw 20.44 A, where the usual is 20 A."""
    amps = 11_000 / (3**0.5 * 400 * 0.85 * 0.914)
    assert amps == pytest.approx(20.44, abs=0.01)
    plate = Plate((400,), (amps * share,), frequency_hz=50, power_w=11_000, efficiency_percent=91.4, power_factor=0.85)
    assert codes(plate) == ["plate-current-power"] * bool(said)


@pytest.mark.parametrize(
    ("rpm", "hz", "poles"), [(1755, 60, 4), (505, 60, 14), (975, 50, 6), (2960, 50, 2), (3700, 60, None)]
)
def test_poles_from_speed(rpm, hz, poles):
    assert pole_number(rpm, hz) == poles


def test_motor_on_the_wrong_system():
    assert check_system(GOOD, 480) is None
    assert check_system(GOOD, 400).code == "plate-system-voltage"
    assert check_system(GOOD, None) is None


@pytest.mark.parametrize(("text", "watts"), [("15 hp", 15 * HP_W), ("11 kW", 11000), ("0,75 kW", 750), ("750 W", 750)])
def test_power(text, watts):
    assert parse_power(text) == pytest.approx(watts)


@pytest.mark.parametrize("text", ["", "11", "eleven kW", "-2 kW", "0 kW", "99999999 kW"])
def test_power_refused(text):
    with pytest.raises(RecordRefusal, match="kW"):
        parse_power(text)


@pytest.mark.parametrize(("hp", "amps"), FULL_LOAD_460_A.items())
def test_expected_current_is_the_tables(hp, amps):
    assert expected_current_a(hp * HP_W, 460) == pytest.approx(amps)
    assert expected_current_a(hp * HP_W, 230) == pytest.approx(2 * amps)


def test_a_tag_in_another_spelling_is_asked_about_and_the_very_tag_is_not():
    assert [f.text.partition(":")[0] for f in check_spelling("bw1", ["BW-1", "B.W1"])] == [
        "BW-1 is on the register",
        "B.W1 is on the register",
    ]
    assert check_spelling("bw-1", ["BW-1"]) == check_spelling("bw1", []) == []


@pytest.mark.parametrize(
    ("volts", "scheme", "code"),
    [
        ((230, 400), "three-lead", "plate-leads-contradict"),  # 1 : √3
        ((230, 460), "three-lead-wye", "plate-leads-contradict"),  # 1 : 2
        ((400, 690), "three-lead-delta", "plate-leads-contradict"),
        ((230, 460), "nine-lead-wye", None),
        ((400, 690), "six-lead", None),
        ((440, 460), "three-lead-wye", None),  # two systems near one another
        ((460,), "three-lead", "wye-likelier"),
        ((460,), "three-lead-delta", None),
        ((), "three-lead", None),
    ],
)
def test_two_voltages_need_leads_that_can_be_joined_otherwise(volts, scheme, code):
    found = check_leads(Plate(volts), scheme)
    assert [finding.code for finding in found] == ([code] if code else [])
    assert all(finding.severity.value == ("sound" if code == "wye-likelier" else "watch") for finding in found)
