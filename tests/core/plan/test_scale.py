"""The bands under the reading line against the judgement of the typed value itself."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.criteria import CRITERIA
from grimcoil.core.findings import Verdict
from grimcoil.core.plan.scale import balance_scale
from grimcoil.core.resistance.balance import MEASURES

OHMS = st.floats(0.01, 50)


def verdict(criteria, values):
    measure = MEASURES[criteria.balance_measure](values)
    if measure <= criteria.balance_sound.value:
        return Verdict.SOUND
    return Verdict.WATCH if measure <= criteria.balance_act.value else Verdict.ACT


@pytest.mark.parametrize("name", sorted(CRITERIA))
@given(first=OHMS, apart=st.floats(0.85, 1.15), share=st.floats(0, 1))
def test_every_point_lies_in_the_band_of_its_verdict(name, first, apart, share):
    criteria, known = CRITERIA[name], (first, first * apart)
    scale = balance_scale(known, None, criteria, None)
    value = scale.low + share * (scale.high - scale.low)
    near = 1e-5 * (scale.high - scale.low)
    bands = [band for band in scale.bands if band.low - near <= value <= band.high + near]
    assert verdict(criteria, [*known, value]) in {band.verdict for band in bands}


def test_bands_follow_one_another_from_end_to_end():
    scale = balance_scale((0.51, 0.52), None, CRITERIA["field-general"], 0.6)
    assert scale.low < 0.6 < scale.high
    assert [scale.low, *(b.high for b in scale.bands)] == [*(b.low for b in scale.bands), scale.high]
    assert [b.verdict for b in scale.bands] == [
        Verdict.ACT, Verdict.WATCH, Verdict.SOUND, Verdict.WATCH, Verdict.ACT,
    ]  # fmt: skip


def test_nothing_known_means_no_bands():
    assert balance_scale((), None, CRITERIA["field-general"], None).bands == ()
