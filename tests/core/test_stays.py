"""Stays never overlap whatever is moved; the third motor in two years speaks of the position."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.findings import Verdict
from grimcoil.core.stays import Failure, Stay, check_move, moved, overlapping, place_on, repeat_failures

TODAY = date(2026, 11, 24)
DAYS = st.integers(0, 4000).map(lambda n: TODAY - timedelta(days=n))
PLACES = st.sampled_from([None, 1, 2, 3])


@given(st.lists(st.tuples(PLACES, DAYS), max_size=12))
def test_moves_that_are_let_pass_never_overlap(moves):
    stays = []
    for to, on in moves:
        try:
            check_move(stays, to, on, TODAY, 2010)
        except RecordRefusal:
            continue
        stays = moved(stays, to, on)
        assert overlapping(stays) is None
        assert sum(stay.until is None for stay in stays) == 1
        assert place_on(stays, on) == to
        assert place_on(stays, TODAY) == to


def test_two_that_share_a_day_are_found():
    one, other = Stay(1, date(2020, 1, 1), date(2021, 1, 1)), Stay(2, date(2020, 12, 31))
    assert overlapping([other, one]) == (one, other)
    assert overlapping([one, Stay(2, date(2021, 1, 1))]) is None


@pytest.mark.parametrize(
    ("to", "on", "said"),
    [
        (2, date(2026, 11, 25), "up to today"),
        (2, date(2009, 12, 31), "since it was built, 2010"),
        (2, date(2024, 2, 29), "since its last move, 1 Mar 2024"),
        (1, date(2025, 1, 1), "the place where it is now"),
    ],
)
def test_a_move_that_cannot_have_been_is_refused(to, on, said):
    with pytest.raises(RecordRefusal, match=said):
        check_move([Stay(1, date(2024, 3, 1))], to, on, TODAY, 2010)


def test_a_move_on_the_day_of_the_last_one_replaces_it():
    assert moved([Stay(1, TODAY)], 2, TODAY) == [Stay(2, TODAY)]


def _failed(*days, causes=("damp",)):
    return [Failure(f"M-{n}", day, "rewind", causes) for n, day in enumerate(days)]


@pytest.mark.parametrize(
    ("days", "verdict"),
    [
        ([], None),
        ([TODAY], None),
        ([TODAY, date(2025, 1, 1)], Verdict.WATCH),
        ([TODAY, date(2025, 1, 1), date(2024, 11, 25)], Verdict.ACT),
        ([TODAY, date(2025, 1, 1), date(2024, 11, 23)], Verdict.WATCH),  # a day past the two years
        ([date(2026, 11, 25), date(2025, 1, 1)], None),  # one lies ahead
    ],
)
def test_repeats_within_two_years(days, verdict):
    found = repeat_failures(_failed(*days), TODAY)
    assert (None if found is None else found.severity) == verdict


def test_a_cause_they_share_is_named():
    found = repeat_failures(_failed(date(2026, 1, 24), date(2025, 3, 24), TODAY), TODAY)
    assert found.text == "Look at the position, not the motor: 3 failed in 20 months; damp more than once"
