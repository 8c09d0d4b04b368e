"""An insulation test from timed readings to verdict."""

import pytest

from grimcoil.core.amount import Bound
from grimcoil.core.findings import Verdict
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.plate import Plate
from grimcoil.core.subject import Conditions, Winding
from tests.core.insulation.given import codes, judged


def test_example_of_the_open_format():
    result = judged((30, "390M"), (60, "520M"), (600, "1450M"))
    assert result.r_1min_mohm.value == 520
    assert result.pi.value == pytest.approx(2.788, abs=5e-4)
    assert result.dar.value == pytest.approx(1.333, abs=5e-4)
    assert result.discharge_s == 2400
    assert result.minimum_mohm == 5
    assert result.verdict is Verdict.SOUND


def test_five_and_a_half_at_20_degrees_fails_five():
    result = judged((60, "5.5"))
    assert result.r_1min_40c_mohm.value == pytest.approx(4.19, abs=0.005)
    assert codes(result) == ["insulation-low"]
    assert result.verdict is Verdict.ACT


def test_over_range_stays_a_bound_through_correction():
    result = judged((60, ">550M"))
    assert result.r_1min_40c_mohm.bound is Bound.ABOVE
    assert result.r_1min_40c_mohm.value == pytest.approx(419, abs=0.5)
    assert result.verdict is Verdict.SOUND


def test_over_range_needs_the_testers_top():
    assert judged((60, "OL")).verdict is Verdict.UNPROVEN
    tester = InstrumentRange("T", "insulation", top=550e6)
    assert judged((60, "OL"), meter=tester).r_1min_mohm.value == 550


def test_a_bound_that_does_not_decide_is_unproven():
    assert judged((60, ">4M")).verdict is Verdict.UNPROVEN
    assert judged((60, "<4M")).verdict is Verdict.ACT


@pytest.mark.parametrize(
    ("text", "conditions", "verdict"),
    [
        ("6.6", Conditions(ambient_temperature_c=20), "sound"),
        ("6.5", Conditions(ambient_temperature_c=20), "unproven"),
        ("7.7", Conditions(), "sound"),
        ("7.6", Conditions(), "unproven"),
        ("4.9", Conditions(), "act"),
        ("4.9", Conditions(ambient_temperature_c=45), "sound"),
        ("4.75", Conditions(ambient_temperature_c=41), "unproven"),
        ("5000", Conditions(ambient_temperature_c=9.9), "unproven"),
        ("4.9", Conditions(ambient_temperature_c=5), "act"),
        ("5000", Conditions(winding_temperature_c=5), "unproven"),
        ("4.9", Conditions(winding_temperature_c=-10), "act"),
        ("4.9", Conditions(winding_temperature_c=95), "unproven"),
        ("5000", Conditions(winding_temperature_c=95), "unproven"),
    ],
)
def test_without_a_usable_temperature(text, conditions, verdict):
    result = judged((60, text), conditions=conditions)
    assert result.verdict.value == verdict
    assert result.r_1min_40c_mohm is None


def test_the_field_rule_is_printed_as_a_school_of_its_own():
    air = Conditions(ambient_temperature_c=20)
    assert "field-rule-passes" in codes(judged((60, "20M"), conditions=air))
    assert "field-rule-passes" not in codes(judged((60, "19M"), conditions=air))
    assert judged((60, "19M"), conditions=air).verdict is Verdict.SOUND


def test_a_missing_test_voltage_is_said_and_unproves_nothing():
    result = judged((60, "500M"), volts=None)
    assert "test-voltage-missing" in codes(result)
    assert result.verdict is Verdict.SOUND


def test_leads_joined_inside_or_unknown_say_nothing():
    assert codes(judged((60, "short"), ends=("1",), to=("2",))) == ["joined-inside"]
    assert codes(judged((60, "800M"), ends=("9",))) == ["lead-unknown"]


@pytest.mark.parametrize(("volts", "mohm", "verdict"), [(640, "1.64M", "sound"), (640, "1.639M", "act")])
def test_a_value_on_the_minimum_is_inside_it(volts, mohm, verdict):
    at_40 = Conditions(winding_temperature_c=40)
    result = judged((60, mohm), conditions=at_40, plate=Plate((volts,), built_year=1960))
    assert result.verdict.value == verdict


def test_near_zero_and_spot():
    assert codes(judged((60, "20k")))[-1] == "insulation-near-zero"
    assert judged((60, "short")).verdict is Verdict.ACT
    assert codes(judged((10, "50M"))) == ["spot-only"]
    assert judged((10, "50M")).r_spot_mohm.value == 50


def test_one_phase_alone_compares_with_twice_the_minimum():
    six = Winding(lead_scheme="six-lead")
    alone = {"ends": ("1",), "to": ("frame", "2", "3"), "winding": six}
    assert judged((60, "9M"), **alone).verdict is Verdict.ACT
    assert judged((60, "9M"), ends=("1", "2", "3"), winding=six).verdict is Verdict.SOUND
    guarded = {"ends": ("1",), "to": ("frame",), "guard": ("2", "3"), "winding": six}
    assert judged((60, "18M"), **guarded).minimum_mohm == 15


def test_forbidden_and_missing_are_unproven():
    assert codes(judged(winding=Winding(insulation_test_forbidden=True))) == ["insulation-forbidden"]
    assert codes(judged()) == ["insulation-missing"]
    assert judged().verdict is Verdict.UNPROVEN
