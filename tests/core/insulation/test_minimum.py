"""The least insulation resistance, and what an uncorrected value can prove."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.findings import Verdict
from grimcoil.core.plate import Plate
from grimcoil.core.subject import Conditions, Winding
from tests.core.insulation.given import judged


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
