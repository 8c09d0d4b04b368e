"""Markings and the moves that nature leaves free."""

import math

import pytest

from grimcoil.core.leads.layouts import layouts
from grimcoil.core.leads.markings import finer, free_choices, free_moves
from grimcoil.core.stator.schemes import SCHEMES


@pytest.mark.parametrize("scheme", SCHEMES)
def test_layouts_times_markings_times_free_moves_are_all_labelings(scheme):
    made = len(layouts(scheme)) * len(finer(scheme)) * len(free_moves(scheme))
    assert made == math.factorial(len(SCHEMES[scheme].labels))


def test_what_nature_leaves_free_is_said():
    assert len(free_choices("six-lead")) == 2
    assert len(free_choices("nine-lead-wye")) == 1
    assert len(free_choices("twelve-lead")) == 3
    assert "diagram" in free_choices("two-speed-one-winding-delta")[1]
