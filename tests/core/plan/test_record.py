"""Entries become tests, each reading of a hold at its own second."""

from datetime import timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.criteria import FIELD_GENERAL
from grimcoil.core.fields import INSULATION
from grimcoil.core.measured import InsulationTest, ResistanceTest
from grimcoil.core.plan.brief import Brief
from grimcoil.core.plan.entries import Entry, EntryKind, Kept
from grimcoil.core.plan.progress import situation
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.record import BUILDERS, conditions_of, is_late, made_of, timed, true_second
from grimcoil.core.plan.safety import Site
from grimcoil.core.plan.steps import Slot
from grimcoil.core.readings import parse_reading
from grimcoil.core.subject import UNKNOWN
from tests.support import NOW, WHOLE_JOB, entries

MARK = Slot("60", "1 min", "", mark_s=60.0)


def entry(seconds, told=None):
    return Entry(2, "h.60", EntryKind.READING, "5", NOW + timedelta(seconds=seconds), "A", held_s=told)


ON = Entry(1, "h.on", EntryKind.NOTE, "confirmed", NOW, "A")


@pytest.mark.parametrize(
    ("seconds", "told", "second"),
    [(60, None, 60.0), (65, None, 60.0), (70.1, None, 70.1), (82, 31.0, 31.0), (-3600, None, 60.0), (59, None, 60.0)],
)
def test_a_figure_stands_at_the_second_it_was_read(seconds, told, second):
    assert true_second(entry(seconds, told), MARK, ON) == pytest.approx(second)
    assert true_second(entry(seconds, told), MARK, None) == (60.0 if told is None else told)


@given(st.sampled_from([15.0, 30.0, 60.0, 600.0]), st.floats(0, 2000))
def test_more_than_a_twelfth_off_is_not_that_mark(mark, second):
    assert is_late(second, mark) == (abs(second - mark) > mark / 12)


def test_a_whole_routine_job_makes_its_tests():
    plan = build(Brief("three-lead"))
    kept = situation(plan, entries([(place, text) for place, text, _ in WHOLE_JOB]), Site(FIELD_GENERAL), NOW).kept
    made = made_of(plan, kept, (), UNKNOWN)
    kinds = [type(one.test) for one in made]
    assert kinds.count(ResistanceTest) == kinds.count(InsulationTest) == 1
    hold = next(one for one in made if isinstance(one.test, InsulationTest))
    assert [point.t_s for point in hold.test.series] == sorted(point.t_s for point in hold.test.series)
    assert hold.test.test_voltage_v == 500
    assert timed(plan, kept, hold.step) == hold.test.series
    assert conditions_of(plan, kept).winding_temperature_c == 20
    assert {one.step.kind for one in made} <= set(BUILDERS)


def test_what_was_not_begun_is_left_out():
    plan = build(Brief("three-lead"))
    assert made_of(plan, Kept((), {}, {}), (), UNKNOWN) == ()
    assert parse_reading("OL", INSULATION).amount.high == float("inf")
