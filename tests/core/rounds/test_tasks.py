"""Tasks with their days, grease by size."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.errors import RecordRefusal
from grimcoil.core.rounds.tasks import (
    EVERY,
    SEASON_DAYS,
    Bearing,
    Task,
    defaults,
    following,
    grease_g,
    grease_hours,
    months_of,
    next_day,
    next_season,
    season_of,
)


def test_the_worked_grease_of_the_makers_rule():
    """Handbook chapter 12: 85 x 19 gives 8.1 g (0.005 D B, bearing makers' rule)."""
    assert grease_g(Bearing(85, 19, 45)) == pytest.approx(8.075)
    assert round(grease_g(Bearing(130, 31, 60))) == 20


def test_hours_by_speed_bore_and_warmth():
    """The makers' rule for ball bearings, 10 (14e6 / (n sqrt d) - 4 d), standard from memory."""
    assert grease_hours(Bearing(52, 15, 25), 3000) == pytest.approx(10 * (14e6 / 15000 - 100))
    assert grease_hours(Bearing(215, 47, 100), 1500) == pytest.approx(10 * (14e6 / 15000 - 400))
    one = Bearing(85, 19, 45)
    assert grease_hours(one, 1765, 85) == pytest.approx(grease_hours(one, 1765) / 2)
    assert grease_hours(one, 1765, 40) == grease_hours(one, 1765)
    assert (grease_hours(Bearing(400, 100, 300), 3600), grease_hours(one, 10)) == (100.0, 30_000.0)
    assert (months_of(10_025, 730), months_of(100, 730)) == (13, 1)


@pytest.mark.parametrize(
    ("sizes", "where"), [((0.5, 19, 0.2), "outside_mm"), ((85, 0, 45), "width_mm"), ((85, 19, 85), "bore_mm")]
)
def test_sizes_that_no_bearing_has(sizes, where):
    with pytest.raises(RecordRefusal) as refused:
        Bearing(*sizes)
    assert refused.value.where == where
    for speed in (0, 1e6):
        with pytest.raises(RecordRefusal):
            grease_hours(Bearing(85, 19, 45), speed)


def test_small_motors_have_fewer_tasks_and_every_task_its_standing():
    assert set(defaults(None)) == set(defaults(30.0)) == set(EVERY) - {Task.BRUSHES, Task.STARTER}
    assert Task.GREASE not in defaults(3.0)
    assert all(kind.standing and kind.how and kind.months > 0 for kind in EVERY.values())


@pytest.mark.parametrize(
    ("text", "season"), [("15 Aug", (8, 15)), ("1. september", (9, 1)), ("15.8.", (8, 15)), ("02-28", (2, 28))]
)
def test_a_season_as_it_is_typed(text, season):
    assert season_of(text) == season


@pytest.mark.parametrize("text", ["", "Aug", "31 Apr", "29 Feb", "13-01", "00-10", "15 Foo", "15.13.", "august 15th"])
def test_a_day_that_not_every_year_has_is_no_season(text):
    with pytest.raises(RecordRefusal):
        season_of(text)


@given(st.dates(date(1990, 1, 1), date(2200, 1, 1)), st.dates(date(2021, 1, 1), date(2021, 12, 31)))
def test_a_season_comes_once_a_year_and_never_too_soon(done, on):
    season = (on.month, on.day)
    due = next_season(done, season)
    assert (due.month, due.day) == season
    assert SEASON_DAYS < (due - done).days <= SEASON_DAYS + 366
    assert following(done, 6, season) == due
    assert following(done, 6, None) == next_day(done, 6)


@given(st.dates(date(1990, 1, 1), date(2200, 1, 1)), st.integers(1, 120))
def test_the_next_day_lies_so_many_months_on(day, months):
    following = next_day(day, months)
    assert (following.year * 12 + following.month) - (day.year * 12 + day.month) == months
    assert following.day == day.day or (following + timedelta(days=1)).day == 1


@pytest.mark.parametrize("months", [0, -1, 121])
def test_an_interval_that_is_none(months):
    with pytest.raises(RecordRefusal, match="1 to 120"):
        next_day(date(2026, 1, 31), months)
