"""A figure against the motor's own past."""

import pytest

from grimcoil.core.findings import Verdict
from grimcoil.core.rounds.past import Figure, judge_figure, usual
from grimcoil.core.rounds.tasks import Task

PAST = [Figure(value, True) for value in (46.0, 47.0, 48.0, 47.0)]


@pytest.mark.parametrize(
    ("task", "value", "loaded", "code", "said"),
    [
        (Task.FRAME, 61.0, True, "round-hotter", "2.6 times"),
        (Task.FRAME, 57.0, True, "round-usual", "as usual"),
        (Task.FRAME, 57.1, True, "round-hotter", "10 K over"),
        (Task.FRAME, 30.0, True, "round-cooler", "same spot"),
        (Task.FRAME, 61.0, False, "round-no-past", "third reading"),
        (Task.AMPS, 47.0, True, "round-usual", "as usual"),
        (Task.AMPS, 53.0, True, "round-shifted", "13% more"),
        (Task.VOLTS, 40.0, True, "round-shifted", "supply"),
    ],
)
def test_a_figure_against_its_own_past(task, value, loaded, code, said):
    found = judge_figure(task, value, loaded, PAST)
    assert found.code == code
    assert said in found.text
    assert (found.severity is Verdict.WATCH) == (code in ("round-hotter", "round-cooler", "round-shifted"))


@pytest.mark.parametrize(
    ("value", "before", "code"),
    [
        (110.0, 100.0, "round-usual"),  # exactly a tenth, either way
        (90.0, 100.0, "round-usual"),
        (110.1, 100.0, "round-shifted"),
        (89.9, 100.0, "round-shifted"),
        (50.0, 0.0, "round-shifted"),  # it stood still, and now it takes current: not "as usual"
        (0.0, 0.0, "round-usual"),
        (0.0, 50.0, "round-shifted"),
    ],
)
def test_amps_on_the_limit_and_from_nothing(value, before, code):
    assert judge_figure(Task.AMPS, value, True, [Figure(before, True)] * 3).code == code


def test_where_the_load_was_not_said_it_counts_beside_both():
    told = [Figure(40.0, None), Figure(60.0, False)]
    assert (usual(told, True), usual(told, False), usual(told, None)) == (None, 50.0, 50.0)
    assert usual([Figure(float(i), True) for i in range(30)], True) == 23.5
