"""How long a winding must stay shorted: the clock that served it longest counts."""

from datetime import timedelta

import pytest

from grimcoil.core.errors import GateClosed
from grimcoil.core.plan.progress import check_place, check_skip, situation
from tests.core.plan.given import WORKS, discharged, fold
from tests.support import PLAN, TO_HOLD, entries, entry


@pytest.mark.parametrize("applied", [300, 20])
def test_discharge_is_four_times_the_longer_of_clock_and_marks(applied):
    assert discharged(applied, 0.0).discharge_left_s == pytest.approx(4 * max(applied, 60))


def test_a_clock_that_went_back_counts_as_the_longest_hold():
    made = entries(TO_HOLD)
    at = discharged(0, 0.0, made=made, off_after=-3600)
    assert at.discharge_left_s == pytest.approx(2400)
    right_again = situation(PLAN, at.kept.entries, WORKS, made[-1].at + timedelta(seconds=60))
    assert right_again.discharge_left_s == pytest.approx(2340)


def test_a_clock_set_back_while_it_discharges_leaves_the_whole_time():
    at = discharged(70, 10.0)
    back = situation(PLAN, at.kept.entries, WORKS, at.now - timedelta(hours=1))
    assert back.discharge_left_s == pytest.approx(280)


def test_a_clock_set_forward_before_the_short_leaves_no_less():
    ahead = discharged(70, 0.0, off_after=3670)
    assert ahead.discharge_left_s >= 280


def test_a_start_taken_back_still_has_to_be_discharged():
    made = entries(TO_HOLD)
    made[-1] = entry(made[-1].seq, "insulation.1-2-3.on", "confirmed", made[-1].at, taken_back=True)
    at = fold(made)
    assert at.safety.charged is not None
    with pytest.raises(GateClosed):
        check_skip(at, "insulation.1-2-3")
    assert check_place(at, "discharge.1-2-3.off")
