"""A day in words."""

from datetime import UTC, date, datetime

from grimcoil.core.days import day_told


def test_a_day_is_told_with_its_month_as_a_word_and_no_zero_before_it():
    assert [day_told(date(2026, 3, 4)), day_told(date(2026, 12, 31))] == ["4 Mar 2026", "31 Dec 2026"]
    assert day_told(datetime(2026, 3, 4, 23, 59, tzinfo=UTC)) == "4 Mar 2026"
