"""What stands off its series: slips of the pen, not falls."""

import pytest

from grimcoil.core.amount import Amount
from grimcoil.core.findings import Verdict
from grimcoil.core.trend.judge import judge_trend
from tests.core.trend.given import points

FLAT = [900, 930, 880, 910, 905, 890, 915]


DOWN = [900, 620, 400, 270, 190, 130, 88]


@pytest.mark.parametrize("factor", [1000, 1 / 1000, 100, 1 / 100])
@pytest.mark.parametrize("at", range(7))
@pytest.mark.parametrize("values", [FLAT, DOWN], ids=["flat", "falling"])
def test_a_slip_of_a_thousand_hides_no_fall_and_makes_none(values, at, factor):
    slipped = [*values]
    slipped[at] *= factor
    result = judge_trend(points(slipped), 5)
    plain = judge_trend(points(values[:at] + values[at + 1 :]), 5)
    assert [p.r40_mohm.value for p in result.off] == [slipped[at]]
    falls = [f.code for f in result.findings if f.code in ("trend-falling", "trend-no-fall")]
    assert falls == ["trend-falling" if values is DOWN else "trend-no-fall"]
    assert (result.without.fit.slope_decades_per_year < -0.2) == (values is DOWN)
    assert plain.fit.surely_falling == result.without.fit.surely_falling
    said = [f for f in result.findings if f.code in ("trend-outlier", "trend-below-minimum")]
    assert said
    assert "measure again" in said[0].text
    if at == 6 and slipped[at] < 5:
        assert (said[0].code, said[0].severity) == ("trend-below-minimum", Verdict.ACT)
        assert result.below


def test_two_slips_are_two():
    result = judge_trend(points([900, 930, 0.88, 910, 905, 890_000, 915, 900]), 5)
    assert [p.r40_mohm.value for p in result.off] == [0.88, 890_000]


def test_what_scatters_or_steps_is_no_slip():
    for values in (
        FLAT,
        DOWN,
        [1000, 950, 1050, 1000, 120, 118],
        [900, 100, 700, 60, 1200, 300],
        [800, 3, 700, 4, 900, 5],
    ):
        assert judge_trend(points(values), 1).off == ()


def test_a_lower_bound_above_the_line_stands_off_and_one_below_it_does_not():
    assert judge_trend(points([*FLAT[:4], Amount.above(50_000), *FLAT[4:]]), 5).off
    assert not judge_trend(points([*FLAT[:4], Amount.above(5), *FLAT[4:]]), 5).off
