"""A winding resistance test from readings to verdict."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.amount import Amount
from grimcoil.core.criteria import CRITERIA, FIELD_GENERAL
from grimcoil.core.fields import WINDING
from grimcoil.core.findings import Verdict
from grimcoil.core.instruments import InstrumentRange
from grimcoil.core.measured import Hookup, ResistanceTest
from grimcoil.core.readings import Reading, Shown, parse_reading
from grimcoil.core.resistance.judge import judge_resistance
from grimcoil.core.subject import Conditions, Winding
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
    assert [f.code for f in result.findings] == ["resistance-missing", "beep-only"]
    assert result.verdict is Verdict.UNPROVEN


def test_other_names_for_the_same_pairs():
    readings = dict(zip(("U-V", "W-V", "U-W"), ohms("4.80", "4.80", "4.80").values(), strict=True))
    assert list(judge_resistance(ResistanceTest(readings), WYE, FIELD_GENERAL).ohms) == ["1-2", "2-3", "3-1"]


def scheme(name, links="opened", criteria=FIELD_GENERAL, part=None, **texts):
    """Readings by pair, written `p1_4="2.00"`."""
    readings = {key[1:].replace("_", "-"): parse_reading(text, WINDING) for key, text in texts.items()}
    test = ResistanceTest(readings, hookup=Hookup(links=links, part=part))
    return judge_resistance(test, Winding(lead_scheme=name), criteria)


def codes(result):
    return [finding.code for finding in result.findings]


NINE = {
    "p1_4": "1.000", "p2_5": "1.001", "p3_6": "0.999", "p7_8": "2.001", "p8_9": "2.000", "p9_7": "1.999",
}  # fmt: skip


def test_a_nine_lead_wye_is_judged_coil_by_coil_and_its_star():
    result = scheme("nine-lead-wye", **NINE)
    assert result.verdict is Verdict.SOUND
    assert [one.pairs for one in result.sets] == [("1-4", "2-5", "3-6"), ("7-8", "8-9", "9-7")]
    assert set(result.ohms) == {"1-4", "2-5", "3-6", "7-8", "8-9", "9-7"}


def test_a_short_half_coil_by_the_star_is_named_by_its_lead():
    """Next to the star -12 % shows at half size in two pairs: 2.4 becomes 2.256, 2.256, 2.4 (computed)."""
    result = scheme("nine-lead-wye", **{**NINE, "p7_8": "1.880", "p9_7": "1.880"})
    assert ("shorted-turns", "7") in [(p.pattern, p.phase) for p in result.patterns]
    assert result.verdict is Verdict.WATCH
    assert result.unbalance.shown == pytest.approx(100 * (2.0 / ((1.88 * 2 + 2.0) / 3) - 1))


def test_an_open_coil_among_coils_is_named():
    result = scheme("six-lead", p1_4="2.00", p2_5="OL", p3_6="2.01")
    assert codes(result) == ["coil-open"]
    assert "2-5" in result.findings[0].text


def test_pairs_that_must_be_open_and_are_not():
    result = scheme("six-lead", p1_4="2.00", p2_5="2.00", p3_6="2.00", p1_2="4.1")
    assert "path-between-coils" in codes(result)
    sound = scheme("six-lead", p1_4="2.00", p2_5="2.00", p3_6="2.00", p1_2="OL")
    assert sound.verdict is Verdict.SOUND


def test_missing_pairs_of_a_scheme_are_named():
    result = scheme("nine-lead-wye", **{k: v for k, v in NINE.items() if k != "p8_9"})
    assert "resistance-missing" in codes(result)
    assert "8-9" in next(f.text for f in result.findings if f.code == "resistance-missing")


def test_sets_that_do_not_keep_the_schemes_ratio():
    result = scheme("nine-lead-wye", **{**NINE, "p7_8": "1.000", "p8_9": "1.000", "p9_7": "1.000"})
    assert "sets-misfit" in codes(result)


def test_connected_leads_are_read_as_lines_whatever_the_scheme():
    result = scheme("nine-lead-wye", links="as-found", p1_2="4.80", p2_3="4.80", p3_1="4.80")
    assert result.verdict is Verdict.SOUND
    assert result.pairs == ("1-2", "2-3", "3-1")


def test_the_two_windings_of_a_two_speed_motor_are_sets_of_their_own():
    low = {"p1_2": "4.80", "p2_3": "4.80", "p3_1": "4.80"}
    high = {"p11_12": "1.20", "p12_13": "1.20", "p13_11": "1.20"}
    result = scheme("two-speed-two-winding", **low, **high)
    assert "sets-misfit" not in codes(result)
    assert len(result.sets) == 2


def test_the_same_pair_given_twice_is_a_finding():
    readings = ohms("4.80", "4.80", "4.80") | {"2-1": parse_reading("5.20", WINDING)}
    result = judge_resistance(ResistanceTest(readings), WYE, FIELD_GENERAL)
    assert "reading-twice" in codes(result)
    same = ohms("4.80", "4.80", "4.80") | {"2-1": parse_reading("4.80", WINDING)}
    assert "reading-twice" not in codes(judge_resistance(ResistanceTest(same), WYE, FIELD_GENERAL))


def test_a_bound_is_never_corrected_as_if_it_were_a_value():
    result = judged(">20", "4.8", "4.8", conditions=Conditions(winding_temperature_c=20))
    assert set(result.at_reference_ohm) == {"2-3", "3-1"}
    assert result.phase_wye_ohm == {}
    assert result.unbalance.highest == float("inf")


@given(st.tuples(*[st.floats(0.2, 30)] * 3), st.floats(0.0001, 0.2), st.floats(1, 4))
def test_a_wider_interval_never_turns_unproven_into_proven(values, resolution, factor):
    def verdict(width):
        pairs = zip(("1-2", "2-3", "3-1"), values, strict=True)
        readings = {pair: Reading(str(v), Shown.VALUE, Amount.exact(v)) for pair, v in pairs}
        meter = InstrumentRange("M", "ohm", resolution=width)
        found = judge_resistance(ResistanceTest(readings, meter=meter), WYE, FIELD_GENERAL).findings
        return next(f.severity for f in found if f.code.startswith(("balanced", "unbalance", "meter-coarse")))

    if verdict(resolution) is Verdict.UNPROVEN:
        assert verdict(resolution * factor) is Verdict.UNPROVEN


@given(st.tuples(*[st.floats(0.2, 30)] * 3))
def test_reordering_the_phases_permutes_the_answer(values):
    def phases(three):
        result = judge_resistance(ResistanceTest(ohms(*(f"{v:.9f}" for v in three))), WYE, FIELD_GENERAL)
        return list(result.phase_wye_ohm.values()), result.unbalance.shown

    first, shown = phases(values)
    turned, again = phases(values[1:] + values[:1])
    assert turned == pytest.approx(first[1:] + first[:1])
    assert again == pytest.approx(shown)
