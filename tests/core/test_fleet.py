"""A fleet's margins: places, years and the order of need, at every edge."""

import math
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.fleet import AHEAD_YEARS, Margin, Place, areas_of, by_need

TODAY = date(2026, 11, 24)


def motor(tag="A", low=50.0, high=50.0, **more):
    given_ = {"verdict": "sound", "critical": False, "minimum_mohm": 5.0, "position": "", "area": ""} | more
    return Margin(tag=tag, r40_low_mohm=low, r40_high_mohm=high, **given_)


def falling(early, late=None, **more):
    """A motor whose band meets the minimum so many years from today."""
    days = {"earliest": TODAY + timedelta(days=round(early * 365.25))}
    days["latest"] = None if late is None else TODAY + timedelta(days=round(late * 365.25))
    return motor(fitted=True, **days | more)


@pytest.mark.parametrize(
    ("one", "place"),
    [
        (motor(low=4.99, high=4.99), Place.BELOW),
        (motor(low=5.0, high=5.0), Place.NO_SLOPE),  # on the minimum is not below it
        (motor(low=4.0, high=6.0, verdict="unproven"), Place.UNPROVEN),
        (motor(low=0.0, high=None), Place.NO_SLOPE),
        (motor(low=None), Place.UNPROVEN),
        (motor(minimum_mohm=None), Place.UNPROVEN),
        (motor(low=4.0, high=4.5, verdict="unproven"), Place.BELOW),  # never hidden among the unproven
        (motor(fitted=True), Place.LASTING),
        (falling(AHEAD_YEARS + 0.01), Place.LASTING),
        (falling(9.9, 12), Place.FALLING),
        (falling(-1, 2), Place.FALLING),
    ],
)
def test_where_a_motor_stands(one, place):
    assert one.place(TODAY) is place


def test_an_open_end_stays_open():
    assert motor(high=None).times == (10.0, math.inf)
    assert falling(2.0).years(TODAY) == (pytest.approx(2.0, abs=0.01), None, None)
    assert falling(-3, 1).years(TODAY)[0] == 0.0


def test_the_neediest_is_the_one_below_then_what_may_not_last_to_the_stop():
    stop = TODAY + timedelta(days=365)
    below, before, after = motor("B", 1.0, 1.0), falling(0.9, 3, tag="S"), falling(1.1, 3, tag="T")
    unproven, lasting = motor("U", None), motor("L", fitted=True)
    order = by_need([lasting, unproven, after, before, below], TODAY, stop)
    assert [one.tag for one in order] == ["B", "S", "T", "U", "L"]


def test_a_critical_place_counts_as_if_it_had_half_the_time():
    plain, critical = falling(3, 5, tag="P"), falling(5.9, 7, tag="C", critical=True)
    assert [one.tag for one in by_need([plain, critical], TODAY)] == ["C", "P"]
    assert [one.tag for one in by_need([plain, falling(6.1, 7, tag="C", critical=True)], TODAY)] == ["P", "C"]


def test_of_the_unproven_the_critical_and_the_overdue_come_first():
    late = motor("O", None, due=TODAY - timedelta(days=1))
    on_time, critical = motor("N", None, due=TODAY), motor("C", None, critical=True)
    assert [one.tag for one in by_need([on_time, late, critical], TODAY)] == ["C", "O", "N"]


@given(
    st.lists(
        st.builds(
            motor, st.text("AB12", min_size=1, max_size=4), st.none() | st.floats(0, 1e4),
            st.none() | st.floats(1, 1e4), critical=st.booleans(), fitted=st.booleans(),
            verdict=st.sampled_from(["sound", "watch", "act", "unproven"]),
            earliest=st.none() | st.dates(date(2020, 1, 1), date(2050, 1, 1)),
        ),
        max_size=12,
    )
)  # fmt: skip
def test_the_order_loses_no_motor_and_hangs_on_no_order(motors):
    first = by_need(motors, TODAY)
    assert sorted(map(repr, first)) == sorted(map(repr, motors))
    assert [one.need(TODAY) for one in by_need(reversed(motors), TODAY)] == [one.need(TODAY) for one in first]


def test_areas_in_their_order_with_the_worst_first():
    some = [motor(area=a, verdict=v) for a, v in (("Yard", "sound"), ("Kiln", "watch"), ("Yard", "act"))]
    assert [(one.name, list(one.verdicts)) for one in areas_of(some)] == [
        ("Yard", ["act", "sound"]),
        ("Kiln", ["watch"]),
    ]
