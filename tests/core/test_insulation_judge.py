"""An insulation test from timed readings to verdict."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.amount import Bound
from grimcoil.core.errors import Refusal
from grimcoil.core.findings import Verdict
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.insulation.correction import correction_factor
from grimcoil.core.insulation.judge import judge_insulation
from grimcoil.core.measured import InsulationTest
from grimcoil.core.plate import Plate
from grimcoil.core.subject import Conditions, Subject, Winding
from tests.support import series

PLATE = Plate((460,), insulation_class="F", built_year=2015)
RANDOM = Winding()
AT_20 = Conditions(winding_temperature_c=20, ambient_temperature_c=20)


def judged(*points, conditions=AT_20, plate=PLATE, winding=RANDOM, volts=500, **more):
    return judge_insulation(InsulationTest(series(*points), volts, conditions, **more), Subject(plate, winding))


def codes(result):
    return [finding.code for finding in result.findings]


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


@pytest.mark.parametrize(("least_times", "verdict"), [(8.1, "sound"), (7.9, "unproven")])
def test_cold_thermoplastic_needs_eight_times(least_times, verdict):
    winding = Winding(insulation_system="thermoplastic")
    result = judged((60, f"{1.46 * least_times:.3f}"), conditions=Conditions(), winding=winding)
    assert result.verdict.value == verdict


def test_no_shortcut_below_ten_degrees():
    """A thermoplastic winding at -10 °C with 12 MΩ against kV + 1: no law and no pass down there."""
    cold = Conditions(winding_temperature_c=-10)
    result = judged((60, "12M"), conditions=cold, winding=Winding(insulation_system="thermoplastic"))
    assert result.verdict is Verdict.UNPROVEN


@pytest.mark.parametrize("system", ["thermosetting", "thermoplastic", None])
@given(st.floats(10, 40), st.floats(10, 40), st.floats(0.1, 500))
def test_warmer_air_never_makes_a_pass_a_doubt(system, a, b, mohm):
    def verdict(air):
        winding = Winding(insulation_system=system)
        return judged((60, f"{mohm:.4f}M"), conditions=Conditions(ambient_temperature_c=air), winding=winding).verdict

    cooler, warmer = sorted((a, b))
    if verdict(cooler) is Verdict.SOUND:
        assert verdict(warmer) is Verdict.SOUND


def test_a_system_that_is_not_on_record_takes_the_larger_of_both():
    unknown = Winding(insulation_system=None)
    assert judged((60, "39M"), conditions=Conditions(), winding=unknown).verdict is Verdict.UNPROVEN
    assert judged((60, "40M"), conditions=Conditions(), winding=unknown).verdict is Verdict.SOUND


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


def test_an_index_exactly_on_its_minimum_is_inside_it():
    plate = Plate((460,), insulation_class="A")
    assert "pi-sound" in codes(judged((60, "0.7G"), (600, "1.05G"), plate=plate))


def test_correction_is_refused_outside_its_range():
    for cold_or_hot in (9.9, 85.1):
        with pytest.raises(Refusal, match="10 to 85"):
            correction_factor(cold_or_hot)


def test_near_zero_and_spot():
    assert codes(judged((60, "20k")))[-1] == "insulation-near-zero"
    assert judged((60, "short")).verdict is Verdict.ACT
    assert codes(judged((10, "50M"))) == ["spot-only"]
    assert judged((10, "50M")).r_spot_mohm.value == 50


@pytest.mark.parametrize(
    ("points", "code"),
    [
        (((60, "100M"), (600, "90M")), "pi-below-one"),
        (((60, "100M"), (600, "150M")), "pi-low"),
        (((60, "200M"), (600, ">550M")), "pi-sound"),
        (((60, ">550M"), (600, ">550M")), "pi-unproven"),
        (((60, ">550M"), (600, "600M")), "pi-low"),
        (((60, "9000M"), (600, "9500M")), "pi-not-meaningful"),
        (((30, "100M"), (60, "95M")), "dar-bad"),
        (((30, "100M"), (60, "110M")), "dar-doubtful"),
        (((30, "400M"), (60, ">550M")), "dar-sound"),
        (((30, "100M"), (60, "200M"), (600, "150M")), "curve-unsteady"),
        (((30, "200M"), (60, "180M"), (600, "150M")), "curve-falling"),
        (((30, "20M"), (60, "20M"), (600, "20.5M")), "curve-flat"),
        (((60, "100M"), (30, "90M")), "series-out-of-order"),
    ],
)
def test_ratios_and_curve(points, code):
    assert code in codes(judged(*points))


def test_class_a_needs_less_index():
    plate = Plate((460,), insulation_class="A")
    assert "pi-sound" in codes(judged((60, "100M"), (600, "160M"), plate=plate))


def test_brittle_only_on_an_old_winding():
    old = Plate((460,), insulation_class="F", built_year=1985)
    assert "pi-brittle" in codes(judged((60, "100M"), (600, "900M"), plate=old))
    assert "pi-sound" in codes(judged((60, "100M"), (600, "900M")))


@pytest.mark.parametrize(
    ("volts", "rated", "code"), [(1000, 460, "test-voltage-high"), (250, 460, "test-voltage-low"), (500, 2300, None)]
)
def test_test_voltage(volts, rated, code):
    found = codes(judged((60, "9000M"), plate=Plate((rated,)), volts=volts))
    assert [c for c in found if c.startswith("test-voltage")] == ([code] if code else [])


@pytest.mark.parametrize(
    ("plate", "winding", "least"),
    [
        (Plate((460,)), Winding(), 5),
        (Plate((2300,)), Winding(winding="form"), 100),
        (Plate((690,)), Winding(winding="form"), 5),
        (Plate((460,), built_year=1962), Winding(), 1.46),
    ],
)
def test_minimum_by_winding(plate, winding, least):
    assert judged((60, "9000M"), plate=plate, winding=winding).minimum_mohm == pytest.approx(least)


def test_one_phase_alone_compares_with_twice_the_minimum():
    six = Winding(lead_scheme="six-lead")
    alone = {"ends": ("1",), "to": ("frame", "2", "3"), "winding": six}
    assert judged((60, "9M"), **alone).verdict is Verdict.ACT
    assert judged((60, "9M"), ends=("1", "2", "3"), winding=six).verdict is Verdict.SOUND
    guarded = {"ends": ("1",), "to": ("frame",), "guard": ("2", "3"), "winding": six}
    assert judged((60, "18M"), **guarded).minimum_mohm == 15


def test_below_the_dew_point_it_is_a_wet_surface():
    damp = Conditions(winding_temperature_c=12, ambient_temperature_c=25, relative_humidity_percent=60)
    result = judged((60, "3M"), conditions=damp)
    assert "wet-surface" in codes(result)


def test_forbidden_and_missing_are_unproven():
    assert codes(judged(winding=Winding(insulation_test_forbidden=True))) == ["insulation-forbidden"]
    assert codes(judged()) == ["insulation-missing"]
    assert judged().verdict is Verdict.UNPROVEN
