"""A starter's figures, exactly on their limits."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.choices import Starter
from grimcoil.core.circuit.overload import right_dial_a
from grimcoil.core.errors import RecordRefusal
from grimcoil.core.plate import Plate
from grimcoil.core.starter.figures import LIMITS, StarterFigures, StarterPlace, inspect_months, judged
from grimcoil.core.subject import Overload

PLATE = Plate((460,), (20,))


def codes(starter=Starter.DIRECT, figures=None, **place):
    return [one.code for one in judged(StarterPlace(starter, StarterFigures(**figures or {}), **place))]


@pytest.mark.parametrize(
    ("dial", "inside", "code"),
    [
        (21, False, "overload-dial-fits"), (21.01, False, "overload-dial-high"), (19, False, "overload-dial-fits"),
        (18.9, False, "overload-dial-low"), (11.55, True, "overload-dial-fits"), (20, True, "overload-trips-high"),
    ],
)  # fmt: skip
def test_the_dial_is_held_against_the_amps_that_flow_through_it(dial, inside, code):
    assert codes(plate=PLATE, overload=Overload(dial, inside_delta=inside)) == [code]


def test_a_branch_of_a_delta_carries_its_share():
    """Computed: line amps over the root of three; 0.58 of a handbook is that rounded."""
    assert right_dial_a(100, inside_delta=True) == pytest.approx(100 / math.sqrt(3))


@pytest.mark.parametrize(
    ("amps", "code"),
    [(100, "starter-inrush"), (160, "starter-inrush"), (99, "starter-inrush-low"), (161, "starter-inrush-high")],
)
def test_a_direct_start(amps, code):
    assert codes(figures={"start_a": amps}, plate=PLATE) == [code]


@pytest.mark.parametrize(
    ("control", "code"),
    [(93.5, "starter-coil"), (121, "starter-coil"), (93, "starter-coil-under"), (122, "starter-coil-over")],
)
def test_a_coil_works_from_85_to_110_percent(control, code):
    """IEC 60947-4-1, from memory."""
    assert codes(figures={"coil_v": 110}, control_v=control) == [code]


def test_a_star_delta_timer_is_judged_only_where_there_is_one():
    figures = {"timer_s": 4, "run_up_s": 9}
    assert codes(Starter.STAR_DELTA, figures) == ["star-delta-early"]
    assert codes(Starter.DIRECT, figures) == []


def test_a_tap_and_starts_an_hour():
    assert codes(Starter.AUTOTRANSFORMER, {"tap_percent": 65, "start_a": 100}) == ["autotransformer-share"]
    assert codes(figures={"starts_per_hour": 11}) == ["starts-many"]


def test_nothing_known_says_nothing():
    assert judged(StarterPlace(Starter.STAR_DELTA)) == ()


@pytest.mark.parametrize(
    ("starts", "months"), [(None, 12), (0, 12), (11.4, 12), (11.5, 11), (20, 6), (68.4, 2), (500, 1), (1e6, 1)]
)
def test_contacts_by_starts_an_hour(starts, months):
    assert inspect_months(Starter.DIRECT, starts) == months


@given(st.floats(0.01, 1000), st.sampled_from(Starter))
def test_more_starts_never_lengthen_the_interval(starts, starter):
    assert 1 <= inspect_months(starter, 2 * starts) <= inspect_months(starter, starts) <= 12
    assert inspect_months(Starter.REVERSING, starts) <= inspect_months(starter, starts)


@pytest.mark.parametrize("name", LIMITS)
def test_a_figure_outside_its_bounds_is_refused_by_name(name):
    least, most = LIMITS[name]
    StarterFigures(**{name: least}), StarterFigures(**{name: most})
    for wrong in (least * 0.99, most * 1.01, -1, math.nan):
        with pytest.raises(RecordRefusal) as refused:
            StarterFigures(**{name: wrong})
        assert refused.value.where == f"starter_figures.{name}"
