"""Values before the capacitive charge is over say nothing of a curve."""

from grimcoil.core.insulation.curve import curve_of
from grimcoil.core.insulation.settled import FIRST_S
from tests.support import series


def test_a_fall_before_it_is_no_fall():
    assert curve_of(series((FIRST_S - 10, "900"), (FIRST_S - 5, "300"), (FIRST_S, "320"), (60, "400"))).fall is None
    assert curve_of(series((FIRST_S, "900"), (60, "300"))).fall == (FIRST_S, 60)
