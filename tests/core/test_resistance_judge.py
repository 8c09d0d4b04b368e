"""A winding resistance test from readings to verdict."""

import pytest

from grimcoil.core.criteria import CRITERIA, FIELD_GENERAL
from grimcoil.core.findings import Verdict
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.resistance.judge import judge_resistance
from grimcoil.core.subject import Conditions, ResistanceTest, Winding
from tests.support import ohms

WYE = Winding(lead_scheme="three-lead-wye")


def judged(*texts, criteria=FIELD_GENERAL, winding=WYE, **more):
    return judge_resistance(ResistanceTest(ohms(*texts), **more), winding, criteria)


def test_coarse_meter_is_unproven_with_the_resolution_needed():
    result = judged("0.6", "0.6", "0.6")
    assert result.verdict is Verdict.UNPROVEN
    assert result.unbalance.shown == 0
    assert result.unbalance.highest == pytest.approx(11.43, abs=0.005)
    assert result.resolution_needed_ohm == pytest.approx(2 * 0.00896, rel=1e-3)
    assert "18 mΩ" in result.findings[0].text


def test_fine_meter_shows_balance():
    result = judged("12.31", "12.28", "12.35")
    assert result.verdict is Verdict.SOUND
    assert round(result.unbalance.shown, 3) == 0.298
    assert round(result.unbalance.highest, 3) == 0.352


def test_an_instruments_counts_widen_what_is_possible():
    meter = InstrumentRange("M", "low-ohm", resolution=0.01, counts=3)
    assert judged("1.00", "1.01", "1.00", meter=meter).verdict is Verdict.UNPROVEN


@pytest.mark.parametrize(
    ("criteria", "verdict"),
    [("field-general", "watch"), ("service-shop", "act"), ("field-coarse", "sound"), ("low-ohm", "watch")],
)
def test_schools_differ_on_the_same_readings(criteria, verdict):
    result = judged("4.800", "4.800", "5.1100", criteria=CRITERIA[criteria])
    assert result.findings[0].severity.value == verdict
    assert result.criteria == criteria


def test_form_wound_shop_limit_is_one_percent():
    shop = CRITERIA["service-shop"]
    assert judged("1.000", "1.000", "1.023", criteria=shop).verdict is Verdict.SOUND
    assert judged("1.000", "1.000", "1.023", criteria=shop, winding=Winding(winding="form")).verdict is Verdict.ACT


def test_open_phase_acts_and_names_it():
    result = judged("4.8", "OL", "OL")
    assert result.verdict is Verdict.ACT
    assert [p.pattern for p in result.patterns] == ["open-phase"]


def test_a_kilohm_is_as_good_as_open():
    result = judged("4.8", "1.5k", "OL")
    assert "kilohm-open" in [f.code for f in result.findings]
    assert result.verdict is Verdict.ACT


def test_lead_resistance_is_taken_off():
    result = judged("0.720", "0.720", "0.720", lead_resistance_ohm=0.12)
    assert result.ohms["1-2"] == pytest.approx(0.6)


def test_corrected_to_the_reference_only_with_a_temperature():
    assert judged("0.520", "0.520", "0.520").at_reference_ohm == {}
    warm = judged("0.520", "0.520", "0.520", conditions=Conditions(winding_temperature_c=18))
    assert warm.at_reference_ohm["1-2"] == pytest.approx(0.5344, abs=5e-5)
    assert warm.mean_at_reference_ohm == pytest.approx(0.5344, abs=5e-5)


def test_readings_that_no_three_resistances_give_are_a_finding():
    result = judged("1.000", "1.000", "2.500")
    assert "pairs-contradict" in [f.code for f in result.findings]


def test_missing_and_beeps_are_unproven():
    assert judge_resistance(ResistanceTest({}), WYE, FIELD_GENERAL).verdict is Verdict.UNPROVEN
    result = judged("beep", "beep", "beep")
    assert [f.code for f in result.findings] == ["beep-only", "resistance-missing"]
    assert result.verdict is Verdict.UNPROVEN


def test_other_names_for_the_same_pairs():
    readings = dict(zip(("U-V", "W-V", "U-W"), ohms("4.80", "4.80", "4.80").values(), strict=True))
    assert list(judge_resistance(ResistanceTest(readings), WYE, FIELD_GENERAL).ohms) == ["1-2", "2-3", "3-1"]


def test_working_has_the_figures():
    assert "12.313" in judged("12.31", "12.28", "12.35").working
